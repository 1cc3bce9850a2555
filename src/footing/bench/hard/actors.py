"""What can be seen on a film: flat things, turning balls, hands and people.

An actor gives, for a moment (in frames), pieces to be laid over the picture. A moment between two
frames is as good as any, so that a film can be exposed for as long as it likes.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Protocol

import cv2
import numpy as np

from footing.core.arrays import AnyArray

Point = tuple[float, float]
Path = Callable[[float], Point]
FINE = 3  # times finer than the picture are the pieces painted


@dataclass(frozen=True)
class Piece:
    """Colour ``(h, w, 3)`` and cover ``(h, w)`` of 0 … 1, finer than the picture, and its pose.

    at : where its middle is in the picture; turn in radians; size in times
    """

    colour: AnyArray
    cover: AnyArray
    at: Point
    turn: float = 0.0
    size: float = 1.0


class Actor(Protocol):
    """Something that plays in a film."""

    def pieces(self, moment: float) -> Iterator[Piece]:
        """What is to be laid over the picture, the lowest first."""


def still(_: float) -> float:
    """An angle that does not change."""
    return 0.0


def as_it_is(_: float) -> float:
    """A size that does not change."""
    return 1.0


@dataclass(frozen=True)
class Flat:
    """A flat thing with a dress."""

    colour: AnyArray
    cover: AnyArray
    path: Path
    turn: Callable[[float], float] = still
    size: Callable[[float], float] = as_it_is

    def pieces(self, moment: float) -> Iterator[Piece]:
        """The one piece."""
        at, turn, size = self.path(moment), self.turn(moment), self.size(moment)
        yield Piece(self.colour, self.cover, at, turn, size)


@dataclass(frozen=True)
class Ball:
    """A ball with a pattern around it, that turns about an axis; lit from above.

    dress : ``(h, w, 3)``, laid around it by longitude and latitude
    rate : radians for each frame, from the moment on at which it begins to turn
    """

    dress: AnyArray
    radius: float
    path: Path
    axis: tuple[float, float, float] = (0.0, 1.0, 0.0)
    rate: float = 0.0
    shade: float = 0.35
    begins: float = 0.0

    def pieces(self, moment: float) -> Iterator[Piece]:
        """The ball as it is seen then."""
        side = int(np.ceil(self.radius * FINE)) * 2 + 3
        axis = (np.arange(side) - (side - 1) / 2) / (self.radius * FINE)
        x, y = np.meshgrid(axis, axis)
        squared = x**2 + y**2
        z = np.sqrt(np.clip(1 - squared, 0, None))
        angle = self.rate * max(moment - self.begins, 0.0)
        spin, _ = cv2.Rodrigues(np.array(self.axis) / np.linalg.norm(self.axis) * angle)
        normals = np.stack([x, y, z], axis=-1) @ spin
        height, width = self.dress.shape[:2]
        longitude = (np.arctan2(normals[..., 0], normals[..., 2]) / (2 * np.pi) + 0.5) * (width - 1)
        latitude = (np.arcsin(np.clip(normals[..., 1], -1, 1)) / np.pi + 0.5) * (height - 1)
        colour = cv2.remap(
            self.dress,
            longitude.astype(np.float32),
            latitude.astype(np.float32),
            cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_WRAP,
        )
        light = 1 - self.shade * np.clip(0.5 + 0.6 * y - 0.4 * z, 0, 1)
        cover = np.clip((1 - np.sqrt(squared)) * self.radius * FINE + 0.5, 0, 1)
        lit = np.asarray(colour * light[..., None], dtype=np.float32)
        yield Piece(lit, cover.astype(np.float32), self.path(moment))


@dataclass(frozen=True)
class Limb:
    """A part of a person: hangs from a joint of the person, and swings.

    joint, along : px from the hip at size 1; where it hangs, and from there to its middle
    """

    colour: AnyArray
    cover: AnyArray
    joint: Point
    along: float
    swing: Callable[[float], float] = still

    def piece(self, hip: Point, size: float, moment: float) -> Piece:
        """As it hangs then."""
        turn = self.swing(moment)
        x = hip[0] + size * (self.joint[0] - self.along * np.sin(turn))
        y = hip[1] + size * (self.joint[1] + self.along * np.cos(turn))
        return Piece(self.colour, self.cover, (float(x), float(y)), turn, size)


@dataclass(frozen=True)
class Figure:
    """A person who walks, put together from parts.

    path : of the hip
    """

    limbs: tuple[Limb, ...]
    path: Path
    size: float = 1.0

    def pieces(self, moment: float) -> Iterator[Piece]:
        """All parts."""
        hip = self.path(moment)
        for limb in self.limbs:
            yield limb.piece(hip, self.size, moment)


def capsule(length: float, width: float) -> AnyArray:
    """Cover of a stroke with round ends, upright, ``(h, w)``."""
    half = width / 2 * FINE
    tall, wide = round(length * FINE) | 1, round(width * FINE + 2) | 1
    y, x = np.mgrid[:tall, :wide].astype(float)
    middle = (wide - 1) / 2
    off = np.maximum(np.maximum(half - y, y - (tall - 1 - half)), 0)
    away = np.hypot(x - middle, off)
    return np.clip(half - away + 0.5, 0, 1).astype(np.float32)


def disc(radius: float) -> AnyArray:
    """Cover of a disc, ``(h, w)``."""
    side = int(np.ceil(radius * FINE)) * 2 + 3
    y, x = np.mgrid[:side, :side] - (side - 1) / 2
    return np.clip(radius * FINE - np.hypot(x, y) + 0.5, 0, 1).astype(np.float32)


def wedge(height: float, width: float) -> AnyArray:
    """Cover of a cone seen from the side, ``(h, w)``, its centre of area in the middle."""
    tall, wide = round(height * FINE) | 1, round(width * FINE) | 1
    cover = np.zeros((tall, wide), dtype=np.uint8)
    k = wide / 2
    corners = np.array(
        [[0.42 * wide, 2], [0.58 * wide, 2], [k + 0.46 * wide, tall - 3], [2, tall - 3]]
    )
    cv2.fillPoly(
        cover, [np.round(corners * 8).astype(np.int32)], 255, lineType=cv2.LINE_AA, shift=3
    )
    down = cv2.moments(cover)["m01"] / cv2.moments(cover)["m00"]
    below = max(round(2 * down - (tall - 1)), 0)
    return np.pad(cover / 255, ((0, below), (0, 0))).astype(np.float32)


def box(height: float, width: float) -> AnyArray:
    """Cover of an upright rectangle, ``(h, w)``."""
    return np.ones((round(height * FINE), round(width * FINE)), dtype=np.float32)


def glow(radius: float, spread: float) -> AnyArray:
    """Cover of a lamp: a disc with light around it."""
    side = int(np.ceil((radius + 3 * spread) * FINE)) * 2 + 1
    y, x = np.mgrid[:side, :side] - (side - 1) / 2
    away = np.hypot(x, y) / FINE
    light = np.where(away < radius, 1.0, np.exp(-((away - radius) ** 2) / (2 * spread**2)))
    return light.astype(np.float32)
