"""A class on its way in, out of an archive (`class_file`)."""

from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import BinaryIO

from pydantic import ValidationError

from footing.core.errors import Refused
from footing.formats.report_cleaning import cleaned_report
from footing.settings import Settings
from footing.store import pupils, records
from footing.store.copying import Keys
from footing.store.rows import (
    Comment,
    Criterion,
    FrozenBlock,
    Group,
    HandIn,
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
    WHAT,
    ClassFile,
    HandInFile,
    LabOfClass,
    StudyOfClass,
)
from footing.studies.archives.study_archive import contents_of, parsed, put_in
from footing.studies.packing.archive import Opened, opened
from footing.studies.packing.media import take_media
from footing.studies.packing.showing import check_it_shows
from footing.studies.review.places import renumbered
from footing.studies.school import labs as making
from footing.studies.school.codes import new_class_code
from footing.studies.school.people import Person


def read_in(file: Path | BinaryIO, person: Person, settings: Settings) -> SchoolClass:
    """Make a class of an archive, which belongs to this teacher.

    Raises
    ------
    Refused : if it is none, is damaged, or holds what cannot be.
    """
    with opened(file, WHAT) as archive:
        plain = archive.plain(CLASS)
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
            plain = self.archive.plain(f"{HAND_INS}{number}.json")
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
        text = self.archive.plain(f"{STUDIES}{said.number}.json")
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
