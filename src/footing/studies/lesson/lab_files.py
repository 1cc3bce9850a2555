"""A lab as one open file, so that teachers share labs.

A zip with ``lab.json``, as `LabFile` says, and the clips in ``media/`` under the SHA-256 of their
content. What groups start from is in ``start``: rows by table, with the fields that
`footing.store.rows` names, and the cells of sheets in ``cells``.
"""

import io
import zipfile
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, BinaryIO, Literal

from pydantic import BaseModel, ConfigDict, StringConstraints, ValidationError

from footing.core.errors import NotThere, Refused
from footing.settings import Settings
from footing.store import labs, records
from footing.store.reading import read_study
from footing.store.rows import Footage, Lab, Study
from footing.store.snapshot import StudyRows
from footing.studies.packing.archive import Opened, opened
from footing.studies.packing.media import put_media, take_media
from footing.studies.packing.rows import Cells, Tables, cells_out, rows_in, rows_out
from footing.studies.packing.showing import check_it_shows
from footing.studies.school import labs as making
from footing.studies.school.copying import fill
from footing.studies.school.labs import AskedFinding, LabWords
from footing.studies.school.people import Person

FORMAT: Literal[1] = 1
_LAB, _WHAT = "lab.json", "lab"


class LabFile(BaseModel):
    """What ``lab.json`` holds."""

    model_config = ConfigDict(extra="forbid")

    format: Literal[1]
    lab: LabWords
    findings: list[AskedFinding] = []
    questions: list[Annotated[str, StringConstraints(max_length=2000)]] = []
    start: Tables | None = None
    cells: Cells = {}


def taken_out(lab: Lab, settings: Settings) -> bytes:
    """A lab as a file."""
    task, start = labs.task_of(lab), labs.start_of(lab)
    rows = read_study(start.id) if start is not None else None
    content = LabFile(
        format=FORMAT,
        lab=making.words_of(lab),
        findings=[making.asked_of(one) for one in task.findings],
        questions=[one.words for one in task.questions],
        start=rows_out(rows) if rows is not None else None,
        cells=cells_out(rows) if rows is not None else {},
    )
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(_LAB, content.model_dump_json(indent=1))
        if rows is not None:
            put_media(archive, (one.content for one in rows.footages), settings)
    return made.getvalue()


def taken_in(file: Path | BinaryIO, class_id: int, person: Person, settings: Settings) -> Lab:
    """Make a lab of a file.

    Raises
    ------
    Refused : if it is no lab, is damaged, or holds what cannot be in a study.
    """
    with opened(file, _WHAT) as archive:
        found = _read(archive)
        lab = _with_words(found, class_id)
        if found.start is not None:
            _with_start(lab, found, archive, person, settings)
    return lab


def _read(archive: Opened) -> LabFile:
    plain = archive.plain(_LAB)
    if plain.get("format") != FORMAT:
        raise Refused(
            f"This lab has format {plain.get('format')}, and this Footing reads {FORMAT}.",
            field="file",
        )
    try:
        return LabFile.model_validate(plain)
    except (ValidationError, ValueError) as error:
        raise archive.refusal() from error


def _with_words(found: LabFile, class_id: int) -> Lab:
    lab = making.new_lab(class_id, found.lab.title)
    lab = making.change_lab(lab, found.lab)
    for asked in found.findings:
        making.ask_for(lab, asked)
    for words in found.questions:
        making.ask_in_words(lab, words)
    return lab


def _with_start(
    lab: Lab, found: LabFile, archive: Opened, person: Person, settings: Settings
) -> None:
    rows = rows_in(found.start or {}, found.cells, archive)
    for name in {row.content for row in rows if isinstance(row, Footage)}:
        take_media(archive, name, settings)
    start = Study(
        school_class_id=lab.school_class_id,
        lab_id=lab.id,
        title=lab.title,
        made_at=datetime.now(UTC),
    )
    made = records.add(start)
    try:
        fill(StudyRows(made.id, 0, None, rows), made.id, person, label="the lab's file")
    except (KeyError, ValueError, NotThere) as error:  # of references that lead nowhere
        raise archive.refusal("parts of it are missing.") from error
    records.change(lab, replace(lab, start_id=made.id))
    check_it_shows(made.id, person, archive)
