"""Photographs that general packages ship, as textures; only their files are read."""

from functools import cache
from importlib.util import find_spec
from pathlib import Path

import cv2
import numpy as np

from footing.core.arrays import AnyArray
from footing.core.errors import NotThere

_FOLDERS = {"skimage": "data", "sklearn": "datasets/images"}


@cache
def photograph(name: str) -> AnyArray:
    """A photograph ``(height, width, 3)``, BGR, by its file name.

    Raises
    ------
    NotThere : if no package that is installed here has it.
    """
    for package, folder in _FOLDERS.items():
        spec = find_spec(package)
        for place in (spec.submodule_search_locations or ()) if spec else ():
            picture = cv2.imread(str(Path(place) / folder / name), cv2.IMREAD_COLOR)
            if picture is not None:
                return np.asarray(picture, dtype=np.float32)
    raise NotThere(f"No package here has the photograph {name}.")


def plate(name: str, size: tuple[int, int], rng: np.random.Generator) -> AnyArray:
    """A background ``(height, width, 3)``: a part of a photograph, as large as a picture needs."""
    whole = photograph(name)
    factor = max(size[0] / whole.shape[0], size[1] / whole.shape[1]) * rng.uniform(1.0, 1.2)
    wide = cv2.resize(whole, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA)
    top = int(rng.integers(0, max(wide.shape[0] - size[0], 0) + 1))
    left = int(rng.integers(0, max(wide.shape[1] - size[1], 0) + 1))
    return np.asarray(wide[top : top + size[0], left : left + size[1]], dtype=np.float32)


def swatch(name: str, size: tuple[int, int], rng: np.random.Generator) -> AnyArray:
    """A piece of a photograph ``(height, width, 3)`` with much in it, for a body's dress."""
    whole = photograph(name)
    side = min(whole.shape[0] // 2, whole.shape[1] // 2)
    best, most = None, -1.0
    for _ in range(6):
        top = int(rng.integers(0, whole.shape[0] - side))
        left = int(rng.integers(0, whole.shape[1] - side))
        piece = whole[top : top + side, left : left + side]
        if float(piece.std()) > most:
            best, most = piece, float(piece.std())
    assert best is not None
    laid = cv2.resize(best, (size[1], size[0]), interpolation=cv2.INTER_AREA)
    return np.asarray(laid, dtype=np.float32)
