"""A frame as a figure: ground, paths and marks drawn over it, turned as it is seen on the stage."""

from collections.abc import Iterator, Sequence
from math import atan2, cos, hypot, pi, sin
from xml.sax.saxutils import escape, quoteattr

from footing.core.errors import NotThere
from footing.studies.report.figures import FrameFigure
from footing.studies.shapes.bodies import BodyShape
from footing.studies.shapes.ground import GroundShape, KnownLengthShape
from footing.studies.shapes.sources import FootageShape
from footing.studies.shapes.state import StateShape

_TURNS = {0: (1.0, 0.0), 90: (0.0, 1.0), 180: (-1.0, 0.0), 270: (0.0, -1.0)}
_ARM = 0.13  # length of an axis, of the long side
_LINE, _LETTERS, _DOT = 1 / 480, 1 / 38, 1 / 190  # of the long side
_FOOTING = "M-3,-10h6v6h-6zM-6,-4h12v4h-12zM-10,0h20v5h-20z"
_INK, _PAPER = "#1E2723", "#FBF9F4"
_TICK = 5.0  # line widths


def frame_figure(view: StateShape, frame: int, shows: Sequence[str]) -> FrameFigure:
    """A frame of the footage of a state, with ground, path and marks as far as they are wanted.

    Raises
    ------
    NotThere : if the state has no footage, or that no such frame.
    """
    film, ground = view["footage"], view["ground"]
    if film is None or ground is None or not 0 <= frame < film["frames"]:
        raise NotThere("There is no such frame.")
    drawing = _Drawing(film, ground)
    over: list[str] = []
    if "path" in shows or "marks" in shows:
        for body in view["bodies"]:
            if not body["background"]:
                over += drawing.marks(body, frame, joined="path" in shows)
    if "ground" in shows:
        over += [*drawing.known_lengths(), *drawing.axes()]
    a, b = _TURNS[ground["quarter"]]
    mirrored = -1.0 if ground["mirror"] else 1.0
    matrix = (a * mirrored, b * mirrored, -b, a)
    width, height = film["width"], film["height"]
    if ground["quarter"] % 180:
        seen_width, seen_height = height, width
    else:
        seen_width, seen_height = width, height
    across = seen_width / 2 - matrix[0] * width / 2 - matrix[2] * height / 2
    down = seen_height / 2 - matrix[1] * width / 2 - matrix[3] * height / 2
    return FrameFigure(
        footage=film["id"],
        content=film["content"],
        frame=frame,
        over="".join(over),
        matrix=(*matrix, across, down),
        width=seen_width,
        height=seen_height,
        of_width=width,
        of_height=height,
    )


def as_svg(figure: FrameFigure, picture_uri: str) -> str:
    """The figure as SVG, with its frame from an address."""
    size = f"0 0 {figure.width} {figure.height}"
    matrix = " ".join(f"{value:.6g}" for value in figure.matrix)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
        f'viewBox="{size}" width="{figure.width}" height="{figure.height}">'
        f'<g transform="matrix({matrix})"><image xlink:href={quoteattr(picture_uri)} '
        f'width="{figure.of_width}" height="{figure.of_height}"/>{figure.over}</g></svg>'
    )


