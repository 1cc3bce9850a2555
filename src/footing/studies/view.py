"""A study as a screen shows it: everything derived from its rows, in numbers and in words."""

from math import degrees, log10
from typing import Any

import numpy as np

from footing.core import findings
from footing.core.quantities import QUANTITIES
from footing.core.timing import frame_position
from footing.media.index import VideoIndex
from footing.store import tables
from footing.studies import door
from footing.studies.fits import FitResult, finding_view, fit_result, fit_view
from footing.studies.graph import graph_view
from footing.studies.looks import LOOKS
from footing.studies.motions import (
    BodyMotion,
    Grounded,
    grounded,
    marks_by_body,
    typed_length,
)
from footing.studies.people import Person

TABLE_COLUMNS = ("t", "x", "y", "vx", "vy", "v")
_FIRST_GRAPH = {"x": "t", "y": "y", "include_zero": False}


def study_view(study: Any, person: Person) -> dict[str, Any]:
    """The whole state of a study, JSON-ready.

    A function of the stored rows and of who asks (undo and redo are a person's own).
    """
    view: dict[str, Any] = {
        "id": study.id,
        "seq": study.seq,
        "undo": door.undo_label(study.id, person),
        "redo": door.redo_label(study.id, person),
    }
    ground = grounded(study.id)
    if ground is None:
        return view | {"footage": None, "bodies": [], "passages": [], "fits": [], "findings": []}
    marks = marks_by_body(study.id)
    bodies = [(row, ground.motion(marks.get(row.id, []))) for row in _rows(tables.Body, study.id)]
    motions = {row.id: motion for row, motion in bodies}
    results = {
        row.id: fit_result(row, motions[row.body_id], ground) for row in _rows(tables.Fit, study.id)
    }
    return view | {
        "footage": footage_view(ground),
        "ground": _ground_view(ground),
        "bodies": [
            _body_view(row, marks.get(row.id, []), motion, ground) for row, motion in bodies
        ],
        "passages": [_passage_view(row, ground) for row in _rows(tables.Passage, study.id)],
        "graph": graph_view(
            _graph_choice(study.id),
            bodies,
            list(results.values()),
            length_unit=ground.length_unit,
        ),
        "fits": [fit_view(result, length_unit=ground.length_unit) for result in results.values()],
        "findings": [
            finding_view(row, results[row.fit_id], ground)
            for row in _rows(tables.Finding, study.id)
        ],
        "steps": _steps(ground, marks, results),
    }


def footage_view(ground: Grounded) -> dict[str, Any]:
    """Footage with what its file says."""
    row, index = ground.footage, ground.index
    return {
        "id": row.id,
        "content": row.media_id,
        "name": row.name,
        "width": index.width,
        "height": index.height,
        "frames": index.frames,
        "first": row.first,
        "last": row.last,
        "stride": row.stride,
        "notes": list(index.notes),
        "facts": _file_facts(index),
        "times": [round(float(time), 6) for time in ground.times],
    }


def _file_facts(index: VideoIndex) -> list[list[str]]:
    rhythm = index.cadence
    facts = [["frames", str(index.frames)]]
    if index.frames > 1:
        facts += [
            ["length", f"{findings.significant(rhythm.duration, 4)} s"],
            ["rate", f"{findings.significant(rhythm.rate, 4)} frames/s"],
            [
                "steps",
                f"vary, {1000 * rhythm.shortest_step:.1f} to {1000 * rhythm.longest_step:.1f} ms"
                if rhythm.variable
                else "even",
            ],
        ]
    facts.append(["picture", f"{index.width} × {index.height} px"])
    if index.rotation:
        facts.append(["turned", f"{index.rotation}° clockwise, as the file says"])
    return facts


def _ground_view(ground: Grounded) -> dict[str, Any]:
    row = ground.ground
    scale = ground.scale
    return {
        "zero": [row.zero_x, row.zero_y],
        "zero_text": f"({row.zero_x:.1f}, {row.zero_y:.1f}) px",
        "zero_placed": row.zero_placed,
        "angle": row.angle,
        "angle_text": f"{round(degrees(row.angle), 2):g}".replace("-", "−"),
        "flip_x": row.flip_x,
        "flip_y": row.flip_y,
        "zero_frame": row.zero_frame,
        "pixel_uncertainty": f"{row.pixel_uncertainty:g}",
        "length_unit": ground.length_unit,
        "scale": scale
        and {
            "text": _scale_text(scale.value),
            "relative": f"{100 * scale.relative:.2g} %",
            "picture": f"{findings.significant(scale.value * ground.index.width, 3)} m wide",
            "disagree": scale.disagree,
        },
        "known_lengths": [_known_length_view(one) for one in ground.known_lengths],
    }


