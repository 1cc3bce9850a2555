"""Pictures to measure on: JPEG, PNG, WebP, TIFF, HEIC and AVIF, shown as the file says."""

import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import numpy as np
import pillow_heif
from PIL import Image as Pillow
from PIL import ImageOps

from footing.core.arrays import Image
from footing.core.errors import Unreadable
from footing.media.opening import check_pixels

pillow_heif.register_heif_opener()
Pillow.MAX_IMAGE_PIXELS = None  # the limit of the settings is checked before anything is decoded

_FORMATS = ("JPEG", "PNG", "WEBP", "TIFF", "HEIF", "AVIF")
_DEEP_MODES = {"I;16", "I;16B", "I;16L", "I", "F"}


def measured_picture(path: Path, *, frame_pixels: int) -> tuple[int, int, str, tuple[str, ...]]:
    """Width and height as shown, kind, and notes of a picture; it is decoded once as a check.

    Raises
    ------
    Unreadable : if it is damaged, or larger than ``frame_pixels``.
    """
    with _reading(path) as picture:
        check_pixels(*picture.size, frame_pixels)
        kind = str(picture.format).lower()
        several = getattr(picture, "n_frames", 1) > 1
    height, width = read_picture(path).shape[:2]
    notes = ("The file holds several pictures; the first is shown.",) if several else ()
    return width, height, kind, notes


def read_picture(path: Path) -> Image:
    """The picture ``(height, width, 3)``, BGR, turned as its EXIF orientation says.

    Raises
    ------
    Unreadable : if it is damaged.
    """
    with _reading(path) as picture:
        plain = _as_rgb(ImageOps.exif_transpose(picture))
    return np.ascontiguousarray(np.asarray(plain, dtype=np.uint8)[..., ::-1])


@contextmanager
def _reading(path: Path) -> Iterator[Pillow.Image]:
    """An open picture; whatever its reader stumbles over is one sentence."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # odd metadata is no reason for a word
            with Pillow.open(path, formats=_FORMATS) as picture:
                yield picture
    except Unreadable:
        raise
    except Exception as error:  # what hostile bytes make the readers raise is no closed list
        raise Unreadable("The picture is damaged; copy it from the phone again.") from error


def _as_rgb(picture: Pillow.Image) -> Pillow.Image:
    """Eight bits in three colours; what is transparent becomes white."""
    if picture.mode in _DEEP_MODES:
        values = np.asarray(picture, dtype=float)
        top = 65535.0 if values.max() > 255 else 255.0
        picture = Pillow.fromarray(np.clip(values * (255 / top), 0, 255).astype(np.uint8))
    if picture.has_transparency_data:
        over = picture.convert("RGBA")
        white = Pillow.new("RGBA", over.size, "white")
        picture = Pillow.alpha_composite(white, over)
    return picture.convert("RGB")
