"""One film: who plays in it, the camera, the faults of phones; and where everything truly is."""

import hashlib
import os
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path as FilePath

import cv2
import numpy as np

from footing.bench.hard.actors import FINE, Actor, Path, Piece, Point
from footing.bench.hard.photographs import plate
from footing.core.arrays import AnyArray, FloatArray, Image
from footing.demo.filming import write_video

_IN_PLAIN_VIEW = 0.9  # share of a body that must be seen
_TO_BE_SEEN = 0.15  # share of it under which it counts as hidden
_SPOT = 1  # px around a spot that must be free
_GRAIN = 1.6  # by which smoothing the grain weakens it
_BANDS = 12  # of rows that are read out one after the other


def at_rest(_: float) -> Point:
    """A camera on a stand."""
    return 0.0, 0.0


def even(_: float) -> float:
    """Light that does not change."""
    return 1.0


@dataclass(frozen=True)
class Body:
    """Who is followed: an actor, the spot that is marked, and how large it is.

    spot : where the mark belongs, by the moment
    on : the part of the actor on which the spot is, whose later parts may swing across it; None
        if a mark is the centre of the whole
    """

    actor: int
    spot: Path
    size: float
    on: int | None = None


@dataclass(frozen=True)
class Film:
    """A film that makes something hard.

    backdrop : photograph behind; actors : the lower first
    shutter : share of a frame's time in which it is exposed; grain in grey levels
    camera : how far the picture has moved; light : brightness; both by the moment
    readout : share of a frame's time between the first row and the last
    """

    name: str
    half: str
    backdrop: str
    actors: tuple[Actor, ...]
    bodies: tuple[Body, ...]
    frames: int
    first: int = 0
    size: tuple[int, int] = (360, 640)
    rate: int = 30
    shutter: float = 0.3
    exposures: int = 5
    grain: float = 2.0
    crf: int = 23
    camera: Path = at_rest
    light: Callable[[float], float] = even
    interlaced: bool = False
    readout: float = 0.0
    border: int = 0
    dim: float = 1.0
    seed: int = 1

    def truth(self, body: int, frame: int) -> FloatArray | None:
        """Where the spot is in the picture at mid-exposure; None where it is not to be seen."""
        return self._truth(body, frame, _TO_BE_SEEN)

    def plain(self, body: int, frame: int) -> bool:
        """Whether a body is in plain view, and no limb of its own lies over its spot."""
        seen = self._truth(body, frame, _IN_PLAIN_VIEW) is not None
        return seen and self._spot_is_free(self.bodies[body], self._moment(body, frame))

    def _spot_is_free(self, body: Body, moment: float) -> bool:
        if body.on is None:
            return True
        reach = _SPOT
        x, y = body.spot(moment)
        cover = np.ones((2 * reach + 1, 2 * reach + 1), dtype=np.float32)
        limbs = list(self.actors[body.actor].pieces(moment))
        for limb in limbs[body.on + 1 :]:
            _lay_cover(cover, limb, (reach - x, reach - y), keep=False)
        return float(cover.mean()) >= _IN_PLAIN_VIEW

    def _truth(self, body: int, frame: int, least: float) -> FloatArray | None:
        moment = self._moment(body, frame)
        shift = self.camera(moment)
        place = np.add(self.bodies[body].spot(moment), shift)
        height, width = self.size
        if not (0 <= place[0] <= width - 1 and 0 <= place[1] <= height - 1):
            return None
        return place if self._seen(self.bodies[body].actor, moment, shift) >= least else None

    def _moment(self, body: int, frame: int) -> float:
        """The middle of the exposure of the rows in which a body is."""
        moment = frame + (0.25 if self.interlaced else 0.0)
        if self.readout:
            row = self.bodies[body].spot(moment)[1] + self.camera(moment)[1]
            moment += self.readout * (row / self.size[0] - 0.5)
        return moment

    def _seen(self, actor: int, moment: float, shift: Point) -> float:
        """Share of an actor that nothing hides and that lies in the picture."""
        margin = 120
        size = (self.size[0] + 2 * margin, self.size[1] + 2 * margin)
        cover = np.zeros(size, dtype=np.float32)
        moved = (shift[0] + margin, shift[1] + margin)
        for piece in self.actors[actor].pieces(moment):
            _lay_cover(cover, piece, moved, keep=True)
        whole = float(cover.sum())
        for other in self.actors[actor + 1 :]:
            for piece in other.pieces(moment):
                _lay_cover(cover, piece, moved, keep=False)
        inside = cover[margin:-margin, margin:-margin]
        return float(inside.sum()) / max(whole, 1e-6)

    def pictures(self) -> Iterator[Image]:
        """The frames, ``(height, width, 3)``, BGR."""
        rng = np.random.default_rng(self.seed)
        border = self.border
        wide = (self.size[0] + 2 * border, self.size[1] + 2 * border)
        backdrop = self.dim * plate(self.backdrop, wide, rng)
        for frame in range(self.first, self.first + self.frames):
            if self.interlaced:
                shown = self._exposed(backdrop, frame)
                shown[1::2] = self._exposed(backdrop, frame + 0.5)[1::2]
            elif self.readout:
                shown = self._read_out(backdrop, frame)
            else:
                shown = self._exposed(backdrop, frame)
            noise = rng.standard_normal(size=shown.shape, dtype=np.float32)
            noisy = self.light(frame) * shown
            noisy = noisy + _GRAIN * self.grain * cv2.GaussianBlur(noise, (0, 0), 0.6)
            yield np.clip(np.round(noisy), 0, 255).astype(np.uint8)

    def _read_out(self, backdrop: AnyArray, frame: float) -> AnyArray:
        height = self.size[0]
        shown = np.empty((*self.size, 3), dtype=np.float32)
        edges = np.linspace(0, height, _BANDS + 1).round().astype(int)
        for top, bottom in pairwise(edges):
            delay = self.readout * ((top + bottom) / 2 / height - 0.5)
            shown[top:bottom] = self._exposed(backdrop, frame + delay)[top:bottom]
        return shown

    def _exposed(self, backdrop: AnyArray, moment: float) -> AnyArray:
        offsets = (np.arange(self.exposures) + 0.5) / self.exposures - 0.5
        total = np.zeros((*self.size, 3), dtype=np.float32)
        for offset in offsets * self.shutter:
            total += self._painted(backdrop, moment + float(offset))
        return total / np.float32(self.exposures)

    def _painted(self, backdrop: AnyArray, moment: float) -> AnyArray:
        shift = self.camera(moment)
        moved = np.array([[1, 0, shift[0] - self.border], [0, 1, shift[1] - self.border]])
        size = (self.size[1], self.size[0])
        picture = np.asarray(
            cv2.warpAffine(backdrop, moved, size, borderMode=cv2.BORDER_REPLICATE),
            dtype=np.float32,
        )
        for actor in self.actors:
            for piece in actor.pieces(moment):
                _lay(picture, piece, shift)
        return picture

    def write(self, path: FilePath) -> None:
        """Write it as a phone does."""
        encoder: dict[str, object] = {"crf": str(self.crf), "preset": "veryfast", "g": "30"}
        write_video(path, self.pictures(), rate=self.rate, encoder=encoder)


