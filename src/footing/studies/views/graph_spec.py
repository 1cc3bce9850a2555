"""How graphs are drawn: Vega-Lite specifications without data, with the titles of their axes.

The specifications themselves are made beforehand, by `tools/graphs/make.py`.
"""

import json
from collections.abc import Sequence
from functools import cache, lru_cache
from pathlib import Path
from typing import Any, Literal

from pydantic import JsonValue

SPECS = Path(__file__).with_name("graph_specs.json")
ACROSS, UP = "title across", "title up"  # where the titles of the axes are put in
FONT, FIGURES = "Atkinson Hyperlegible Next, sans-serif", "IBM Plex Mono, monospace"
# no commas among thousands: where a comma begins the decimals, 1,000 is 1
LOCALE: dict[str, JsonValue] = {
    "number": {"decimal": ".", "thousands": "", "grouping": [3], "currency": ["", ""]}
}
_REMEMBERED = 100  # pairs of titles


def main_spec(x_title: str, y_title: str) -> dict[str, Any]:
    """The specification of a graph; its data are points, curves, zeros, area, sketch, asides.

    The same object for the same titles: nobody changes it.
    """
    return _with_titles("main", x_title, (y_title,))


def residual_spec(x_title: str, y_title: Sequence[str]) -> dict[str, Any]:
    """The specification of the residuals below it."""
    return _with_titles("residual", x_title, tuple(y_title))


@cache
def _specs() -> dict[str, Any]:
    specs: dict[str, Any] = json.loads(SPECS.read_text(encoding="utf-8"))
    return specs


@lru_cache(_REMEMBERED)
def _with_titles(
    of: Literal["main", "residual"], x_title: str, lines: tuple[str, ...]
) -> dict[str, Any]:
    title = lines[0] if len(lines) == 1 else list(lines)
    titled: dict[str, Any] = _titled(_specs()[of], x_title, title)
    return titled


def _titled(part: Any, x_title: str, y_title: str | list[str]) -> Any:
    """A specification with the titles of its axes put in."""
    if isinstance(part, dict):
        return {key: _titled(value, x_title, y_title) for key, value in part.items()}
    if isinstance(part, list):
        return [_titled(value, x_title, y_title) for value in part]
    return {ACROSS: x_title, UP: y_title}.get(part, part) if isinstance(part, str) else part
