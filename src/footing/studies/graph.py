"""The graph of a study: a Vega-Lite specification made in Python, and the points that fill it.

The specification holds no data, so it stays the same while marks are made; points, curves, axis
ranges and the time cursor are sent beside it and replaced in place.
"""

import threading
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import altair as alt
import numpy as np

from footing.core import findings
from footing.core.quantities import QUANTITIES, Quantity, QuantityKey
from footing.studies.fits import FitResult, series
from footing.studies.looks import LOOKS
from footing.studies.motions import BodyMotion

_INK, _SOFT, _RULE = "#1E2723", "#5C665F", "#D9D2C3"
_SPRUCE = "#1F5B4A"
_LABELS = 58  # least width of the vertical axis, so that the panels line up
_MARGIN = 0.05
_SPECS_KEPT = 256
_making = threading.Lock()
_FONT, _FIGURES = "Atkinson Hyperlegible Next", "IBM Plex Mono"


def axis_range(values: Any, *, include_zero: bool) -> tuple[float, float, str | None]:
    """Range of an axis, and where it starts if it does not show its zero.

    Zero is shown when that costs less than half of the axis.
    """
    if len(values) == 0:
        return 0.0, 1.0, None
    low, high = float(np.min(values)), float(np.max(values))
    with_zero = (min(low, 0.0), max(high, 0.0))
    note = None
    if include_zero or high - low > 0.5 * (with_zero[1] - with_zero[0]):
        low, high = with_zero
    elif high > low:
        note = findings.significant(low if low > 0 else high, 3)
    room = _MARGIN * (high - low) or 0.5
    return low - room, high + room, note


def axis_title(quantity: Quantity, *, length_unit: str) -> str:
    """Name and unit: ``velocity y (m/s)``."""
    unit = quantity.dimension.unit(length=length_unit)
    return f"{quantity.name} ({unit})" if unit else quantity.name


def graph_view(
    choice: dict[str, Any],
    bodies: list[tuple[Any, BodyMotion]],
    fits: list[FitResult],
    *,
    length_unit: str,
) -> dict[str, Any]:
    """The graph as it is shown: specification, data and ranges.

    Only fits of the quantities on the axes are drawn; others belong to other graphs.
    """
    x, y = QUANTITIES[choice["x"]], QUANTITIES[choice["y"]]
    points = []
    for row, body in bodies:
        along = series(body, x, y)
        points += [
            {"body": row.id, "frame": int(frame), "x": float(a), "y": float(b)}
            for frame, a, b in zip(along.frames, along.x, along.y, strict=True)
        ]
    drawn = [fit for fit in fits if (fit.row.x, fit.row.y) == (x.key, y.key)]
    zero = choice["include_zero"]
    x_range = axis_range([point["x"] for point in points], include_zero=zero)
    y_range = axis_range([point["y"] for point in points], include_zero=zero)
    panels = _Panels(x.key, y.key, length_unit, tuple((row.id, row.look) for row, _ in bodies))
    with _making:  # several requests for the same specification make it once
        spec, residual_spec = _main_spec(panels), _residual_spec(panels)
    return {
        **choice,
        "title": f"{y.name.capitalize()} against {x.name}",
        "points": points,
        "ranges": {
            "x_low": x_range[0],
            "x_high": x_range[1],
            "y_low": y_range[0],
            "y_high": y_range[1],
        },
        "notes": [
            f"{axis} axis starts at {note} {quantity.dimension.unit(length=length_unit)}".strip()
            for axis, quantity, (_, _, note) in (
                ("horizontal", x, x_range),
                ("vertical", y, y_range),
            )
            if note is not None
        ],
        "spec": spec,
        "residual_spec": residual_spec,
        "drawn_fits": [fit.row.id for fit in drawn],
    }


