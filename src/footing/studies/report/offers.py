"""What can be put into a report, from what the study has."""

from collections.abc import Iterator
from dataclasses import dataclass

from footing.store.labs import LabTask
from footing.store.rows import Footage, Sheet
from footing.store.snapshot import StudyRows
from footing.studies.report_keys import BlockKind


@dataclass(frozen=True)
class Offer:
    """Something that can be put in.

    group, name : what it is and which, in words
    shows : what is drawn over or on it, to begin with
    """

    group: str
    name: str
    block: BlockKind
    about: str = ""
    shows: tuple[str, ...] = ()
    columns: tuple[str, ...] = ()
    every: int = 1


def offers(rows: StudyRows, task: LabTask | None) -> Iterator[Offer]:
    """All that can be put in."""
    yield Offer("Words", "a text", BlockKind.TEXT)
    yield Offer("Words", "a heading", BlockKind.HEADING)
    yield Offer("Words", "the title", BlockKind.TITLE)
    if task is not None:
        yield Offer("Words", "the lab's question", BlockKind.QUESTION)
        for number, question in enumerate(task.questions, 1):
            yield Offer("Words", f"answer {number}", BlockKind.ANSWER, str(question.id))
    for footage in rows.footages:
        yield from _of_footage(rows, footage)
    for sheet in rows.sheets:
        yield from _of_sheet(rows, sheet)
    if rows.findings:
        yield Offer("Numbers", "all findings", BlockKind.FINDINGS)
        yield Offer("Numbers", "sources of uncertainty", BlockKind.BUDGETS)
    for finding in rows.findings:
        yield Offer("Numbers", finding.name, BlockKind.FINDING, str(finding.id))
    source = next((str(one.id) for one in rows.footages), None) or next(
        (f"s{one.id}" for one in rows.sheets), "0"
    )
    for finding in rows.findings:
        about = f"{source}/finding/{finding.id}"
        yield Offer("Workings", f"of {finding.name}", BlockKind.WORKING, about)
    for model in rows.models_on(None):
        yield Offer("Models", model.name, BlockKind.MODEL, str(model.id))


def _of_footage(rows: StudyRows, footage: Footage) -> Iterator[Offer]:
    key, name = str(footage.id), footage.name
    bodies = [one for one in rows.bodies_of(footage) if not one.background]
    marked = [one for one in bodies if len(rows.marks_of(one)) > 1]
    frame = rows.marks_of(marked[0])[0].frame if marked else footage.first
    yield Offer(
        "Pictures", f"set-up: {name}", BlockKind.FRAME, f"{key}/{frame}", ("ground", "path")
    )
    for body in marked:
        yield Offer("Pictures", f"strobe of {body.name}", BlockKind.STROBE, str(body.id), every=2)
    if marked:
        for number, place in enumerate(_places(rows, footage), 1):
            about = f"{key}/{place}"
            yield Offer("Graphs", f"graph {number} of {name}", BlockKind.GRAPH, about, ("results",))
    weighed = any(body.mass for body in bodies)
    if marked and weighed:
        yield Offer("Graphs", f"energies of {name}", BlockKind.ENERGIES, key)
    for body in marked:
        columns = ("t", "x", "y")
        yield Offer("Numbers", f"table of {body.name}", BlockKind.TABLE, f"b{body.id}", (), columns)
    fits = [fit for body in marked for fit in rows.fits_of(body)]
    for fit in fits:
        of = next(one.name for one in marked if one.id == fit.body_id)
        called = fit.label or f"{fit.curve} through {fit.y} of {of}"
        yield Offer("Numbers", f"fit: {called}", BlockKind.FIT, str(fit.id))
    if len(fits) > 1:
        yield Offer("Numbers", f"which curve, {name}", BlockKind.CHOICE, key)
    if weighed:
        yield Offer("Ledgers", f"energies of {name}", BlockKind.ACCOUNTS, key)
    for number, impact in enumerate(rows.impacts_on(footage), 1):
        yield Offer("Ledgers", f"momenta at impact {number}", BlockKind.MOMENTA, str(impact.id))
    for model in rows.models_on(footage):
        yield Offer("Models", model.name, BlockKind.MODEL, str(model.id))


def _of_sheet(rows: StudyRows, sheet: Sheet) -> Iterator[Offer]:
    key = f"s{sheet.id}"
    yield Offer("Numbers", f"table {sheet.name}", BlockKind.TABLE, key)
    if len(rows.columns_of(sheet)) > 1:
        for number, place in enumerate(_places(rows, sheet), 1):
            name = f"graph {number} of {sheet.name}"
            yield Offer("Graphs", name, BlockKind.GRAPH, f"{key}/{place}", ("results",))
    for fit in rows.fits_of(sheet):
        called = fit.label or f"{fit.curve} through {sheet.name}"
        yield Offer("Numbers", f"fit: {called}", BlockKind.FIT, str(fit.id))


def _places(rows: StudyRows, source: Footage | Sheet) -> list[int]:
    """The places of the graphs of a source; the first is there before anybody chose."""
    return [row.place for row in rows.graphs_of(source)] or [0]
