"""What can be read off a graph: statistics and area of a stretch, the slope at a point."""

from math import sqrt
from typing import Any, NamedTuple

import numpy as np

from footing.core import findings
from footing.core.errors import NotThere, Refused
from footing.core.kinematics import VELOCITY_WINDOW, differentiator
from footing.store.access import ClassStudy
from footing.studies.model.columns import Series, series
from footing.studies.queries.tables_out import any_table


class Plot(NamedTuple):
    """A series of a graph: whose, and which columns."""

    owner: str
    x: str
    y: str


def stretch(study: ClassStudy, plot: Plot, low: float, high: float) -> dict[str, Any]:
    """n, mean, standard deviation, standard error, smallest, largest and area of a stretch."""
    points = points_of(study, plot)
    chosen = points.chosen((points.x >= low) & (points.x <= high))
    n = len(chosen.y)
    if n == 0:
        raise Refused("There is no point in this stretch.", field="low")
    up, across = chosen.up.variable, chosen.across.variable
    unit = str(up.unit)
    mean = float(chosen.y.mean())
    rows = [["n", str(n)]]
    parted = chosen.parted
    if parted is not None:
        rows.append(["mean", f"none: something hits between {parted[0]} and {parted[1]}"])
    elif n > 1:
        deviation = float(chosen.y.std(ddof=1))
        rows += [
            ["mean", findings.measured(mean, deviation / sqrt(n), unit)],
            ["standard deviation", _with_unit(deviation, unit)],
            ["standard error", _with_unit(deviation / sqrt(n), unit)],
        ]
    else:
        rows.append(["value", _with_unit(mean, unit)])
    rows += [
        ["smallest", _with_unit(float(chosen.y.min()), unit)],
        ["largest", _with_unit(float(chosen.y.max()), unit)],
    ]
    order = np.argsort(chosen.x, kind="stable")
    x, y = chosen.x[order], chosen.y[order]
    if n > 1:
        area = float(np.sum(np.diff(x) * (y[1:] + y[:-1]) / 2))
        rows.append(["area", _with_unit(area, str(up.unit * across.unit))])
    if n > 1 and x[-1] > x[0] and parted is None:
        slope = float((y[-1] - y[0]) / (x[-1] - x[0]))
        rows.append(["slope from end to end", _with_unit(slope, str(up.unit / across.unit))])
    return {
        "rows": rows,
        "numbers": [int(number) for number in chosen.numbers],
        "area": [[float(a), float(b)] for a, b in zip(x, y, strict=True)],
        "said": f"{up.name} from {across.symbol} = {findings.significant(float(x[0]))} to "
        f"{_with_unit(float(x[-1]), str(across.unit))}",
    }


def tangent(study: ClassStudy, plot: Plot, number: int) -> dict[str, Any]:
    """Slope at a point, as the derivative of a parabola through its neighbours, with its line."""
    points = points_of(study, plot)
    order = np.argsort(points.x, kind="stable")
    x, y, numbers = points.x[order], points.y[order], points.numbers[order]
    apart = np.flatnonzero(np.concatenate([[True], np.diff(x) > 0]))
    x, y, numbers = x[apart], y[apart], numbers[apart]
    hit = points.table.numbers[points.table.hit_before]
    sides = np.searchsorted(np.sort(hit), numbers, side="right")
    derivative = differentiator(
        x, order=1, window=VELOCITY_WINDOW, breaks=np.flatnonzero(np.diff(sides))
    )
    here = np.flatnonzero(numbers[derivative.index] == number)
    if len(here) == 0:
        raise Refused("There is no slope here: a point needs neighbours on the same stretch.")
    place = int(derivative.index[here[0]])
    slope = float(derivative(y)[here[0]])
    errors = points.y_errors[order][apart]
    u = float(derivative.uncertainty(float(np.median(errors)))[here[0]])
    reach = (x[-1] - x[0]) / 8
    ends = (x[place] - reach, x[place] + reach)
    unit = str(points.up.variable.unit / points.across.variable.unit)
    return {
        "text": findings.measured(slope, u, unit),
        "line": [[float(at), float(y[place] + slope * (at - x[place]))] for at in ends],
        "number": number,
    }


def points_of(study: ClassStudy, plot: Plot) -> Series:
    """The points of a series of a graph."""
    found = series(any_table(study.id, plot.owner), plot.x, plot.y)
    if found is None:
        raise NotThere("The table has no such column.")
    return found


def _with_unit(value: float, unit: str) -> str:
    return f"{findings.significant(value)} {unit}".strip()
