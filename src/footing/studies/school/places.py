"""Where somebody left a study off, so that they go on there, on whatever computer."""

from footing.store.access import ClassStudy
from footing.store.classes import note_place, place_of
from footing.store.rows import StudyPlace
from footing.studies.received import Received
from footing.studies.school.people import Person
from footing.studies.steps import Step

_LARGEST = 2**31 - 1


class Place(Received):
    """A step, the source on the stage as the page names it, a frame and a body."""

    step: Step
    source: str | None = None
    frame: int | None = None
    body: int | None = None


def leave_off(study: ClassStudy, person: Person, place: Place) -> None:
    """Note where somebody is in a study."""
    note_place(
        StudyPlace(
            study_id=study.id,
            teacher_id=person.teacher_id,
            student_id=person.student_id,
            step=place.step,
            source=(place.source or "")[:20] or None,
            frame=_storable(place.frame),
            body=_storable(place.body),
        )
    )


def left_off(study: ClassStudy, person: Person) -> Place | None:
    """Where somebody was last in a study, or None."""
    row = place_of(study.id, person)
    if row is None:
        return None
    return Place.model_validate(
        {"step": row.step, "source": row.source, "frame": row.frame, "body": row.body}
    )


def _storable(number: int | None) -> int | None:
    return number if number is None or 0 <= number <= _LARGEST else None
