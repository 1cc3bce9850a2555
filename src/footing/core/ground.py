"""The ground: what turns pixels into metres.

World = s · F · R(−θ) · D · (p − p₀), with D = diag(1, −1) because pixels count downwards,
R(−θ) the turn into axes that are turned by θ counter-clockwise as seen, F = diag(±1, ±1) the
flips, and s the scale in metres for each pixel (docs/physics.md, Ground).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.errors import Refused

PIXEL_UNCERTAINTY = 0.5  # px, of one coordinate of a placed point, unless the user says otherwise
DISAGREEMENT = 2.0  # known lengths disagree from this many combined uncertainties on


@dataclass(frozen=True)
class KnownLength:
    """A line of known length: ends in pixels, length and its uncertainty in metres."""

    start: tuple[float, float]
    end: tuple[float, float]
    length: float
    length_uncertainty: float

    @property
    def pixels(self) -> float:
        """Length of the drawn line in pixels."""
        return float(np.hypot(self.end[0] - self.start[0], self.end[1] - self.start[1]))


@dataclass(frozen=True)
class Scale:
    """Metres for each pixel, with standard uncertainty; ``disagree`` if known lengths do."""

    value: float
    uncertainty: float
    disagree: bool = False

    @property
    def relative(self) -> float:
        """Relative standard uncertainty."""
        return self.uncertainty / self.value


def scale_of(known: KnownLength, *, pixel_uncertainty: float = PIXEL_UNCERTAINTY) -> Scale:
    """Scale from one known length: s = L/ℓ, u(s)/s = √[(u(L)/L)² + 2 (u_px/ℓ)²].

    The factor 2 is for the two ends, each placed with ``pixel_uncertainty`` along the line.

    Raises
    ------
    Refused : if both ends lie in one place, or the length is not positive.
    """
    if known.pixels < 1:
        raise Refused(
            "Both ends of the known length lie in one place; drag one end to the other end of the "
            "object.",
            field="length",
        )
    if known.length <= 0:
        raise Refused(f"A known length of {known.length:g} m cannot be.", field="length")
    value = known.length / known.pixels
    relative = np.sqrt(
        (known.length_uncertainty / known.length) ** 2 + 2 * (pixel_uncertainty / known.pixels) ** 2
    )
    return Scale(value, float(value * relative))


def combined_scale(
    known: Sequence[KnownLength], *, pixel_uncertainty: float = PIXEL_UNCERTAINTY
) -> Scale | None:
    """Weighted mean of the scales of all known lengths; None if there are none.

    They disagree when one differs from the mean by more than twice what its own uncertainty
    explains.
    """
    scales = [scale_of(one, pixel_uncertainty=pixel_uncertainty) for one in known]
    if not scales:
        return None
    values = np.array([scale.value for scale in scales])
    weights = np.array([scale.uncertainty for scale in scales]) ** -2.0
    mean = float(np.sum(weights * values) / np.sum(weights))
    disagree = bool(np.any(np.abs(values - mean) * np.sqrt(weights) > DISAGREEMENT))
    return Scale(mean, float(np.sum(weights) ** -0.5), disagree)


@dataclass(frozen=True)
class Axes:
    """Zero in pixels, turn θ in radians, and the flips.

    >>> Axes(zero=(100.0, 200.0)).to_world(np.array([[103.0, 196.0]]), scale=0.5)
    array([[1.5, 2. ]])
    """

    zero: tuple[float, float]
    angle: float = 0.0
    flip_x: bool = False
    flip_y: bool = False

    def matrix(self, scale: float = 1.0) -> FloatArray:
        """The (2, 2) matrix s · F · R(−θ) · D that maps pixel offsets to world offsets."""
        cos, sin = np.cos(self.angle), np.sin(self.angle)
        turn = np.array([[cos, sin], [-sin, cos]])
        flips = np.diag([-1.0 if self.flip_x else 1.0, -1.0 if self.flip_y else 1.0])
        return np.asarray(scale * flips @ turn @ np.diag([1.0, -1.0]), dtype=float)

    def to_world(self, pixels: FloatArray, *, scale: float = 1.0) -> FloatArray:
        """World positions ``(n, 2)`` of pixel positions ``(n, 2)``; scale in metres per pixel."""
        return np.asarray((pixels - np.array(self.zero)) @ self.matrix(scale).T, dtype=float)

    def to_pixels(self, world: FloatArray, *, scale: float = 1.0) -> FloatArray:
        """Inverse of `to_world`."""
        inverse = np.linalg.inv(self.matrix(scale))
        return np.asarray(world @ inverse.T + np.array(self.zero), dtype=float)
