"""What stands above a column: name, symbol and unit.

Footing writes ``stopping distance: d (m)``; what others write is understood as far as it goes:
``d (m)``, ``d [m]``, ``d / m``, ``d in m``, or a name alone.
"""

import re
from dataclasses import dataclass

from footing.core.dimensions import is_known, read_unit
from footing.core.errors import Refused

_WITH_UNIT = re.compile(r"(?P<name>.*?)\s*(?:\((?P<a>[^()]*(?:\([^()]*\))?)\)|\[(?P<b>[^\]]*)\])$")
_OVER_UNIT = re.compile(r"(?P<name>.*\S)(?:\s+/\s*|/\s+|\s+in\s+)(?P<unit>\S+)$")
_SYMBOL = re.compile(r"[^\W\d_⁰¹²³⁴-⁹][^\W⁰¹²³⁴-⁹]{0,11}")
_LONGEST_NAME = 60
_USUAL = {
    **{"time": "t", "distance": "d", "speed": "v", "velocity": "v", "mass": "m", "height": "h"},
    **{"temperature": "T", "force": "F", "length": "L", "period": "T", "acceleration": "a"},
    **{"angle": "θ", "energy": "E", "current": "I", "voltage": "U", "position": "x", "radius": "r"},
    **{"volume": "V", "pressure": "p", "density": "ρ", "frequency": "f", "power": "P"},
}


@dataclass(frozen=True)
class Heading:
    """Name, symbol and unit (as printed) of a column."""

    name: str
    symbol: str
    unit: str


def written(heading: Heading) -> str:
    """A heading as it is written above a column of a file."""
    named = heading.name
    if heading.symbol and heading.symbol != heading.name:
        named = f"{heading.name}: {heading.symbol}"
    return f"{named} ({heading.unit})" if heading.unit else named


def read_heading(text: str) -> Heading:
    """What a heading says; the unit is empty where none is understood."""
    cleaned = " ".join(text.split())
    name, unit = _split_unit(cleaned)
    before, colon, after = name.rpartition(":")
    symbol = after.strip()
    if colon and before.strip() and _SYMBOL.fullmatch(symbol):  # as Footing writes it
        return Heading(before.strip()[:_LONGEST_NAME], symbol, unit)
    if not all(is_known(part) for part, _ in read_unit(unit).parts):  # a remark, not a unit
        name, unit = cleaned, ""
    return Heading(name[:_LONGEST_NAME], usual_symbol(name), unit)


def usual_symbol(name: str) -> str:
    """The symbol that is usual for a name: itself if it is short, else a letter."""
    if len(name) <= 3 and _SYMBOL.fullmatch(name):
        return name
    words = re.findall(r"[^\W\d_]+", name.lower())
    for word in reversed(words):
        if word in _USUAL:
            return _USUAL[word]
    return words[0][0] if words else "c"


def is_symbol(text: str) -> bool:
    """Whether a text can stand for a column in a formula."""
    return _SYMBOL.fullmatch(text) is not None


def unique(heading: Heading, taken: set[str]) -> Heading:
    """The heading with a symbol that is not taken yet."""
    if heading.symbol not in taken:
        return heading
    number = next(n for n in range(2, len(taken) + 3) if f"{heading.symbol}{n}" not in taken)
    return Heading(heading.name, f"{heading.symbol}{number}", heading.unit)


def _split_unit(text: str) -> tuple[str, str]:
    for pattern in (_WITH_UNIT, _OVER_UNIT):
        match = pattern.fullmatch(text)
        if match is None or not match["name"]:
            continue
        unit = next(part for name, part in match.groupdict().items() if name != "name" and part)
        try:
            return match["name"], str(read_unit(unit))
        except (Refused, StopIteration):
            continue
    return text, ""
