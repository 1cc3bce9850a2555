"""A study as one open archive (format 1): a zip that any program can read.

``study.json`` holds what was made, as `StudyFile` says: rows by table, cells of sheets, answers in
words. ``numbers.json`` are the results, ``tables/`` every table with units in its header,
``media/`` the films and pictures under the SHA-256 of their content. Only ``study.json`` and
``media/`` are read again; all numbers follow from them.
"""

import json
import zipfile
from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, BinaryIO, Literal
from uuid import uuid4

from pydantic import BaseModel, ConfigDict, JsonValue, StringConstraints, ValidationError

from footing import __version__
from footing.core.errors import NotThere, Refused
from footing.formats.writing import as_csv, sheet_name
from footing.settings import Settings
from footing.store import labs, records
from footing.store.access import ClassStudy, class_study
from footing.store.copying import Keys
from footing.store.database import connected
from footing.store.labs import LabTask
from footing.store.reading import read_study
from footing.store.rows import Answer, Body, ReportBlock, Row, Sheet, Study
from footing.store.snapshot import StudyRows
from footing.studies.model.sources import Sources
from footing.studies.packing.archive import Opened, opened
from footing.studies.packing.media import put_media, take_media
from footing.studies.packing.rows import Cells, Tables, cells_out, rows_in, rows_out
from footing.studies.packing.showing import check_it_shows
from footing.studies.queries.table_parts import chosen
from footing.studies.report_keys import BlockKind
from footing.studies.review.numbers import numbers_of
from footing.studies.school.copying import fill
from footing.studies.school.people import Person

FORMAT: Literal[1] = 1
STUDY, _NUMBERS, _TABLES = "study.json", "numbers.json", "tables/"
_WHAT = "study"
Title = Annotated[str, StringConstraints(min_length=1, max_length=120)]


class AnsweredQuestion(BaseModel):
    """A question of the study's lab, and what the study answers."""

    model_config = ConfigDict(extra="forbid")

    key: int
    question: Annotated[str, StringConstraints(max_length=2000)]
    words: Annotated[str, StringConstraints(max_length=20_000)] = ""


class StudyFile(BaseModel):
    """What ``study.json`` holds.

    made_by : the version of Footing; lab, group, names : as they were called, for people
    rows : by table, each with its fields; cells : of typed columns, by the key of the column
    answers : to the questions of the lab
    """

    model_config = ConfigDict(extra="forbid")

    format: Literal[1]
    made_by: Annotated[str, StringConstraints(max_length=40)] = ""
    title: Title
    lab: Annotated[str, StringConstraints(max_length=120)] = ""
    group: Annotated[str, StringConstraints(max_length=120)] = ""
    rows: Tables
    cells: Cells = {}
    answers: list[AnsweredQuestion] = []


def study_file(study: ClassStudy) -> StudyFile:
    """What a study is, as data."""
    rows = read_study(study.id)
    task = labs.task_of(study.lab) if study.lab is not None else None
    return StudyFile(
        format=FORMAT,
        made_by=__version__,
        title=study.title,
        lab=study.lab.title if study.lab is not None else "",
        group=study.group.name if study.group is not None else "",
        rows=rows_out(rows),
        cells=cells_out(rows),
        answers=_answers(rows, task),
    )


def _answers(rows: StudyRows, task: LabTask | None) -> list[AnsweredQuestion]:
    words = {row.question_id: row.words for row in rows.all(Answer)}
    return [
        AnsweredQuestion(key=one.id, question=one.words, words=words.get(one.id, ""))
        for one in (task.questions if task else ())
    ]


def write_study(study_id: int, person: Person, settings: Settings) -> tuple[str, Path]:
    """Write the archive of a study to a file of its own; give what it is called, and where it is.

    A film is never in memory as a whole. It takes a connection of its own.
    """
    settings.made_folder.mkdir(parents=True, exist_ok=True)
    path = settings.made_folder / uuid4().hex
    with connected():
        study = class_study(study_id)
        assert study is not None
        try:
            with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
                archive.writestr(STUDY, study_file(study).model_dump_json(indent=1))
                numbers = json.dumps(numbers_of(study, person), indent=1, ensure_ascii=False)
                archive.writestr(_NUMBERS, numbers)
                rows = read_study(study.id)
                for name, content in _tables(rows):
                    archive.writestr(_TABLES + name, content)
                put_media(archive, (one.content for one in rows.footages), settings)
        except BaseException:
            path.unlink(missing_ok=True)
            raise
    return f"{study.title}.footing-study.zip", path


