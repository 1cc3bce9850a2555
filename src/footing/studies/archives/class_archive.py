"""A class as one open archive (format 1): its labs, groups, studies and what was handed in.

``class.json`` says what there is, as `ClassFile`; each study is ``studies/<n>.json`` as in its own
archive, what was handed in is ``hand_ins/<n>.json`` as `HandInFile`, and films and pictures are in
``media/`` once, however many studies use them. Students come as names on the new class's list,
without PINs: they take their names as on the first day.
"""

import zipfile
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Annotated, BinaryIO, Literal
from uuid import uuid4

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, StringConstraints, ValidationError

from footing import __version__
from footing.core.errors import Refused
from footing.formats.report_cleaning import cleaned_report
from footing.settings import Settings
from footing.store import hand_ins, labs, pupils, records
from footing.store.access import class_study
from footing.store.class_archives import members_of, studies_of_class
from footing.store.classes import labs_of
from footing.store.copying import Keys
from footing.store.database import connected
from footing.store.reading import read_study
from footing.store.rows import (
    Comment,
    Criterion,
    FrozenBlock,
    FrozenNumber,
    Group,
    HandIn,
    Lab,
    SchoolClass,
    Student,
    Study,
)
from footing.studies.archives.study_archive import contents_of, parsed, put_in, study_file
from footing.studies.packing.archive import Opened, opened
from footing.studies.packing.media import put_media, take_media
from footing.studies.packing.showing import check_it_shows
from footing.studies.review.places import renumbered
from footing.studies.school import labs as making
from footing.studies.school.codes import new_class_code
from footing.studies.school.labs import AskedFinding, LabWords
from footing.studies.school.people import Person

FORMAT: Literal[1] = 1
_CLASS, _STUDIES, _HAND_INS, _WHAT = "class.json", "studies/", "hand_ins/", "class"
_MOST_STUDIES, _MOST_STUDENTS, _MOST_LABS = 5000, 500, 500
_Name = Annotated[str, StringConstraints(min_length=1, max_length=120)]
_Words = Annotated[str, StringConstraints(max_length=20_000)]


class _Strict(BaseModel):
    """What is said in a file, and nothing else."""

    model_config = ConfigDict(extra="forbid")


class CriterionFile(_Strict):
    """By what hand-ins are judged."""

    key: int
    name: _Name
    most: Annotated[float, Field(gt=0, allow_inf_nan=False)]


class LabOfClass(_Strict):
    """A lab; ``start`` is the number of the study that groups start from."""

    words: LabWords
    due: AwareDatetime | None = None
    findings: list[AskedFinding] = []
    questions: list[Annotated[str, StringConstraints(max_length=2000)]] = []
    criteria: list[CriterionFile] = []
    start: int | None = None


class GroupFile(_Strict):
    """A group; one that was dissolved has nobody in it any more."""

    name: _Name
    dissolved: bool = False


class StudentFile(_Strict):
    """A name on the list, and in which group, by its place among the groups."""

    name: _Name
    group: int | None = None


class StudyOfClass(_Strict):
    """A study: its number in ``studies/``, its lab, group and members by their places."""

    number: int
    lab: int | None = None
    group: int | None = None
    members: list[int] = []
    frozen_from: int | None = None


class CommentFile(_Strict):
    """A comment; ``answers`` is the place of the one that it answers."""

    about: Annotated[str, StringConstraints(max_length=80)] = ""
    quote: Annotated[str, StringConstraints(max_length=300)] = ""
    words: _Words
    by: _Name
    of_teacher: bool = False
    at: AwareDatetime
    answers: int | None = None


class HandInFile(_Strict):
    """What was handed in: the numbers of the study and of its copy, and what was said about it."""

    study: int
    copy_number: int
    number: int
    at: AwareDatetime
    by: _Name
    names: list[_Name] = []
    title: Annotated[str, StringConstraints(max_length=200)]
    late: bool = False
    version: Annotated[str, StringConstraints(max_length=40)]
    blocks: list[FrozenBlock] = []
    numbers: list[FrozenNumber] = []
    returned: AwareDatetime | None = None
    returned_by: Annotated[str, StringConstraints(max_length=120)] = ""
    again: bool = False
    points: dict[str, float] = {}
    grade: Annotated[str, StringConstraints(max_length=20)] = ""
    words: _Words = ""
    comments: list[CommentFile] = []


class ClassFile(_Strict):
    """What ``class.json`` holds; ``hand_ins`` is how many there are."""

    format: Literal[1]
    made_by: Annotated[str, StringConstraints(max_length=40)] = ""
    name: _Name
    hides_names: bool = False
    own_groups: bool = True
    students: Annotated[list[StudentFile], Field(max_length=_MOST_STUDENTS)] = []
    groups: Annotated[list[GroupFile], Field(max_length=_MOST_STUDENTS)] = []
    labs: Annotated[list[LabOfClass], Field(max_length=_MOST_LABS)] = []
    studies: Annotated[list[StudyOfClass], Field(max_length=_MOST_STUDIES)] = []
    hand_ins: Annotated[int, Field(ge=0, le=_MOST_STUDIES)] = 0


