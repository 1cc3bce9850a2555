"""A study as a screen shows it: everything derived from its rows, in numbers and in words.

The state is that of one source at a time, the one on the stage; the others are listed.
"""

from typing import Any

from footing.core import findings
from footing.core.quantities import ON_A_PICTURE, ON_FOOTAGE, QUANTITIES, TURNING
from footing.core.timing import frame_position
from footing.store import tables
from footing.studies import door
from footing.studies.body_view import body_view, time_decimals
from footing.studies.checks import checks
from footing.studies.fits import FitResult, finding_view, fit_result, fit_view
from footing.studies.follows import follow_view
from footing.studies.graph import graph_view
from footing.studies.ground_view import ground_view
from footing.studies.grounds import Grounded, grounded, sources_of
from footing.studies.motions import BodyMotion, marked, motions
from footing.studies.people import Person
from footing.studies.source_view import footage_view, source_line

_EMPTY: dict[str, Any] = {
    "footage": None,
    "ground": None,
    "bodies": [],
    "follow": None,
    "passages": [],
    "fits": [],
    "findings": [],
    "checks": [],
    "quantities": [],
}


def study_view(study: Any, person: Person, *, source: int | None = None) -> dict[str, Any]:
    """The state of a study, JSON-ready, as seen from one of its sources.

    A function of the stored rows and of who asks (undo and redo are a person's own). Without a
    ``source``, or with one that is not there any more, it is seen from the first.
    """
    footages = sources_of(study.id)
    view: dict[str, Any] = {
        "id": study.id,
        "seq": study.seq,
        "undo": door.undo_label(study.id, person),
        "redo": door.redo_label(study.id, person),
        "sources": [source_line(row) for row in footages],
    }
    chosen = next((row for row in footages if row.id == source), None)
    if chosen is None:
        if not footages:
            return view | _EMPTY
        chosen = footages[0]
    return view | _seen_from(chosen, footages)


def _seen_from(footage: Any, footages: list[Any]) -> dict[str, Any]:
    study_id = footage.study_id
    ground = grounded(footage)
    known = marked(footage)
    marks = known.marks
    rows = _rows(tables.Body, footage=footage)
    moved = motions(ground, rows, known)
    bodies = [(row, moved[row.id]) for row in rows]
    measured = [(row, motion) for row, motion in bodies if not row.background]
    results = _results({row.id: motion for row, motion in bodies}, ground.length_unit)
    return {
        "footage": footage_view(ground),
        "ground": ground_view(ground, footages),
        "bodies": [body_view(row, known, motion, ground) for row, motion in bodies],
        "follow": follow_view(footage),
        "passages": [_passage_view(row, ground) for row in _rows(tables.Passage, footage=footage)],
        "graph": graph_view(
            _graph_choice(ground), measured, list(results.values()), length_unit=ground.length_unit
        ),
        "fits": [fit_view(result, length_unit=ground.length_unit) for result in results.values()],
        "findings": _findings(study_id, results, ground),
        "checks": checks(ground, marks, measured, list(results.values())),
        "quantities": _quantities(ground, bodies),
        "steps": _steps(ground, marks, results),
    }


def _results(motions: dict[int, BodyMotion], length_unit: str) -> dict[int, FitResult]:
    rows = tables.Fit.select().where(tables.Fit.body.in_(list(motions))).order_by(tables.Fit.id)
    return {row.id: fit_result(row, motions[row.body_id], length_unit=length_unit) for row in rows}


def _findings(
    study_id: int, results: dict[int, FitResult], ground: Grounded
) -> list[dict[str, Any]]:
    """All findings of the study; those of other sources are computed on their own ground."""
    found = []
    for row in _rows(tables.Finding, study=study_id):
        if row.fit_id in results:
            found.append(finding_view(row, results[row.fit_id], ground))
            continue
        fit = row.fit
        other = grounded(fit.body.footage)
        rows = _rows(tables.Body, footage=fit.body.footage)
        motion = motions(other, rows, marked(fit.body.footage))[fit.body_id]
        result = fit_result(fit, motion, length_unit=other.length_unit)
        found.append(finding_view(row, result, other))
    return found


def _passage_view(row: Any, ground: Grounded) -> dict[str, Any]:
    decimals = time_decimals(ground)
    moments = [frame_position(ground.times, frame) for frame in (row.first, row.last)]
    return {
        "id": row.id,
        "name": row.name,
        "first": row.first,
        "last": row.last,
        "text": " … ".join(findings.number(moment, decimals) for moment in moments) + " s",
    }


def _graph_choice(ground: Grounded) -> dict[str, Any]:
    row: Any = tables.Graph.get_or_none(tables.Graph.footage == ground.footage)
    if row is None:
        across = "x" if ground.is_picture else "t"
        return {"x": across, "y": "y", "include_zero": False}
    return {"x": row.x, "y": row.y, "include_zero": row.include_zero}


def _quantities(ground: Grounded, bodies: list[tuple[Any, BodyMotion]]) -> list[dict[str, str]]:
    """What a graph of this source can show; angles where a second spot shows them."""
    keys = ON_A_PICTURE if ground.is_picture else ON_FOOTAGE
    if not any(body.motion.turning for _, body in bodies):
        keys = tuple(key for key in keys if key not in TURNING)
    return [{"key": key, "name": QUANTITIES[key].name} for key in keys]


def _steps(
    ground: Grounded, marks: dict[int, list[Any]], results: dict[int, FitResult]
) -> dict[str, str]:
    """How far each step is: untouched, under way or done."""
    row = ground.ground
    touched = (
        row.zero_placed
        or ground.known_lengths
        or ground.plane_row
        or row.angle
        or row.zero_frame
        or row.clock != "file"
    )
    most = max((len(of_body) for of_body in marks.values()), default=0)
    enough = any(result.readings or result.parameters for result in results.values())
    return {
        "sources": "done",
        "ground": "done" if ground.has_unit and row.zero_placed else _under_way(touched),
        "mark": "done" if most >= 5 else _under_way(most),
        "graph": "done" if enough else _under_way(results),
    }


def _under_way(touched: Any) -> str:
    return "under way" if touched else "untouched"


def _rows(table: Any, **where: Any) -> list[Any]:
    ((name, value),) = where.items()
    return list(table.select().where(getattr(table, name) == value).order_by(table.id))
