"""What stands on and above a graph in a file: its legend, and the results of its fits in boxes.

Each piece is a layer of its own at a place in pixels, because it belongs to no axis.
"""

from collections.abc import Sequence
from typing import Any

from footing.studies.shapes.fits import FitShape, FitWith
from footing.studies.shapes.graphs import LegendEntryShape
from footing.studies.views.graph_spec import FIGURES

_PAPER, _INK = "#FBF9F4", "#1E2723"
_LETTER = 0.6  # width of a letter over the size of the print, about
_PRINT, _LARGE_PRINT = 13, 19
_LINE = 1.35  # of the size of the print
_ROOM = 8  # around and between, pixels
_AXIS_GAP = 12  # between the legend and the plot
_MARKER = 18  # room for the marker of an entry
_STROKE = 24  # and length of a line

Layer = dict[str, Any]


def legend_layers(entries: Sequence[LegendEntryShape], width: int) -> tuple[list[Layer], int]:
    """Sign and name of each entry, in lines above the plot, and how high they are in all."""
    layers: list[Layer] = []
    lines, x = 0, 0.0
    for entry in entries:
        name, sign = entry["name"], _sign(entry)
        long = 0 if entry["path"] else _STROKE
        needed = long + _MARKER + len(name) * _PRINT * _LETTER + 2 * _ROOM
        if x and x + needed > width:
            lines, x = lines + 1, 0.0
        y = -_AXIS_GAP - lines * _PRINT * _LINE
        layers += [
            _at(x + _ROOM, y, sign, **({"x2": x + _ROOM + long} if long else {})),
            _at(x + long + _MARKER, y, _text(name, _PRINT, baseline="middle")),
        ]
        x += needed
    height = round(_AXIS_GAP + (lines + 1) * _PRINT * _LINE) if entries else _ROOM
    return layers, height


def _sign(entry: LegendEntryShape) -> dict[str, Any]:
    if entry["path"]:
        shape = {"type": "point", "shape": entry["path"], "size": 70, "strokeWidth": 1.4}
        return shape | {"color": entry["colour"], "filled": not entry["hollow"], "opacity": 1}
    dashes = [7, 4] if entry["dashed"] else [1, 0]
    return {"type": "rule", "color": entry["colour"], "strokeWidth": 1.6, "strokeDash": dashes}


def box_layers(fits: Sequence[FitShape], width: int, height: int, *, large: bool) -> list[Layer]:
    """Title and parameters of each fit in a box, where it was put or one below the other."""
    size = _LARGE_PRINT if large else _PRINT
    layers: list[Layer] = []
    free = float(_ROOM)
    for fit in fits:
        if fit["reason"] is not None:
            continue
        said = [f"{_letters(one['formula'])} = {one['text']}" for one in fit["parameters"]]
        lines = [fit["label_text"] or fit["title"] or "", *_of_what(fit), *said]
        wide = max(map(len, lines)) * size * _LETTER + 2 * _ROOM
        tall = len(lines) * size * _LINE + _ROOM
        x, y = (fit["box"][0] * width, fit["box"][1] * height) if fit["box"] else (_ROOM, free)
        x, y = min(x, max(width - wide, 0)), min(y, max(height - tall, 0))
        if not fit["box"]:
            free += tall + _ROOM
        frame = {"type": "rect", "fill": _PAPER, "stroke": fit["colour"], "opacity": 0.92}
        layers.append(_at(x, y, frame, x2=x + wide, y2=y + tall))
        for place, line in enumerate(lines):
            print_ = _text(line, size, baseline="top", font=FIGURES if place else None)
            print_ |= {} if place else {"fontWeight": 600}
            layers.append(_at(x + _ROOM, y + _ROOM / 2 + place * size * _LINE, print_))
    return layers


def _of_what(fit: FitWith) -> list[str]:
    """Whose points a fit goes over, over which stretch, and its equation, in plain letters."""
    stretch = f", {fit['over']}" if fit["over"] else ""
    return [f"{fit['owner_name']}{stretch}", fit["plain_equation"]]


def _letters(formula: list[list[str]]) -> str:
    """A parameter in the letters of its equation: c2."""
    return "".join(letter + below for letter, below in formula)


def _text(said: str, size: int, *, baseline: str, font: str | None = None) -> dict[str, Any]:
    mark = {"type": "text", "text": said, "fontSize": size, "align": "left", "color": _INK}
    return mark | {"baseline": baseline} | ({"font": font} if font else {})


def _at(x: float, y: float, mark: dict[str, Any], **ends: float) -> Layer:
    places = {"x": x, "y": y} | ends
    return {
        "data": {"values": [{}]},
        "mark": mark | {"clip": False},
        "encoding": {name: {"value": round(value, 1)} for name, value in places.items()},
    }