@dataclass(frozen=True)
class _Panels:
    """What the specifications of a graph depend on, and the encodings that its panels share.

    Hashable, because making a specification takes a quarter of a second and the same one is wanted
    after every mark.
    """

    x: QuantityKey
    y: QuantityKey
    length_unit: str
    looks: tuple[tuple[int, int], ...]  # body, look

    @property
    def across(self) -> alt.X:
        """The horizontal axis."""
        title = axis_title(QUANTITIES[self.x], length_unit=self.length_unit)
        return alt.X("x:Q", title=title, scale=_live_scale("x"))

    @property
    def up_title(self) -> str:
        """Title of the vertical axis."""
        return axis_title(QUANTITIES[self.y], length_unit=self.length_unit)

    @property
    def residual_title(self) -> str:
        """Title of the residuals' axis."""
        return f"residual ({QUANTITIES[self.y].dimension.unit(length=self.length_unit)})"

    @property
    def colour(self) -> alt.Color:
        """The colour of each body."""
        return alt.Color("body:N", legend=None, scale=self._by_body("colour"))

    @property
    def shape(self) -> alt.Shape:
        """The shape of each body."""
        return alt.Shape("body:N", legend=None, scale=self._by_body("path"))

    @property
    def filled(self) -> bool:
        """Components are told apart by line: x solid and filled, y dashed and hollow."""
        return QUANTITIES[self.y].component not in ("y", "h")

    def _by_body(self, part: str) -> alt.Scale:
        values = [getattr(LOOKS[look], part) for _, look in self.looks]
        return alt.Scale(domain=[body for body, _ in self.looks], range=values)

    def here(self, points: alt.Chart, size: int) -> alt.Chart:
        """A ring around the point at the time cursor."""
        ring = points.mark_point(
            size=size, shape="circle", stroke=_SPRUCE, strokeWidth=2.5, filled=False
        )
        return ring.transform_filter("datum.frame == cursor")


def _live_scale(axis: str) -> alt.Scale:
    """A linear scale whose ends are signals, so that they move without a new specification."""
    ends = {
        "domainMin": alt.ExprRef(f"{axis}_low"),
        "domainMax": alt.ExprRef(f"{axis}_high"),
    }
    return alt.Scale(nice=False, zero=False, **ends)


@lru_cache(_SPECS_KEPT)
def _main_spec(panels: _Panels) -> dict[str, Any]:
    """Vega-Lite specification of zero lines, fits, points and the cursor's ring."""
    up = alt.Y(
        "y:Q", title=panels.up_title, scale=_live_scale("y"), axis=alt.Axis(minExtent=_LABELS)
    )
    points = alt.Chart(alt.NamedData(name="points"))
    marked = points.mark_point(size=42, filled=panels.filled, strokeWidth=1.4, opacity=1)
    curves = alt.Chart(alt.NamedData(name="curves")).mark_line(
        color=_INK, strokeWidth=1.2, clip=True
    )
    layers = [
        *(_zero_line(axis) for axis in ("x", "y")),
        curves.encode(panels.across, up, detail="fit:N"),
        marked.encode(panels.across, up, color=panels.colour, shape=panels.shape),
        panels.here(points, 200).encode(panels.across, up),
    ]
    return _finished(alt.layer(*layers))


@lru_cache(_SPECS_KEPT)
def _residual_spec(panels: _Panels) -> dict[str, Any]:
    """Vega-Lite specification of the residuals, on the same horizontal axis."""
    rows = alt.Chart(alt.NamedData(name="residuals"))
    up = alt.Y(
        "residual:Q",
        title=panels.residual_title,
        axis=alt.Axis(tickCount=3, minExtent=_LABELS),
    )
    layers = [
        rows.mark_rule(strokeWidth=1, color=_SOFT).encode(panels.across, up, y2=alt.datum(0)),
        rows.mark_point(size=26, filled=panels.filled, opacity=1).encode(
            panels.across, up, color=panels.colour
        ),
        panels.here(rows, 140).encode(panels.across, up),
    ]
    return _finished(alt.layer(*layers))


def _zero_line(axis: str) -> alt.Chart:
    line = alt.Chart(alt.NamedData(name="zeros")).mark_rule(color=_SOFT, strokeWidth=1)
    shown = f"datum.of == '{axis}' && {axis}_low <= 0 && 0 <= {axis}_high"
    return line.transform_filter(shown).encode(**{axis: "at:Q"})


def _finished(chart: Any) -> dict[str, Any]:
    """The chart with its signals and the look of look.md, as JSON."""
    params = [
        alt.param(name=name, value=value)
        for name, value in (
            ("x_low", 0),
            ("x_high", 1),
            ("y_low", 0),
            ("y_high", 1),
            ("cursor", -1),
        )
    ]
    made: dict[str, Any] = (
        chart.properties(width="container", height="container")
        .add_params(*params)
        .configure(background="transparent", font=_FONT)
        .configure_view(stroke=_RULE)
        .configure_axis(
            grid=True,
            gridColor="#EBE6DA",
            domainColor=_INK,
            tickColor=_INK,
            labelColor=_INK,
            titleColor=_INK,
            labelFont=_FIGURES,
            labelFontSize=12,
            titleFontSize=13,
            titleFontWeight=600,
        )
        .to_dict(validate=False)
    )
    return made
