"""A frame as following sees it: brightness, and colour at half the size where it is known."""

from dataclasses import dataclass

from footing.core.arrays import Image


@dataclass(frozen=True)
class Picture:
    """Brightness ``(height, width)``, and blue and red chroma, each half as high and wide.

    Chroma is 128 where there is no colour (ITU-R BT.601).
    """

    grey: Image
    chroma: tuple[Image, Image] | None = None


Frame = tuple[int, Image | Picture]  # its number, and what it shows


def as_picture(frame: Image | Picture) -> Picture:
    """A frame of brightness alone is a picture, too."""
    return frame if isinstance(frame, Picture) else Picture(frame)
