from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image as Pillow

from footing.core.errors import Unreadable
from footing.media.index import index_media
from footing.media.pictures import read_picture

LIMITS = {"seconds": 20.0, "frame_count": 1000, "frame_pixels": 1_000_000}
WIDTH, HEIGHT = 240, 160
ORIENTATION = 0x0112


def scene() -> np.ndarray:
    """RGB: red at the top left, green at the top right, blue at the bottom left."""
    picture = np.full((HEIGHT, WIDTH, 3), 120, dtype=np.uint8)
    picture[:40, :40] = (230, 20, 20)
    picture[:40, -40:] = (20, 200, 20)
    picture[-40:, :40] = (20, 20, 230)
    return picture


def looks_right(bgr: np.ndarray) -> bool:
    def near(at: tuple[int, int], rgb: tuple[int, int, int]) -> bool:
        return bool(np.abs(bgr[at][::-1].astype(int) - rgb).max() < 30)

    corners = near((10, 10), (230, 20, 20)) and near((10, -10), (20, 200, 20))
    return corners and near((-10, 10), (20, 20, 230)) and bgr.shape == (HEIGHT, WIDTH, 3)


def saved(folder: Path, name: str, **options: Any) -> Path:
    path = folder / name
    Pillow.fromarray(scene()).save(path, **options)
    return path


@pytest.mark.parametrize(
    "name", ["plain.jpg", "plain.png", "plain.webp", "plain.tif", "plain.heic", "plain.avif"]
)
def test_common_pictures_are_read(tmp_path: Path, name: str) -> None:
    path = saved(tmp_path, name)
    known = index_media(path, **LIMITS)  # type: ignore[arg-type]
    assert (known.kind, known.frames, known.width, known.height) == ("picture", 1, WIDTH, HEIGHT)
    assert looks_right(read_picture(path))


@pytest.mark.parametrize("orientation", [2, 3, 4, 5, 6, 7, 8])
def test_exif_orientation_is_obeyed(tmp_path: Path, orientation: int) -> None:
    inverse = {
        2: Pillow.Transpose.FLIP_LEFT_RIGHT,
        3: Pillow.Transpose.ROTATE_180,
        4: Pillow.Transpose.FLIP_TOP_BOTTOM,
        5: Pillow.Transpose.TRANSPOSE,
        6: Pillow.Transpose.ROTATE_90,
        7: Pillow.Transpose.TRANSVERSE,
        8: Pillow.Transpose.ROTATE_270,
    }
    stored = Pillow.fromarray(scene()).transpose(inverse[orientation])
    exif = Pillow.Exif()
    exif[ORIENTATION] = orientation
    path = tmp_path / "turned.jpg"
    stored.save(path, exif=exif, quality=95)
    known = index_media(path, **LIMITS)  # type: ignore[arg-type]
    assert (known.width, known.height) == (WIDTH, HEIGHT)
    assert looks_right(read_picture(path))


def test_what_is_transparent_becomes_white(tmp_path: Path) -> None:
    path = tmp_path / "clear.png"
    clear = np.dstack([scene(), np.full((HEIGHT, WIDTH), 255, np.uint8)])
    clear[60:100, 60:100, 3] = 0
    Pillow.fromarray(clear).save(path)
    picture = read_picture(path)
    assert picture[80, 80].tolist() == [255, 255, 255]
    assert looks_right(picture)


def test_sixteen_bits_become_eight(tmp_path: Path) -> None:
    path = tmp_path / "deep.tif"
    Pillow.fromarray(np.linspace(0, 65535, 64 * 48).reshape(48, 64).astype(np.uint16)).save(path)
    picture = read_picture(path)
    assert picture.shape == (48, 64, 3)
    assert picture[0, 0].tolist() == [0, 0, 0]
    assert picture[-1, -1].tolist() == [255, 255, 255]


def test_a_picture_that_is_too_large_is_refused_before_it_is_decoded(tmp_path: Path) -> None:
    path = tmp_path / "huge.png"
    Pillow.new("1", (30_000, 30_000)).save(path)
    with pytest.raises(Unreadable, match="30000 × 30000"):
        index_media(path, **LIMITS)  # type: ignore[arg-type]


@pytest.mark.parametrize("name", ["cut.jpg", "cut.png", "cut.webp", "cut.tif", "cut.heic"])
def test_a_picture_cut_in_half_is_a_sentence(tmp_path: Path, name: str) -> None:
    path = saved(tmp_path, name)
    path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])
    with pytest.raises(Unreadable, match="damaged"):
        index_media(path, **LIMITS)  # type: ignore[arg-type]


def test_other_pictures_say_what_to_do(tmp_path: Path) -> None:
    path = saved(tmp_path, "old.bmp")
    with pytest.raises(Unreadable, match="JPEG or PNG"):
        index_media(path, **LIMITS)  # type: ignore[arg-type]
