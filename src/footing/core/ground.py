"""The ground: what turns pixels into lengths.

World = F · R(−θ) · (flat(p) − flat(p₀)), where flat lays the picture out as a plane with y upwards
and in units of length: s · D · V · p for a camera that looks square-on (`Square`), or the
homography H(p) for one that looks obliquely (`footing.core.plane.Plane`). V is the turn or mirror
chosen by hand, D = diag(1, −1) because pixels count downwards, R(−θ) the turn into axes that are
turned by θ counter-clockwise as seen, F = diag(±1, ±1) the flips (docs/physics.md, Ground).
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, Protocol

import numpy as np
from scipy import special

from footing.core.arrays import FloatArray
from footing.core.errors import Refused

PIXEL_UNCERTAINTY = 0.5  # px, of one coordinate of a placed point, unless the user says otherwise
DISAGREEMENT = 0.01  # chance below which known lengths disagree
UPWARDS = float(np.pi / 2)  # direction of up in the picture as seen, until it is levelled

Quarter = Literal[0, 90, 180, 270]


@dataclass(frozen=True)
class KnownLength:
    """A line of known length: ends in pixels, length and its uncertainty in units of length.

    nearer : how much nearer to the camera than the motion it lies (negative: farther)
    camera_distance : from the camera to the motion, in the same unit; None where unknown
    """

    start: tuple[float, float]
    end: tuple[float, float]
    length: float
    length_uncertainty: float
    nearer: float = 0.0
    camera_distance: float | None = None

    @property
    def pixels(self) -> float:
        """Length of the drawn line in pixels."""
        return float(np.hypot(self.end[0] - self.start[0], self.end[1] - self.start[1]))

    @property
    def depth_factor(self) -> float:
        """By how much a pixel is longer at the motion than at the line: ratio of the distances.

        A picture shrinks in proportion to the distance (pinhole camera), so with the motion at
        distance d and the line nearer by n, the factor is d / (d − n). 1 where either is unknown.
        """
        if self.camera_distance is None:
            return 1.0
        return self.camera_distance / (self.camera_distance - self.nearer)


@dataclass(frozen=True)
class Scale:
    """Length for each pixel, with standard uncertainty.

    apart : for each known length, how far its own scale lies from the mean of the others, in
        combined uncertainties; 0 where there is only one
    chance : of lengths that differ as much or more, if they are as uncertain as they say (χ²)
    """

    value: float
    uncertainty: float
    apart: tuple[float, ...] = (0.0,)
    chance: float = 1.0

    @property
    def relative(self) -> float:
        """Relative standard uncertainty."""
        return self.uncertainty / self.value

    @property
    def disagree(self) -> bool:
        """Whether known lengths differ by more than their uncertainties explain."""
        return self.chance < DISAGREEMENT


def scale_of(known: KnownLength, *, pixel_uncertainty: float = PIXEL_UNCERTAINTY) -> Scale:
    """Scale from one known length: s = L/ℓ, u(s)/s = √[(u(L)/L)² + 2 (u_px/ℓ)²].

    The factor 2 is for the two ends, each placed with ``pixel_uncertainty`` along the line. The
    scale is corrected to the distance of the motion where both distances are known.

    Raises
    ------
    Refused : if both ends lie in one place, the length is not positive, or the line would lie at
        or behind the camera.
    """
    if known.pixels < 1:
        raise Refused(
            "Both ends of the known length lie in one place; drag one end to the other end of the "
            "object.",
            field="length",
        )
    if known.length <= 0:
        raise Refused(f"A known length of {known.length:g} cannot be.", field="length")
    if known.camera_distance is not None and known.nearer >= known.camera_distance:
        raise Refused("The known length would lie behind the camera.", field="nearer")
    value = known.length / known.pixels * known.depth_factor
    relative = np.sqrt(
        (known.length_uncertainty / known.length) ** 2 + 2 * (pixel_uncertainty / known.pixels) ** 2
    )
    return Scale(value, float(value * relative))


def combined_scale(
    known: Sequence[KnownLength], *, pixel_uncertainty: float = PIXEL_UNCERTAINTY
) -> Scale | None:
    """Weighted mean of the scales of all known lengths; None if there are none."""
    scales = [scale_of(one, pixel_uncertainty=pixel_uncertainty) for one in known]
    if not scales:
        return None
    values = np.array([scale.value for scale in scales])
    weights = np.array([scale.uncertainty for scale in scales]) ** -2.0
    total = np.sum(weights)
    mean = float(np.sum(weights * values) / total)
    apart = []
    for value, weight in zip(values, weights, strict=True):
        rest = total - weight
        if rest <= 0:
            apart.append(0.0)
            continue
        others = (mean * total - weight * value) / rest
        apart.append(float((value - others) / np.sqrt(1 / weight + 1 / rest)))
    uncertainty, dof = float(total**-0.5), len(values) - 1
    chi_squared = float(np.sum(weights * (values - mean) ** 2))
    chance = float(special.chdtrc(dof, chi_squared)) if dof else 1.0
    if chance < DISAGREEMENT:
        # as large as their spread says (R. T. Birge, Physical Review 40, 207, 1932), and wider
        # still because few lengths say little about it (Student's t against the normal)
        few = float(special.stdtrit(dof, 0.975) / special.ndtri(0.975))
        uncertainty *= float(np.sqrt(chi_squared / dof)) * few
    return Scale(mean, uncertainty, tuple(apart), chance)


def turned_view(quarter: int, *, mirror: bool) -> FloatArray:
    """V: the (2, 2) matrix that shows a picture mirrored left to right, then turned clockwise.

    ``quarter`` is 0, 90, 180 or 270 degrees. Acts on pixel offsets (x right, y down).

    >>> turned_view(90, mirror=False) @ np.array([1.0, 0.0])  # what was right is now below
    array([0., 1.])
    """
    cos, sin = ((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.0, -1.0))[quarter // 90 % 4]
    turn = np.array([[cos, -sin], [sin, cos]])
    return np.asarray(turn @ np.diag([-1.0 if mirror else 1.0, 1.0]) + 0.0, dtype=float)


class Flattening(Protocol):
    """How the picture is laid out flat, y upwards, in units of length."""

    def flat(self, pixels: FloatArray) -> FloatArray:
        """Places ``(n, 2)`` of pixels ``(n, 2)``."""
        ...

    def pixels(self, flat: FloatArray) -> FloatArray:
        """Inverse of `flat`."""
        ...

    def per_pixel(self, at: FloatArray) -> float:
        """Length that a pixel stands for near the places ``(n, 2)``, root mean square."""
        ...

    def error_shapes(self, at: FloatArray) -> FloatArray | None:
        """How errors of a pixel lie there ``(n, 2, 2)``; None where they are round."""
        ...


@dataclass(frozen=True)
class Square:
    """A camera that looks square-on: s · D · V, with s in units of length for each pixel."""

    scale: float = 1.0
    quarter: int = 0
    mirror: bool = False

    @property
    def _matrix(self) -> FloatArray:
        view = turned_view(self.quarter, mirror=self.mirror)
        return np.asarray(self.scale * np.diag([1.0, -1.0]) @ view, dtype=float)

    def flat(self, pixels: FloatArray) -> FloatArray:
        """Places ``(n, 2)`` of pixels ``(n, 2)``."""
        return np.asarray(pixels @ self._matrix.T, dtype=float)

    def pixels(self, flat: FloatArray) -> FloatArray:
        """Inverse of `flat`."""
        return np.asarray(flat @ np.linalg.inv(self._matrix).T, dtype=float)

    def per_pixel(self, at: FloatArray) -> float:  # noqa: ARG002 - the same everywhere
        """The scale."""
        return self.scale

    def error_shapes(self, at: FloatArray) -> FloatArray | None:  # noqa: ARG002 - round everywhere
        """None."""
        return None


@dataclass(frozen=True)
class Axes:
    """Zero in pixels, turn θ in radians, and the flips, on a flattened picture.

    >>> Axes(zero=(100.0, 200.0)).to_world(np.array([[103.0, 196.0]]), Square(0.5))
    array([[1.5, 2. ]])
    """

    zero: tuple[float, float]
    angle: float = 0.0
    flip_x: bool = False
    flip_y: bool = False

    @property
    def matrix(self) -> FloatArray:
        """The (2, 2) matrix F · R(−θ) that maps flat offsets to world offsets."""
        cos, sin = np.cos(self.angle), np.sin(self.angle)
        turn = np.array([[cos, sin], [-sin, cos]])
        flips = np.diag([-1.0 if self.flip_x else 1.0, -1.0 if self.flip_y else 1.0])
        return np.asarray(flips @ turn, dtype=float)

    def to_world(self, pixels: FloatArray, flattening: Flattening) -> FloatArray:
        """World positions ``(n, 2)`` of pixel positions ``(n, 2)``."""
        offsets = flattening.flat(pixels) - flattening.flat(np.array([self.zero]))
        return np.asarray(offsets @ self.matrix.T, dtype=float)

    def to_pixels(self, world: FloatArray, flattening: Flattening) -> FloatArray:
        """Inverse of `to_world`."""
        offsets = world @ np.linalg.inv(self.matrix).T
        return flattening.pixels(offsets + flattening.flat(np.array([self.zero])))


def heights(
    pixels: FloatArray, flattening: Flattening, *, up: float, zero: tuple[float, float]
) -> FloatArray:
    """Heights ``(n,)`` along *up* (an angle in the flat picture) above the zero of height."""
    direction = np.array([np.cos(up), np.sin(up)])
    offsets = flattening.flat(pixels) - flattening.flat(np.array([zero]))
    return np.asarray(offsets @ direction, dtype=float)


def direction_of_line(
    start: tuple[float, float], end: tuple[float, float], flattening: Flattening
) -> float:
    """Direction of a drawn line in the flat picture, radians counter-clockwise from right."""
    (x1, y1), (x2, y2) = flattening.flat(np.array([start, end]))
    return float(np.arctan2(y2 - y1, x2 - x1))


def axes_along(direction: float) -> float:
    """Turn of axes whose x lies along a line, by the smaller angle: −90° … 90°."""
    return float((direction + np.pi / 2) % np.pi - np.pi / 2)


def up_from_line(direction: float) -> tuple[float, Literal["level", "plumb"]]:
    """Up from a line along something level or plumb, whichever it is nearer to.

    The line says how the camera was tilted, not that the world is upside down: up is the direction
    across a level line, or along a plumb one, that points to the upper half of the picture.
    """
    folded = axes_along(direction)
    if abs(folded) <= np.pi / 4:
        return folded + UPWARDS, "level"
    return folded if folded > 0 else folded + float(np.pi), "plumb"
