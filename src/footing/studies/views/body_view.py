"""A body as a screen shows it: its marks, its table, its lane."""

from functools import partial
from threading import Lock

import numpy as np
from cachetools import LRUCache, cached

from footing.core import findings
from footing.core.arrays import FloatArray, IntArray, by_value
from footing.core.following.prediction import Course
from footing.core.formulas.printing import split_symbol
from footing.core.oddities import Oddity, oddities
from footing.core.paths import Column
from footing.core.quantities import QUANTITIES, TURNING, QuantityKey
from footing.store.rows import Body, SheetColumn
from footing.store.snapshot import StudyRows
from footing.studies.model.body_table import BodyTable
from footing.studies.model.grounds import Grounded
from footing.studies.model.kept import Kept
from footing.studies.model.looks import LOOKS
from footing.studies.model.motions import BodyMotion
from footing.studies.model.sheets import key_of
from footing.studies.shapes import BodyShape, LaneShape, OddShape, TableColumnShape, TableShape
from footing.studies.views.doubts import stretches

_SHORT = 1e-3  # s, in which a body stays where the view is as it is at its mark
_IN_LANES: tuple[QuantityKey, ...] = ("x", "y", "s", "v", "phi", "th")
_REMEMBERED = 8  # marks, from which it is foreseen where the next will be
_MENTIONED = 0.2  # of the uncertainty, from which it is said that noise was taken off
_BODIES = 100  # of which odd marks are remembered
_GHOSTS = 12  # frames for which it is foreseen where a mark will be


def table_columns(ground: Grounded, body: BodyMotion) -> tuple[QuantityKey, ...]:
    """The columns of a table: heights where somebody said what they are, angles where they show."""
    row = ground.ground
    own_heights = row.levelled is not None or row.height_x is not None
    without: set[str] = set() if body.motion.turning else set(TURNING)
    if not own_heights:
        without.add("h")
    return tuple(key for key in ground.kind.shown if key not in without)


def body_view(
    row: Body, rows: StudyRows, body: BodyMotion, ground: Grounded, table: BodyTable
) -> BodyShape:
    """A body with its marks in pixels and its quantities in numbers as they are shown.

    That of a body that no edit touched is kept, unless columns that somebody made stand in its
    table, since these may rest on anything.
    """
    make = partial(_body_view, row, rows, body, ground, table)
    if table.columns:
        return make()
    of = (row, rows.marks_of(row), rows.hidden_of(row), rows.doubts_of(row))
    return _views.get(row.id, (*of, rows.members_of(row), body, ground), make)


_views: Kept[BodyShape] = Kept(64)


def _body_view(
    row: Body, rows: StudyRows, body: BodyMotion, ground: Grounded, table: BodyTable
) -> BodyShape:
    look, in_time = LOOKS[row.look], ground.kind.has_time
    columns = {key: body.motion.column(key) for key in table_columns(ground, body)}
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
        "table": _table(columns, ground, table),
        "lanes": _lanes(body) if in_time else {},
        "vectors": _vectors(body, ground) if in_time else {},
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


def _table(columns: dict[QuantityKey, Column], ground: Grounded, table: BodyTable) -> TableShape:
    texts = [table.shown(key) for key in columns]
    ends = [column.index[column.at_end].tolist() for column in columns.values()]
    shown: list[TableColumnShape] = [
        {**_column_view(key, ground), "note": _note(key, column, table)}
        for key, column in columns.items()
    ]
    for stored in table.columns:
        found = table.column(key_of(stored))
        if found is None:
            continue
        texts.append(table.shown(found.key))
        ends.append([])
        notes = " ".join(table.notes(found.key))
        shown.append({**_computed_view(stored, str(found.variable.unit)), "note": notes})
    return {
        "columns": shown,
        "rows": [list(cells) for cells in zip(*texts, strict=True)],
        "end_rows": [sorted(rows) for rows in ends],
    }


def _note(key: QuantityKey, column: Column, table: BodyTable) -> str:
    """What a reader should know about a measured column: how much noise was taken off."""
    added = table.body.motion.added(key)
    if not np.any(added > _MENTIONED * column.uncertainties):
        return ""
    most = findings.significant(float(added.max()), 2)
    return f"Noise makes sizes too large; up to {most} {table.unit(key)} was taken off."


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


def _lanes(body: BodyMotion) -> dict[str, LaneShape]:
    """Rows and values of the quantities that a lane can show."""
    keys = [key for key in _IN_LANES if body.motion.turning or key != "th"]
    found: dict[str, LaneShape] = {}
    for key in keys:
        column = body.motion.column(key)
        found[key] = {
            "rows": column.index.tolist(),
            "values": [float(f"{value:.6g}") for value in column.values.tolist()],
        }
    return found


def _vectors(body: BodyMotion, ground: Grounded) -> dict[str, list[list[float]]]:
    """Velocity and acceleration at the marks, as row and end of an arrow in pixels of the picture.

    The arrow shows what the body covers in a second, or gains in speed in a second squared; the
    page draws a share of it.
    """
    found = {}
    for name, (across, along) in {"v": ("vx", "vy"), "a": ("ax", "ay")}.items():
        x, y = (body.motion.column(key) for key in (across, along))  # type: ignore[arg-type]
        tips = body.motion.positions[x.index] + _SHORT * np.stack([x.values, y.values], axis=1)
        here = ground.axes.to_pixels(body.motion.positions[x.index], ground.flattening)
        arrows = (ground.axes.to_pixels(tips, ground.flattening) - here) / _SHORT
        found[name] = [
            [row, dx, dy]
            for row, (dx, dy) in zip(x.index.tolist(), arrows.round(2).tolist(), strict=True)
        ]
    return found


def _column_view(key: str, ground: Grounded) -> TableColumnShape:
    quantity = QUANTITIES[key]
    chosen = ground.footage.digits.get(key)
    return {
        "key": key,
        "name": quantity.name,
        "symbol": quantity.symbol,
        "subscript": quantity.subscript,
        "unit": quantity.dimension.unit(length=ground.length_unit),
        "digits": int(chosen[0]) if chosen else None,
        "digits_as": str(chosen[1]) if chosen else "decimals",
        "highlighted": key in ground.footage.highlighted,
    }


def _computed_view(column: SheetColumn, unit: str) -> TableColumnShape:
    symbol, below = split_symbol(column.symbol)
    return {
        "key": key_of(column),
        "name": column.name,
        "symbol": symbol,
        "subscript": below,
        "unit": unit,
        "computed": True,
        "highlighted": column.highlighted,
    }
