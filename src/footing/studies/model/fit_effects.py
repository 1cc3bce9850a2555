"""What the results of a fit rest on: its points, the ground of its film, and typed quantities."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.dimensions import Unit
from footing.core.effects import Effects, Noise, Source
from footing.core.fitting import Fit, Influence, influence, rescaled, widened
from footing.core.measured import LENGTHS, TIMES
from footing.core.reading import Reading
from footing.core.soundness import readout_effect
from footing.studies.model.columns import Series
from footing.studies.model.grounds import Grounded
from footing.studies.model.motions import BodyMotion

_DRIFT = "marks that err together"
_ACCELERATION = -2  # power of time


@dataclass(frozen=True)
class Ground:
    """What a fit rests on: the ground of its footage and the motion of its body."""

    grounded: Grounded
    body: BodyMotion

    @cached_property
    def relative(self) -> dict[str, dict[Source, float]]:
        """Relative standard uncertainties of all lengths and of all times, by their sources."""
        of = f"footage {self.grounded.footage.id}"
        lengths = {
            Source(name, of): size for name, size in self.grounded.length_parts(self.body.pixels)
        }
        clock = self.grounded.clock.relative
        return {LENGTHS: lengths, TIMES: {Source("clock", of): clock} if clock else {}}

    @property
    def readout(self) -> dict[Source, float]:
        """Relative effect of the row readout on accelerations, where it is known."""
        effect = readout_share(self.body, self.grounded)
        of = f"footage {self.grounded.footage.id}"
        return {Source("row readout", of): effect} if effect else {}


def readout_share(body: BodyMotion, grounded: Grounded) -> float | None:
    """Relative effect of the row readout on an acceleration of a body; None where unknown."""
    per_row = grounded.seconds_per_row
    if per_row is None:
        return None
    return readout_effect(grounded.readout_speed(body.frames, body.pixels), per_row)


class FitEffects:
    """How what is read from a fit changes with what it rests on.

    Parameters
    ----------
    key : tells the fit apart from others
    ground : None where the fit is not of a footage
    held : parameters that were fixed
    units : of the parameters, where the curve holds quantities with units and is computed in base
        units therefore
    """

    def __init__(
        self,
        key: str,
        outcome: Fit,
        points: Series,
        ground: Ground | None,
        held: frozenset[str] = frozenset(),
        units: Sequence[Unit] | None = None,
    ) -> None:
        self._key = key
        self._outcome = outcome
        self._points = points
        self._ground = ground
        self._held = held
        across, up = points.across.variable.unit, points.up.variable.unit
        self._sizes = (across.factor, up.factor) if units else (1.0, 1.0)
        self._factors = np.array(
            [unit.factor for unit in units or ()] or [1.0] * len(outcome.values)
        )

    @cached_property
    def _influence(self) -> Influence:
        x, y = self._sizes
        outcome = rescaled(self._outcome, list(1 / self._factors), 1 / y)
        return influence(outcome, self._points.x * x, held=self._held)

    @cached_property
    def changes(self) -> dict[Source, FloatArray]:
        """Change ``(p,)`` of the parameters with one standard uncertainty of each source."""
        found: dict[Source, FloatArray] = {}
        owner = self._points.table.owner.key
        relative = self._ground.relative if self._ground else {}
        for source in self._points.sources:
            x, y = self._points.shared(source)
            across, up = self._sizes
            change = self._influence.of_change(x * across, y * up) / self._factors
            if source in (LENGTHS, TIMES):
                for part, size in relative.get(source, {}).items():
                    found[part] = change * size
            else:
                found[Source(source, owner if source == "m" else "")] = change
        return found

    @cached_property
    def together(self) -> FloatArray:
        """By how much the errors ``(p,)`` grow because marks err together; 1 where they do not."""
        independent = self._points.covariance is None and self._ground is not None
        if not independent or not self._points.across.variable.is_time or self._sizes != (1.0, 1.0):
            return np.ones(len(self._outcome.values))
        return widened(self._outcome, self._points.x)

    def _by_drift(self, gradient: FloatArray) -> dict[Source, float]:
        """What marks that err together add."""
        covariance = self._outcome.covariance
        wide = gradient * self.together
        more = float(wide @ covariance @ wide - gradient @ covariance @ gradient)
        return {Source(_DRIFT, self._key): float(np.sqrt(more))} if more > 0 else {}

    def of_parameter(self, name: str) -> Effects:
        """The effects on one parameter."""
        gradient = np.zeros(len(self._outcome.values))
        gradient[self._outcome.curve.names.index(name)] = 1.0
        shared = {of: float(gradient @ change) for of, change in self.changes.items()}
        shared |= self._by_drift(gradient)
        return Effects(shared, {self._noise: self._by_rows(gradient)})

    def of_reading(self, reading: Reading) -> Effects:
        """The effects on a reading or a parameter."""
        noise = {self._noise: self._by_rows(reading.estimate.gradient)}
        return Effects(self.shared_in(reading), noise)

    def shared_in(self, reading: Reading) -> dict[Source, float]:
        """The effects of what a reading has in common with others."""
        gradient = reading.estimate.gradient
        shared = {of: float(gradient @ change) for of, change in self.changes.items()}
        shared |= self._by_drift(gradient)
        if self._ground is not None and reading.unit.power_of("s") == _ACCELERATION:
            shared |= {of: reading.value * by for of, by in self._ground.readout.items()}
        return shared

    @property
    def _noise(self) -> Noise:
        return Noise("fit", self._key, float(self._outcome.dof))

    def _by_rows(self, gradient: FloatArray) -> Mapping[str, FloatArray]:
        """The change with the errors of each mark (or each row), as large as the fit says."""
        points, owner = self._points, self._points.table.owner.key
        variance = float(gradient @ self._outcome.covariance @ gradient)
        by_points = self._influence.by_points(gradient / self._factors)
        rows: dict[str, FloatArray]
        if points.up.by_marks is None:
            on_rows = np.zeros(len(points.table.numbers))
            on_rows[points.up.rows[points.places]] = by_points
            rows = {f"{owner}:{points.up.key}": on_rows}
        else:
            at = points.up.rows[points.places]
            rows = {
                f"{owner}:{of}": np.asarray(by[at].T @ by_points, dtype=float)
                for of, by in points.up.by_marks().items()
            }
        size = sum(float(np.sum(one**2)) for one in rows.values())
        scale = float(np.sqrt(max(variance, 0.0) / size)) if size > 0 else 0.0
        return {of: one * scale for of, one in rows.items()}
