"""Laws of motion: how a motion goes on from a start.

Those with a closed form use it; the others are integrated. See docs/models.md for their equations.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import Enum, auto
from typing import Protocol

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.drag import ball_volume, frontal_area
from footing.core.prediction.integrating import Motion, integrated
from footing.core.prediction.parameters import START

_STILL = 1e-12  # m/s, below which something rests
_SERIES = 1e-6  # of the exponent, below which a closed form would cancel


@dataclass(frozen=True)
class Begin:
    """From where a motion goes on.

    state : (k, 4) x, y, vx, vy; began : (k,) s
    lasts : s, how far it is needed
    given : by name, each (k,)
    up : unit vector against gravity
    """

    state: FloatArray
    began: FloatArray
    lasts: float
    given: Mapping[str, FloatArray]
    up: FloatArray

    @property
    def position(self) -> FloatArray:
        """(k, 2)"""
        return self.state[:, :2]

    @property
    def velocity(self) -> FloatArray:
        """(k, 2)"""
        return self.state[:, 2:]

    @property
    def gravity(self) -> FloatArray:
        """(k, 2) the acceleration of free fall."""
        return -self.given["g"][:, None] * self.up

    def point(self, x: str, y: str) -> FloatArray:
        """(k, 2) from two parameters."""
        return np.stack([self.given[x], self.given[y]], axis=1)


class Law(Protocol):
    """A law of motion."""

    @property
    def key(self) -> str:
        """By which a leg names it."""

    @property
    def title(self) -> str:
        """As people call it."""

    @property
    def needs(self) -> tuple[str, ...]:
        """Parameters without which there is no motion."""

    @property
    def may(self) -> tuple[str, ...]:
        """Others that it uses where given."""

    @property
    def starts(self) -> tuple[str, ...]:
        """Of x, y, vx, vy what it takes of its start."""

    def motion(self, begin: Begin) -> Motion:
        """The motion as a function of seconds since its start ``(k, n)``: ``(k, n, 4)``."""


class Drag(Enum):
    """What a medium does to what moves in it."""

    LINEAR = auto()
    QUADRATIC = auto()


@dataclass(frozen=True)
class NamedLaw:
    """A law that ships with the application. drag : that of its medium, if it has one"""

    key: str
    title: str
    moves: Callable[[Begin], Motion]
    needs: tuple[str, ...] = ()
    may: tuple[str, ...] = ()
    drag: Drag | None = None
    starts: tuple[str, ...] = START

    def motion(self, begin: Begin) -> Motion:
        """How it moves."""
        return self.moves(begin)


def _joined(position: FloatArray, velocity: FloatArray) -> FloatArray:
    return np.concatenate(np.broadcast_arrays(position, velocity), axis=-1)


def _rest(begin: Begin) -> Motion:
    def at(after: FloatArray) -> FloatArray:
        position = np.repeat(begin.position[:, None], after.shape[1], axis=1)
        return _joined(position, np.zeros_like(position))

    return at


def _constant_velocity(begin: Begin) -> Motion:
    def at(after: FloatArray) -> FloatArray:
        velocity = np.repeat(begin.velocity[:, None], after.shape[1], axis=1)
        return _joined(begin.position[:, None] + velocity * after[..., None], velocity)

    return at


def _constant_acceleration(begin: Begin) -> Motion:
    return _accelerated(begin, begin.point("ax", "ay"))


def _accelerated(begin: Begin, by: FloatArray) -> Motion:
    acceleration = by[:, None]

    def at(after: FloatArray) -> FloatArray:
        t = after[..., None]
        position = begin.position[:, None] + begin.velocity[:, None] * t + acceleration * t**2 / 2
        return _joined(position, begin.velocity[:, None] + acceleration * t)

    return at


def _free_fall(begin: Begin) -> Motion:
    return _accelerated(begin, begin.gravity)


def _circle(begin: Begin) -> Motion:
    """Uniform, about a centre, from where it begins; the velocity there follows from ω."""
    centre, omega = begin.point("cx", "cy"), begin.given["omega"]
    arm = begin.position - centre

    def at(after: FloatArray) -> FloatArray:
        turned = omega[:, None] * after
        cos, sin = np.cos(turned), np.sin(turned)
        ax, ay = arm[:, :1], arm[:, 1:]
        position = np.stack([ax * cos - ay * sin, ax * sin + ay * cos], axis=-1)
        across = np.stack([-position[..., 1], position[..., 0]], axis=-1)
        return _joined(centre[:, None] + position, omega[:, None, None] * across)

    return at


def _harmonic(begin: Begin) -> Motion:
    """About a point: a = −ω² (r − c)."""
    return _swinging(begin, begin.position, begin.velocity)


def _harmonic_line(begin: Begin) -> Motion:
    """The same along a line through the centre; what the start has across it does not count."""
    angle = begin.given["angle"]
    along = np.stack([np.cos(angle), np.sin(angle)], axis=1)
    centre = begin.point("cx", "cy")
    off = np.sum((begin.position - centre) * along, axis=1)[:, None]
    speed = np.sum(begin.velocity * along, axis=1)[:, None]
    return _swinging(begin, centre + off * along, speed * along)


def _swinging(begin: Begin, position: FloatArray, velocity: FloatArray) -> Motion:
    centre, omega = begin.point("cx", "cy"), begin.given["omega"][:, None]
    arm = position - centre

    def at(after: FloatArray) -> FloatArray:
        phase = omega * after
        cos, sin = np.cos(phase)[..., None], np.sin(phase)[..., None]
        # sin(ωt)/ω, which is t where ω is 0
        lagged = after[..., None] * np.sinc(phase / np.pi)[..., None]
        moved = arm[:, None] * cos + velocity[:, None] * lagged
        speed = velocity[:, None] * cos - arm[:, None] * omega[..., None] * sin
        return _joined(centre[:, None] + moved, speed)

    return at


def _pendulum(begin: Begin) -> Motion:
    """Of any amplitude, on a string from a point: θ'' = −(g/L) sin θ.

    Without a length it is as long as its start is far from that point; with one, only the direction
    of the start counts.
    """
    pivot = begin.point("cx", "cy")
    arm = begin.position - pivot
    given = begin.given
    length = given["length"] if "length" in given else np.hypot(*arm.T)
    down, right = -begin.up, np.array([begin.up[1], -begin.up[0]])
    angle = np.arctan2(arm @ right, arm @ down)
    tangent = np.cos(angle)[:, None] * right - np.sin(angle)[:, None] * down
    turning = np.sum(begin.velocity * tangent, axis=1) / length
    pull = given["g"] / length

    def slopes(_after: FloatArray, y: FloatArray) -> FloatArray:
        return np.stack([y[:, 1], -pull * np.sin(y[:, 0])], axis=1)

    swings = integrated(slopes, np.stack([angle, turning], axis=1), begin.lasts)

    def at(after: FloatArray) -> FloatArray:
        found = swings(after)
        cos, sin = np.cos(found[..., :1]), np.sin(found[..., :1])
        long = length[:, None, None]
        position = pivot[:, None] + long * (sin * right + cos * down)
        return _joined(position, long * found[..., 1:] * (cos * right - sin * down))

    return at


def _linear_drag(begin: Begin) -> Motion:
    """m dv/dt = m g − b v."""
    rate = (begin.given["b"] / begin.given["mass"])[:, None, None]
    pull = begin.gravity[:, None]
    velocity, position = begin.velocity[:, None], begin.position[:, None]

    def at(after: FloatArray) -> FloatArray:
        t = after[..., None]
        x = rate * t
        small = np.abs(x) < _SERIES
        safe = np.where(small, 1.0, x)
        # (1 − e⁻ˣ)/x and (e⁻ˣ − 1 + x)/x², which go to 1 and ½
        slowed = np.where(small, 1 - x / 2 + x**2 / 6, -np.expm1(-safe) / safe)
        fallen = np.where(small, 0.5 - x / 6 + x**2 / 24, (np.expm1(-safe) + safe) / safe**2)
        speed = velocity * np.exp(-x) + pull * t * slowed
        return _joined(position + velocity * t * slowed + pull * t**2 * fallen, speed)

    return at


def _quadratic_drag(begin: Begin) -> Motion:
    """m dv/dt = m g − ½ ρ C_d A |v| v."""
    return _dragged(begin, begin.gravity)


def _buoyant(begin: Begin) -> Motion:
    """The same with ρ V g upwards; the volume is that of a ball of the diameter, unless given."""
    given = begin.given
    volume = given["volume"] if "volume" in given else ball_volume_of(given["diameter"])
    lifted = (given["density"] * volume / given["mass"])[:, None]
    return _dragged(begin, begin.gravity * (1 - lifted))


def ball_volume_of(diameter: FloatArray) -> FloatArray:
    """(k,) volumes of balls."""
    return np.asarray(diameter**3 * ball_volume(1.0))


def _dragged(begin: Begin, pull: FloatArray) -> Motion:
    given = begin.given
    area = given["diameter"] ** 2 * frontal_area(1.0)
    strength = (given["density"] * given["drag_coefficient"] * area / (2 * given["mass"]))[:, None]

    def slopes(_after: FloatArray, y: FloatArray) -> FloatArray:
        velocity = y[:, 2:]
        speed = np.hypot(velocity[:, :1], velocity[:, 1:])
        return np.concatenate([velocity, pull - strength * speed * velocity], axis=1)

    return integrated(slopes, begin.state, begin.lasts)


def _sliding(begin: Begin) -> Motion:
    """On a slope at an angle, with friction that turns with the motion and holds what rests.

    What the start has across the slope stays in the position and does not count in the velocity.
    """
    given = begin.given
    along = np.stack([np.cos(given["angle"]), np.sin(given["angle"])], axis=1)
    pull = np.sum(begin.gravity * along, axis=1)
    across = np.stack([-along[:, 1], along[:, 0]], axis=1)
    hold = given["friction"] * np.abs(np.sum(begin.gravity * across, axis=1))
    speed = np.sum(begin.velocity * along, axis=1)
    moves = np.abs(speed) > _STILL
    slowing = pull - hold * np.sign(speed)
    stops = moves & (slowing * speed < 0)
    until = np.where(stops, -speed / np.where(stops, slowing, 1.0), np.where(moves, np.inf, 0.0))
    back = np.where(np.abs(pull) <= hold, 0.0, pull - hold * np.sign(pull))

    def at(after: FloatArray) -> FloatArray:
        first = np.minimum(after, until[:, None])
        then = after - first
        turned = slowing[:, None] * first + speed[:, None]
        way = speed[:, None] * first + slowing[:, None] * first**2 / 2
        way += back[:, None] * then**2 / 2
        fast = np.where(then > 0, back[:, None] * then, turned)
        position = begin.position[:, None] + way[..., None] * along[:, None]
        return _joined(position, fast[..., None] * along[:, None])

    return at


_PLACE = ("x", "y")
_CENTRE = ("cx", "cy")
_DRAG = ("mass", "diameter", "drag_coefficient", "density", "g")
LAWS: dict[str, NamedLaw] = {
    law.key: law
    for law in (
        NamedLaw("rest", "rest", _rest, starts=_PLACE),
        NamedLaw("constant velocity", "constant velocity", _constant_velocity),
        NamedLaw(
            "constant acceleration", "constant acceleration", _constant_acceleration, ("ax", "ay")
        ),
        NamedLaw("free fall", "free fall", _free_fall, ("g",)),
        NamedLaw("slope with friction", "sliding on a slope", _sliding, ("angle", "friction", "g")),
        NamedLaw("uniform circle", "uniform circle", _circle, (*_CENTRE, "omega"), starts=_PLACE),
        NamedLaw("harmonic", "swinging about a point", _harmonic, (*_CENTRE, "omega")),
        NamedLaw(
            "harmonic along a line",
            "swinging along a line",
            _harmonic_line,
            (*_CENTRE, "angle", "omega"),
        ),
        NamedLaw("pendulum", "pendulum", _pendulum, (*_CENTRE, "g"), ("length",)),
        NamedLaw(
            "linear drag",
            "fall with linear drag",
            _linear_drag,
            ("b", "mass", "g"),
            drag=Drag.LINEAR,
        ),
        NamedLaw(
            "quadratic drag",
            "fall with drag of the air",
            _quadratic_drag,
            _DRAG,
            drag=Drag.QUADRATIC,
        ),
        NamedLaw(
            "buoyancy and drag",
            "in a medium, with buoyancy",
            _buoyant,
            _DRAG,
            ("volume",),
            drag=Drag.QUADRATIC,
        ),
    )
}
