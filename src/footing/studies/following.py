"""Following in the background: reads frames, and writes marks as edits, a stretch at a time.

The edits of one follow belong together, so that undo takes them back in one step. What was written
is in the database; a follow that broke off goes on from its last marks.
"""

import time
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any
from uuid import uuid4

from footing.core.errors import FootingError, Stale
from footing.core.following.run import Ended, Reason, Start, Step, follow
from footing.media.luma import pictures
from footing.settings import Settings
from footing.store import tables
from footing.store.database import database
from footing.store.notices import notify
from footing.studies import people
from footing.studies.door import EditRequest, submit
from footing.studies.edits.following import FollowedBody, FollowMarks
from footing.studies.follows import follow_line, start_mark
from footing.studies.grounds import grounded
from footing.studies.people import Person
from footing.studies.uploads import stored_media

_STRETCH = 0.4  # seconds between two edits
_TRIES = 3
_ENDED: dict[Reason, str] = {
    "left the picture": "left the picture",
    "hidden": "went behind something",
    "lost": "was lost",
}


def unfinished() -> list[int]:
    """Follows that are under way, as far as the database knows; perhaps nobody does them."""
    rows = tables.Follow.select(tables.Follow.id)
    return [row.id for row in rows.where(tables.Follow.state.in_(["waiting", "running"]))]


def carry_out(follow_id: int, settings: Settings) -> None:
    """Do a follow, or go on with it; nothing happens if another process is at it."""
    row: Any = tables.Follow.get_or_none(tables.Follow.id == follow_id)
    if row is None or row.state not in ("waiting", "running") or not _take(follow_id):
        return
    try:
        _tell(row, state="running")
        _carry_out(row, settings)
    except FootingError as error:
        _tell(row, state="stopped", said=str(error))
    finally:
        database.execute_sql("SELECT pg_advisory_unlock(hashtext('follow'), %s)", (follow_id,))


@dataclass
class _Stretch:
    """What was found since the last edit."""

    marks: dict[tuple[int, int], Step] = field(default_factory=dict)
    open: dict[tuple[int, int], Step] = field(default_factory=dict)
    begun: float = field(default_factory=time.monotonic)

    def add(self, step: Step) -> None:
        """Take a step; a later one about the same frame counts."""
        key = (step.body, step.frame)
        self.marks.pop(key, None)
        self.open.pop(key, None)
        (self.marks if step.sure else self.open)[key] = step

    @property
    def long_enough(self) -> bool:
        """Whether it is time for an edit."""
        return time.monotonic() - self.begun > _STRETCH

    def edit(self, *, over_hand: bool) -> FollowMarks | None:
        """As an edit."""
        bodies = sorted({body for body, _ in (*self.marks, *self.open)})
        found = [
            FollowedBody(
                body=body,
                marks=[
                    (step.frame, *step.place, min(step.quality, 1.0))
                    for step in self.marks.values()
                    if step.body == body and step.place
                ],
                open=[
                    (step.frame, *(step.place or (None, None)), min(step.quality, 1.0))
                    for step in self.open.values()
                    if step.body == body
                ],
            )
            for body in bodies
        ]
        return FollowMarks(bodies=found, over_hand=over_hand) if found else None


def _carry_out(row: Any, settings: Settings) -> None:
    footage: Any = tables.Footage.get_or_none(tables.Footage.id == row.footage_id)
    if footage is None:
        _tell(row, state="stopped", said="The footage is not there any more.")
        return
    person = _person(row)
    starts = _starts(row)
    if not starts:
        _tell(row, state="stopped", said="Nothing is marked there any more.")
        return
    ends: dict[int, Ended] = {}
    by_outline: dict[int, dict[int, bool]] = {body: {} for body in starts}
    stretch = _Stretch()
    at = row.at
    for number, told in _steps(row, footage, starts, settings):
        at = number
        for step in told:
            if isinstance(step, Ended):
                ends[step.body] = step
            else:
                stretch.add(step)
                by_outline[step.body][step.frame] = step.by_outline
        if stretch.long_enough:
            if not _goes_on(row):
                return
            _write(row, person, stretch)
            stretch = _Stretch()
            _tell(row, at=at)
    if not _goes_on(row):
        return
    for end in ends.values():
        if end.reason != "left the picture":
            stretch.add(Step(end.body, end.frame, None, 0.0, sure=False))
    _write(row, person, stretch)
    _tell(row, state="done", at=at, said=_said(row, ends, by_outline))


