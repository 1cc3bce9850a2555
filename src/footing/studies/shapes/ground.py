"""What stands under the measurements of a film as data: scale, plane, axes and clock."""

from typing import TypedDict

from footing.studies.shapes.sources import NamedKey

Place = list[float]  # x and y in pixels


class KnownLengthShape(TypedDict):
    """A known length: its ends in pixels, and what was typed."""

    id: int
    frame: int
    start: Place
    end: Place
    pixels: str
    placing: str
    typed: str
    unit: str
    own_unit: str
    text: str
    uncertainty: str
    hidden: bool
    nearer: str
    apart: str
    in_plane: str


class PlanePointShape(TypedDict):
    """A corner or another point of an oblique view."""

    id: int
    place: int
    at: Place
    across: str
    along: str
    residual: str


class PlaneShape(TypedDict):
    """An oblique view."""

    frame: int
    across: str
    along: str
    unit: str
    points: list[PlanePointShape]
    problem: str | None
    uncertainty: str | None
    residuals: bool


class ClockShape(TypedDict):
    """Where times come from, and what that does."""

    kind: str
    typed: str
    first: int | None
    last: int | None
    rate: str
    step: str
    likely: str | None
    offer: str
    offer_text: str
    consequence: str
    uncertainty: str


class ScaleShape(TypedDict):
    """The scale, in words."""

    text: str
    relative: str
    disagree: bool


class GroundShape(TypedDict):
    """What is placed at Ground, and what follows. angle, up : rad; levelled : the line's kind"""

    zero: Place
    zero_text: str
    zero_placed: bool
    angle: float
    angle_text: str
    flip_x: bool
    flip_y: bool
    quarter: int
    mirror: bool
    up: float
    up_text: str
    levelled: str | None
    height_zero: Place | None
    zero_frame: float | None
    pixel_uncertainty: str
    length_unit: str
    study_unit: str
    scale: ScaleShape | None
    known_lengths: list[KnownLengthShape]
    plane: PlaneShape | None
    arms: dict[str, list[float]] | None
    sense: list[str]
    clock: ClockShape
    readout: str
    camera_distance: str
    others: list[NamedKey]
