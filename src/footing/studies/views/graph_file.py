"""A graph as a file: the same specification as on the screen, drawn by the server."""

from collections.abc import Sequence
from copy import deepcopy
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any, Literal

import vl_convert

from footing.core.errors import NotThere, Refused
from footing.studies.shapes.fits import FitShape
from footing.studies.shapes.graphs import GraphShape, SeriesShape
from footing.studies.shapes.state import GraphsShape
from footing.studies.views.graph_labels import box_layers, legend_layers

Form = Literal["svg", "png"]
MEDIA_TYPES: dict[Form, str] = {"svg": "image/svg+xml", "png": "image/png"}
WIDTH, MOST_PIXELS = 900, 8000
_SHAPE = 0.62  # height over width
_SMALLEST = 200
_FONTS = Path(__file__).with_name("fonts")


@dataclass(frozen=True)
class Boxes:
    """Whether the results of fits stand in boxes on the graph, and whether in large print."""

    shown: bool = False
    large: bool = False


def graph_file(
    view: GraphsShape,
    place: int,
    form: Form,
    *,
    width: int = WIDTH,
    scale: float = 2.0,
    boxes: Boxes | None = None,
) -> bytes:
    """A graph of a study's state, ``width`` wide; ``scale`` is pixels of a PNG for each of those.

    Raises
    ------
    NotThere : if the source has no such graph.
    Refused : if the picture would be too small or too large.
    """
    return draw(specified(view, place, width=width, scale=scale, boxes=boxes), form, scale)


def specified(
    view: GraphsShape, place: int, *, width: int, scale: float, boxes: Boxes | None = None
) -> dict[str, Any]:
    """The specification of a graph with all that it shows, to be drawn.

    Raises
    ------
    NotThere : if the source has no such graph.
    Refused : if the picture would be too small or too large.
    """
    graph = next((one for one in view["graphs"] if one["place"] == place), None)
    if graph is None:
        raise NotThere("The source has no such graph.")
    check_size(width, scale)
    return filled(graph, view["fits"], width=width, boxes=boxes or Boxes())


def check_size(width: int, scale: float) -> None:
    """Refuse a picture that would be too small or too large.

    Raises
    ------
    Refused : with the width that it would have.
    """
    if not (_SMALLEST <= width <= MOST_PIXELS and _SMALLEST <= width * scale <= MOST_PIXELS):
        raise Refused(
            f"A picture {width * scale:.6g} pixels wide cannot be; it can have {_SMALLEST} to "
            f"{MOST_PIXELS}.",
            field="width",
        )


def draw(spec: dict[str, Any], form: Form, scale: float) -> bytes:
    """The picture of a specification."""
    _know_fonts()
    if form == "svg":
        return vl_convert.vegalite_to_svg(spec, vl_version="6.4").encode()
    picture: bytes = vl_convert.vegalite_to_png(spec, vl_version="6.4", scale=scale)
    return picture


def svg_to_png(svg: str, scale: float) -> bytes:
    """A drawing as PNG; ``scale`` is pixels for each of its width."""
    _know_fonts()
    picture: bytes = vl_convert.svg_to_png(svg, scale=scale)
    return picture


@cache
def _know_fonts() -> None:
    """Tell the renderer of our fonts, once: a text in a font that it does not know is left out."""
    vl_convert.register_font_directory(str(_FONTS))


def filled(
    graph: GraphShape,
    fits: Sequence[FitShape],
    *,
    width: int = WIDTH,
    boxes: Boxes | None = None,
) -> dict[str, Any]:
    """The specification with its data, ranges, title, legend and result boxes."""
    spec: dict[str, Any] = deepcopy(graph["spec"])
    drawn = [one for one in fits if one["id"] in graph["drawn_fits"]] + graph["guest_fits"]
    curves = [
        {"x": x, "y": y, "fit": fit["id"], "dashed": fit["dashed"], "colour": fit["colour"]}
        for fit in drawn
        if fit["reason"] is None
        for x, y in fit["line"]
    ]
    curves += [
        {
            "x": x,
            "y": y,
            "fit": line["key"],
            "dashed": line["dashed"],
            "colour": line["colour"],
        }
        for line in graph["lines"]
        for x, y in line["points"]
    ]
    shown = [] if graph["waits"] else graph["series"]
    spec["datasets"] = {
        "points": [row for series in shown for row in _rows(series)],
        "curves": curves if shown else [],
        "zeros": [{"at": 0, "of": "x"}, {"at": 0, "of": "y"}],
        "asides": graph["asides"],
        "sketch": [{"x": x, "y": y, "place": n} for n, (x, y) in enumerate(graph["sketch"])],
        **{name: [] for name in ("area", "tangent")},
    }
    signals = {"cursor": -1, "error_bars": graph["error_bars"], "bands": True}
    values = {**graph["ranges"], **signals}
    for parameter in spec["params"]:
        parameter["value"] = values[parameter["name"]]
    height = round(width * _SHAPE)
    spec |= {"width": width, "height": height, "background": "white"}
    legend, above = legend_layers(graph["legend_entries"], width)
    spec["layer"] += legend
    if boxes and boxes.shown:
        spec["layer"] += box_layers(drawn, width, height, large=boxes.large)
    spec["title"] = {"text": graph["title"], "anchor": "start", "offset": above}
    return spec


def _rows(series: SeriesShape) -> list[dict[str, Any]]:
    look = {
        "colour": series["colour"],
        "path": series["path"],
        "hollow": series["hollow"],
        "size": series["size"],
        "joined": series["joined"],
        "band": series["band"],
    }
    return [
        {
            **{"number": number, "x": x, "y": y},
            **{"low": y - up, "high": y + up, "left": x - across, "right": x + across},
            **look,
            "series": series["place"],
            "piece": sum(hit <= number for hit in series["hits"]),
        }
        for number, x, y, across, up in series["points"]
    ]