def _steps(
    row: Any, footage: Any, starts: dict[int, Start], settings: Settings
) -> Iterator[tuple[int, list[Step | Ended]]]:
    ground = grounded(footage)
    stored = stored_media(footage, settings)
    way = 1 if row.last > row.first else -1
    begins = (min if way > 0 else max)(start.frame for start in starts.values())
    wanted = range(begins, row.last + way, way * _stride(row, footage))
    damaged = set(ground.survey["damaged"]) if ground.survey else set()
    limit = settings.survey_seconds
    seen = (
        one
        for one in pictures(stored.path, ground.index, wanted, seconds=limit)
        if one[0] not in damaged
    )
    numbers: list[int] = []

    def counted() -> Iterator[Any]:
        for number, picture in seen:
            numbers.append(number)
            yield number, picture

    for place, told in enumerate(follow(counted(), starts, stop_level=row.stop_level)):
        yield numbers[min(place, len(numbers) - 1)], told


def _stride(row: Any, footage: Any) -> int:
    """The smallest stride of the bodies, so that none is left out."""
    bodies = tables.Body.select().where(tables.Body.id.in_(list(row.bodies)))
    return min((body.stride or footage.stride for body in bodies), default=1)


def _starts(row: Any) -> dict[int, Start]:
    """From which mark each body is followed, and which other marks are believed on the way.

    A follow that goes on starts from the latest of its own marks.
    """
    low, high = sorted((row.first, row.last))
    found = {}
    for body in row.bodies:
        marks = list(
            tables.Mark.select().where(
                (tables.Mark.body == body) & tables.Mark.frame.between(low, high)
            )
        )
        start = start_mark(body, row.first if row.at is None else row.at, row.last)
        if row.at is not None:
            behind = [mark for mark in marks if _reached(row, mark.frame)]
            start = max(behind, key=lambda mark: abs(mark.frame - row.first), default=start)
        if start is None:
            continue
        by_hand = {
            mark.frame: (mark.x, mark.y)
            for mark in marks
            if mark.quality is None and mark.frame != start.frame and not row.over_hand
        }
        found[body] = Start(start.frame, (start.x, start.y), by_hand, row.reach, row.search)
    return found


def _reached(row: Any, frame: int) -> bool:
    return abs(frame - row.first) <= abs(row.at - row.first)


def _write(row: Any, person: Person, stretch: _Stretch) -> None:
    edit = stretch.edit(over_hand=row.over_hand)
    if edit is None:
        return
    for attempt in range(_TRIES):
        seq = tables.Study.get_by_id(row.study_id).seq
        request = EditRequest(edit=edit, based_on=seq, token=uuid4().hex)
        try:
            submit(row.study_id, person, request, run=_run(row))
        except Stale:  # somebody marked the same body just now; what they did stays
            if attempt == _TRIES - 1:
                raise
        else:
            return


def _goes_on(row: Any) -> bool:
    """Whether nobody paused or stopped it, or took back what it did so far."""
    state = tables.Follow.get_by_id(row.id).state
    if state == "waiting":  # paused, and let go on before that was noticed here
        _tell(row, state="running")
    elif state != "running":
        return False
    taken_back = tables.Edit.select().where(
        (tables.Edit.study == row.study_id) & (tables.Edit.run == _run(row)) & ~tables.Edit.standing
    )
    if taken_back.exists():
        _tell(row, state="stopped", said="It was taken back.")
        return False
    return True


def _tell(row: Any, **now: Any) -> None:
    """Keep how far it is, and tell the pages."""
    for name, value in now.items():
        setattr(row, name, value)
    row.save(only=list(now))
    notify(row.study_id, follow=follow_line(row))


def _said(row: Any, ends: dict[int, Ended], by_outline: dict[int, dict[int, bool]]) -> str:
    """How it went; how many frames are open changes with each decision, and is not part of it.

    by_outline : for each body and frame, whether its outline placed the mark
    """
    names = {
        body.id: body.name for body in tables.Body.select().where(tables.Body.id << row.bodies)
    }
    low, high = sorted((row.first, row.last))
    count = (
        tables.Mark.select()
        .where((tables.Mark.body << row.bodies) & tables.Mark.frame.between(low, high))
        .count()
    )
    parts = [f"{count} marks between the frames {low} and {high}."]
    for body, frames in by_outline.items():
        if sum(frames.values()) > len(frames) / 2:
            parts.append(
                f"{names.get(body, 'It')} turns or is plain: its outline is marked, "
                "as far from the middle as your first mark."
            )
    for body, end in ends.items():
        parts.append(f"{names.get(body, 'It')} {_ENDED[end.reason]} in frame {end.frame}.")
    return " ".join(parts)


def _run(row: Any) -> str:
    return f"follow {row.id}"


def _person(row: Any) -> Person:
    role = "teacher" if row.teacher_id else "student"
    table: Any = tables.Teacher if row.teacher_id else tables.Student
    found: Person = getattr(people, role)(table.get_by_id(row.teacher_id or row.student_id))
    return found


def _take(follow_id: int) -> bool:
    """Take it for this process; the database lets go when the connection ends, however it ends."""
    query = "SELECT pg_try_advisory_lock(hashtext('follow'), %s)"
    return bool(database.execute_sql(query, (follow_id,)).fetchone()[0])
