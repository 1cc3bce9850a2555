"""Working on a study in tests, through the one door."""

from pathlib import Path
from typing import Any
from uuid import uuid4

from pydantic import TypeAdapter

from footing.settings import Settings
from footing.store.access import ClassStudy, class_study
from footing.store.classes import latest_edit
from footing.store.mapping import CONTENT, KINDS, values
from footing.store.reading import read_study
from footing.store.records import as_row
from footing.studies.door import Accepted, EditRequest, submit
from footing.studies.films import uploads
from footing.studies.school.people import Person
from footing.studies.views.view import study_view

_REQUEST: TypeAdapter[EditRequest] = TypeAdapter(EditRequest)


class Tab:
    """One open tab: a person, and the state that they have seen."""

    def __init__(self, study: Any, person: Person) -> None:
        self.study_id = int(study.id)
        self.person = person
        self.seq = latest_edit(self.study_id)

    def does(self, kind: str, **fields: Any) -> Accepted:
        accepted = submit(self.study_id, self.person, self.request(kind, **fields))
        self.seq = accepted.seq
        return accepted

    def makes(self, kind: str, **fields: Any) -> int:
        """Make something; give its key."""
        made = self.does(kind, **fields).made
        assert made is not None
        return int(made.split(":")[1].split("/")[0])

    def request(self, kind: str, *, token: str | None = None, **fields: Any) -> EditRequest:
        return _REQUEST.validate_python(
            {
                "edit": {"kind": kind, **fields},
                "based_on": self.seq,
                "token": token or uuid4().hex,
            }
        )

    def view(self, source: int | None = None) -> dict[str, Any]:
        return study_view(self.study, self.person, source=source)

    @property
    def study(self) -> ClassStudy:
        study = class_study(self.study_id)
        assert study is not None
        return study

    def uploads(self, film: Path, settings: Settings) -> int:
        content = uploads.take_in(film, settings)
        return self.makes("add_footage", content=content, name=film.name)


def all_rows(study_id: int) -> dict[str, list[dict[str, Any]]]:
    """Every content row of a study in the database; what is kept in memory is the same."""
    kept = read_study(study_id)
    found = {}
    for kind in CONTENT:
        table: Any = KINDS[kind]
        of_study = table.select().where(table.study == study_id)
        rows = [as_row(kind, row) for row in of_study]
        found[kind.__name__] = sorted((values(row) for row in rows), key=str)
        assert found[kind.__name__] == sorted((values(row) for row in kept.all(kind)), key=str)
    return found
