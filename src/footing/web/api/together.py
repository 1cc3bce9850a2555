"""Working together: who is in a study and where, raised hands, what a class looks at."""

from datetime import UTC, datetime
from typing import Annotated

from fastapi import APIRouter
from pydantic import StringConstraints

from footing.core.errors import NotThere, Refused
from footing.store import lessons
from footing.store.access import class_study
from footing.store.database import transaction
from footing.store.notices import notify, notify_class
from footing.studies.received import Received
from footing.studies.school.register import show_to_all
from footing.studies.steps import Step
from footing.web.routing import DatabaseRoute
from footing.web.security import OwnStudy, SeenStudy, TaughtClass, Visitor

router = APIRouter(route_class=DatabaseRoute, tags=["together"])


class Here(Received):
    """Where a page is: its own name for itself, step, source, frame, body, and the pointer.

    marking : whether its step is the one where bodies are marked
    pointer : in pixels of the picture
    hello : whether the others are asked to say where they are, too
    leads : whether the others are asked to come along; of those alone whose study it is
    helps : of a teacher, whether they change things
    gone : whether the page is closed
    """

    tab: Annotated[str, StringConstraints(min_length=8, max_length=32)]
    step: Step
    source: Annotated[str, StringConstraints(max_length=20)] = ""
    frame: int | None = None
    body: int | None = None
    marking: bool = False
    pointer: tuple[float, float] | None = None
    hello: bool = False
    leads: bool = False
    helps: bool = False
    gone: bool = False


class Hand(Received):
    """Whether a group asks for help."""

    up: bool


class Shown(Received):
    """The study that a class looks at; None for none any more."""

    study: int | None


@router.post("/studies/{study_id}/here", status_code=204)
def say_here(study: SeenStudy, visitor: Visitor, here: Here) -> None:
    """Tell the others who have the study open where somebody is; nothing of it is kept."""
    teaches = visitor.role == "teacher"
    allowed = here.model_copy(
        update={"leads": here.leads and study.mine, "helps": here.helps and teaches}
    )
    said = allowed.model_dump(mode="json", exclude_defaults=True)
    notify(study.id, here={**said, "name": visitor.name, "teacher": teaches})


@router.post("/studies/{study_id}/hand", status_code=204)
def raise_hand(study: OwnStudy, visitor: Visitor, hand: Hand) -> None:
    """Ask the teacher for help, or say that it came."""
    if study.group is None:
        raise Refused("Only a group asks for help.")
    with transaction():
        lessons.raise_hand(study.group.id, datetime.now(UTC) if hand.up else None)
        notify(study.id, hand=hand.up, by=visitor.name)
        notify_class(study.school_class.id, hands=True)


@router.put("/classes/{class_id}/shown", status_code=204)
def show_to_class(school_class: TaughtClass, visitor: Visitor, shown: Shown) -> None:
    """Have everybody in a class look at a study of it, or at their own work again."""
    if shown.study is not None:
        study = class_study(shown.study)
        if study is None or study.school_class.id != school_class.id:
            raise NotThere("There is no such study in this class.")
    with transaction():
        show_to_all(school_class, shown.study)
        notify_class(school_class.id, shown=shown.study or 0, by=visitor.name)
