"""A document as HTML: its parts for a page, or all of it as one file that needs nothing else."""

import base64
import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from functools import cache

from jinja2 import Environment, PackageLoader, select_autoescape
from markupsafe import Markup

from footing.formats import document as doc
from footing.formats.document import LANGUAGE, Grid, Part, Picture, PictureData
from footing.formats.reading import is_number

SourceOf = Callable[[Picture], str]
_KINDS: dict[str, type[object]] = {
    **{"title": doc.Title, "heading": doc.Heading, "paragraph": doc.Paragraph},
    **{"listing": doc.Listing, "equation": doc.Equation, "picture": doc.Picture},
    **{"grid": doc.Grid, "formula": doc.Formula, "value": doc.Value, "break": doc.Break},
}
_UNCERTAIN = re.compile(r"^[−+-]?[\d.,\s()]+(±|·|×|…|e|E|%|$)")


def part_html(part: Part, source_of: SourceOf) -> Markup:
    """A part as HTML; ``source_of`` says where a picture is."""
    module = _environment().get_template("parts.html").module
    return Markup(vars(module)["part"](part, source_of))


def parts_in_one(parts: Iterable[Part], pictures: Mapping[str, PictureData]) -> str:
    """Parts as HTML with their pictures in it."""
    return "".join(part_html(part, lambda one: _data_uri(pictures[one.name])) for part in parts)


def one_page(title: str, names: Sequence[str], blocks: Iterable[str], css: str) -> str:
    """An HTML file that needs nothing else, of blocks that need nothing else."""
    template = _environment().get_template("document.html")
    held = [Markup(block) for block in blocks]
    return template.render(title=title, names=names, language=LANGUAGE, blocks=held, css=css)


def _data_uri(picture: PictureData) -> str:
    if picture.svg is not None:
        return _uri("image/svg+xml", picture.svg.encode())
    return _uri(picture.media_type, picture.raster)


def _uri(media_type: str, content: bytes) -> str:
    return f"data:{media_type};base64,{base64.b64encode(content).decode()}"


def numeric_columns(grid: Grid) -> frozenset[int]:
    """Which columns of a table hold numbers, with or without their uncertainty."""
    found = set()
    for place in range(len(grid.headings)):
        cells = [row[place] for row in grid.rows if row[place]]
        if cells and all(map(_is_numeric, cells)):
            found.add(place)
    return frozenset(found)


def _is_numeric(cell: str) -> bool:
    return is_number(cell.replace("−", "-")) or bool(_UNCERTAIN.match(cell))


@cache
def _environment() -> Environment:
    made = Environment(
        loader=PackageLoader("footing.formats"),
        autoescape=select_autoescape(),
        trim_blocks=True,
    )
    for name, kind in _KINDS.items():
        made.tests[name] = lambda one, kind=kind: isinstance(one, kind)
    made.filters["numeric_columns"] = numeric_columns
    return made