def kept(film: Film, folder: FilePath, painters: str) -> FilePath:
    """The file of a film, made if it is not there; ``painters`` is a hash of what paints it."""
    digest = hashlib.sha256(f"{painters} {film.name}".encode()).hexdigest()[:12]
    path = folder / f"{film.name}-{digest}.mp4"
    if not path.exists():
        folder.mkdir(parents=True, exist_ok=True)
        unfinished = path.with_suffix(f".{os.getpid()}.part.mp4")  # another may paint it as well
        film.write(unfinished)
        unfinished.replace(path)
    return path


def _laid(
    piece: Piece, shift: Point, shape: tuple[int, ...]
) -> tuple[slice, slice, AnyArray, tuple[int, int]] | None:
    """Where in a picture a piece comes to lie, and how its pixels get there."""
    x, y = piece.at[0] + shift[0], piece.at[1] + shift[1]
    height, width = piece.cover.shape
    reach = int(np.ceil(np.hypot(height, width) / 2 / FINE * piece.size)) + 2
    rows = slice(max(round(y) - reach, 0), min(round(y) + reach + 1, shape[0]))
    columns = slice(max(round(x) - reach, 0), min(round(x) + reach + 1, shape[1]))
    if rows.stop <= rows.start or columns.stop <= columns.start:
        return None
    k = piece.size / FINE
    c, s = k * np.cos(piece.turn), k * np.sin(piece.turn)
    turned = np.array([[c, -s], [s, c]])
    middle = np.array([(width - 1) / 2, (height - 1) / 2])
    place = np.array([x - columns.start, y - rows.start])
    matrix = np.column_stack([turned, place - turned @ middle])
    return rows, columns, matrix, (columns.stop - columns.start, rows.stop - rows.start)


def _warped(picture: AnyArray, matrix: AnyArray, size: tuple[int, int], k: float) -> AnyArray:
    # the piece is finer than the picture, so it is smoothed before it is sampled
    smooth = cv2.GaussianBlur(picture, (0, 0), max(0.4 / k, 0.3))
    return np.asarray(cv2.warpAffine(smooth, matrix, size), dtype=np.float32)


def _lay(picture: AnyArray, piece: Piece, shift: Point) -> None:
    laid = _laid(piece, shift, picture.shape)
    if laid is None:
        return
    rows, columns, matrix, size = laid
    k = piece.size / FINE
    share = _warped(piece.cover, matrix, size, k)[..., None]
    colour = cv2.warpAffine(
        cv2.GaussianBlur(piece.colour, (0, 0), max(0.4 / k, 0.3)),
        matrix,
        size,
        borderMode=cv2.BORDER_REPLICATE,
    )
    view = picture[rows, columns]
    view *= 1 - share
    view += share * colour


def _lay_cover(cover: AnyArray, piece: Piece, shift: Point, *, keep: bool) -> None:
    """Add what a piece covers, or take away what it hides."""
    laid = _laid(piece, shift, cover.shape)
    if laid is None:
        return
    rows, columns, matrix, size = laid
    share = _warped(piece.cover, matrix, size, piece.size / FINE)
    view = cover[rows, columns]
    if keep:
        np.maximum(view, share, out=view)
    else:
        view *= 1 - share
