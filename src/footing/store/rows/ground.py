"""Scale, axes, up and clock of a footage."""

from dataclasses import dataclass
from typing import ClassVar

from footing.store.rows.base import NEW, Row


@dataclass(frozen=True, slots=True, kw_only=True)
class Ground(Row):
    """Zero, axes, up and clock of a footage. Angles are in radians.

    quarter, mirror : turn and mirror by hand
    levelled : ``level`` or ``plumb``, what up was set by; empty for up in the picture as seen
    height_x, height_y : zero of height; empty where it is zero itself
    clock : ``file``, ``capture`` (clock_typed is the capture rate) or ``moments`` (clock_typed is
        the true time between the frames clock_first and clock_last)
    readout : milliseconds in which the camera reads the picture, as typed
    camera_distance : metres from the camera to the motion, as typed
    velocity_window : through how many marks a velocity is taken
    """

    KEY: ClassVar[tuple[str, ...]] = ("footage_id",)

    footage_id: int
    study_id: int
    zero_x: float
    zero_y: float
    zero_placed: bool
    angle: float
    flip_x: bool
    flip_y: bool
    zero_frame: int
    pixel_uncertainty: float
    quarter: int = 0
    mirror: bool = False
    up: float
    levelled: str | None = None
    height_x: float | None = None
    height_y: float | None = None
    clock: str = "file"
    clock_typed: str | None = None
    clock_first: int | None = None
    clock_last: int | None = None
    readout: str | None = None
    camera_distance: str | None = None
    velocity_window: int = 3


@dataclass(frozen=True, slots=True, kw_only=True)
class KnownLength(Row):
    """A line drawn in a frame; ``typed`` and ``unit`` are empty until somebody types a length.

    hidden : not drawn, but used as before
    nearer : metres by which it lies nearer to the camera than the motion, as typed
    """

    id: int = NEW
    study_id: int
    footage_id: int
    frame: int
    start_x: float
    start_y: float
    end_x: float
    end_y: float
    typed: str | None = None
    unit: str | None = None
    hidden: bool = False
    nearer: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Plane(Row):
    """An oblique view: a rectangle seen in a frame, and its two sides as typed."""

    KEY: ClassVar[tuple[str, ...]] = ("footage_id",)

    footage_id: int
    study_id: int
    frame: int
    across: str | None = None
    along: str | None = None
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class PlanePoint(Row):
    """A point of an oblique view. Places 0 to 3 are the corners, counter-clockwise.

    The others have their own place in the plane, as typed in the plane's unit.
    """

    id: int = NEW
    study_id: int
    plane_id: int
    place: int
    x: float
    y: float
    across: str | None = None
    along: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class StudyUnit(Row):
    """The unit in which a study shows its lengths; metres without a row."""

    KEY: ClassVar[tuple[str, ...]] = ("study_id",)

    study_id: int
    length: str
