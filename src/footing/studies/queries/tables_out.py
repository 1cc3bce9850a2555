"""Tables that go out, come in, and are looked at in pieces."""

import json
from dataclasses import replace
from pathlib import Path
from typing import Any, Literal
from uuid import uuid4

import numpy as np

from footing.core.dimensions import read_unit
from footing.core.errors import NotThere, Refused
from footing.core.findings import column_decimals
from footing.core.formulas.parsing import parse
from footing.core.formulas.printing import equation, mathml
from footing.core.formulas.syntax import WrongFormula
from footing.formats import reading, writing
from footing.store import cells
from footing.store.access import ClassStudy
from footing.store.database import connected
from footing.store.reading import read_study
from footing.store.rows import Body, Footage, Sheet
from footing.studies import door
from footing.studies.edits.sheets import AddSheet, NewColumn
from footing.studies.model.body_table import BodyTable
from footing.studies.model.keys import OwnerKey
from footing.studies.model.sheets import SheetTable, key_of, printed
from footing.studies.model.sources import Sources
from footing.studies.queries.table_parts import (
    EVERYTHING,
    FRAME,
    PIXELS,
    Table,
    Wanted,
    as_data,
    chosen,
    plain_lines,
)
from footing.studies.received import Received
from footing.studies.school.people import Person
from footing.words.formulas import note_said

MOST_CELLS = 20_000  # in one answer
MOST_ODS_CELLS = 200_000
_PREVIEW = 6  # rows
Form = Literal["csv", "tsv", "ods", "xlsx", "json"]
SEPARATORS = {"csv": ",", "tsv": "\t"}
SPREADSHEETS = {"ods": writing.as_ods, "xlsx": writing.as_xlsx}
MEDIA_TYPES: dict[Form, str] = {
    "csv": "text/csv; charset=utf-8",
    "tsv": "text/tab-separated-values; charset=utf-8",
    "ods": "application/vnd.oasis.opendocument.spreadsheet",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "json": "application/json",
}


def take_table(study: ClassStudy, person: Person, data: bytes, name: str) -> door.Accepted:
    """Make a sheet of a file or of pasted text, as an edit of this person.

    Raises
    ------
    Unreadable : if it is no table.
    """
    table = reading.read_table(data)
    width = len(table.headings)
    blocks: list[list[str]] = [[] for _ in range(width)]
    waiting: list[list[str]] = []
    rows = 0
    for row in table.rows:
        waiting.append(row)
        rows += 1
        if len(waiting) == cells.BLOCK:
            _put(blocks, waiting)
            waiting = []
    if waiting:
        _put(blocks, waiting)
    columns = tuple(
        NewColumn(name=one.name or one.symbol, symbol=one.symbol, unit=one.unit, blocks=tuple(keys))
        for one, keys in zip(table.headings, blocks, strict=True)
    )
    edit = AddSheet(name=name[:60] or "table", columns=columns, rows=rows)
    request = door.EditRequest(edit=edit, based_on=study.row.seq, token=uuid4().hex)
    return door.submit(study.id, person, request)


def _put(blocks: list[list[str]], rows: list[list[str]]) -> None:
    """Store a thousand rows, a block for each column."""
    for keys, key in zip(blocks, cells.put(zip(*rows, strict=True)), strict=True):
        keys.append(key)


