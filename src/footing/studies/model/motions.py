"""The motion of each body of a source: its marks on their ground, and what follows from others."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from footing.core.arrays import FloatArray, IntArray
from footing.core.ground import heights
from footing.core.motion import Motion
from footing.core.steadying import seen_in, steadied
from footing.core.turning import turning
from footing.core.units import read_number, to_si
from footing.store.rows import Body, HiddenFrame, Impact, Mark
from footing.store.snapshot import StudyRows
from footing.studies.model.containing import is_readable
from footing.studies.model.grounds import Grounded
from footing.studies.model.kept import Kept


@dataclass(frozen=True, eq=False)
class BodyMotion:
    """The counting frames of a body, its marks there in pixels (steadied), and its motion.

    problem : why there is none, where somebody has to do something first
    """

    frames: IntArray
    pixels: FloatArray
    motion: Motion
    problem: str | None = None


def motions(ground: Grounded, rows: StudyRows) -> dict[int, BodyMotion]:
    """Motion of every body of a source, by its key; that of a body that no edit touched is kept."""
    bodies = rows.bodies_of(ground.footage)
    found = {row.id: _marked_motion(ground, row, rows) for row in bodies if row.kind == "marked"}
    for row in bodies:
        if row.second_of_id is not None and row.second_of_id in found:
            first, second = found[row.second_of_id], found[row.id]
            make = partial(_turning_by, first, second)
            key = row.second_of_id
            found[key] = _motions.get(("turning", key), (first, second), make)
    for row in bodies:
        if row.kind != "marked":
            members = (rows.get(Body, member.other_id) for member in rows.members_of(row))
            parts = [(member, found[member.id]) for member in members if member is not None]
            derive = partial(_centre if row.kind == "centre" else _relative, ground, parts)
            found[row.id] = _motions.get(("derived", row.id), (ground, row.kind, parts), derive)
    return found


_motions: Kept[BodyMotion] = Kept(400)


def _marked_motion(ground: Grounded, row: Body, rows: StudyRows) -> BodyMotion:
    marks, hidden = rows.marks_of(row), rows.hidden_of(row)
    impacts = rows.impacts_of(row)
    of = (ground, row.first, row.last, marks, hidden, impacts)
    make = partial(_own_motion, ground, row, marks, hidden, impacts)
    return _motions.get(("marked", row.id), of, make)


def reference_frame(ground: Grounded) -> int:
    """The frame to which an unsteady picture is moved back: the first with all spots."""
    common = seen_in(ground.spots, ground.spots[0].frames)
    return int(common[0]) if len(common) else int(ground.spots[0].frames[0])


def _own_motion(
    ground: Grounded,
    row: Body,
    marks: Sequence[Mark],
    hidden_in: Sequence[HiddenFrame],
    impacts: Sequence[Impact],
) -> BodyMotion:
    """Motion from marks; those set aside, outside the span or its own frames, do not count.

    Where background spots are marked, frames in which one of them is not do not count either.
    """
    first = -np.inf if row.first is None else row.first
    last = np.inf if row.last is None else row.last
    counting = [
        mark
        for mark in marks
        if not mark.aside
        and ground.counts(mark.frame)
        and (not ground.kind.has_time or first <= mark.frame <= last)
    ]
    frames = np.array([mark.frame for mark in counting], dtype=np.int64)
    pixels = np.array([(mark.x, mark.y) for mark in counting], dtype=float).reshape(-1, 2)
    if ground.spots:
        kept = np.isin(frames, seen_in(ground.spots, frames))
        frames, pixels = frames[kept], pixels[kept]
        pixels = steadied(pixels, frames, ground.spots, reference=reference_frame(ground))
    hidden = _gaps_at(frames, np.array([one.frame for one in hidden_in], dtype=float))
    hit = _gaps_at(frames, np.array([one.at for one in impacts]))
    breaks = np.union1d(hidden, hit)
    return _on_ground(ground, frames, pixels, breaks=breaks, impacts=hit)


def _gaps_at(frames: IntArray, moments: FloatArray) -> IntArray:
    """Between which marks moments lie, in frames: k for marks k and k + 1; none outside of them."""
    gaps = np.unique(np.searchsorted(frames, moments) - 1)
    return np.asarray(gaps[(gaps >= 0) & (gaps < len(frames) - 1)], dtype=np.int64)


def _on_ground(
    ground: Grounded,
    frames: IntArray,
    pixels: FloatArray,
    *,
    breaks: IntArray,
    impacts: IntArray,
) -> BodyMotion:
    flattening = ground.flattening
    times = ground.times[frames] if ground.kind.has_time else np.arange(1.0, len(frames) + 1)
    per_pixel = flattening.per_pixel(pixels) if len(pixels) else 0.0
    motion = Motion(
        times,
        ground.axes.to_world(pixels, flattening),
        heights=heights(pixels, flattening, up=ground.ground.up, zero=ground.height_zero),
        up=_up(ground),
        position_uncertainty=per_pixel * ground.ground.pixel_uncertainty,
        error_shapes=_error_shapes(ground, pixels),
        breaks=breaks,
        impacts=impacts,
        velocity_window=ground.ground.velocity_window,
    )
    return BodyMotion(frames, pixels, motion)


def _error_shapes(ground: Grounded, pixels: FloatArray) -> FloatArray | None:
    """How errors of the marks lie along the axes; None where they are round."""
    shapes = ground.flattening.error_shapes(pixels) if len(pixels) else None
    return None if shapes is None else np.asarray(ground.axes.matrix @ shapes, dtype=float)


def _up(ground: Grounded) -> tuple[float, float]:
    """The direction along the axes in which heights grow."""
    angle = ground.ground.up
    x, y = ground.axes.matrix @ (np.cos(angle), np.sin(angle))
    return float(x), float(y)


def _turning_by(body: BodyMotion, second: BodyMotion) -> BodyMotion:
    """A body with the turning that its second spot shows."""
    common, own, others = np.intersect1d(body.frames, second.frames, return_indices=True)
    arms = second.motion.positions[others] - body.motion.positions[own]
    old = body.motion
    if not len(common):
        return body
    how = turning(own, arms, position_uncertainty=old.position_uncertainty)
    made = Motion(
        old.times,
        old.positions,
        heights=old.heights,
        up=old.up,
        position_uncertainty=old.position_uncertainty,
        error_shapes=old.error_shapes,
        breaks=old.breaks,
        impacts=old.impacts,
        velocity_window=old.velocity_window,
        turning=how,
    )
    return BodyMotion(body.frames, body.pixels, made)


def _common(parts: list[tuple[Body, BodyMotion]]) -> tuple[IntArray, list[IntArray], IntArray]:
    """Frames in which all are marked, the rows of each there, and where one of them is hit."""
    frames = parts[0][1].frames
    for _, part in parts[1:]:
        frames = np.intersect1d(frames, part.frames)
    moments = [part.frames[part.motion.impacts] + 0.5 for _, part in parts]
    hit = _gaps_at(frames, np.concatenate(moments))
    return frames, [np.searchsorted(part.frames, frames) for _, part in parts], hit


def _centre(ground: Grounded, parts: list[tuple[Body, BodyMotion]]) -> BodyMotion:
    """Σ m r / Σ m, in the frames where all are marked."""
    without = [row.name for row, _ in parts if not (row.mass and is_readable(row.mass))]
    if without or len(parts) < 2:
        names = " and ".join(without) or "two bodies"
        return _empty(ground, f"The centre of mass needs the mass of {names}.")
    masses = np.array([_mass(row) for row, _ in parts])
    shares = masses / masses.sum()
    frames, rows, hit = _common(parts)
    moved = [part.motion for _, part in parts]
    positions = sum(
        share * motion.positions[at] for share, motion, at in zip(shares, moved, rows, strict=True)
    )
    high = sum(
        share * motion.heights[at] for share, motion, at in zip(shares, moved, rows, strict=True)
    )
    us = np.array([motion.position_uncertainty for motion in moved])
    u = float(np.sqrt(np.sum((shares * us) ** 2)))
    motion = Motion(
        ground.times[frames],
        np.asarray(positions),
        heights=np.asarray(high),
        up=_up(ground),
        position_uncertainty=u,
        breaks=hit,
        impacts=hit,
        velocity_window=ground.ground.velocity_window,
    )
    pixels = ground.axes.to_pixels(np.asarray(positions), ground.flattening)
    return BodyMotion(frames, pixels, motion)


def _relative(ground: Grounded, parts: list[tuple[Body, BodyMotion]]) -> BodyMotion:
    """The first seen from the second, in the frames where both are marked."""
    if len(parts) < 2:
        return _empty(ground, "One of the two bodies is not there any more.")
    frames, rows, hit = _common(parts)
    (_, one), (_, other) = parts
    positions = one.motion.positions[rows[0]] - other.motion.positions[rows[1]]
    high = one.motion.heights[rows[0]] - other.motion.heights[rows[1]]
    u = float(np.hypot(one.motion.position_uncertainty, other.motion.position_uncertainty))
    times = ground.times[frames]
    motion = Motion(
        times,
        positions,
        heights=high,
        up=_up(ground),
        position_uncertainty=u,
        breaks=hit,
        impacts=hit,
        velocity_window=ground.ground.velocity_window,
    )
    return BodyMotion(frames, one.pixels[rows[0]], motion)


def _empty(ground: Grounded, problem: str) -> BodyMotion:
    none = np.empty((0, 2))
    frames = np.empty(0, dtype=np.int64)
    bare = _on_ground(ground, frames, none, breaks=frames, impacts=frames)
    return BodyMotion(frames, none, bare.motion, problem)


def _mass(row: Body) -> float:
    """The mass of a body, which has one, in kilograms."""
    return to_si(read_number(row.mass or "", field="mass"), row.mass_unit or "kg").value
