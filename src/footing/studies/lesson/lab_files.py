"""A lab as one open file, so that teachers share labs.

A zip with ``lab.json``, as `LabFile` says, and the clips in ``media/`` under the SHA-256 of their
content. What groups start from is in ``start``: rows by table, with the fields that
`footing.store.rows` names, and the cells of sheets in ``cells``.
"""

import io
import json
import tempfile
import zipfile
from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, Literal

from pydantic import (
    BaseModel,
    ConfigDict,
    JsonValue,
    StringConstraints,
    TypeAdapter,
    ValidationError,
)

from footing.core.errors import FootingError, Refused
from footing.settings import Settings
from footing.store import cells, labs, records
from footing.store.access import class_study
from footing.store.mapping import CONTENT, table_name
from footing.store.media import media_path
from footing.store.reading import read_study
from footing.store.rows import (
    Answer,
    Footage,
    Lab,
    Row,
    SheetColumn,
    Study,
    key_of_row,
)
from footing.store.snapshot import StudyRows
from footing.studies.films import uploads
from footing.studies.received import checked
from footing.studies.school import labs as making
from footing.studies.school.copying import fill
from footing.studies.school.labs import AskedFinding, LabWords
from footing.studies.school.people import Person
from footing.studies.views.view import study_view

FORMAT: Literal[1] = 1
_LAB, _MEDIA = "lab.json", "media/"
_MOST_ROWS = 50_000
_LARGEST_TEXT = 50 * 2**20  # bytes of lab.json, unpacked
_GIVEN = [kind for kind in CONTENT if kind is not Answer]
_TYPES = {table_name(kind): (kind, TypeAdapter(kind)) for kind in _GIVEN}
_NO_LAB = "This is no lab of Footing, or it is damaged"


class LabFile(BaseModel):
    """What ``lab.json`` holds."""

    model_config = ConfigDict(extra="forbid")

    format: Literal[1]
    lab: LabWords
    findings: list[AskedFinding] = []
    questions: list[Annotated[str, StringConstraints(max_length=2000)]] = []
    start: dict[str, list[dict[str, JsonValue]]] | None = None
    cells: dict[int, list[str]] = {}


def taken_out(lab: Lab, settings: Settings) -> bytes:
    """A lab as a file."""
    task, start = labs.task_of(lab), labs.start_of(lab)
    rows = read_study(start.id) if start is not None else None
    content = LabFile(
        format=FORMAT,
        lab=LabWords(
            title=lab.title,
            task=lab.task,
            instructions=lab.instructions,
            follows=lab.follows,
            tells_meanings=lab.tells_meanings,
            tells_verdicts=lab.tells_verdicts,
            sketch_first=lab.sketch_first,
        ),
        findings=[
            AskedFinding(
                name=one.name,
                quantity=one.quantity,
                unit=one.unit,
                accepted=one.accepted or "",
                tolerance=one.tolerance or "",
                shown=one.shown,
            )
            for one in task.findings
        ],
        questions=[one.words for one in task.questions],
        start=_rows_out(rows) if rows is not None else None,
        cells=_cells_out(rows) if rows is not None else {},
    )
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(_LAB, content.model_dump_json(indent=1))
        for name in {one.content for one in rows.footages} if rows is not None else ():
            archive.write(
                media_path(settings.media_folder, name), _MEDIA + name, zipfile.ZIP_STORED
            )
    return made.getvalue()


def _rows_out(rows: StudyRows) -> dict[str, list[dict[str, JsonValue]]]:
    found: dict[str, list[dict[str, JsonValue]]] = {}
    for table, (kind, adapter) in _TYPES.items():
        plain = [adapter.dump_python(row, mode="json") for row in rows.all(kind)]
        if plain:
            found[table] = plain
    return found


def _cells_out(rows: StudyRows) -> dict[int, list[str]]:
    long = {sheet.id: sheet.rows for sheet in rows.sheets}
    return {
        column.id: cells.texts(column.blocks, long[column.sheet_id])
        for column in rows.all(SheetColumn)
        if column.blocks
    }


