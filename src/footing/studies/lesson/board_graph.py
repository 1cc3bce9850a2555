"""How a board is drawn: Vega-Lite specifications with their data.

Every point has its error bar (one standard uncertainty); what stands out is hollow and ringed, what
is not sound is a square, so that nothing is told by colour alone. The mean ± its standard error is
a band, an accepted value a dashed line.
"""

from collections.abc import Mapping, Sequence
from typing import Literal

from pydantic import JsonValue

from footing.core import pooling
from footing.studies.lesson.board import Entry, Pool, pairs_of
from footing.studies.views.graph_spec import FIGURES, FONT, LOCALE

Spec = dict[str, JsonValue]
_INK, _SOFT, _SPRUCE, _LICHEN, _OCHRE, _RULE = (
    *("#1E2723", "#5C665F", "#1F5B4A"),
    *("#CFE3D6", "#8F5A00", "#D9D2C3"),
)
_WIDTH, _HEIGHT = 760, 420
_ROW = 30  # height for each point of the dots
_EDGE = 0.08  # of the range, left free at each side


def spec_of(
    pool: Pool, shape: Literal["dots", "histogram", "table", "pairs"], other: Pool | None
) -> Spec:
    """The drawing of a board; of a table that of its dots."""
    if shape == "pairs" and other is not None:
        return _pairs(other, pool)
    return _histogram(pool) if shape == "histogram" else _dots(pool)


def _dots(pool: Pool) -> Spec:
    """A line for each finding, one axis for all."""
    order = [f"{place}" for place in range(len(pool.entries))]
    rows: list[JsonValue] = [
        {"row": key, "who": one.who, **_point(one, "x")}
        for key, one in zip(order, pool.entries, strict=True)
    ]
    names = {key: one.who for key, one in zip(order, pool.entries, strict=True)}
    across: dict[str, JsonValue] = {
        "field": "x",
        "type": "quantitative",
        **_axis(pool, _range(pool)),
    }
    up: dict[str, JsonValue] = {
        "field": "row",
        "type": "nominal",
        "sort": list(order),
        "axis": {"title": None, "labelExpr": f"{_as_expression(names)}[datum.value]", "grid": True},
    }
    layers: list[JsonValue] = [*_levels(pool, "x")]
    layers.append(
        {
            "mark": {"type": "rule", "strokeWidth": 1.6, "color": _INK},
            "encoding": {"x": {**across, "field": "x_low"}, "x2": {"field": "x_high"}, "y": up},
        }
    )
    layers.append({"mark": _mark(), "encoding": {"x": across, "y": up, **_looks()}})
    return whole(layers, rows, height=max(_ROW * len(order), 90))


def _histogram(pool: Pool) -> Spec:
    bins = pooling.bins([one.value for one in pool.entries])
    rows: list[JsonValue] = [
        {"low": low, "high": high, "count": count, "zero": 0} for low, high, count in bins
    ]
    axis = _axis(pool, _range(pool))
    bars: JsonValue = {
        "mark": {"type": "bar", "color": _SPRUCE, "fillOpacity": 0.75, "stroke": _INK},
        "encoding": {
            "x": {"field": "low", "type": "quantitative", **axis},
            "x2": {"field": "high"},
            "y": {
                "field": "count",
                "type": "quantitative",
                "axis": {"title": "number of findings", "tickMinStep": 1, "format": "d"},
            },
            "y2": {"field": "zero"},
        },
    }
    return whole([bars, *_levels(pool, "x")], rows, height=_HEIGHT - 60)


def _pairs(across: Pool, up: Pool) -> Spec:
    """Each study a point, with both error bars."""
    pairs = pairs_of(across, up)
    rows: list[JsonValue] = [
        {"who": pair.y.who, **_point(pair.y, "y"), **_point(pair.x, "x")} for pair in pairs
    ]
    x: dict[str, JsonValue] = {
        "field": "x",
        "type": "quantitative",
        **_axis(across, _ends([p.x for p in pairs])),
    }
    y: dict[str, JsonValue] = {
        "field": "y",
        "type": "quantitative",
        **_axis(up, _ends([p.y for p in pairs])),
    }
    rule: JsonValue = {"type": "rule", "strokeWidth": 1.4, "color": _INK}
    layers: list[JsonValue] = [
        {
            "mark": rule,
            "encoding": {"x": {**x, "field": "x_low"}, "x2": {"field": "x_high"}, "y": y},
        },
        {
            "mark": rule,
            "encoding": {"x": x, "y": {**y, "field": "y_low"}, "y2": {"field": "y_high"}},
        },
        {"mark": _mark(), "encoding": {"x": x, "y": y, **_looks()}},
        {
            "mark": {"type": "text", "align": "left", "dx": 8, "dy": -8, "color": _SOFT},
            "encoding": {"x": x, "y": y, "text": {"field": "who"}},
        },
    ]
    return whole(layers, rows, height=_HEIGHT)


