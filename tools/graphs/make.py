"""Writes how graphs are drawn, as Vega-Lite without data: `python tools/graphs/make.py`.

With a path it writes there instead. The result, `studies/views/graph_specs.json`, is kept beside
what puts titles in; a test holds it against this. It is made beforehand because Altair takes half a
second to load, and as long to make it, in each process.
"""

import json
import sys
from pathlib import Path
from typing import Any

import altair as alt

from footing.studies.views.graph_spec import ACROSS, FIGURES, FONT, LOCALE, SPECS, UP

_INK, _SOFT, _RULE = "#1E2723", "#5C665F", "#D9D2C3"
_SPRUCE = "#1F5B4A"
_LABELS = 66  # least width of the numbers at the vertical axis, so that the graphs line up
_MARGIN = 8  # pixels
_PADDING = {"left": 5, "top": 5, "right": 20, "bottom": 5}  # right: half of the last number
_RESIDUAL_LABELS = 56  # less where the title has a second line
# what would run into the title is written with a power of ten
_SHORT = (
    "length(datum.label) < 8 ? datum.label : datum.value == 0 ? '0' : format(datum.value, '.1~e')"
)


def _live_scale(axis: str) -> alt.Scale:
    """A linear scale whose ends are signals, so that they move without a new specification."""
    ends = {
        "domainMin": alt.ExprRef(f"{axis}_low"),
        "domainMax": alt.ExprRef(f"{axis}_high"),
    }
    return alt.Scale(nice=False, zero=False, **ends)


def _across() -> alt.X:
    # numbers stay below their ticks and give way to each other, the last ones too
    axis = alt.Axis(labelFlush=False, labelOverlap=True, labelSeparation=6)
    return alt.X("x:Q", title=ACROSS, scale=_live_scale("x"), axis=axis)


_AS_GIVEN: dict[str, Any] = {"scale": None, "legend": None}


def _points(of: str, *, hollow: bool) -> alt.Chart:
    """Points as their series says: colour, form and size come with the data."""
    test = "datum.hollow" if hollow else "!datum.hollow"
    marks = alt.Chart(alt.NamedData(name=of)).transform_filter(f"{test} && datum.joined != 'line'")
    marked = marks.mark_point(filled=not hollow, strokeWidth=1.4, opacity=1, clip=True)
    return marked.encode(
        color=alt.Color("colour:N", **_AS_GIVEN),
        shape=alt.Shape("path:N", **_AS_GIVEN),
        size=alt.Size("size:Q", **_AS_GIVEN),
    )


def _ring(of: str, size: int) -> alt.Chart:
    """A ring around the point at the time cursor."""
    points = alt.Chart(alt.NamedData(name=of)).transform_filter("datum.number == cursor")
    return points.mark_point(
        size=size, shape="circle", stroke=_SPRUCE, strokeWidth=2.5, filled=False
    )


def _main() -> dict[str, Any]:
    """Vega-Lite specification of zero lines, areas, bars, fits, points and the cursor's ring."""
    across = _across()
    up = alt.Y("y:Q", title=UP, scale=_live_scale("y"), axis=alt.Axis(minExtent=_LABELS))
    data = alt.Chart(alt.NamedData(name="points"))
    joined = data.transform_filter("datum.joined != 'points'").mark_line(strokeWidth=1.2, clip=True)
    bars = [
        data.transform_filter(f"error_bars && datum.{far} > datum.{near}").mark_rule(
            strokeWidth=1.1, clip=True
        )
        for near, far in (("low", "high"), ("left", "right"))
    ]
    colour = alt.Color("colour:N", **_AS_GIVEN)
    unbroken = ["series:N", "piece:N"]  # no line across an impact
    sketch = alt.Chart(alt.NamedData(name="sketch")).mark_line(
        color=_SOFT, strokeWidth=4, opacity=0.3, clip=True
    )
    area = alt.Chart(alt.NamedData(name="area")).mark_area(color="#CFE3D6", opacity=0.7, clip=True)
    curves = alt.Chart(alt.NamedData(name="curves"))
    tangent = alt.Chart(alt.NamedData(name="tangent")).mark_line(color="#8F5A00", strokeWidth=2)
    bands = data.transform_filter("bands && datum.band").mark_area(opacity=0.16, clip=True)
    layers = [
        area.encode(across, up, y2="base:Q"),
        bands.encode(across, alt.Y("low:Q"), y2="high:Q", color=colour, detail=unbroken),
        *(_zero_line(axis) for axis in ("x", "y")),
        sketch.encode(across, up, order="place:Q"),
        joined.encode(across, up, color=colour, detail=unbroken, order="number:Q"),
        bars[0].encode(across, alt.Y("low:Q"), y2="high:Q", color=colour),
        bars[1].encode(alt.X("left:Q"), up, x2="right:Q", color=colour),
        *(
            curves.transform_filter(f"datum.dashed == {str(dashed).lower()}")
            .mark_line(strokeWidth=1.2, clip=True, strokeDash=[7, 4] if dashed else [1, 0])
            .encode(across, up, detail="fit:N", color=colour)
            for dashed in (False, True)
        ),
        *(_points("points", hollow=hollow).encode(across, up) for hollow in (False, True)),
        _asides().encode(across, up),
        tangent.encode(across, up),
        _ring("points", 200).encode(across, up),
    ]
    return _finished(alt.layer(*layers))


