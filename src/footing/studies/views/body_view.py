"""A body as a screen shows it: its marks, how each was made, and what waits for an answer."""

from functools import partial
from threading import Lock

import numpy as np
from cachetools import LRUCache, cached

from footing.core.arrays import FloatArray, IntArray, by_value
from footing.core.following.prediction import Course
from footing.core.oddities import Oddity, oddities
from footing.store.rows import Body
from footing.store.snapshot import StudyRows
from footing.studies.model.body_table import BodyTable
from footing.studies.model.grounds import Grounded
from footing.studies.model.kept import Kept
from footing.studies.model.looks import LOOKS
from footing.studies.model.motions import BodyMotion
from footing.studies.shapes.bodies import BodyHead, BodyShape, OddShape
from footing.studies.views.body_parts import arrows_view, lanes_view, table_view
from footing.studies.views.doubts import stretches
from footing.studies.views.shown import EVERYTHING, Shown

_REMEMBERED = 8  # marks, from which it is foreseen where the next will be
_BODIES = 100  # of which odd marks are remembered
_GHOSTS = 12  # frames for which it is foreseen where a mark will be


def body_view(
    row: Body,
    rows: StudyRows,
    body: BodyMotion,
    ground: Grounded,
    table: BodyTable,
    shown: Shown = EVERYTHING,
) -> BodyShape:
    """A body with its marks in pixels and, where they are shown, its quantities as printed.

    What an edit did not touch is kept.
    """
    marked = (row, rows.marks_of(row), rows.hidden_of(row), rows.doubts_of(row))
    of = (*marked, rows.members_of(row), body, ground)

    def make() -> BodyShape:
        in_time = ground.kind.has_time
        return {
            **_heads.get(row.id, of, partial(_head, row, rows, body, ground)),
            "table": table_view(table) if shown.table(row.id) else None,
            "lanes": lanes_view(table, shown) if in_time else {},
            "vectors": arrows_view(table, shown) if in_time else {},
        }

    if table.columns and shown.table(row.id):  # these may rest on anything
        return make()
    return _bodies.get((row.id, shown), of, make)


_bodies: Kept[BodyShape] = Kept(100)
_heads: Kept[BodyHead] = Kept(64)


def _head(row: Body, rows: StudyRows, body: BodyMotion, ground: Grounded) -> BodyHead:
    look, in_time = LOOKS[row.look], ground.kind.has_time
    return {
        "id": row.id,
        "name": row.name,
        "background": row.background,
        "kind": row.kind,
        "second_of": row.second_of_id,
        "members": [member.other_id for member in rows.members_of(row)],
        "problem": body.problem,
        "look": row.look,
        "colour": look.colour,
        "shape": look.shape,
        "path": look.path,
        "mass": row.mass or "",
        "mass_unit": row.mass_unit or "kg",
        "size": row.size or "",
        "size_unit": row.size_unit or "cm",
        "spot": row.spot or "",
        "first": row.first,
        "last": row.last,
        "stride": row.stride,
        "marks": _marks(row, rows, body),
        "qualities": _qualities(row, rows),
        "aside": [mark.frame for mark in rows.marks_of(row) if mark.aside],
        "reasons": {mark.frame: mark.reason or "" for mark in rows.marks_of(row) if mark.aside},
        "hidden": [one.frame for one in rows.hidden_of(row)],
        "doubts": [[one.frame, one.x, one.y, one.quality] for one in rows.doubts_of(row)],
        "asked": stretches(rows.doubts_of(row), row.stride or ground.footage.stride),
        "counting": [int(frame) for frame in body.frames],
        "odd": _odd(body, ground) if in_time else [],
        "ghosts": _ghosts(row, rows, ground) if in_time and row.kind == "marked" else [],
    }


def _marks(row: Body, rows: StudyRows, body: BodyMotion) -> list[list[float]]:
    """Frame, x and y of each mark; a centre of mass is where it is computed."""
    if row.kind == "relative":
        return []
    if row.kind == "centre":
        return [
            [int(frame), float(x), float(y)]
            for frame, (x, y) in zip(body.frames, body.pixels, strict=True)
        ]
    return [[mark.frame, mark.x, mark.y] for mark in rows.marks_of(row)]


def _qualities(row: Body, rows: StudyRows) -> dict[int, float]:
    """Quality of each mark that was made by following, by frame."""
    marks = rows.marks_of(row)
    return {mark.frame: round(mark.quality, 3) for mark in marks if mark.quality is not None}


def _odd(body: BodyMotion, ground: Grounded) -> list[OddShape]:
    """Odd marks, and what is odd about them."""
    repeated = frozenset(ground.survey["repeated"] if ground.survey else ())
    times = ground.times[body.frames]
    said = {
        "slip": "is {off:.0f} px away from where its neighbours put it",
        "jump": "begins a jump of {off:.0f} px; perhaps it belongs to another body",
        "repeated": "is in a frame that repeats the one before",
    }
    return [
        {
            "frame": one.frame,
            "kind": one.kind,
            "said": f"The mark in frame {one.frame} {said[one.kind].format(off=one.off)}.",
        }
        for one in _oddities(body.frames, body.pixels, times, repeated)
    ]


@cached(LRUCache(_BODIES), key=by_value, lock=Lock())
def _oddities(
    frames: IntArray, pixels: FloatArray, times: FloatArray, repeated: frozenset[int]
) -> list[Oddity]:
    """Odd marks; those of a body that no edit touched are known already."""
    return oddities(frames, pixels, times, repeated=repeated)


def _ghosts(row: Body, rows: StudyRows, ground: Grounded) -> list[list[float]]:
    """Where the motion so far puts the marks of the next frames, and of those left out."""
    marks = rows.marks_of(row)
    if len(marks) < 2:
        return []
    course = Course()
    for mark in marks[-_REMEMBERED:]:
        course.add(mark.frame, (mark.x, mark.y))
    last = marks[-1].frame
    step = row.stride or ground.footage.stride
    ahead = range(last + 1, min(last + _GHOSTS * step, ground.index.frames - 1) + 1)
    found = [[frame, *course.foreseen(frame)[0]] for frame in ahead]
    frames = np.array([mark.frame for mark in marks])
    missing = np.setdiff1d(np.arange(frames[0], last), frames)
    xs = np.interp(missing, frames, [mark.x for mark in marks])
    ys = np.interp(missing, frames, [mark.y for mark in marks])
    found += [[int(n), float(x), float(y)] for n, x, y in zip(missing, xs, ys, strict=True)]
    return [[round(value, 2) for value in one] for one in found]
