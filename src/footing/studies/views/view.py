"""A study as a screen shows it: everything derived from its rows, in numbers and in words.

The state is that of one source at a time, the one on the stage; the others are listed.
"""

import json
from collections.abc import Sequence
from dataclasses import dataclass, replace

from footing.core.quantities import ON_FOOTAGE
from footing.store.access import ClassStudy
from footing.store.contents import surveyed_among
from footing.store.labs import LabTask, task_of
from footing.store.reading import read_study
from footing.store.rows import Graph, SeriesRule
from footing.store.snapshot import StudyRows
from footing.studies import door
from footing.studies.class_rules import may_follow, sketches_first, tells_meanings, tells_verdicts
from footing.studies.films.follows import follow_view
from footing.studies.model.columns import DataTable
from footing.studies.model.containing import contained
from footing.studies.model.fits import FitResult, NotFitted
from footing.studies.model.keys import SourceKey
from footing.studies.model.predictions import Predictions
from footing.studies.model.sources import FootageSource, SheetSource, Source, Sources
from footing.studies.school.people import Person
from footing.studies.shapes.fits import FitShape
from footing.studies.shapes.graphs import GraphShape
from footing.studies.shapes.lab import LabShape
from footing.studies.shapes.state import (
    GraphsShape,
    LedgerShape,
    ModelsShape,
    SharedShape,
    StateShape,
)
from footing.studies.shapes.tables import QuantityShape
from footing.studies.views import standing
from footing.studies.views.body_parts import measured_columns
from footing.studies.views.body_view import body_view
from footing.studies.views.checks import checks, no_checks, sheet_checks
from footing.studies.views.choices import (
    footage_quantities,
    other_series,
    passage_view,
    rows_view,
)
from footing.studies.views.finding_view import finding_view
from footing.studies.views.fit_view import comparisons, fit_view
from footing.studies.views.graph import graph_view, graphs_shown, say_what_is_what
from footing.studies.views.ground_view import ground_view
from footing.studies.views.guests import guests_of
from footing.studies.views.lab_view import lab_view
from footing.studies.views.ledger_view import impacts_view, ledger_view
from footing.studies.views.model_graph import lengths_of, lines_of
from footing.studies.views.model_view import ModelsShown, models_view
from footing.studies.views.sheet_view import column_views, quantity_views, sheet_view
from footing.studies.views.shown import EVERYTHING, Shown
from footing.studies.views.source_view import footage_view, sheet_line, source_line
from footing.studies.views.states import state, version_of
from footing.studies.views.steps_view import footage_steps, sheet_steps

FORMAT = 1  # of the state; another number where something that was there has gone or changed
_EMPTY: SharedShape = {
    "shown": None,
    "sources": [],
    "footage": None,
    "sheet": None,
    "ground": None,
    "bodies": [],
    "measured": [],
    "passages": [],
    "graphs": [],
    "fits": [],
    "choices": [],
    "findings": [],
    "checks": [],
    "columns": [],
    "study_quantities": [],
    "other_series": [],
    "quantities": [],
    "read_by_eye": [],
    "impacts": [],
    "ledger": None,
    "models": None,
    "lab": None,
    "steps": {},
}


