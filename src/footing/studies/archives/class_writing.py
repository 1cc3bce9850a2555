"""A class on its way out, into one archive (`class_file`)."""

import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from uuid import uuid4

from footing import __version__
from footing.settings import Settings
from footing.store import hand_ins, labs, pupils, records
from footing.store.access import class_study
from footing.store.class_archives import members_of, studies_of_class
from footing.store.classes import labs_of
from footing.store.database import connected
from footing.store.reading import read_study
from footing.store.rows import (
    Group,
    Lab,
    SchoolClass,
    Student,
    Study,
)
from footing.studies.archives.class_file import (
    CLASS,
    FORMAT,
    HAND_INS,
    STUDIES,
    ClassFile,
    CommentFile,
    CriterionFile,
    GroupFile,
    HandInFile,
    LabOfClass,
    StudentFile,
    StudyOfClass,
)
from footing.studies.archives.study_archive import study_file
from footing.studies.packing.media import put_media
from footing.studies.school import labs as making


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
                    archive.writestr(f"{STUDIES}{number}.json", text)
                    contents |= {one.content for one in read_study(study.id).footages}
                handed = 0
                for handed, one in enumerate(_hand_ins(taken), 1):
                    archive.writestr(f"{HAND_INS}{handed - 1}.json", one.model_dump_json())
                archive.writestr(CLASS, _class_file(taken, handed).model_dump_json(indent=1))
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