@dataclass
class _Taken:
    """Everything of a class in the order that it has in the file."""

    school_class: SchoolClass
    groups: list[Group]
    students: list[Student]
    labs: list[Lab]
    studies: list[Study]

    def place_of_group(self, key: int | None) -> int | None:
        return next((n for n, one in enumerate(self.groups) if one.id == key), None)

    def place_of_lab(self, key: int | None) -> int | None:
        return next((n for n, one in enumerate(self.labs) if one.id == key), None)

    def number_of(self, study: int | None) -> int | None:
        return next((n for n, one in enumerate(self.studies) if one.id == study), None)


def write_class(class_id: int, settings: Settings) -> tuple[str, Path]:
    """Write the archive of a class to a file; give what it is called, and where it is.

    It takes a connection of its own.
    """
    settings.made_folder.mkdir(parents=True, exist_ok=True)
    path = settings.made_folder / uuid4().hex
    with connected():
        school_class = records.fetch(SchoolClass, class_id)
        assert school_class is not None
        taken = _Taken(
            school_class,
            pupils.every_group_of(class_id),
            pupils.students_of(class_id),
            labs_of(class_id),
            studies_of_class(class_id),
        )
        try:
            with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
                contents: set[str] = set()
                for number, study in enumerate(taken.studies):
                    found = class_study(study.id)
                    assert found is not None
                    text = study_file(found).model_dump_json()
                    archive.writestr(f"{_STUDIES}{number}.json", text)
                    contents |= {one.content for one in read_study(study.id).footages}
                handed = 0
                for handed, one in enumerate(_hand_ins(taken), 1):
                    archive.writestr(f"{_HAND_INS}{handed - 1}.json", one.model_dump_json())
                archive.writestr(_CLASS, _class_file(taken, handed).model_dump_json(indent=1))
                put_media(archive, contents, settings)
        except BaseException:
            path.unlink(missing_ok=True)
            raise
    return f"{school_class.name}.footing-class.zip", path


def _class_file(taken: _Taken, hand_ins: int) -> ClassFile:
    return ClassFile(
        format=FORMAT,
        made_by=__version__,
        name=taken.school_class.name,
        hides_names=taken.school_class.hides_names,
        own_groups=taken.school_class.own_groups,
        students=[
            StudentFile(name=one.name, group=taken.place_of_group(one.group_id))
            for one in taken.students
        ],
        groups=[
            GroupFile(name=one.name, dissolved=one.dissolved_at is not None) for one in taken.groups
        ],
        labs=[_lab_file(one, taken) for one in taken.labs],
        studies=[
            StudyOfClass(
                number=number,
                lab=taken.place_of_lab(one.lab_id),
                group=taken.place_of_group(one.group_id),
                members=_places(one, taken),
                frozen_from=taken.number_of(one.frozen_from_id),
            )
            for number, one in enumerate(taken.studies)
        ],
        hand_ins=hand_ins,
    )


def _places(study: Study, taken: _Taken) -> list[int]:
    members = members_of(study.id)
    return [place for place, one in enumerate(taken.students) if one.id in members]


def _lab_file(lab: Lab, taken: _Taken) -> LabOfClass:
    task = labs.task_of(lab)
    return LabOfClass(
        words=making.words_of(lab),
        due=lab.due,
        findings=[making.asked_of(one) for one in task.findings],
        questions=[one.words for one in task.questions],
        criteria=[
            CriterionFile(key=one.id, name=one.name, most=one.most)
            for one in hand_ins.criteria_of(lab.id)
        ],
        start=taken.number_of(lab.start_id),
    )


def _hand_ins(taken: _Taken) -> Iterator[HandInFile]:
    for number, study in enumerate(taken.studies):
        for one in hand_ins.of_study(study.id):
            copy = taken.number_of(one.copy_id)
            if copy is None:
                continue
            said = hand_ins.comments_on(one.id)
            places = {comment.id: place for place, comment in enumerate(said)}
            yield HandInFile(
                study=number,
                copy_number=copy,
                number=one.number,
                at=one.made_at,
                by=one.person_name,
                names=one.names,
                title=one.title,
                late=one.late,
                version=one.version,
                blocks=one.blocks,
                numbers=one.numbers,
                returned=one.returned_at,
                returned_by=one.returned_by,
                again=one.again,
                points=dict(one.points),
                grade=one.grade,
                words=one.words,
                comments=[
                    CommentFile(
                        about=comment.about,
                        quote=comment.quote,
                        words=comment.words,
                        by=comment.person_name,
                        of_teacher=comment.teacher_id is not None,
                        at=comment.made_at,
                        answers=places.get(comment.answers_id or 0),
                    )
                    for comment in said
                ],
            )