def _scale_text(metres_per_pixel: float) -> str:
    return f"1 px is {findings.significant(1000 * metres_per_pixel, 3)} mm"


def _known_length_view(row: Any) -> dict[str, Any]:
    return {
        "id": row.id,
        "frame": row.frame,
        "start": [row.start_x, row.start_y],
        "end": [row.end_x, row.end_y],
        "pixels": f"{np.hypot(row.end_x - row.start_x, row.end_y - row.start_y):.1f}",
        "typed": row.typed or "",
        "unit": row.unit or "m",
        "text": f"{row.typed} {row.unit}" if row.typed else "",
        "uncertainty": f"{typed_length(row).uncertainty:.2g} m" if row.typed else "",
    }


def _body_view(row: Any, marks: list[Any], body: BodyMotion, ground: Grounded) -> dict[str, Any]:
    look = LOOKS[row.look]
    columns = {key: body.motion.column(key) for key in TABLE_COLUMNS}  # type: ignore[arg-type]
    count = len(body.frames)
    texts, ends = [], []
    for key, column in columns.items():
        if key == "t":
            decimals = _time_decimals(ground.index)
        else:
            decimals = findings.column_decimals(column.values, column.uncertainties)
        cells = [""] * count
        for place, value in zip(column.index, column.values, strict=True):
            cells[place] = findings.number(float(value), decimals)
        texts.append(cells)
        ends.append({int(place) for place in column.index[column.at_end]})
    return {
        "id": row.id,
        "name": row.name,
        "colour": look.colour,
        "shape": look.shape,
        "path": look.path,
        "mass": row.mass or "",
        "mass_unit": row.mass_unit or "kg",
        "marks": [[mark.frame, mark.x, mark.y] for mark in marks],
        "counting": [int(frame) for frame in body.frames],
        "table": {
            "columns": [_column_view(key, ground) for key in TABLE_COLUMNS],
            "rows": [list(cells) for cells in zip(*texts, strict=True)],
            "end_rows": sorted(set().union(*ends)),
        },
        "lane": {
            "x": [float(value) for value in columns["x"].values],
            "y": [float(value) for value in columns["y"].values],
        },
    }


def _column_view(key: str, ground: Grounded) -> dict[str, str]:
    quantity = QUANTITIES[key]
    return {
        "key": key,
        "name": quantity.name,
        "symbol": quantity.symbol,
        "subscript": quantity.subscript,
        "unit": quantity.dimension.unit(length=ground.length_unit),
    }


def _time_decimals(index: VideoIndex) -> int:
    step = index.cadence.shortest_step
    return 3 if step == 0 else min(max(int(np.ceil(-log10(step))) + 1, 3), 6)


def _passage_view(row: Any, ground: Grounded) -> dict[str, Any]:
    decimals = _time_decimals(ground.index)
    moments = [frame_position(ground.times, frame) for frame in (row.first, row.last)]
    return {
        "id": row.id,
        "name": row.name,
        "first": row.first,
        "last": row.last,
        "text": " … ".join(findings.number(moment, decimals) for moment in moments) + " s",
    }


def _graph_choice(study_id: int) -> dict[str, Any]:
    row: Any = tables.Graph.get_or_none(tables.Graph.study == study_id)
    if row is None:
        return _FIRST_GRAPH
    return {"x": row.x, "y": row.y, "include_zero": row.include_zero}


def _steps(
    ground: Grounded, marks: dict[int, list[Any]], results: dict[int, FitResult]
) -> dict[str, str]:
    """How far each step is: untouched, under way or done."""
    row = ground.ground
    touched = row.zero_placed or bool(ground.known_lengths) or row.angle or row.zero_frame
    most = max((len(of_body) for of_body in marks.values()), default=0)
    enough = any(result.readings or result.parameters for result in results.values())
    return {
        "sources": "done",
        "ground": "done" if ground.scale and row.zero_placed else _under_way(touched),
        "mark": "done" if most >= 5 else _under_way(most),
        "graph": "done" if enough else _under_way(results),
    }


def _under_way(touched: Any) -> str:
    return "under way" if touched else "untouched"


def _rows(table: Any, study_id: int) -> list[Any]:
    return list(table.select().where(table.study == study_id).order_by(table.id))
