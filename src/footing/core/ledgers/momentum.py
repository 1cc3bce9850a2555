"""Momentum before and after an impact: of each body by components, in total, and what changed.

Each body's velocity at the impact comes from a curve through its marks on one side (`approach`).
A parabola is taken only where it is significantly better; where it is likely but not sure, the bend
that the line leaves open (as much as the marks show beyond their scatter) is a line of the budget.
All marks are placed by the same hand, so how far those of one body scatter is judged from all
bodies a little, too (moderated variances: G. K. Smyth, Statistical Applications in Genetics and
Molecular Biology 3(1), 3, 2004).
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import Enum
from math import hypot, sqrt

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray
from footing.core.effects import Effects, Noise, Source
from footing.core.ledgers.amounts import Amount, Common, following, total
from footing.core.ledgers.approach import LEAST_MARKS, Approach, Curve, approach

_SURE = 0.01  # chance of a needless parabola anywhere in a ledger
_SIDES = 2  # of each body
_LIKELY = 0.05  # chance below which a bend counts as an uncertainty
_ROUND_OFF = 1e-10  # of the length of the paths
_OTHERS = 8.0  # degrees of freedom with which all bodies speak for the scatter of one
_MASSES_AGREE = 0.02  # of the mass: bodies before and after are the same matter
_AGREES, _DISAGREES = 2.0, 3.0  # uncertainties, as for findings
_TELLS_NOTHING = 0.5  # of the largest impulse: an uncertainty that would hide anything


@dataclass(frozen=True)
class Stretch:
    """Marks of a body on one side of the impact.

    times : (n,) s; positions : (n, 2) m
    """

    times: FloatArray
    positions: FloatArray


@dataclass(frozen=True)
class Mover:
    """A body of the ledger.

    key : tells bodies apart
    mass : kg, with its standard uncertainty
    before, after : its marks there; None where it is not seen
    rests_before, rests_after : whether it is said to rest there, marked or not
    """

    key: str
    name: str
    mass: float
    mass_uncertainty: float
    before: Stretch | None
    after: Stretch | None
    rests_before: bool = False
    rests_after: bool = False


@dataclass(frozen=True)
class Side:
    """A body before or after: velocity (m/s), momentum (kg m/s) and place (m) at the impact.

    curve : through its marks; None where it was said to rest
    """

    velocity: tuple[Amount, Amount]
    momentum: tuple[Amount, Amount]
    place: tuple[Amount, Amount] | None
    curve: Curve | None
    marks: int


@dataclass(frozen=True)
class BodyMomentum:
    """What a body has before and after; impulse is the change of its momentum, N s."""

    key: str
    name: str
    mass: float
    before: Side | None
    after: Side | None
    impulse: tuple[Amount, Amount] | None


@dataclass(frozen=True)
class TotalMomentum:
    """Of all bodies that are seen on a side, with their mass and the velocity of their centre."""

    momentum: tuple[Amount, Amount]
    mass: float
    centre: tuple[Amount, Amount]


class Conserved(Enum):
    """Whether a total stayed the same, as far as the uncertainties can tell."""

    YES = "yes"
    NO = "no"
    CANNOT_TELL = "cannot tell"


class Unclear(Enum):
    """Why it cannot be told."""

    MATTER = "matter"  # what is seen before is not what is seen after
    BETWEEN = "between"  # between two and three uncertainties
    LARGE = "large"  # the uncertainty would hide anything
    MISSING = "missing"  # nothing is seen on one side


@dataclass(frozen=True)
class MomentumLedger:
    """The account of an impact.

    change : of the total; None where one side is not seen at all
    distance : of the change from 0 in uncertainties, both components together
    decides : the source that contributes most to the uncertainty of the change
    """

    moment: float
    bodies: tuple[BodyMomentum, ...]
    before: TotalMomentum | None
    after: TotalMomentum | None
    change: tuple[Amount, Amount] | None
    distance: float | None
    conserved: Conserved
    unclear: Unclear | None
    decides: str | None


@dataclass(frozen=True)
class Instant:
    """When the impact was, s, with its standard uncertainty."""

    value: float
    uncertainty: float = 0.0


def momentum_ledger(movers: Sequence[Mover], instant: Instant, common: Common) -> MomentumLedger:
    """The momenta of bodies just before and just after an instant.

    Each stretch has at least `LEAST_MARKS` marks.

    Raises
    ------
    ValueError : for a stretch with fewer.
    """
    moment = instant.value
    seen = {
        (mover.key, side): approach(stretch.times, stretch.positions, moment)
        for mover in movers
        for side, stretch in (("before", mover.before), ("after", mover.after))
        if stretch is not None and not _rests(mover, side) and _enough(stretch)
    }
    curves = {of: _chosen(each, len(seen)) for of, each in seen.items()}
    scatter = _scatters(movers, curves)
    bodies = tuple(
        _body(mover, seen, curves, scatter.get(mover.key, (0.0, 1.0)), common, instant)
        for mover in movers
    )
    before = _total([body.before for body in bodies], [mover.mass for mover in movers])
    after = _total([body.after for body in bodies], [mover.mass for mover in movers])
    if before is None or after is None:
        unclear = Unclear.MISSING
        return MomentumLedger(
            moment, bodies, before, after, None, None, Conserved.CANNOT_TELL, unclear, None
        )
    change = (
        after.momentum[0].minus(before.momentum[0]),
        after.momentum[1].minus(before.momentum[1]),
    )
    distance = distance_from_zero(change)
    conserved, unclear_why = _verdict(change, distance, before, after, bodies)
    return MomentumLedger(
        moment,
        bodies,
        before,
        after,
        change,
        distance,
        conserved,
        unclear_why,
        largest_source(change),
    )


def meeting_time(movers: Sequence[Mover], low: float, high: float) -> Instant:
    """When an impact was that lies between two moments: where the paths of both sides meet.

    Least squares over all bodies that are seen on both sides, kept between the moments.
    """
    middle = (low + high) / 2
    apart, gains, variance = 0.0, 0.0, 0.0
    for mover in movers:
        if mover.before is None or mover.after is None:
            continue
        sides = [
            approach(stretch.times, stretch.positions, middle)
            for stretch in (mover.before, mover.after)
        ]
        before, after = (_chosen(side, _SIDES * len(movers)) for side in sides)
        change = after.velocity - before.velocity
        square = float(change @ change)
        apart += float((after.position - before.position) @ change)
        gains += square
        for curve in (before, after):
            scatter = curve.rss / curve.dof if curve.dof else 0.0
            variance += square * scatter * float(curve.position_weights @ curve.position_weights)
    if not gains > 0:
        return Instant(middle, (high - low) / sqrt(12))
    moment = float(np.clip(middle - apart / gains, low, high))
    return Instant(moment, min(sqrt(variance) / gains, (high - low) / sqrt(12)))


def _enough(stretch: Stretch) -> bool:
    if len(stretch.times) < LEAST_MARKS:
        raise ValueError(f"A side needs {LEAST_MARKS} marks; it has {len(stretch.times)}.")
    return True


def _rests(mover: Mover, side: str) -> bool:
    return mover.rests_before if side == "before" else mover.rests_after


def _chosen(each: Approach, sides: int) -> Curve:
    """The parabola only where it is better than chance allows in any of so many sides."""
    if each.parabola is not None and each.chance < _SURE / sides:
        return each.parabola
    return each.line


def _scatters(
    movers: Sequence[Mover], curves: Mapping[tuple[str, str], Curve]
) -> dict[str, tuple[float, float]]:
    """By body the standard deviation of one coordinate of a mark, and its degrees of freedom."""
    extent = max((curve.extent for curve in curves.values()), default=0.0)
    own = {
        mover.key: [curve for (key, _), curve in curves.items() if key == mover.key]
        for mover in movers
    }
    dof_of_all = sum(curve.dof for curve in curves.values())
    pooled = sum(curve.rss for curve in curves.values()) / dof_of_all if dof_of_all else 0.0
    found = {}
    for key, mine in own.items():
        rss, dof = sum(curve.rss for curve in mine), sum(curve.dof for curve in mine)
        others = min(_OTHERS, float(dof_of_all - dof))
        if dof + others > 0:
            variance = (rss + others * pooled) / (dof + others)
            found[key] = (max(sqrt(variance), _ROUND_OFF * extent), dof + others)
    return found


def _body(
    mover: Mover,
    seen: Mapping[tuple[str, str], Approach],
    curves: Mapping[tuple[str, str], Curve],
    scatter: tuple[float, float],
    common: Common,
    instant: Instant,
) -> BodyMomentum:
    sides: dict[str, Side | None] = {}
    for side in ("before", "after"):
        if _rests(mover, side):
            still = (Amount(0.0), Amount(0.0))
            sides[side] = Side(still, still, None, None, 0)
        elif (mover.key, side) in curves:
            each, curve = seen[mover.key, side], curves[mover.key, side]
            sides[side] = _side(mover, side, each, curve, scatter, common, instant)
        else:
            sides[side] = None
    before, after = sides["before"], sides["after"]
    impulse = None
    if before is not None and after is not None:
        impulse = (
            after.momentum[0].minus(before.momentum[0]),
            after.momentum[1].minus(before.momentum[1]),
        )
    return BodyMomentum(mover.key, mover.name, mover.mass, before, after, impulse)


def _side(
    mover: Mover,
    side: str,
    each: Approach,
    curve: Curve,
    scatter: tuple[float, float],
    common: Common,
    instant: Instant,
) -> Side:
    size, dof = scatter
    noise = Noise("marks", f"{mover.key}", dof)
    bend = _open_bend(each, curve, size)
    velocity: list[Amount] = []
    place: list[Amount] = []
    for axis, name in enumerate("xy"):
        rows = f"{mover.key}:{side}:{name}"
        v, at = float(curve.velocity[axis]), float(curve.position[axis])
        shared = common.of(v, lengths=1, times=-1)
        if bend > 0:
            shared[Source("bend of the path", rows)] = bend
        velocity.append(Amount(v, Effects(shared, {noise: {rows: curve.velocity_weights * size}})))
        lengths = common.of(at, lengths=1, times=0)
        if instant.uncertainty:
            lengths[Source("moment of the impact")] = v * instant.uncertainty
        place.append(Amount(at, Effects(lengths, {noise: {rows: curve.position_weights * size}})))
    of_mass = Source("mass", mover.key)
    momentum = [
        Amount(
            mover.mass * one.value,
            one.effects.times(mover.mass).plus(
                Effects({of_mass: one.value * mover.mass_uncertainty})
                if mover.mass_uncertainty
                else Effects()
            ),
        )
        for one in velocity
    ]
    return Side(
        (velocity[0], velocity[1]),
        (momentum[0], momentum[1]),
        (place[0], place[1]),
        curve,
        len(curve.velocity_weights),
    )


def _open_bend(each: Approach, curve: Curve, size: float) -> float:
    """What a parabola would change about the velocity of a line, where it is likely but not sure.

    A parabola that was taken has it in its own scatter.
    """
    if curve.order == 2 or each.parabola is None or each.chance > _LIKELY:
        return 0.0
    shift = each.parabola.velocity - each.line.velocity
    by_chance = size**2 * float(
        np.sum((each.parabola.velocity_weights - each.line.velocity_weights) ** 2)
    )
    return sqrt(max(float(shift @ shift) / 2 - by_chance, 0.0))


def _total(sides: Sequence[Side | None], masses: Sequence[float]) -> TotalMomentum | None:
    seen = [(side, mass) for side, mass in zip(sides, masses, strict=True) if side is not None]
    if not seen:
        return None
    momentum = [total([side.momentum[axis] for side, _ in seen]) for axis in (0, 1)]
    mass = sum(mass for _, mass in seen)
    centre = [amount.times(1 / mass) for amount in momentum]
    return TotalMomentum((momentum[0], momentum[1]), mass, (centre[0], centre[1]))


def distance_from_zero(change: tuple[Amount, Amount]) -> float:
    """Of a vector, in σ of a normal value that is as improbable: χ² with two degrees of freedom."""
    x, y = change
    both = x.plus(y)
    spread = np.array([[x.uncertainty**2, 0.0], [0.0, y.uncertainty**2]])
    spread[0, 1] = spread[1, 0] = (both.uncertainty**2 - spread[0, 0] - spread[1, 1]) / 2
    vector = np.array([x.value, y.value])
    if not np.any(spread):
        return 0.0 if not np.any(vector) else float("inf")
    square = float(vector @ np.linalg.pinv(spread, rcond=1e-9, hermitian=True) @ vector)
    chance = float(special.chdtrc(2, square))
    return -float(special.ndtri(chance / 2)) if chance > 0 else sqrt(square)


def _verdict(
    change: tuple[Amount, Amount],
    distance: float,
    before: TotalMomentum,
    after: TotalMomentum,
    bodies: Sequence[BodyMomentum],
) -> tuple[Conserved, Unclear | None]:
    if abs(after.mass - before.mass) > _MASSES_AGREE * max(after.mass, before.mass):
        return Conserved.CANNOT_TELL, Unclear.MATTER
    if distance > _DISAGREES:
        return Conserved.NO, None
    if distance > _AGREES:
        return Conserved.CANNOT_TELL, Unclear.BETWEEN
    impulses = [body.impulse for body in bodies if body.impulse is not None]
    largest = max((hypot(x.value, y.value) for x, y in impulses), default=0.0)
    exchanged = largest or hypot(*(one.value for one in before.momentum))
    if max(one.uncertainty for one in change) > _TELLS_NOTHING * exchanged:
        return Conserved.CANNOT_TELL, Unclear.LARGE
    return Conserved.YES, None


def largest_source(change: tuple[Amount, Amount]) -> str | None:
    """The source that contributes most to the uncertainty of both components together."""
    squares: dict[str, float] = {}
    for part in (*change[0].measured.budget, *change[1].measured.budget):
        squares[part.source] = squares.get(part.source, 0.0) + part.uncertainty**2
    return max(squares, key=lambda name: squares[name]) if squares else None


def kinetic(sides: Sequence[tuple[Side, float]]) -> Amount:
    """Kinetic energy of some bodies, J, without what scatter adds to squares."""
    parts = []
    for side, mass in sides:
        for velocity, p in zip(side.velocity, side.momentum, strict=True):
            noise = velocity.effects.scatter
            # ½ p v with its slopes by both, which share the velocity
            square = following(lambda of: of[0] * of[1] / 2, (p, velocity))
            parts.append(
                Amount(
                    square.value - mass * noise**2 / 2,
                    square.effects,
                    square.slow + mass**2 * noise**4 / 2,
                )
            )
    return total(parts)