def read_in(file: Path | BinaryIO, person: Person, settings: Settings) -> SchoolClass:
    """Make a class of an archive, which belongs to this teacher.

    Raises
    ------
    Refused : if it is none, is damaged, or holds what cannot be.
    """
    with opened(file, _WHAT) as archive:
        plain = archive.plain(_CLASS)
        if plain.get("format") != FORMAT:
            raise Refused(
                f"This class has format {plain.get('format')}, and this Footing reads {FORMAT}.",
                field="file",
            )
        try:
            found = ClassFile.model_validate(plain)
        except (ValidationError, ValueError) as error:
            raise archive.refusal() from error
        try:
            return _Incoming(found, archive, person, settings).stored()
        except (IndexError, KeyError) as error:  # places that lead nowhere
            raise archive.refusal("parts of it are missing.") from error


class _Incoming:
    """A class on its way in; everything gets keys of its own, by its place in the file."""

    def __init__(
        self, found: ClassFile, archive: Opened, person: Person, settings: Settings
    ) -> None:
        self.found = found
        self.archive = archive
        self.person = person
        self.settings = settings
        self.school_class = records.add(
            SchoolClass(
                teacher_id=person.id,
                name=found.name[:60],
                code=new_class_code(),
                hides_names=found.hides_names,
                own_groups=found.own_groups,
            )
        )

    def stored(self) -> SchoolClass:
        """Store all of it."""
        now, of = datetime.now(UTC), self.school_class.id
        self.groups = [
            records.add(
                Group(
                    school_class_id=of,
                    name=one.name[:40],
                    dissolved_at=now if one.dissolved else None,
                )
            )
            for one in self.found.groups
        ]
        self.students = [
            records.add(
                Student(
                    school_class_id=of,
                    name=one.name[:40],
                    group_id=None if one.group is None else self.groups[one.group].id,
                )
            )
            for one in self.found.students
        ]
        self.criteria: dict[int, int] = {}
        self.labs = [self._lab(one) for one in self.found.labs]
        self.studies: dict[int, int] = {}
        self.keys: dict[int, Keys] = {}
        for one in self.found.studies:
            self._study(one)
        for lab, asked in zip(self.labs, self.found.labs, strict=True):
            if asked.start is not None:
                records.change(lab, replace(lab, start_id=self.studies[asked.start], due=asked.due))
        for number in range(self.found.hand_ins):
            plain = self.archive.plain(f"{_HAND_INS}{number}.json")
            try:
                handed = HandInFile.model_validate(plain)
            except (ValidationError, ValueError) as error:
                raise self.archive.refusal() from error
            self._hand_in(handed)
        return self.school_class

    def _lab(self, said: LabOfClass) -> Lab:
        lab = making.change_lab(making.new_lab(self.school_class.id, said.words.title), said.words)
        lab = records.change(lab, replace(lab, due=said.due))
        for finding in said.findings:
            making.ask_for(lab, finding)
        for words in said.questions:
            making.ask_in_words(lab, words)
        for one in said.criteria:
            made = records.add(Criterion(lab_id=lab.id, name=one.name, most=one.most))
            self.criteria[one.key] = made.id
        return lab

    def _study(self, said: StudyOfClass) -> None:
        text = self.archive.plain(f"{_STUDIES}{said.number}.json")
        found = parsed(text, self.archive)
        for content in contents_of(found):
            take_media(self.archive, content, self.settings)
        study = Study(
            school_class_id=self.school_class.id,
            lab_id=None if said.lab is None else self.labs[said.lab].id,
            group_id=None if said.group is None else self.groups[said.group].id,
            title=found.title[:80],
            made_at=datetime.now(UTC),
            frozen_from_id=None if said.frozen_from is None else self.studies[said.frozen_from],
        )
        made, keys = put_in(study, found, self.person, self.archive)
        check_it_shows(made, self.person, self.archive)
        self.studies[said.number], self.keys[said.number] = made, keys
        pupils.note_members(made, [self.students[place].id for place in said.members])

    def _hand_in(self, said: HandInFile) -> None:
        made = records.add(
            HandIn(
                study_id=self.studies[said.study],
                copy_id=self.studies[said.copy_number],
                number=said.number,
                made_at=said.at,
                person_name=said.by,
                names=said.names,
                title=said.title,
                late=said.late,
                version=said.version,
                blocks=[self._cleaned(block) for block in said.blocks],
                numbers=said.numbers,
                returned_at=said.returned,
                returned_by=said.returned_by,
                again=said.again,
                points={
                    str(self.criteria[int(key)]): points
                    for key, points in said.points.items()
                    if key.isdecimal() and int(key) in self.criteria
                },
                grade=said.grade,
                words=said.words,
            )
        )
        stored: list[Comment] = []
        for comment in said.comments:
            about = renumbered(comment.about, self.keys[said.copy_number])
            stored.append(
                records.add(
                    Comment(
                        hand_in_id=made.id,
                        answers_id=None if comment.answers is None else stored[comment.answers].id,
                        about=about,
                        quote=comment.quote,
                        words=comment.words,
                        teacher_id=self.person.id if comment.of_teacher else None,
                        person_name=comment.by,
                        made_at=comment.at,
                    )
                )
            )

    @staticmethod
    def _cleaned(block: FrozenBlock) -> FrozenBlock:
        """A block of a report; its HTML came from outside and is cleaned."""
        return {**block, "html": cleaned_report(block["html"])}
