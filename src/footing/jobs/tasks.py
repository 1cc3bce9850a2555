"""What can be done in the background."""

import logging
from collections.abc import Callable
from dataclasses import asdict
from typing import Any
from uuid import uuid4

import procrastinate

from footing.core.errors import FootingError, Unreadable
from footing.media.survey import Survey, survey
from footing.settings import Settings
from footing.store.database import connected
from footing.store.media import media_path
from footing.store.notices import notify
from footing.store.tables import Body, Footage, Mark, Media, Student, Study, Teacher
from footing.studies import people
from footing.studies.door import EditRequest, submit
from footing.studies.edits.marks import PlaceMarks
from footing.studies.following import carry_out
from footing.studies.grounds import media_index
from footing.studies.spots import follow_spot
from footing.studies.tidying import tidy

log = logging.getLogger("footing.jobs")


def look_through(context: procrastinate.JobContext, content: str) -> None:
    """Look through all frames of a file, and keep what was found with it."""
    settings: Settings = context.additional_context["settings"]
    with connected():
        media: Any = Media.get_or_none(Media.content == content)
        if media is None or media.survey is not None or media.kind != "video":
            return
        index = media_index(content)
        path = media_path(settings.media_folder, content)
        try:
            found = asdict(survey(path, index, seconds=settings.survey_seconds))
        except Unreadable as error:
            found = asdict(Survey((), (), None)) | {"problem": str(error)}
        media.survey = found
        media.save(only=["survey"])
        for footage in Footage.select().where(Footage.media == content):
            notify(footage.study_id, surveyed=content)


def follow_background(context: procrastinate.JobContext, body: int, role: str, person: int) -> None:
    """Follow a background spot from its first mark through the span, in the name of a person."""
    settings: Settings = context.additional_context["settings"]
    with connected():
        row: Any = Body.get_or_none(Body.id == body)
        if row is None:
            return
        table: Any = Teacher if role == "teacher" else Student
        who = getattr(people, role)(table.get_by_id(person))
        marks = list(Mark.select().where(Mark.body == body).order_by(Mark.frame))
        if not marks:
            return
        try:
            found = follow_spot(row.footage, marks[0], settings)
            if found.marks:
                edit = PlaceMarks(body=body, marks=found.marks)
                seq = Study.get_by_id(row.study_id).seq
                submit(row.study_id, who, EditRequest(edit=edit, based_on=seq, token=uuid4().hex))
            notify(row.study_id, said=found.said)
        except FootingError as error:
            notify(row.study_id, said=str(error))


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
