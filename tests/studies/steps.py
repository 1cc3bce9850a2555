"""Working on a study in tests, through the one door."""

from pathlib import Path
from typing import Any
from uuid import uuid4

from pydantic import TypeAdapter

from footing.settings import Settings
from footing.store.tables import CONTENT, Study
from footing.studies import uploads
from footing.studies.door import Accepted, EditRequest, submit
from footing.studies.people import Person
from footing.studies.view import study_view

_REQUEST: TypeAdapter[EditRequest] = TypeAdapter(EditRequest)


class Tab:
    """One open tab: a person, and the state that they have seen."""

    def __init__(self, study: Any, person: Person) -> None:
        self.study_id = int(study.id)
        self.person = person
        self.seq = int(Study.get_by_id(study.id).seq)

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
        return study_view(Study.get_by_id(self.study_id), self.person, source=source)

    def uploads(self, film: Path, settings: Settings) -> int:
        content = uploads.take_in(film, settings)
        return self.makes("add_footage", content=content, name=film.name)


def all_rows(study_id: int) -> dict[str, list[dict[str, Any]]]:
    """Every content row of a study."""
    return {
        table.__name__: sorted(
            (dict(row.__data__) for row in table.select().where(table.study == study_id)),
            key=str,
        )
        for table in CONTENT
    }
