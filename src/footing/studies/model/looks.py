"""Colour and shape of bodies, always together.

The shapes are SVG paths in a square from −1 to 1.
"""

from dataclasses import dataclass
from math import cos, pi, sin


@dataclass(frozen=True)
class Look:
    """A colour with its shape."""

    colour: str
    shape: str
    name: str
    path: str


def _polygon(radii: list[float], *, start: float = -pi / 2) -> str:
    step = 2 * pi / len(radii)
    corners = [
        f"{r * cos(start + k * step):.3f},{r * sin(start + k * step):.3f}"
        for k, r in enumerate(radii)
    ]
    return f"M{'L'.join(corners)}Z"


LOOKS = (
    Look("#7A3B8F", "disc", "plum disc", "M-1,0A1,1,0,1,1,1,0A1,1,0,1,1,-1,0Z"),
    Look("#A87000", "square", "marigold square", "M-.85,-.85L.85,-.85L.85,.85L-.85,.85Z"),
    Look("#0B7F86", "triangle", "teal triangle", _polygon([1.1] * 3)),
    Look("#2C4A86", "hexagon", "navy hexagon", _polygon([1.0] * 6)),
    Look("#6F7A17", "star", "olive star", _polygon([1.15, 0.5] * 5)),
    Look("#B83B6B", "pentagon", "rose pentagon", _polygon([1.05] * 5)),
)

# Colours that a line or a series can be given, by name.
COLOURS: dict[str, str] = {
    "ink": "#1E2723",
    **{look.name.partition(" ")[0]: look.colour for look in LOOKS},
}

# Forms of points that a class may ask for instead, as paths like those of the looks.
FORMS: dict[str, str] = {
    "disc": LOOKS[0].path,
    "ring": LOOKS[0].path,
    "square": LOOKS[1].path,
    "triangle": LOOKS[2].path,
    "cross": "M-1,-1L1,1M-1,1L1,-1",
    "plus": "M-1.1,0L1.1,0M0,-1.1L0,1.1",
}
