"""How far each step of a study is: untouched, under way or done."""

from collections.abc import Sequence

from footing.store.rows import MotionModel
from footing.store.snapshot import StudyRows
from footing.studies.model.fits import FitResult
from footing.studies.model.grounds import Grounded
from footing.studies.report_keys import BlockKind


def sheet_steps(filled: int, fits: Sequence[FitResult], rows: StudyRows) -> dict[str, str]:
    """The steps of a sheet with so many rows."""
    enough = any(result.parameters for result in fits)
    return {
        "sources": "done",
        "mark": "done" if filled >= 3 else _under_way(filled),
        "graph": "done" if enough else _under_way(fits),
        "model": _models_stand(rows.models_on(None), rows),
        "report": _report_stands(rows),
    }


def footage_steps(
    ground: Grounded, rows: StudyRows, results: Sequence[FitResult]
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
    bodies = rows.bodies_of(ground.footage)
    most = max((len(rows.marks_of(body)) for body in bodies), default=0)
    enough = any(result.readings or result.parameters for result in results)
    return {
        "sources": "done",
        "ground": "done" if ground.has_unit and row.zero_placed else _under_way(touched),
        "mark": "done" if most >= 5 else _under_way(most),
        "graph": "done" if enough else _under_way(results),
        "model": _models_stand(rows.models_on(ground.footage), rows),
        "ledger": _ledger_stands(ground, rows),
        "report": _report_stands(rows),
    }


def _models_stand(models: Sequence[MotionModel], rows: StudyRows) -> str:
    """How far the models are: under way with one, done with a finding from one."""
    if any(rows.findings_from(one) for one in models):
        return "done"
    return _under_way(models)


def _ledger_stands(ground: Grounded, rows: StudyRows) -> str:
    """How far the ledgers are: under way with an impact or a setting, done with a verdict."""
    impacts = rows.impacts_on(ground.footage)
    energies = rows.energy_ledger_of(ground.footage)
    momenta = [rows.momentum_ledger_of(impact) for impact in impacts]
    touched = [one for one in (energies, *momenta) if one is not None]
    weighed = any(row.mass for row in rows.bodies_of(ground.footage))
    if weighed and any(one.verdict for one in touched):
        return "done"
    return _under_way(touched or impacts)


def _report_stands(rows: StudyRows) -> str:
    """How far the report is: under way with a block, done when no text is left to be written."""
    texts = [block for block in rows.report if block.kind == BlockKind.TEXT]
    if texts and all(block.words.strip() for block in texts):
        return "done"
    return _under_way(rows.report)


def _under_way(touched: object) -> str:
    return "under way" if touched else "untouched"