def _levels(pool: Pool, axis: str) -> list[JsonValue]:
    """The mean with its standard error as a band, and the accepted value."""
    found: list[JsonValue] = []
    if pool.pooled is not None and pool.pooled.standard_error is not None:
        mean, error = pool.pooled.mean, pool.pooled.standard_error
        band: JsonValue = [{"low": mean - error, "high": mean + error}]
        found.append(
            {
                "data": {"values": band},
                "mark": {"type": "rect", "color": _LICHEN, "opacity": 0.9},
                "encoding": {
                    axis: {"field": "low", "type": "quantitative"},
                    f"{axis}2": {"field": "high"},
                },
            }
        )
        found.append(_line(axis, mean, _SPRUCE, dashed=False))
    if pool.accepted is not None:
        found.append(_line(axis, pool.accepted[0], _OCHRE, dashed=True))
    return found


def _line(axis: str, at: float, colour: str, *, dashed: bool) -> JsonValue:
    return {
        "data": {"values": [{"at": at}]},
        "mark": {
            "type": "rule",
            "color": colour,
            "strokeWidth": 2,
            "strokeDash": [6, 4] if dashed else [1, 0],
        },
        "encoding": {axis: {"field": "at", "type": "quantitative"}},
    }


def _point(one: Entry, axis: str) -> dict[str, JsonValue]:
    return {
        axis: one.value,
        f"{axis}_low": one.value - one.uncertainty,
        f"{axis}_high": one.value + one.uncertainty,
        "text": one.text,
        "shape": "square" if one.shaky else "circle",
        "fill": "#FFFFFF" if one.stands_out else _INK,
        "size": 110 if one.stands_out else 70,
        "about": ", ".join(one.shaky) or "sound",
    }


def _mark() -> dict[str, JsonValue]:
    return {"type": "point", "filled": True, "opacity": 1, "strokeWidth": 2, "stroke": _INK}


def _looks() -> dict[str, JsonValue]:
    return {
        "shape": {"field": "shape", "type": "nominal", "scale": None},
        "fill": {"field": "fill", "type": "nominal", "scale": None},
        "size": {"field": "size", "type": "quantitative", "scale": None},
        "tooltip": [
            {"field": "who", "title": "group"},
            {"field": "text", "title": "value"},
            {"field": "about", "title": "soundness"},
        ],
    }


def _axis(pool: Pool, ends: tuple[float, float]) -> dict[str, JsonValue]:
    return {
        "scale": {"domain": list(ends), "zero": False, "nice": False},
        "axis": {"title": pool.axis, "tickCount": 8, "labelOverlap": True},
    }


def _range(pool: Pool) -> tuple[float, float]:
    return _ends(pool.entries, [pool.accepted[0]] if pool.accepted else [])


def _ends(entries: Sequence[Entry], besides: Sequence[float] = ()) -> tuple[float, float]:
    """From the lowest to the highest, error bars included, with a little room.

    What stands out does not press the others together: it has its place, but not its error bar.
    """
    lows = [one.value - (0 if one.stands_out else one.uncertainty) for one in entries]
    highs = [one.value + (0 if one.stands_out else one.uncertainty) for one in entries]
    low, high = min([*lows, *besides]), max([*highs, *besides])
    room = (high - low) * _EDGE or abs(high) * _EDGE or 1.0
    return low - room, high + room


def whole(layers: Sequence[JsonValue], rows: Sequence[JsonValue], *, height: float) -> Spec:
    """Layers with their data and the board's letters, as a specification."""
    return {
        "$schema": "https://vega.github.io/schema/vega-lite/v6.json",
        "width": _WIDTH,
        "height": height,
        "background": "white",
        "data": {"values": list(rows)},
        "layer": list(layers),
        "config": {
            "font": FONT,
            "locale": LOCALE,
            "axis": {
                "labelFont": FIGURES,
                "labelFontSize": 14,
                "titleFontSize": 15,
                "gridColor": _RULE,
                "labelColor": _INK,
                "titleColor": _INK,
                "labelLimit": 220,
            },
            "text": {"fontSize": 14},
            "view": {"stroke": _RULE},
        },
    }


def _as_expression(names: Mapping[str, str]) -> str:
    """Names by key as an object of Vega's expression language, each text in quotes."""
    return "{" + ",".join(f"'{key}':{_quoted(name)}" for key, name in names.items()) + "}"


def _quoted(name: str) -> str:
    escaped = "".join(
        c if c.isalnum() or c in " ,.-" else f"\\u{ord(c):04x}" if ord(c) < 0x10000 else " "
        for c in name
    )
    return f"'{escaped}'"