def taken_in(content: bytes, class_id: int, person: Person, settings: Settings) -> Lab:
    """Make a lab of a file.

    Raises
    ------
    Refused : if it is no lab, is damaged, or holds what cannot be in a study.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            found = _read(archive)
            lab = _with_words(found, class_id)
            if found.start is not None:
                _with_start(lab, found, archive, person, settings)
    except (zipfile.BadZipFile, KeyError, NotImplementedError, RuntimeError) as error:
        raise Refused(f"{_NO_LAB}.", field="file") from error
    return lab


def _read(archive: zipfile.ZipFile) -> LabFile:
    if archive.getinfo(_LAB).file_size > _LARGEST_TEXT:
        raise Refused("This lab is too large.", field="file")
    try:
        plain = json.loads(archive.read(_LAB))
        if isinstance(plain, dict) and plain.get("format") != FORMAT:
            raise Refused(
                f"This lab has format {plain.get('format')}, and this Footing reads {FORMAT}.",
                field="file",
            )
        return LabFile.model_validate(plain)
    except (ValidationError, ValueError) as error:
        raise Refused(f"{_NO_LAB}.", field="file") from error


def _with_words(found: LabFile, class_id: int) -> Lab:
    lab = making.new_lab(class_id, found.lab.title)
    lab = making.change_lab(lab, found.lab)
    for asked in found.findings:
        making.ask_for(lab, asked)
    for words in found.questions:
        making.ask_in_words(lab, words)
    return lab


def _with_start(
    lab: Lab, found: LabFile, archive: zipfile.ZipFile, person: Person, settings: Settings
) -> None:
    rows = _rows_in(found)
    for name in {row.content for row in rows if isinstance(row, Footage)}:
        _take_media(archive, name, settings)
    start = Study(
        school_class_id=lab.school_class_id,
        lab_id=lab.id,
        title=lab.title,
        made_at=datetime.now(UTC),
    )
    made = records.add(start)
    try:
        fill(StudyRows(made.id, 0, None, rows), made.id, person, label="the lab's file")
    except (KeyError, ValueError) as error:  # of references that lead nowhere
        raise Refused(f"{_NO_LAB}: parts of it are missing.", field="file") from error
    records.change(lab, replace(lab, start_id=made.id))
    _check_it_shows(made, person)


def _rows_in(found: LabFile) -> list[Row]:
    tables = found.start or {}
    if not set(tables) <= set(_TYPES) or sum(map(len, tables.values())) > _MOST_ROWS:
        raise Refused(f"{_NO_LAB}.", field="file")
    rows: list[Row] = []
    for table, (_, adapter) in _TYPES.items():
        for plain in tables.get(table, ()):
            try:
                row = adapter.validate_python(checked(plain))
            except ValidationError as error:
                raise Refused(f"{_NO_LAB}, in {table}.", field="file") from error
            if isinstance(row, SheetColumn):
                row = replace(row, blocks=_blocks(found.cells.get(row.id, ())))
            rows.append(row)
    if len({(type(row), key_of_row(row)) for row in rows}) != len(rows):
        raise Refused(f"{_NO_LAB}: a key is there twice.", field="file")
    return rows


def _blocks(texts: Sequence[str]) -> list[str]:
    return cells.put_column([" ".join(text.split()) for text in texts])


def _take_media(archive: zipfile.ZipFile, name: str, settings: Settings) -> None:
    """Keep a clip of the file, looked at as any other that comes in."""
    info = archive.getinfo(_MEDIA + name)
    if info.file_size > settings.upload_megabytes * 2**20:
        raise Refused("A clip of this lab is too large.", field="file")
    with tempfile.TemporaryDirectory() as folder:
        file = Path(folder) / "clip"
        file.write_bytes(archive.read(info))
        if uploads.take_in(file, settings) != name:
            raise Refused(f"{_NO_LAB}: a clip is not the one that it says.", field="file")


def _check_it_shows(start: Study, person: Person) -> None:
    """Have everything computed that a page would show, so that a bad file is refused here."""
    study = class_study(start.id)
    assert study is not None
    rows = read_study(start.id)
    sources = [*(str(row.id) for row in rows.footages), *(f"s{row.id}" for row in rows.sheets)]
    for source in sources:
        try:
            study_view(study, person, source=source)
        except FootingError as error:
            raise Refused(f"{_NO_LAB}: {error}", field="file") from error
        except (ArithmeticError, LookupError, TypeError, ValueError) as error:
            raise Refused(f"{_NO_LAB}.", field="file") from error
