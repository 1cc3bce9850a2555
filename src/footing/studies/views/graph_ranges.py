"""The ends of a graph's axes: all points, and no wiggle larger than it is.

What hardly changes is shown on an axis as long as that of what it can be compared with: the other
coordinate, or g for an acceleration. How it wiggles can be looked at closely beside that.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.axes import AxisRange, axis_range, axis_within, typed_range
from footing.core.quantities import OTHER_COMPONENT, QUANTITIES
from footing.core.soundness import FREE_FALL
from footing.store.rows import Graph
from footing.studies.model.columns import Series, longest

_HARDLY = 0.1  # of what it is compared with, under which something hardly changes


@dataclass(frozen=True)
class Ranges:
    """The ends of both axes; ``close`` are those of what hardly changes, if it is shown so.

    beside : what it is compared with
    """

    x: AxisRange
    y: AxisRange
    close: AxisRange | None = None
    beside: str = ""


def ranges_of(graph: Graph, drawn: Sequence[Series]) -> Ranges:
    """The ranges of the axes, as typed or as the points want them."""
    x = _typed(graph.x_low, graph.x_high) or _free(
        [one.x for one in drawn], [one.x_errors for one in drawn], graph
    )
    y = _typed(graph.y_low, graph.y_high)
    if y is not None:
        return Ranges(x, y)
    y = _free([one.y for one in drawn], [one.y_errors for one in drawn], graph)
    if graph.x != "t" or graph.include_zero or not drawn:
        return Ranges(x, y)
    span, beside = _comparable(drawn)
    values = _together([one.y for one in drawn])
    if not len(values) or np.ptp(values) >= _HARDLY * span:
        return Ranges(x, y)
    return Ranges(x, axis_within(values, span=span), y, beside)


def _typed(low: float | None, high: float | None) -> AxisRange | None:
    return None if low is None or high is None else typed_range(low, high)


def _free(values: Sequence[FloatArray], errors: Sequence[FloatArray], graph: Graph) -> AxisRange:
    return axis_range(
        _together(values), include_zero=graph.include_zero, uncertainty=_typical(errors)
    )


def _comparable(drawn: Sequence[Series]) -> tuple[float, str]:
    """How far what can be compared goes, in the unit of the axis, and its name."""
    quantity = QUANTITIES.get(drawn[0].up.key)
    if quantity is None:
        return 0.0, ""
    unit = drawn[0].up.variable.unit
    if quantity.key in ("ax", "ay", "a"):
        metric = unit.dimension == quantity.dimension.in_units().dimension
        return (float(unit.from_base(FREE_FALL)), "g") if metric else (0.0, "")
    other = OTHER_COMPONENT.get(quantity.key)
    if other is None:
        return 0.0, ""
    return longest([one.table.column(other) for one in drawn]), QUANTITIES[other].name


def _together(parts: Sequence[FloatArray]) -> FloatArray:
    return np.concatenate(parts) if parts else np.empty(0)


def _typical(errors: Sequence[FloatArray]) -> float:
    known = _together(errors)
    known = known[np.isfinite(known) & (known > 0)]
    return float(np.median(known)) if len(known) else 0.0