def study_view(
    study: ClassStudy,
    person: Person,
    *,
    source: str | int | None = None,
    shown: Shown = EVERYTHING,
) -> StateShape:
    """The state of a study, JSON-ready, as seen from one of its sources.

    A function of the stored rows and of who asks (undo and redo are a person's own). A footage is
    named by its number, a sheet as ``s3``. Without a ``source``, or with one that is not there any
    more, it is seen from the first. Of bodies it holds what is ``shown``.
    """
    rows = read_study(study.id)
    undo, redo = door.undo_and_redo(study.id, person)
    known = Sources(rows)
    how = _How(
        study.school_class.series_look,
        tells_meanings(study, person),
        tells_verdicts(study, person),
        {row.id: known.sheet(row) for row in rows.sheets},
        shown,
        task_of(study.lab) if study.lab is not None else None,
        sketches_first(study, person),
        may_follow(study, person),
    )
    seen = _seen(known, SourceKey.read(source))
    version = _version(rows, seen, how)
    # nothing can be named by an edit before there is one
    shared = (
        _all_that_follows(known, seen, how)
        if rows.token is None
        else state(version, lambda: _all_that_follows(known, seen, how))
    )
    return {
        **shared,
        "format": FORMAT,
        "version": version,
        "id": study.id,
        "seq": rows.seq,
        "undo": undo,
        "redo": redo,
        "rules": {
            "series_look": study.school_class.series_look,
            "tells_meanings": study.lab is None or study.lab.tells_meanings,
            "tells_verdicts": study.lab is None or study.lab.tells_verdicts,
            "has_lab": study.lab is not None,
            "may_change": person.role == "teacher",
        },
        "follow": follow_view(seen.row.id) if isinstance(seen, FootageSource) else None,
    }


def _seen(known: Sources, wanted: SourceKey | None) -> Source | None:
    """The source that is wanted, or the first."""
    footages, sheets = known.rows.footages, known.rows.sheets
    for row in footages:
        if SourceKey("footage", row.id) == wanted:
            return known.footage(row)
    for sheet in sheets:
        if SourceKey("sheet", sheet.id) == wanted:
            return known.sheet(sheet)
    if footages:
        return known.footage(footages[0])
    return known.sheet(sheets[0]) if sheets else None


def _version(rows: StudyRows, seen: Source | None, how: "_How") -> str:
    """Names everything on which a state rests.

    Besides the edits these are what was found in the files since, and what the teacher laid down.
    """
    return version_of(
        rows.study_id,
        (rows.seq, rows.token),
        (type(seen).__name__, seen.row.id) if seen else None,
        sorted(surveyed_among(row.content for row in rows.footages)),
        json.dumps(how.look, sort_keys=True),
        how.meanings,
        how.verdicts,
        how.shown.names,
        how.task,
        how.sketch_first,
        how.follows,
    )


def _all_that_follows(known: Sources, seen: Source | None, how: "_How") -> SharedShape:
    """What is computed for a source, and what all sources share."""
    rows = known.rows
    found = _EMPTY
    if isinstance(seen, FootageSource):
        found = _seen_from_footage(seen, how)
    elif isinstance(seen, SheetSource):
        found = _seen_from_sheet(seen, how)
    if found["models"] is None and how.shown.models:
        beside = seen if isinstance(seen, SheetSource) else None
        found = {**found, "models": _models(known.predictions, None, how, beside)}
    for graph in found["graphs"]:
        say_what_is_what(graph)
    made: SharedShape = {
        **found,
        "shown": None if how.shown.names is None else list(how.shown.names),
        "sources": [source_line(row) for row in rows.footages]
        + [sheet_line(row) for row in rows.sheets],
        "other_series": other_series(rows),
        "findings": [finding_view(row, known.results) for row in known.findings],
        "study_quantities": quantity_views(rows),
        "lab": _lab(known, how),
    }
    if how.task is not None and _is_first(seen, rows):
        standing.note(rows, made, known.results)
    return made


def _is_first(seen: Source | None, rows: StudyRows) -> bool:
    """Whether this is what is seen where nobody has chosen a source."""
    first = next(iter((*rows.footages, *rows.sheets)), None)
    return first is None or (seen is not None and seen.row == first)


def _lab(known: Sources, how: "_How") -> LabShape | None:
    if how.task is None:
        return None
    return lab_view(how.task, known.rows, known.results, follows=how.follows)


@dataclass(frozen=True)
class _How:
    """How points look in the class, whether fits say what they mean and ledgers what they tell, all
    sheets by key, what is shown of bodies, what the lab asks for, whether graphs wait for a sketch,
    and whether bodies may be followed.
    """

    look: SeriesRule
    meanings: bool
    verdicts: bool
    sheets: dict[int, SheetSource]
    shown: Shown
    task: LabTask | None
    sketch_first: bool
    follows: bool


