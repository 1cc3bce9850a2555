"""Following as it is asked for, watched and stopped; the work is `footing.studies.following`."""

from typing import Annotated, Any, Literal

from pydantic import Field

from footing.core.errors import NotThere, Refused
from footing.core.following.run import STOP_LEVEL
from footing.store import tables
from footing.store.database import transaction
from footing.store.notices import notify
from footing.studies.grounds import media_index
from footing.studies.people import Person
from footing.studies.received import Received

UNDER_WAY = ("waiting", "running")
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


def ask_follow(study: Any, person: Person, request: FollowRequest) -> int:
    """Keep what is asked for, and give its key; the queue is told by the caller.

    Raises
    ------
    Refused : if there is nothing to follow, or something is being followed here already.
    """
    bodies = [_body(study, body) for body in dict.fromkeys(request.bodies)]
    footage = bodies[0].footage
    index = media_index(footage.media_id)
    if index.kind == "picture":
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
    starts = {body.id: _start(body.id, request.frame, request.to) for body in bodies}
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
    busy = _latest(footage.id)
    with transaction():
        if busy is not None and busy.state in UNDER_WAY:
            raise Refused(
                "Something is being followed here already; stop it first.", field="bodies"
            )
        row = tables.Follow.create(
            study=study,
            footage_id=footage.id,
            bodies=[body.id for body in ready],
            first=first,
            last=request.to,
            stop_level=request.stop_level,
            over_hand=request.over_hand,
            reach=request.reach,
            search=request.search,
            **person.as_columns,
        )
        notify(study.id, follow=follow_line(row))
    return int(row.id)


def control(study: Any, follow: int, what: Control) -> bool:
    """Pause, stop or resume; true if the queue must be told."""
    with transaction():
        row: Any = tables.Follow.select().where(tables.Follow.id == follow).for_update().first()
        if row is None or row.study_id != study.id:
            raise NotThere("The study has no such following.")
        if what == "resume":
            if row.state != "paused":
                raise Refused("Only what is paused can go on.")
            row.state = "waiting"
        elif row.state in (*UNDER_WAY, "paused"):
            row.state = "paused" if what == "pause" else "stopped"
        row.save(only=["state"])
        notify(study.id, follow=follow_line(row))
    return what == "resume"


def start_mark(body: int, first: int, last: int) -> Any:
    """The mark nearest to the first frame of a follow, on its way; None if there is none."""
    low, high = sorted((first, last))
    rows = tables.Mark.select().where(
        (tables.Mark.body == body) & tables.Mark.frame.between(low, high)
    )
    order = tables.Mark.frame if first < last else tables.Mark.frame.desc()
    return rows.order_by(order).first()


def _start(body: int, first: int, last: int) -> int | None:
    """The frame from which a body is followed: of its latest mark before, else of its first after.

    That is how people work: a click marks it, the film goes on, and then they ask.
    """
    forward = first < last
    marks = tables.Mark.select().where(tables.Mark.body == body)
    frame = tables.Mark.frame
    before = (frame <= first) if forward else (frame >= first)
    row: Any = marks.where(before).order_by(frame.desc() if forward else frame).first()
    row = row or start_mark(body, first, last)
    return None if row is None else int(row.frame)


def follow_view(footage: Any) -> dict[str, Any] | None:
    """The latest follow of a source as it is shown, or None."""
    row = _latest(footage.id)
    return follow_line(row) if row is not None else None


def follow_line(row: Any) -> dict[str, Any]:
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


def _latest(footage: int) -> Any:
    rows = tables.Follow.select().where(tables.Follow.footage_id == footage)
    return rows.order_by(tables.Follow.id.desc()).first()


def _body(study: Any, body: int) -> Any:
    row: Any = tables.Body.get_or_none((tables.Body.id == body) & (tables.Body.study == study.id))
    if row is None:
        raise NotThere("The study has no such body.")
    if row.kind != "marked":
        raise Refused(f"{row.name} follows from other bodies; follow those.", field="bodies")
    return row