def _tables(rows: StudyRows) -> Iterable[tuple[str, bytes]]:
    """Every table of a study as CSV, by a name for its file."""
    sources, taken = Sources(rows), set[str]()
    bodies = [one for of in rows.footages for one in rows.bodies_of(of) if rows.marks_of(one)]
    owners: list[Body | Sheet] = [*bodies, *rows.sheets]
    for owner in owners:
        table = sources.table(owner)
        if table.keys:
            name = sheet_name(owner.name, taken)
            yield f"{name}.csv", as_csv(*chosen(table))


def read_in(
    file: Path | BinaryIO,
    class_id: int,
    person: Person,
    settings: Settings,
    *,
    lab_id: int | None = None,
) -> int:
    """Make a study of an archive; give its key.

    Parameters
    ----------
    lab_id : to which it will belong

    Raises
    ------
    Refused : if it is none, is damaged, or holds what cannot be in a study.
    """
    with opened(file, _WHAT) as archive:
        found = parsed(archive.plain(STUDY), archive)
        for content in contents_of(found):
            take_media(archive, content, settings)
        study = Study(
            school_class_id=class_id,
            lab_id=lab_id,
            title=found.title[:80],
            made_at=datetime.now(UTC),
        )
        made, _ = put_in(study, found, person, archive)
        check_it_shows(made, person, archive)
    return made


def parsed(plain: dict[str, JsonValue], archive: Opened) -> StudyFile:
    """What a file says a study is.

    Raises
    ------
    Refused : if that cannot be, or is of another format.
    """
    if plain.get("format") != FORMAT:
        raise Refused(
            f"This study has format {plain.get('format')}, and this Footing reads {FORMAT}. A "
            "newer Footing can read it.",
            field="file",
        )
    try:
        return StudyFile.model_validate(plain)
    except (ValidationError, ValueError) as error:
        raise archive.refusal() from error


def contents_of(found: StudyFile) -> list[str]:
    """The films and pictures that a study of a file names."""
    named = (row.get("content") for row in found.rows.get("footage", ()))
    return list(dict.fromkeys(str(content) for content in named))


def put_in(study: Study, found: StudyFile, person: Person, archive: Opened) -> tuple[int, Keys]:
    """Store a study of a file; give its key, and those of its rows by the keys of the file.

    Raises
    ------
    Refused : if something in it leads nowhere.
    """
    rows = rows_in(found.rows, found.cells, archive)
    made = records.add(study)
    task = labs.task_of_study(made.id)
    by_words = {one.words: one.id for one in (task.questions if task else ())}
    questions = {one.key: by_words.get(one.question) for one in found.answers}
    asked = {one.key: one for one in found.answers}
    rows = [_answered(row, asked, questions) for row in rows]
    rows += [
        Answer(id=place, study_id=0, question_id=key, words=one.words)
        for place, one in enumerate(found.answers, 1)
        if one.words and (key := questions[one.key]) is not None
    ]
    label = f"the file of “{found.title}”"
    try:
        keys = fill(StudyRows(made.id, 0, None, rows), made.id, person, label=label)
    except (KeyError, ValueError, NotThere) as error:  # of references that lead nowhere
        raise archive.refusal("parts of it are missing.") from error
    return made.id, keys


def _answered(
    row: Row,
    asked: Mapping[int, AnsweredQuestion],
    questions: Mapping[int, int | None],
) -> Row:
    """A block that shows an answer: by the question that the lab here has, or in words.

    A lab that does not ask the question has no place for the answer but the report.
    """
    if not isinstance(row, ReportBlock) or row.kind != BlockKind.ANSWER:
        return row
    one = asked.get(int(row.about)) if row.about.isdecimal() else None
    if one is None:
        return row
    key = questions[one.key]
    if key is not None:
        return replace(row, about=str(key))
    words = f"**{one.question.strip()}**\n\n{one.words}"
    return replace(row, kind=BlockKind.TEXT.value, about="", words=words)