def _seen_from_footage(source: FootageSource, how: _How) -> SharedShape:
    ground, rows, results = source.ground, source.rows, source.fits
    measured = [(row, motion) for row, motion in source.bodies if not row.background]
    drawn = _graphs(source.tables, source.graphs, results, how)
    models = _models(source.predictions, source, how)
    if models is not None:
        _draw_models(source, drawn["graphs"])
    columns = column_views(source.columns, source.tables[0] if source.tables else None)
    return {
        **_EMPTY,
        "footage": footage_view(ground),
        "ground": ground_view(ground, rows.footages),
        "bodies": [
            body_view(row, rows, motion, ground, source.every_table[row.id], how.shown)
            for row, motion in source.bodies
        ],
        "measured": measured_columns(ground, source.bodies[0][1]) if source.bodies else [],
        "passages": [passage_view(row, ground) for row in source.passages.values()],
        **drawn,
        "checks": contained(
            lambda: checks(ground, rows, measured, results, drawn["graphs"], columns), no_checks
        ),
        "columns": columns,
        "quantities": footage_quantities(source),
        "read_by_eye": [{"id": one.id, "name": one.name} for one in rows.sheets_on(source.row)],
        "impacts": impacts_view(source),
        "ledger": _ledger(source, how),
        "models": models,
        "steps": footage_steps(ground, rows, results),
    }


def _ledger(source: FootageSource, how: _How) -> LedgerShape | None:
    """The ledgers where they are shown; a picture has none."""
    if not how.shown.ledger or not source.ground.kind.has_time:
        return None
    return contained(lambda: ledger_view(source, tells=how.verdicts), lambda _reason: None)


def _models(
    predictions: Predictions,
    source: FootageSource | None,
    how: _How,
    beside: SheetSource | None = None,
) -> ModelsShape | None:
    """The predicted motions where they are shown; nothing moves in a picture."""
    has_time = source is None or source.ground.kind.has_time
    if not how.shown.models or not has_time:
        return None
    shown = ModelsShown(how.shown.models_graph, how.verdicts)
    return contained(lambda: models_view(predictions, source, shown, beside), lambda _reason: None)


def _draw_models(source: FootageSource, graphs: list[GraphShape]) -> None:
    """Lay the models that are switched on over the graphs of what they predict."""
    lengths = lengths_of(source)
    for graph in graphs:
        for y in graph["ys"]:
            of = f"graph {graph['place']}"
            graph["lines"] += lines_of(source.predictions, lengths, graph["x"], y, of=of)


def _seen_from_sheet(source: SheetSource, how: _How) -> SharedShape:
    table = source.table
    columns: list[QuantityShape] = [
        {"key": key, "name": name, "symbol": symbol} for key, name, symbol in table.named
    ]
    drawn = _graphs([table], source.graphs, source.fits, how)
    made = column_views(table.columns, table)
    return {
        **_EMPTY,
        "sheet": sheet_view(table),
        "passages": [rows_view(row) for row in source.passages.values()],
        **drawn,
        "checks": contained(lambda: sheet_checks(made, drawn["graphs"], source.fits), no_checks),
        "columns": made,
        "quantities": columns,
        "steps": sheet_steps(table.rows, source.fits, source.rows),
    }


def _graphs(
    of: Sequence[DataTable], stored: Sequence[Graph], results: list[FitResult], how: _How
) -> GraphsShape:
    keys = of[0].keys if of else ON_FOOTAGE
    graphs = [
        graph_view(
            graph,
            of,
            results,
            look=how.look,
            guests=guests_of(graph.others, how.sheets),
            meanings=how.meanings,
            sketch_first=how.sketch_first,
        )
        for graph in graphs_shown(stored, keys, of)
    ]
    return {
        "graphs": graphs,
        "fits": [_fit_view(result, how) for result in results],
        "choices": comparisons(results),
    }


def _fit_view(result: FitResult, how: _How) -> FitShape:
    def without(reason: str) -> FitShape:
        return fit_view(replace(result, points=None, outcome=NotFitted(reason)))

    return contained(lambda: fit_view(result, meanings=how.meanings), without)