def window(
    study: ClassStudy, sheet: int, first: int, count: int, columns: list[int]
) -> dict[str, Any]:
    """Some rows (from 0) of some columns of a sheet, as they are shown; all columns if none."""
    table = sheet_table(study.id, sheet)
    chosen = [one for one in table.columns if not columns or one.id in columns]
    count = min(count, MOST_CELLS // max(len(chosen), 1))
    last = min(first + count, table.rows)
    return {
        "first": first,
        "rows": max(last - first, 0),
        "cells": {key_of(one): table.shown(one, first, last) for one in chosen}
        | ({"t": table.shown_times(first, last)} if table.times is not None else {}),
    }


def sheet_table(study_id: int, sheet: int) -> SheetTable:
    """A sheet of a study.

    Raises
    ------
    NotThere : if the study has none of this key.
    """
    rows = read_study(study_id)
    return Sources(rows).sheet(rows.find(Sheet, sheet)).table


def any_table(study_id: int, owner: str) -> SheetTable | BodyTable:
    """The table of a body (``b7``) or of a sheet (``s3``)."""
    named = OwnerKey.read(owner)
    rows = read_study(study_id)
    kind: type[Body | Sheet] = Body if named.kind == "body" else Sheet
    row = rows.get(kind, named.id)
    if row is None:
        raise NotThere("The study has no such table.")
    return Sources(rows).table(row)


def table_file(
    study_id: int, owner: str, form: Form, folder: Path, wanted: Wanted = EVERYTHING
) -> tuple[str, Path]:
    """Write a table to a file of its own in ``folder``; give its name and where it is.

    A few thousand rows at a time, because a sheet may hold twenty million cells. It takes a
    connection of its own. Marks go along as pixels, too, where no columns were chosen.

    Raises
    ------
    Refused : if a spreadsheet of it would be too large to be made.
    NotThere : if there is no such table, or none of the columns is in it.
    """
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / uuid4().hex
    with connected():
        table = any_table(study_id, owner)
        if not wanted.columns and isinstance(table, BodyTable):
            wanted = replace(wanted, columns=(FRAME, *table.keys, *PIXELS))
        count = len(wanted.columns or table.keys) * len(table.numbers)
        if form not in SEPARATORS and count > MOST_ODS_CELLS:
            raise Refused(
                f"This table has {count} cells; a spreadsheet is made of {MOST_ODS_CELLS} at most. "
                "Take it as CSV, which has no such limit.",
                field="form",
            )
        try:
            _write(path, table, form, wanted)
        except BaseException:
            path.unlink(missing_ok=True)
            raise
    return f"{table.owner.name}.{form}", path


def _write(path: Path, table: Table, form: Form, wanted: Wanted) -> None:
    name = table.owner.name
    if form == "json":
        path.write_text(json.dumps(as_data(table, wanted), ensure_ascii=False), encoding="utf-8")
    elif form in SPREADSHEETS:
        headings, rows = chosen(table, wanted)
        path.write_bytes(SPREADSHEETS[form](name, headings, rows))
    elif wanted.plain:
        with path.open("w", newline="", encoding="ascii", errors="xmlcharrefreplace") as file:
            writing.lines(file, plain_lines(table, wanted), SEPARATORS[form])
    else:
        headings, rows = chosen(table, wanted)
        with path.open("w", newline="", encoding="utf-8") as file:
            writing.separated(file, headings, rows, SEPARATORS[form])


class Trial(Received):
    """A formula that is being typed, for a column of a sheet or of the bodies of a footage."""

    sheet: int | None = None
    footage: int | None = None
    symbol: str = ""
    formula: str
    unit: str = ""


def try_formula(study: ClassStudy, trial: Trial) -> dict[str, Any]:
    """What a formula would give: in print, its unit, its first values; or where it is wrong."""
    try:
        formula = parse(trial.formula)
        echo = equation(trial.symbol, formula) if trial.symbol else mathml(formula)
    except WrongFormula as error:
        return {"echo": "", "error": str(error), "span": list(error.span)}
    table = _table_of_trial(study, trial)
    if table is None:
        return {"echo": echo, "error": None, "unit": "", "values": [], "notes": []}
    unit = read_unit(trial.unit) if trial.unit else None
    try:
        found = table.computing.trial(trial.formula, unit=unit, symbol=trial.symbol)
    except WrongFormula as error:
        return {"echo": echo, "error": str(error), "span": list(error.span)}
    good = np.isfinite(found.values)
    decimals = column_decimals(found.values[good], found.uncertainties[good])
    return {
        "echo": echo,
        "error": None,
        "unit": str(found.unit),
        "notes": [note_said(note) for note in found.notes],
        "values": [printed(value, (decimals, "decimals")) for value in found.values[:_PREVIEW]],
    }


def _table_of_trial(study: ClassStudy, trial: Trial) -> SheetTable | BodyTable | None:
    if trial.sheet is not None:
        return sheet_table(study.id, trial.sheet)
    rows = read_study(study.id)
    bodies = Sources(rows).footage(rows.find(Footage, trial.footage or 0)).tables
    first = bodies[0] if bodies else None
    return first if isinstance(first, BodyTable) else None
