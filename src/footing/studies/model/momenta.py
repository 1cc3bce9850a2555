"""The momenta of the bodies of a footage before and after an impact."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial
from math import inf

import numpy as np

from footing.core.ledgers.amounts import Common
from footing.core.ledgers.approach import LEAST_MARKS
from footing.core.ledgers.collision import Collision, collision
from footing.core.ledgers.momentum import (
    MomentumLedger,
    Mover,
    Stretch,
    meeting_time,
    momentum_ledger,
)
from footing.core.measured import LENGTHS, TIMES
from footing.store.rows import Body, Footage, Impact, Passage
from footing.store.rows import MomentumLedger as LedgerRow
from footing.store.snapshot import StudyRows
from footing.studies.model.energies import is_accounted, mass_of
from footing.studies.model.fit_effects import Ground
from footing.studies.model.grounds import Grounded
from footing.studies.model.kept import Kept
from footing.studies.model.motions import BodyMotion

Moved = tuple[Body, BodyMotion]


@dataclass(frozen=True)
class Span:
    """Frames of a side of an impact; ``passage`` if somebody chose one."""

    first: float
    last: float
    passage: Passage | None


@dataclass(frozen=True)
class TooFew:
    """A body that has some marks on a side, but too few for a line."""

    body: Body
    side: str
    marks: int


@dataclass(frozen=True, eq=False)
class MomentumAccount:
    """The account of momenta around an impact.

    bodies : those that count, with a mass; without : those that have none
    too_few : what is left out of a side therefore
    made : None where there is nothing to account for
    """

    impact: Impact
    row: LedgerRow
    before: Span
    after: Span
    bodies: tuple[Body, ...]
    without: tuple[Body, ...]
    too_few: tuple[TooFew, ...]
    made: MomentumLedger | None
    happened: Collision | None


def momenta_around(
    impact: Impact, footage: Footage, ground: Grounded, bodies: list[Moved], rows: StudyRows
) -> MomentumAccount:
    """The account around an impact, as it is or as it is proposed."""
    ledger = rows.momentum_ledger_of(impact) or LedgerRow(
        impact_id=impact.id, study_id=impact.study_id
    )
    counting = [
        (row, body)
        for row, body in bodies
        if is_accounted(row) and row.id not in ledger.left_out and body.problem is None
    ]
    sides = sides_of(impact, ledger, footage, rows)
    of = (impact, ledger, ground, sides, tuple(counting))
    make = partial(_account, impact, ledger, ground, sides, counting)
    return _kept.get(impact.id, of, make)


_kept: Kept[MomentumAccount] = Kept(100)


def sides_of(
    impact: Impact, ledger: LedgerRow, footage: Footage, rows: StudyRows
) -> tuple[Span, Span]:
    """The frames before and after: the chosen passages, or up to the impacts beside it."""
    others = [one.at for one in rows.impacts_on(footage)]
    begins = max((at for at in others if at < impact.at), default=-inf)
    ends = min((at for at in others if at > impact.at), default=inf)
    before = rows.get(Passage, ledger.before_id) if ledger.before_id else None
    after = rows.get(Passage, ledger.after_id) if ledger.after_id else None
    return (
        Span(before.first, min(before.last, impact.at), before)
        if before
        else Span(max(begins, footage.first), impact.at, None),
        Span(max(after.first, impact.at), after.last, after)
        if after
        else Span(impact.at, min(ends, footage.last), None),
    )


def _account(
    impact: Impact,
    ledger: LedgerRow,
    ground: Grounded,
    sides: tuple[Span, Span],
    counting: list[Moved],
) -> MomentumAccount:
    weighed = [(row, body) for row, body in counting if mass_of(row) is not None]
    without = tuple(row for row, _ in counting if mass_of(row) is None)
    too_few: list[TooFew] = []
    movers = [_mover(row, body, ground, ledger, sides, too_few) for row, body in weighed]
    movers = [one for one in movers if one is not None]
    seen = [mover for mover in movers if _is_seen(mover)]
    bodies = tuple(row for row, _ in weighed)
    made, happened = None, None
    if seen and ground.metres is not None:
        instant = meeting_time(seen, *_gap(impact, ground, weighed))
        made = momentum_ledger(seen, instant, _common(ground, weighed[0][1]))
        happened = collision(made)
    return MomentumAccount(impact, ledger, *sides, bodies, without, tuple(too_few), made, happened)


def _gap(impact: Impact, ground: Grounded, bodies: list[Moved]) -> tuple[float, float]:
    """The times of the last mark before an impact and of the first one after it."""
    frames = np.concatenate([body.frames for _, body in bodies])
    before, after = frames[frames < impact.at], frames[frames > impact.at]
    low = before.max() if len(before) else int(np.floor(impact.at))
    high = after.min() if len(after) else int(np.ceil(impact.at))
    return float(ground.times[low]), float(ground.times[high])


def _is_seen(mover: Mover) -> bool:
    marked = mover.before is not None or mover.after is not None
    return marked or mover.rests_before or mover.rests_after


def _common(ground: Grounded, body: BodyMotion) -> Common:
    relative = Ground(ground, body).relative
    return Common(relative[LENGTHS], relative[TIMES])


def _mover(
    row: Body,
    body: BodyMotion,
    ground: Grounded,
    ledger: LedgerRow,
    sides: tuple[Span, Span],
    too_few: list[TooFew],
) -> Mover:
    mass = mass_of(row)
    assert mass is not None
    metre = ground.metres or 1.0
    stretches: dict[str, Stretch | None] = {}
    for side, span in zip(("before", "after"), sides, strict=True):
        inside = np.flatnonzero((body.frames >= span.first) & (body.frames <= span.last))
        enough = len(inside) >= LEAST_MARKS
        if len(inside) and not enough:
            too_few.append(TooFew(row, side, len(inside)))
        stretches[side] = (
            Stretch(body.motion.times[inside], body.motion.positions[inside] * metre)
            if enough
            else None
        )
    return Mover(
        f"b{row.id}",
        row.name,
        mass.value,
        mass.uncertainty,
        stretches["before"],
        stretches["after"],
        row.id in ledger.resting_before,
        row.id in ledger.resting_after,
    )


def bodies_by_key(account: MomentumAccount) -> Mapping[str, Body]:
    """The bodies of an account by the key that the core knows them by."""
    return {f"b{row.id}": row for row in account.bodies}
