"""What kind of collision it was: restitution, share of kinetic energy kept, kind.

The coefficient of restitution is the speed with which two bodies part along the line of their
centres over that with which they met; of one body that meets something fixed, along its impulse.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import Enum

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.ledgers.amounts import Amount, following
from footing.core.ledgers.momentum import (
    BodyMomentum,
    MomentumLedger,
    Side,
    distance_from_zero,
    kinetic,
)

_SURE = 3.0  # uncertainties
_AGREES = 2.0
_PAIR = 2
_PLACES = 4  # coordinates of a line of centres


class Kind(Enum):
    """What becomes of the kinetic energy."""

    ELASTIC = "elastic"
    PARTLY = "partly elastic"
    INELASTIC = "perfectly inelastic"
    EXPLOSIVE = "explosive"


@dataclass(frozen=True)
class Collision:
    """What kind of collision it was.

    restitution : None where bodies do not meet in a pair, or were not moving towards each other
    kept : share of the kinetic energy; None where there was none before, within its uncertainty
    lost : kinetic energy after less that before, J
    """

    restitution: Amount | None
    kinetic_before: Amount
    kinetic_after: Amount
    kept: Amount | None
    lost: Amount
    kind: Kind


def collision(ledger: MomentumLedger) -> Collision | None:
    """What happened; None where one side is not seen at all."""
    before = [(body.before, body.mass) for body in ledger.bodies if body.before is not None]
    after = [(body.after, body.mass) for body in ledger.bodies if body.after is not None]
    if not before or not after:
        return None
    had, has = kinetic(before), kinetic(after)
    kept = has.over(had) if had.value > _AGREES * had.uncertainty else None
    restitution = _restitution(ledger.bodies)
    joined = len(before) >= _PAIR and len(after) == 1
    kind = Kind.INELASTIC if joined else _kind(ledger.bodies, had, has, kept)
    if joined and restitution is None:
        restitution = Amount(0.0)
    return Collision(restitution, had, has, kept, has.minus(had), kind)


def _kind(bodies: Sequence[BodyMomentum], had: Amount, has: Amount, kept: Amount | None) -> Kind:
    gained = has.minus(had)
    if kept is None:
        moved = gained.value > _AGREES * gained.uncertainty
        return Kind.EXPLOSIVE if moved else Kind.ELASTIC
    if kept.value - 1 > _SURE * kept.uncertainty:
        return Kind.EXPLOSIVE
    if _stick_together(bodies):
        return Kind.INELASTIC
    return Kind.ELASTIC if 1 - kept.value <= _AGREES * kept.uncertainty else Kind.PARTLY


def _stick_together(bodies: Sequence[BodyMomentum]) -> bool:
    """Whether all bodies go on with one velocity, having met with different ones."""
    sides = [body.after for body in bodies if body.after is not None]
    met = [body.before for body in bodies if body.before is not None]
    if len(sides) < _PAIR or len(met) < _PAIR:
        return len(sides) == 1 and len(met) == 1 and _stops(sides[0], met[0])
    parted = [_apart(sides[0], other) for other in sides[1:]]
    came = [_apart(met[0], other) for other in met[1:]]
    return all(distance_from_zero(one) <= _SURE for one in parted) and any(
        distance_from_zero(one) > _SURE for one in came
    )


def _stops(after: Side, before: Side) -> bool:
    """Whether one body stays where it hits."""
    return distance_from_zero(after.velocity) <= _SURE < distance_from_zero(before.velocity)


def _apart(one: Side, other: Side) -> tuple[Amount, Amount]:
    return (
        one.velocity[0].minus(other.velocity[0]),
        one.velocity[1].minus(other.velocity[1]),
    )


def _restitution(bodies: Sequence[BodyMomentum]) -> Amount | None:
    both = [body for body in bodies if body.before is not None and body.after is not None]
    if len(bodies) == 1 and len(both) == 1:
        return _rebound(both[0])
    if len(bodies) != _PAIR or len(both) != _PAIR:
        return None
    return _of_pair(both[0], both[1])


def _of_pair(one: BodyMomentum, other: BodyMomentum) -> Amount | None:
    """−(relative velocity after) ÷ (before), along the line of centres at the impact."""
    centres = [_centre(body) for body in (one, other)]
    places = [amount for centre in centres if centre is not None for amount in centre]
    if len(places) < _PLACES:
        places = []
    else:
        apart = (places[2].minus(places[0]), places[3].minus(places[1]))
        if distance_from_zero(apart) <= _SURE:  # what was marked gives no line of centres
            places = []
    sides = (one.before, one.after, other.before, other.after)
    velocities: list[Amount] = []
    for side in sides:
        assert side is not None
        velocities += side.velocity
    inputs = [*velocities, *places]

    def speeds(values: FloatArray) -> tuple[float, float]:
        """How fast the distance grew before and after, along a line of length 1."""
        was_one, is_one, was_other, is_other = values[:8].reshape(4, 2)
        # who was said to rest and is not marked has no place: then along the impulse
        line = values[10:12] - values[8:10] if places else was_one - is_one
        line = line / (np.hypot(*line) or 1.0)
        return float((was_other - was_one) @ line), float((is_other - is_one) @ line)

    met = following(lambda values: speeds(values)[0], inputs)
    if met.value >= -_AGREES * met.uncertainty:  # they do not come towards each other
        return None

    def of(values: FloatArray) -> float:
        grew, grows = speeds(values)
        return -grows / grew

    return following(of, inputs)


def _centre(body: BodyMomentum) -> tuple[Amount, Amount] | None:
    """Where a body is at the impact: the mean of what both sides say, or what one says."""
    seen = [
        side.place
        for side in (body.before, body.after)
        if side is not None and side.place is not None
    ]
    if not seen:
        return None
    share = 1 / len(seen)
    x = [place[0].times(share) for place in seen]
    y = [place[1].times(share) for place in seen]
    return (x[0], y[0]) if len(seen) == 1 else (x[0].plus(x[1]), y[0].plus(y[1]))


def _rebound(body: BodyMomentum) -> Amount | None:
    """Of one body that meets something fixed: along the direction of its impulse."""
    assert body.before is not None
    assert body.after is not None
    assert body.impulse is not None
    if distance_from_zero(body.impulse) <= _SURE:
        return None

    def of(values: FloatArray) -> float:
        was, becomes = values[:2], values[2:]
        along = becomes - was
        return -float((becomes @ along) / (was @ along))

    return following(of, [*body.before.velocity, *body.after.velocity])
