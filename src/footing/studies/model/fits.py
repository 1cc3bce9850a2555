"""Fits of a study, computed from its tables."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from footing.core import meaning
from footing.core.arrays import FloatArray
from footing.core.curves import CURVES, Curve, own_curve
from footing.core.dimensions import Unit
from footing.core.fitting import Fit, Given, NoFit, fit_curve, fit_weighted, rescaled
from footing.core.formulas.computing import Known
from footing.core.formulas.syntax import WrongFormula
from footing.core.reading import Reading
from footing.core.units import read_number
from footing.store.rows import Fit as Fitted
from footing.store.rows import GivenParameter, Passage
from footing.studies.model.columns import DataTable, Series, series
from footing.studies.model.fit_effects import FitEffects, Ground
from footing.words.fitting import no_fit_said

_CURVE_POINTS = 120
_SWING_POINTS = 480


@dataclass(frozen=True)
class NotFitted:
    """That there is no fit, and why: a sentence to show."""

    reason: str


@dataclass(frozen=True, eq=False)
class FitResult:
    """A fit with what it comes to now.

    row : the stored fit, or what is being tried
    points : the points that it goes over; None where a column is not there any more
    problem : why parameters have no units, where they have none
    ground : on which it rests, where it is of a footage
    """

    row: Fitted
    table: DataTable
    points: Series | None
    curve: Curve | None
    outcome: Fit | NotFitted
    readings: tuple[Reading, ...] = ()
    parameters: tuple[Reading, ...] = ()
    problem: str | None = None
    ground: Ground | None = None
    over: str = ""

    @cached_property
    def effects(self) -> FitEffects | None:
        """What its parameters rest on; None where there are none."""
        if isinstance(self.outcome, NotFitted) or self.points is None or self.curve is None:
            return None
        in_base = self.curve.has_units and not self.problem
        units = [one.unit for one in self.parameters] if in_base else None
        held = frozenset(name for name, said in self.row.given.items() if said.get("fixed"))
        return FitEffects(
            f"fit {self.row.id}", self.outcome, self.points, self.ground, held=held, units=units
        )

    def reading(self, key: str) -> Reading | None:
        """A reading or parameter by its key."""
        return next((one for one in (*self.readings, *self.parameters) if one.key == key), None)

    @property
    def ends(self) -> dict[str, float]:
        """Where its points begin and end, in x."""
        assert self.points is not None
        return {"start": float(self.points.x.min()), "end": float(self.points.x.max())}

    @property
    def drawn(self) -> tuple[FloatArray, FloatArray] | None:
        """The curve over its points, to be drawn."""
        if isinstance(self.outcome, NotFitted) or self.points is None or self.curve is None:
            return None
        swings = self.curve.swings
        low, high = float(self.points.x.min()), float(self.points.x.max())
        x = np.linspace(low, high, _SWING_POINTS if swings else _CURVE_POINTS)
        return x, self.predict(x)

    def predict(self, x: FloatArray) -> FloatArray:
        """The curve at x, both in the units of the columns."""
        assert isinstance(self.outcome, Fit)
        assert self.curve is not None
        assert self.points is not None
        if not self.curve.has_units or self.problem:
            return self.outcome.predict(x)
        across, up = self.points.across.variable.unit, self.points.up.variable.unit
        factors = [one.unit.factor for one in self.parameters]
        in_base = self.curve.values(np.asarray(across.to_base(x)), self.outcome.values * factors)
        return np.asarray(up.from_base(in_base), dtype=float)


def fit_result(
    row: Fitted,
    table: DataTable,
    passages: Mapping[int, Passage],
    constants: Mapping[str, Known],
    *,
    moved: Mapping[int, tuple[float, float]] | None = None,
    ground: Ground | None = None,
) -> FitResult:
    """Compute a fit.

    Parameters
    ----------
    passages : those of the source, by their key
    constants : quantities of the study, which own formulas may name
    moved : points that are put elsewhere on trial, by their number
    ground : on which the table rests, where it is of a footage
    """
    points = series(table, row.x, row.y)
    if points is None:
        return FitResult(row, table, None, None, NotFitted("A column of this fit is not there."))
    try:
        curve = _curve(row, points, constants)
    except WrongFormula as error:
        return FitResult(row, table, points, None, NotFitted(f"{row.formula}: {error}"))
    points = _chosen(row, points, passages)
    parted = points.parted
    if parted is not None:
        reason = (
            f"Something hits between {parted[0]} and {parted[1]}, and no fit crosses that; choose "
            "a passage before or after it."
        )
        return FitResult(row, table, points, curve, NotFitted(reason))
    if moved:
        points = points.with_moved(moved)
    across, up = points.across.variable, points.up.variable
    units, problem = curve.units(across.unit, up.unit)
    in_base = curve.has_units and problem is None
    given = _given(row.given, curve, units, in_base=in_base)
    x = np.asarray(across.unit.to_base(points.x)) if in_base else points.x
    y = np.asarray(up.unit.to_base(points.y)) if in_base else points.y
    if row.weights == "stated":
        if points.stated_errors is None:
            return FitResult(
                row, table, points, curve, NotFitted(f"{up.name} has no ± of its own.")
            )
        x_errors, y_errors = points.stated_errors
        sizes = (across.unit.factor, up.unit.factor) if in_base else (1.0, 1.0)
        errors = {"x_errors": x_errors * sizes[0], "y_errors": y_errors * sizes[1]}
        outcome = fit_weighted(x, y, curve, given=given, **errors)
    else:
        outcome = fit_curve(x, y, curve, given=given, covariance=points.covariance)
    if isinstance(outcome, NoFit):
        return FitResult(row, table, points, curve, NotFitted(no_fit_said(outcome)))
    if in_base:
        outcome = rescaled(outcome, [unit.factor for unit in units], up.unit.factor)
    ends = {"start": float(points.x.min()), "end": float(points.x.max())}
    over = _over(row, passages)
    said = meaning.readings(outcome, across, up, **ends)
    bare = meaning.parameters(outcome, across, up)
    return FitResult(
        row, table, points, curve, outcome, tuple(said), tuple(bare), problem, ground, over
    )


def _curve(row: Fitted, points: Series, constants: Mapping[str, Known]) -> Curve:
    if row.curve != "own":
        return CURVES[row.curve]
    symbol = points.across.variable.symbol
    plain = own_curve(row.formula or "", variable=symbol)
    variable = symbol if symbol in plain.formula.names else "x"
    known = {
        name: float(one.unit.to_base(float(one.values)))
        for name, one in constants.items()
        if np.ndim(one.values) == 0 and name != variable
    }
    return own_curve(row.formula or "", variable=variable, constants=known)


def _over(row: Fitted, passages: Mapping[int, Passage]) -> str:
    """Over what a fit goes, in words; empty for everything."""
    if row.points is not None:
        return f"{len(row.points)} chosen points"
    return ", ".join(passages[key].name for key in row.passages if key in passages)


def _chosen(row: Fitted, points: Series, passages: Mapping[int, Passage]) -> Series:
    """The points of the selection, or of the passages, or all."""
    if row.points is not None:
        return points.chosen(np.isin(points.numbers, row.points))
    if not row.passages:
        return points
    inside = np.zeros(len(points.numbers), dtype=bool)
    for key in row.passages:
        passage = passages.get(key)
        if passage is not None:
            inside |= (points.numbers >= passage.first) & (points.numbers <= passage.last)
    return points.chosen(inside)


def _given(
    typed: Mapping[str, GivenParameter], curve: Curve, units: tuple[Unit, ...], *, in_base: bool
) -> dict[str, Given]:
    found = {}
    for name, unit in zip(curve.names, units, strict=True):
        said = typed.get(name)
        if not said:
            continue
        factor = unit.factor if in_base else 1.0
        texts = {"value": said.get("value"), "low": said.get("low"), "high": said.get("high")}
        numbers = {
            key: read_number(text, field=name).value * factor for key, text in texts.items() if text
        }
        found[name] = Given(
            start=numbers.get("value"),
            fixed=bool(said.get("fixed")),
            low=numbers.get("low", -np.inf),
            high=numbers.get("high", np.inf),
        )
    return found
