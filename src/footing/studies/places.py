"""Where somebody left a study off, so that they go on there, on whatever computer."""

from typing import Any, Literal

from footing.store.tables import StudyPlace
from footing.studies.people import Person
from footing.studies.received import Received

StepName = Literal["sources", "ground", "mark", "graph"]
_LARGEST = 2**31 - 1


class Place(Received):
    """A step, the source on the stage as the page names it, a frame and a body."""

    step: StepName
    source: str | None = None
    frame: int | None = None
    body: int | None = None


def leave_off(study: Any, person: Person, place: Place) -> None:
    """Note where somebody is in a study."""
    known = {
        name: value if value is None or 0 <= value <= _LARGEST else None
        for name, value in (("frame", place.frame), ("body", place.body))
    }
    values = {"step": place.step, "source": (place.source or "")[:20] or None, **known}
    if not StudyPlace.update(**values).where(_of(study, person)).execute():
        # in another window it may be noted at the same moment
        StudyPlace.insert(study=study, **person.as_columns, **values).on_conflict_ignore().execute()


def left_off(study: Any, person: Person) -> Place | None:
    """Where somebody was last in a study, or None."""
    row: Any = StudyPlace.get_or_none(_of(study, person))
    if row is None:
        return None
    return Place(step=row.step, source=row.source, frame=row.frame, body=row.body)


def _of(study: Any, person: Person) -> Any:
    who = StudyPlace.teacher if person.role == "teacher" else StudyPlace.student
    return (StudyPlace.study == study.id) & (who == person.id)
