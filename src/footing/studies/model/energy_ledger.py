"""The account of energies of a footage: of each body that counts, and of all together."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from footing.core.arrays import IntArray
from footing.core.dimensions import Unit
from footing.core.ledgers.amounts import Account, Amount, Common
from footing.core.ledgers.balance import Change, Missing, change_of, missing, path_between
from footing.core.ledgers.energy import Bearings, EnergyKind
from footing.core.meaning import variable
from footing.core.measured import LENGTHS, TIMES
from footing.core.quantities import QUANTITIES
from footing.core.reading import Variable
from footing.store.rows import Body, EnergyLedger, Passage
from footing.studies.model.columns import DataColumn, DataTable, Owner
from footing.studies.model.energies import (
    COLUMNS,
    KEY_OF,
    Accounts,
    gravity_of,
    is_accounted,
    resolved,
)
from footing.studies.model.sources import FootageSource

_ALL = "all bodies"
_ALL_ID = 0  # of no body


@dataclass(frozen=True)
class OverPassage:
    """What the energies of all bodies do over a passage: by kind, and what is missing of them."""

    passage: Passage | None
    first: int
    last: int
    changes: Mapping[EnergyKind, Change]
    missing: Missing | None

    @property
    def total(self) -> Change:
        """Of the total."""
        return self.changes[EnergyKind.TOTAL]


class EnergyAccount:
    """The energies of a footage while they are computed, each once."""

    def __init__(self, source: FootageSource) -> None:
        self.source = source
        rows = source.rows
        self.row = rows.energy_ledger_of(source.row) or EnergyLedger(
            footage_id=source.row.id, study_id=rows.study_id
        )

    @cached_property
    def bodies(self) -> tuple[Body, ...]:
        """Those that can have energies, whether they count or not."""
        return tuple(row for row, _ in self.source.bodies if is_accounted(row))

    @cached_property
    def counting(self) -> dict[int, Accounts]:
        """The energies of each body that counts and has any, with all their uncertainty."""
        found: dict[int, Accounts] = {}
        for row, _ in self.source.bodies:
            if row.id in self.row.left_out:
                continue
            accounts = self.source.every_table[row.id].energies.accounts
            if accounts and len(accounts[EnergyKind.TOTAL].frames):
                ground = self.source.ground_of(row.id)
                found[row.id] = {kind: resolved(one, ground) for kind, one in accounts.items()}
        return found

    @cached_property
    def together(self) -> Accounts:
        """Each kind of energy of all bodies, in the frames where all have one."""
        return together(list(self.counting.values()))

    @property
    def unit(self) -> Unit:
        """In which the energies are said."""
        return self.source.energy_unit

    def over(self, passage: Passage | None) -> OverPassage | None:
        """What happens over a passage, or over all frames; None where too few have an energy."""
        if not self.together:
            return None
        first = int(np.ceil(passage.first)) if passage else self.source.row.first
        last = int(np.floor(passage.last)) if passage else self.source.row.last
        whole = self.together[EnergyKind.TOTAL]
        inside = whole.frames[(whole.frames >= first) & (whole.frames <= last)]
        if len(inside) < 2:
            return None
        first, last = int(inside[0]), int(inside[-1])
        changes = {
            kind: change
            for kind, account in self.together.items()
            if (change := change_of(account, first, last)) is not None
        }
        return OverPassage(passage, first, last, changes, self._missing(changes, first, last))

    def _missing(
        self, changes: Mapping[EnergyKind, Change], first: int, last: int
    ) -> Missing | None:
        change = changes[EnergyKind.TOTAL]
        if not change.is_seen or change.change.value >= 0:
            return None
        times = self.source.ground.times
        return missing(change, self._path(first, last), float(times[last] - times[first]))

    def _path(self, first: int, last: int) -> Amount | None:
        """How far the only body that counts went; of several nobody knows who lost what."""
        if len(self.counting) != 1:
            return None
        (key,) = self.counting
        body = next(motion for row, motion in self.source.bodies if row.id == key)
        relative = self.source.ground_of(key).relative
        bearings = Bearings(
            gravity_of(self.source.rows),
            self.source.ground.metres or 1.0,
            Common(relative[LENGTHS], relative[TIMES]),
        )
        return path_between(body.motion, body.frames, f"b{key}", bearings, first, last)

    @cached_property
    def moments(self) -> dict[str, int]:
        """The frames of start, top and end: as chosen, or the first, the highest, the last."""
        frames = self.together[EnergyKind.TOTAL].frames if self.together else np.empty(0, int)
        if not len(frames):
            return {}
        high = self.together.get(EnergyKind.POTENTIAL, self.together[EnergyKind.TOTAL])
        top = high.frames[int(np.argmax(high.values))]
        proposed = {"start": frames[0], "top": top, "finish": frames[-1]}
        chosen = {"start": self.row.start, "top": self.row.top, "finish": self.row.finish}
        picked = {name: frame for name, frame in chosen.items() if frame is not None}
        return {name: int(frame) for name, frame in (proposed | picked).items()}


def together(each: list[Accounts]) -> Accounts:
    """The sum of each kind that any of the bodies has; of those that lack it, it is 0."""
    if not each:
        return {}
    found: dict[EnergyKind, Account] = {}
    for kind in EnergyKind:
        having = [accounts[kind] for accounts in each if kind in accounts]
        if having:
            whole = having[0]
            for other in having[1:]:
                whole = whole.plus(other)
            found[kind] = whole
    return found


@dataclass(frozen=True)
class TogetherTable:
    """All bodies together as a table, for the graph: time, and the total."""

    account: Account
    bodies: Sequence[DataTable]
    source: FootageSource
    unit: Unit
    look: int
    owner: Owner = field(init=False)

    def __post_init__(self) -> None:
        """It belongs to no body."""
        object.__setattr__(self, "owner", Owner("body", _ALL_ID, _ALL, self.look))

    @property
    def numbers(self) -> IntArray:
        """The frames in which all bodies have an energy."""
        return self.account.frames

    @property
    def keys(self) -> tuple[str, ...]:
        """Time and the total."""
        return ("t", KEY_OF[EnergyKind.TOTAL])

    @property
    def hit_before(self) -> IntArray:
        """The rows that come after an impact of a body that counts."""
        frames = self.account.frames
        hits = [table.numbers[table.hit_before] for table in self.bodies]
        rows = np.unique(np.searchsorted(frames, np.concatenate(hits)))
        return rows[rows < len(frames)]

    def asides_between(self, _x: str, _y: str) -> list[tuple[int, float, float]]:
        """Nothing is set aside."""
        return []

    def column(self, key: str) -> DataColumn | None:
        """Time, or the total of all."""
        n = len(self.account.frames)
        rows, zeros = np.arange(n), np.zeros(n)
        if key == "t":
            quantity = variable(QUANTITIES["t"], length_unit="m")
            times = self.source.ground.times[self.account.frames]
            return DataColumn("t", quantity, rows, times, zeros, zeros.astype(bool))
        if key != KEY_OF[EnergyKind.TOTAL]:
            return None
        named = COLUMNS[key]
        quantity = Variable(named.name, named.symbol, self.unit)
        values, errors = self.account.values, self.account.uncertainties
        factor = self.unit.factor
        return DataColumn(key, quantity, rows, values / factor, errors / factor, zeros.astype(bool))
