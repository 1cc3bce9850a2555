"""Following as it is asked for, watched and stopped; the work is in `following`."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime
from typing import Annotated, Literal

from pydantic import Field

from footing.core.errors import NotThere, Refused
from footing.core.following.run import STOP_LEVEL
from footing.store import records
from footing.store.access import ClassStudy
from footing.store.database import transaction
from footing.store.follows import UNDER_WAY, latest_follow
from footing.store.notices import notify
from footing.store.reading import read_study
from footing.store.rows import Body, Follow, Mark
from footing.store.snapshot import StudyRows
from footing.studies.class_rules import may_follow
from footing.studies.model.grounds import media_index
from footing.studies.model.kinds import kind_of
from footing.studies.received import Received
from footing.studies.school.people import Person
from footing.studies.shapes.sources import FollowShape

Control = Literal["pause", "stop", "resume"]


class FollowRequest(Received):
    """What is asked for.

    frame : where each body has its mark, unless it has one further on the way
    to : the last frame; backwards where it is smaller
    stop_level : quality under which a frame is left open
    over_hand : whether marks made by hand are replaced, too
    reach, search : pixels of the patch and of the search area; chosen if not given
    """

    bodies: Annotated[list[int], Field(min_length=1, max_length=20)]
    frame: int
    to: int
    stop_level: Annotated[float, Field(ge=0, le=1)] = STOP_LEVEL
    over_hand: bool = False
    reach: Annotated[int, Field(ge=5, le=120)] | None = None
    search: Annotated[int, Field(ge=8, le=600)] | None = None


def ask_follow(study: ClassStudy, person: Person, request: FollowRequest) -> int:
    """Keep what is asked for, and give its key; the queue is told by the caller.

    Raises
    ------
    Refused : if there is nothing to follow, or something is being followed here already.
    """
    if not may_follow(study, person):
        raise Refused("In this lab every mark is made by hand.", field="bodies")
    rows = read_study(study.id)
    bodies = [_body(rows, body) for body in dict.fromkeys(request.bodies)]
    footage = rows.footage_of(bodies[0])
    index = media_index(footage.content)
    if not kind_of(index).has_time:
        raise Refused("A picture does not move; following is for footage.", field="bodies")
    if any(body.footage_id != footage.id for body in bodies):
        raise Refused("Choose bodies of one source.", field="bodies")
    for frame, field in ((request.frame, "frame"), (request.to, "to")):
        if not 0 <= frame < index.frames:
            raise Refused(
                f"There is no frame {frame}; the last one is {index.frames - 1}.", field=field
            )
    if request.frame == request.to:
        raise Refused("Choose another frame to follow to.", field="to")
    starts = {body.id: _start(rows.marks_of(body), request.frame, request.to) for body in bodies}
    ready = [body for body in bodies if starts[body.id] not in (None, request.to)]
    if not ready:
        names = " and ".join(body.name for body in bodies)
        done = any(starts[body.id] == request.to for body in bodies)
        said = (
            f"{names}: marked up to frame {request.to} already; choose a frame further on."
            if done
            else f"Mark {names} in one frame first; it is followed from there."
        )
        raise Refused(said, field="bodies")
    forward = request.frame < request.to
    own = [start for body in ready if (start := starts[body.id]) is not None]
    first = min(own) if forward else max(own)
    busy = latest_follow(footage.id)
    with transaction():
        if busy is not None and busy.state in UNDER_WAY:
            raise Refused(
                "Something is being followed here already; stop it first.", field="bodies"
            )
        row = records.add(
            Follow(
                study_id=study.id,
                footage_id=footage.id,
                teacher_id=person.teacher_id,
                student_id=person.student_id,
                bodies=[body.id for body in ready],
                first=first,
                last=request.to,
                stop_level=request.stop_level,
                over_hand=request.over_hand,
                reach=request.reach,
                search=request.search,
                asked_at=datetime.now(UTC),
            )
        )
        notify(study.id, follow=follow_line(row))
    return row.id


def control(study: ClassStudy, follow: int, what: Control) -> bool:
    """Pause, stop or resume; true if the queue must be told."""
    with transaction():
        row = records.fetch(Follow, follow, locked=True)
        if row is None or row.study_id != study.id:
            raise NotThere("The study has no such following.")
        if what == "resume":
            if row.state != "paused":
                raise Refused("Only what is paused can go on.")
            now = "waiting"
        elif row.state in (*UNDER_WAY, "paused"):
            now = "paused" if what == "pause" else "stopped"
        else:
            now = row.state
        told = records.change(row, replace(row, state=now))
        notify(study.id, follow=follow_line(told))
    return what == "resume"


def start_mark(marks: Sequence[Mark], first: int, last: int) -> Mark | None:
    """The mark nearest to the first frame of a follow, on its way; None if there is none."""
    low, high = sorted((first, last))
    on_the_way = [mark for mark in marks if low <= mark.frame <= high]
    return min(on_the_way, key=lambda mark: abs(mark.frame - first), default=None)


def _start(marks: Sequence[Mark], first: int, last: int) -> int | None:
    """The frame from which a body is followed: of its latest mark before, else of its first after.

    That is how people work: a click marks it, the film goes on, and then they ask.
    """
    before = [
        mark for mark in marks if (mark.frame <= first if first < last else mark.frame >= first)
    ]
    nearest = min(before, key=lambda mark: abs(mark.frame - first), default=None)
    start = nearest or start_mark(marks, first, last)
    return None if start is None else start.frame


def follow_view(footage: int) -> FollowShape | None:
    """The latest follow of a source as it is shown, or None."""
    row = latest_follow(footage)
    return follow_line(row) if row is not None else None


def follow_line(row: Follow) -> FollowShape:
    """How far a follow is."""
    return {
        "id": row.id,
        "footage": row.footage_id,
        "bodies": list(row.bodies),
        "first": row.first,
        "last": row.last,
        "at": row.at,
        "state": row.state,
        "said": row.said or "",
        "stop_level": row.stop_level,
    }


def _body(rows: StudyRows, key: int) -> Body:
    body = rows.find(Body, key)
    if body.kind != "marked":
        raise Refused(f"{body.name} follows from other bodies; follow those.", field="bodies")
    return body