def _asides() -> alt.Chart:
    """Points set aside: a dot in round brackets."""
    points = alt.Chart(alt.NamedData(name="asides"))
    return points.mark_text(text="(·)", color=_SOFT, fontSize=15, clip=True)


def _residual() -> dict[str, Any]:
    """Vega-Lite specification of the residuals, on the same horizontal axis."""
    across = _across()
    up = alt.Y(
        "residual:Q",
        title=UP,
        scale=alt.Scale(padding=_MARGIN),  # so that no point is cut off at an edge
        axis=alt.Axis(
            tickCount=3,
            labelExpr=_SHORT,
            minExtent=_RESIDUAL_LABELS,
            maxExtent=_RESIDUAL_LABELS,  # the place is laid out before there are numbers
            titleFontSize=11,
        ),
    )
    rows = alt.Chart(alt.NamedData(name="residuals"))
    layers = [
        rows.mark_rule(strokeWidth=1, color=_SOFT).encode(across, up, y2=alt.datum(0)),
        *(_points("residuals", hollow=hollow).encode(across, up) for hollow in (False, True)),
        _ring("residuals", 140).encode(across, up),
    ]
    return _finished(alt.layer(*layers))


def _zero_line(axis: str) -> alt.Chart:
    line = alt.Chart(alt.NamedData(name="zeros")).mark_rule(color=_SOFT, strokeWidth=1)
    shown = f"datum.of == '{axis}' && {axis}_low <= 0 && 0 <= {axis}_high"
    return line.transform_filter(shown).encode(**{axis: "at:Q"})


def _finished(chart: Any) -> dict[str, Any]:
    """The chart with its signals and the look of the field book, as JSON."""
    starts: dict[str, float | bool] = {"x_low": 0, "x_high": 1, "y_low": 0, "y_high": 1}
    starts |= {"cursor": -1, "error_bars": False, "bands": True}
    params = [alt.param(name=name, value=value) for name, value in starts.items()]
    made: dict[str, Any] = (
        chart.properties(width="container", height="container")
        .add_params(*params)
        .configure(
            background="transparent",
            font=FONT,
            padding=_PADDING,
            locale=alt.Locale.from_dict(LOCALE),
        )
        .configure_view(stroke=_RULE)
        .configure_axis(
            grid=True,
            gridColor="#EBE6DA",
            domainColor=_INK,
            tickColor=_INK,
            labelColor=_INK,
            titleColor=_INK,
            labelFont=FIGURES,
            labelFontSize=12,
            titleFontSize=13,
            titleFontWeight=600,
        )
        .to_dict(validate=False)
    )
    return made


if __name__ == "__main__":
    target = Path(sys.argv[1]) if len(sys.argv) > 1 else SPECS
    made = {"main": _main(), "residual": _residual()}
    target.write_text(json.dumps(made, indent=1, ensure_ascii=False) + "\n")
