"""The energies of the bodies of a footage, from their motion, their masses and the ground."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, partial

import numpy as np

from footing.core.dimensions import Unit, read_unit
from footing.core.effects import Source
from footing.core.ledgers.amounts import Account, Common
from footing.core.ledgers.energy import (
    SHAPES,
    Bearings,
    EnergyKind,
    Given,
    Spring,
    energies,
    inertia_of,
)
from footing.core.measured import LENGTHS, TIMES
from footing.core.units import read_number, to_si
from footing.store.rows import Body, EnergyLedger, StudyQuantity
from footing.store.snapshot import StudyRows
from footing.studies.model.computed import STANDARD_GRAVITY
from footing.studies.model.containing import is_readable
from footing.studies.model.fit_effects import Ground
from footing.studies.model.grounds import Grounded
from footing.studies.model.kept import Kept
from footing.studies.model.motions import BodyMotion

_WHOLE = Common({Source(LENGTHS): 1.0}, {Source(TIMES): 1.0})
_GRAVITY = "g"
_MOST_JOULES = {"mJ": 0.1, "J": 1e4}  # up to which an energy is said in a unit
_ACCELERATION = read_unit("m/s^2")
Accounts = Mapping[EnergyKind, Account]


@dataclass(frozen=True)
class EnergyColumn:
    """An energy as a column of a body: its key, name and symbol."""

    key: str
    kind: EnergyKind
    name: str
    symbol: str
    subscript: str


COLUMNS: dict[str, EnergyColumn] = {
    column.key: column
    for column in (
        EnergyColumn("ek", EnergyKind.KINETIC, "kinetic energy", "E", "k"),
        EnergyColumn("ep", EnergyKind.POTENTIAL, "potential energy", "E", "p"),
        EnergyColumn("es", EnergyKind.ELASTIC, "elastic energy", "E", "s"),
        EnergyColumn("er", EnergyKind.ROTATIONAL, "rotational energy", "E", "r"),
        EnergyColumn("e", EnergyKind.TOTAL, "total energy", "E", ""),
    )
}
KEY_OF: dict[EnergyKind, str] = {column.kind: column.key for column in COLUMNS.values()}


def is_accounted(row: Body) -> bool:
    """Whether a body is one of those that can have an energy of their own."""
    return row.kind == "marked" and not row.background and row.second_of_id is None


def gravity_of(rows: StudyRows) -> Given:
    """g, as the study says it, or the standard."""
    for row in rows.quantities:
        if row.symbol == _GRAVITY and _is_acceleration(row):
            typed, unit = read_number(row.typed, field="typed"), read_unit(row.unit)
            return Given(
                typed.value * unit.factor, typed.uncertainty * unit.factor, Source(_GRAVITY)
            )
    return Given(STANDARD_GRAVITY, 0.0, Source(_GRAVITY))


def _is_acceleration(row: StudyQuantity) -> bool:
    return is_readable(row.typed) and read_unit(row.unit).converts_to(_ACCELERATION)


def mass_of(row: Body) -> Given | None:
    """The mass of a body in kilograms, if it was typed."""
    if not row.mass or not is_readable(row.mass):
        return None
    typed = to_si(read_number(row.mass, field="mass"), row.mass_unit or "kg")
    return Given(typed.value, typed.uncertainty, Source("m", f"b{row.id}"))


class BodyEnergies:
    """The energies of one body; none while its mass or a length in metres is missing.

    unit : in which the energies of all bodies of the footage are said
    """

    def __init__(
        self,
        row: Body,
        body: BodyMotion,
        ground: Grounded,
        rows: StudyRows,
        unit: Callable[[], Unit],
    ) -> None:
        self._row = row
        self._body = body
        self._ground = ground
        self._rows = rows
        self._unit = unit

    @cached_property
    def kinds(self) -> tuple[EnergyKind, ...]:
        """Which there are, without computing any."""
        row, ground = self._row, self._ground
        mass = mass_of(row)
        if mass is None or ground.metres is None or not is_accounted(row):
            return ()
        if not ground.kind.has_time or not len(self._body.frames):
            return ()
        ledger = self._rows.energy_ledger_of(ground.footage)
        there = {
            EnergyKind.KINETIC: True,
            EnergyKind.POTENTIAL: ledger is None or not ledger.from_above,
            EnergyKind.ELASTIC: spring_of(row, ground, ledger) is not None,
            EnergyKind.ROTATIONAL: self._body.motion.turning is not None
            and inertia_given(row, mass) is not None,
            EnergyKind.TOTAL: True,
        }
        return tuple(kind for kind, is_there in there.items() if is_there)

    @cached_property
    def accounts(self) -> Accounts:
        """Each kind; all lengths and all times are sources by which everything is wrong alike.

        See `resolved`. Kept while nothing that they rest on changes.
        """
        mass = mass_of(self._row)
        if not self.kinds or mass is None:
            return {}
        row, body, ground = self._row, self._body, self._ground
        ledger, gravity = self._rows.energy_ledger_of(ground.footage), gravity_of(self._rows)
        make = partial(_energies, row, body, ground, ledger, mass, gravity)
        return _kept.get(row.id, (row, body, ground, ledger, gravity), make)

    @property
    def unit(self) -> Unit:
        """In which they are said."""
        return self._unit()


_kept: Kept[Accounts] = Kept(200)


def _energies(
    row: Body,
    body: BodyMotion,
    ground: Grounded,
    ledger: EnergyLedger | None,
    mass: Given,
    gravity: Given,
) -> Accounts:
    return energies(
        body.motion,
        body.frames,
        f"b{row.id}",
        mass=mass,
        bearings=Bearings(gravity, ground.metres or 1.0, _WHOLE),
        spring=spring_of(row, ground, ledger),
        inertia=inertia_given(row, mass),
        heights=ledger is None or not ledger.from_above,
    )


def spring_of(row: Body, ground: Grounded, ledger: EnergyLedger | None) -> Spring | None:
    """The spring that a body is at, if it is at one."""
    if ledger is None or ledger.spring_body_id != row.id or not ledger.spring_constant:
        return None
    if not is_readable(ledger.spring_constant) or not is_readable(ledger.rest_length):
        return None
    constant = read_number(ledger.spring_constant, field="constant")
    factor = read_unit(ledger.spring_unit).factor
    rest = to_si(read_number(ledger.rest_length or "0", field="rest_length"), ledger.rest_unit)
    resting = rest.uncertainty if ledger.rest_length else 0.0
    return Spring(
        Given(constant.value * factor, constant.uncertainty * factor, Source("spring constant")),
        Given(rest.value, resting, Source("rest length")),
        ground.axes.to_world(np.array([fixed_end(ground, ledger)]), ground.flattening)[0],
    )


def fixed_end(ground: Grounded, ledger: EnergyLedger) -> tuple[float, float]:
    """The fixed end of the spring in pixels: where it was placed, or in zero."""
    if ledger.fixed_x is None or ledger.fixed_y is None:
        return ground.ground.zero_x, ground.ground.zero_y
    return ledger.fixed_x, ledger.fixed_y


def inertia_given(row: Body, mass: Given) -> Given | None:
    """The moment of inertia of a body: typed in kg m², or by its shape and size."""
    source = Source("moment of inertia", f"b{row.id}")
    if row.inertia and is_readable(row.inertia):
        typed = read_number(row.inertia, field="inertia")
        return Given(typed.value, typed.uncertainty, source)
    shape = SHAPES.get(row.inertia_shape or "")
    if shape is None or not row.size or not is_readable(row.size):
        return None
    size = to_si(read_number(row.size, field="size"), row.size_unit or "cm")
    return inertia_of(shape, mass, Given(size.value, size.uncertainty, source), source)


def resolved(account: Account, ground: Ground) -> Account:
    """An energy whose uncertainty holds that of scale and clock."""
    known = {Source(of): parts for of, parts in ground.relative.items()}
    return account.resolved(known)


def unit_for(each: Sequence[Accounts]) -> Unit:
    """The unit in which the largest of some energies is no small number."""
    largest = max(
        (
            float(np.abs(account.values).max())
            for accounts in each
            for account in accounts.values()
            if len(account.values)
        ),
        default=1.0,
    )
    name = next((unit for unit, most in _MOST_JOULES.items() if largest < most), "kJ")
    return read_unit(name)
