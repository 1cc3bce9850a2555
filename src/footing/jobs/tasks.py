"""What can be done in the background."""

import logging
from collections.abc import Callable
from uuid import uuid4

import procrastinate

from footing.core.errors import FootingError, Unreadable
from footing.media.survey import Survey, survey
from footing.settings import Settings
from footing.store.arrivals import keep_survey, studies_with
from footing.store.contents import is_stored, survey_of
from footing.store.database import connected
from footing.store.media import media_path
from footing.store.notices import notify
from footing.store.reading import read_study
from footing.store.rows import Body, Surveyed
from footing.studies.door import EditRequest, submit
from footing.studies.edits.marks import PlaceMarks
from footing.studies.films.following import carry_out
from footing.studies.films.spots import follow_spot
from footing.studies.model.grounds import media_index
from footing.studies.school import people
from footing.studies.school.tidying import tidy

log = logging.getLogger("footing.jobs")


def look_through(context: procrastinate.JobContext, content: str) -> None:
    """Look through all frames of a file, and keep what was found with it."""
    settings: Settings = context.additional_context["settings"]
    with connected():
        if not is_stored(content) or survey_of(content) is not None:
            return
        index = media_index(content)
        if index.kind != "video":
            return
        path = media_path(settings.media_folder, content)
        try:
            found = _surveyed(survey(path, index, seconds=settings.survey_seconds))
        except Unreadable as error:
            found = _surveyed(Survey((), (), None))
            found["problem"] = str(error)
        keep_survey(content, found)
        for study in studies_with(content):
            notify(study, surveyed=content)


def _surveyed(found: Survey) -> Surveyed:
    """What was found, as it is kept."""
    return {
        "damaged": list(found.damaged),
        "repeated": list(found.repeated),
        "moves_from": found.moves_from,
    }


def follow_background(
    context: procrastinate.JobContext, study: int, body: int, role: people.Role, person: int
) -> None:
    """Follow a background spot from its first mark through the span, in the name of a person."""
    settings: Settings = context.additional_context["settings"]
    with connected():
        rows = read_study(study)
        spot = rows.get(Body, body)
        marks = rows.marks_of(spot) if spot else ()
        if spot is None or not marks:
            return
        try:
            found = follow_spot(rows.footage_of(spot), marks[0], settings)
            if found.marks:
                edit = PlaceMarks(body=body, marks=found.marks)
                request = EditRequest(edit=edit, based_on=rows.seq, token=uuid4().hex)
                submit(study, people.person(role, person), request)
            notify(study, said=found.said)
        except FootingError as error:
            notify(study, said=str(error))


def follow_bodies(context: procrastinate.JobContext, follow: int) -> None:
    """Follow bodies, or go on with it."""
    settings: Settings = context.additional_context["settings"]
    with connected():
        carry_out(follow, settings)


def tidy_up(context: procrastinate.JobContext, timestamp: int = 0) -> None:  # noqa: ARG001
    """Remove what nothing can need any more; ``timestamp`` says for when it was planned."""
    settings: Settings = context.additional_context["settings"]
    with connected():
        log.info("%s", tidy(settings))


TASKS: tuple[Callable[..., None], ...] = (
    look_through,
    follow_background,
    follow_bodies,
    tidy_up,
)
