"""The kinds of sources, and what each has; nothing else decides by the name of a kind.

The points of a video stand in its frames and have their times. A picture has no time: its points
have the numbers in which they were marked instead. The rows of a sheet are typed or pasted, or
moments of a footage at which something was read by eye.
"""

from dataclasses import dataclass

from footing.core.quantities import ON_A_PICTURE, ON_FOOTAGE, QuantityKey
from footing.media.index import MediaIndex
from footing.store.rows import Sheet

_ROOM = 10_000  # points of a shape


@dataclass(frozen=True)
class FootageKind:
    """What a kind of footage has.

    name : as it begins a sentence
    columns : what its marks give; shown : what the table of a body shows of that
    has_time : whether points have times: a clock, a span, lanes, velocities, following
    room : how many points a body may have besides, where these are no frames
    """

    name: str
    columns: tuple[QuantityKey, ...]
    shown: tuple[QuantityKey, ...]
    has_time: bool
    room: int


VIDEO = FootageKind("Footage", ON_FOOTAGE, ON_FOOTAGE, has_time=True, room=0)
PICTURE = FootageKind("A picture", ON_A_PICTURE, ("x", "y", "h"), has_time=False, room=_ROOM)
_KINDS = {"video": VIDEO, "picture": PICTURE}


@dataclass(frozen=True)
class SheetKind:
    """What a kind of sheet has.

    key : as it is stored
    first : the columns that it has besides its own
    of_footage : whether its rows are moments of a footage, whose frames stand in its first column
    """

    key: str
    first: tuple[str, ...]
    of_footage: bool


TYPED = SheetKind("typed", (), of_footage=False)
READ_BY_EYE = SheetKind("eye", ("t",), of_footage=True)
_SHEET_KINDS = {kind.key: kind for kind in (TYPED, READ_BY_EYE)}


def kind_of(index: MediaIndex) -> FootageKind:
    """The kind of an uploaded file."""
    return _KINDS[index.kind]


def sheet_kind(sheet: Sheet) -> SheetKind:
    """The kind of a sheet."""
    return _SHEET_KINDS[sheet.kind]