class _Drawing:
    """Draws in pixels of the picture; where a pixel's middle is a whole number."""

    def __init__(self, film: FootageShape, ground: GroundShape) -> None:
        self.ground = ground
        self.long = max(film["width"], film["height"])
        self.line = max(self.long * _LINE, 1.0)

    def marks(self, body: BodyShape, frame: int, *, joined: bool) -> Iterator[str]:
        """The marks that count as dots, joined by a line where the path is wanted."""
        counting = set(body["counting"])
        places = [(x + 0.5, y + 0.5) for number, x, y in body["marks"] if int(number) in counting]
        colour = body["colour"]
        if joined and len(places) > 1:
            points = " ".join(f"{x:.1f},{y:.1f}" for x, y in places)
            for width, of in ((3.0, _PAPER), (1.4, colour)):
                yield (
                    f'<polyline points="{points}" fill="none" stroke="{of}" '
                    f'stroke-width="{width * self.line:.2f}" stroke-linejoin="round"/>'
                )
        size = max(self.long * _DOT, 2.0)
        for number, x, y in body["marks"]:
            here = int(number) == frame
            yield (
                f'<path d="{body["path"]}" fill="{colour}" stroke="{_PAPER}" stroke-width=".35" '
                f'transform="translate({x + 0.5:.1f} {y + 0.5:.1f}) '
                f'scale({size * (1.7 if here else 0.8):.2f})"/>'
            )

    def known_lengths(self) -> Iterator[str]:
        """Known lengths as dimension lines, with what they are."""
        for one in self.ground["known_lengths"]:
            if not one["hidden"]:
                yield from self._dimension(one)

    def _dimension(self, one: KnownLengthShape) -> Iterator[str]:
        (ax, ay), (bx, by) = ([value + 0.5 for value in end] for end in (one["start"], one["end"]))
        away = hypot(bx - ax, by - ay) or 1.0
        ux, uy = (bx - ax) / away, (by - ay) / away
        yield self._lined(f"M{ax:.1f},{ay:.1f}L{bx:.1f},{by:.1f}")
        for x, y in ((ax, ay), (bx, by)):
            tx, ty = (ux - uy) * _TICK * self.line, (uy + ux) * _TICK * self.line
            yield self._lined(f"M{x - tx:.1f},{y - ty:.1f}L{x + tx:.1f},{y + ty:.1f}")
        off = self.long * _LETTERS
        yield self._text(
            (ax + bx) / 2 + uy * off * 1.6, (ay + by) / 2 - ux * off * 0.9, one["text"]
        )

    def axes(self) -> Iterator[str]:
        """Both axes from zero, with their letters."""
        if not self.ground["zero_placed"]:
            return
        x, y = (value + 0.5 for value in self.ground["zero"])
        angle, arms = self.ground["angle"], self.ground["arms"]
        ways = [angle, angle + pi / 2]
        if arms is not None:
            ways = [atan2(-arms[one][1], arms[one][0]) for one in ("x", "y")]
        flips = (self.ground["flip_x"], self.ground["flip_y"])
        for way, flip, letter in zip(ways, flips, "xy", strict=True):
            yield from self._arm(x, y, way + (pi if flip else 0.0), letter)
        scale = self.line * 0.8
        yield (
            f'<path d="{_FOOTING}" fill="{_INK}" stroke="{_PAPER}" stroke-width="1" '
            f'transform="translate({x:.1f} {y:.1f}) scale({scale:.2f})"/>'
        )

    def _arm(self, x: float, y: float, way: float, letter: str) -> Iterator[str]:
        ux, uy = cos(way), -sin(way)
        ex, ey = x + self.long * _ARM * ux, y + self.long * _ARM * uy
        yield self._lined(f"M{x:.1f},{y:.1f}L{ex:.1f},{ey:.1f}")
        k = self.line * 1.6
        flag = (
            f"M{ex:.1f},{ey:.1f}l{k * (-5 * ux - 2.5 * uy):.1f},{k * (-5 * uy + 2.5 * ux):.1f}"
            f"l{k * 5 * uy:.1f},{-k * 5 * ux:.1f}z"
        )
        edge = f'stroke="{_PAPER}" stroke-width="{self.line / 2:.2f}"'
        yield f'<path d="{flag}" fill="{_INK}" {edge}/>'
        off = self.long * _LETTERS * 0.8
        yield self._text(ex + off * ux, ey + off * uy, letter, italic=True)

    def _lined(self, path: str) -> str:
        return "".join(
            f'<path d="{path}" fill="none" stroke="{colour}" stroke-width="{width:.2f}"/>'
            for colour, width in ((_PAPER, 3 * self.line), (_INK, 1.2 * self.line))
        )

    def _text(self, x: float, y: float, text: str, *, italic: bool = False) -> str:
        """A text that stands upright in the picture as it is seen."""
        size = self.long * _LETTERS
        mirrored = "scale(-1 1) " if self.ground["mirror"] else ""
        seen = f"{mirrored}rotate({-self.ground['quarter']})"
        of = (
            f'font-family="Atkinson Hyperlegible Next" font-size="{size:.1f}" text-anchor="middle"'
            + (' font-style="italic"' if italic else "")
        )
        outline = f'stroke="{_PAPER}" stroke-width="{size / 6:.1f}" stroke-linejoin="round"'
        placed = f'transform="translate({x:.1f} {y:.1f}) {seen}"'
        said = escape(text)
        dy = f'dy="{size / 3:.1f}"'
        return (
            f"<g {placed}><text {of} {dy} {outline}>{said}</text>"
            f'<text {of} {dy} fill="{_INK}">{said}</text></g>'
        )
