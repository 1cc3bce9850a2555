"""Following in the background: reads frames, and writes marks as edits, a stretch at a time.

The edits of one follow belong together, so that undo takes them back in one step. What was written
is in the database; a follow that broke off goes on from its last marks.
"""

import time
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from typing import Any
from uuid import uuid4

from footing.core.errors import FootingError, Stale
from footing.core.following.leg import Ended, Reason, Start, Step
from footing.core.following.run import follow
from footing.media.luma import pictures
from footing.settings import Settings
from footing.store import records
from footing.store.follows import UNDER_WAY, let_go, take
from footing.store.history import was_taken_back
from footing.store.notices import notify
from footing.store.reading import read_study
from footing.store.rows import Body, Follow, Footage
from footing.store.snapshot import StudyRows
from footing.studies.door import EditRequest, submit
from footing.studies.edits.following import FollowedBody, FollowMarks
from footing.studies.films.follows import follow_line, start_mark
from footing.studies.films.uploads import stored_media
from footing.studies.model.grounds import Grounded, grounded
from footing.studies.school.people import Person, person_of

_STRETCH = 0.4  # seconds between two edits
_TRIES = 3
_ENDED: dict[Reason, str] = {
    "left the picture": "left the picture",
    "hidden": "went behind something",
    "lost": "was lost",
}


def carry_out(follow_id: int, settings: Settings) -> None:
    """Do a follow, or go on with it; nothing happens if another process is at it."""
    row = records.fetch(Follow, follow_id)
    if row is None or row.state not in UNDER_WAY or not take(follow_id):
        return
    try:
        row = _tell(row, replace(row, state="running"))
        _carry_out(row, settings)
    except FootingError as error:
        _tell(row, replace(row, state="stopped", said=str(error)))
    finally:
        let_go(follow_id)


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


def _carry_out(row: Follow, settings: Settings) -> None:
    rows = read_study(row.study_id)
    footage = rows.get(Footage, row.footage_id)
    if footage is None:
        _tell(row, replace(row, state="stopped", said="The footage is not there any more."))
        return
    person = person_of(row)
    starts = _starts(row, rows)
    if not starts:
        _tell(row, replace(row, state="stopped", said="Nothing is marked there any more."))
        return
    ends: dict[int, Ended] = {}
    by_outline: dict[int, dict[int, bool]] = {body: {} for body in starts}
    stretch = _Stretch()
    at = row.at
    for number, told in _steps(row, grounded(footage, rows), _stride(row, rows), starts, settings):
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
            row = _tell(row, replace(row, at=at))
    if not _goes_on(row):
        return
    for end in ends.values():
        if end.reason != "left the picture":
            stretch.add(Step(end.body, end.frame, None, 0.0, sure=False))
    _write(row, person, stretch)
    said = _said(row, ends, by_outline)
    _tell(row, replace(row, state="done", at=at, said=said))


def _steps(
    row: Follow, ground: Grounded, stride: int, starts: dict[int, Start], settings: Settings
) -> Iterator[tuple[int, list[Step | Ended]]]:
    stored = stored_media(ground.footage, settings)
    way = 1 if row.last > row.first else -1
    begins = (min if way > 0 else max)(start.frame for start in starts.values())
    wanted = range(begins, row.last + way, way * stride)
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


def _bodies(row: Follow, rows: StudyRows) -> list[Body]:
    """The bodies that are followed, as far as they are still there."""
    found = (rows.get(Body, body) for body in row.bodies)
    return [body for body in found if body is not None]


def _stride(row: Follow, rows: StudyRows) -> int:
    """The smallest stride of the bodies, so that none is left out."""
    bodies = _bodies(row, rows)
    return min((body.stride or rows.footage_of(body).stride for body in bodies), default=1)


def _starts(row: Follow, rows: StudyRows) -> dict[int, Start]:
    """From which mark each body is followed, and which other marks are believed on the way.

    A follow that goes on starts from the latest of its own marks.
    """
    low, high = sorted((row.first, row.last))
    found = {}
    for body in _bodies(row, rows):
        marks = [mark for mark in rows.marks_of(body) if low <= mark.frame <= high]
        start = start_mark(marks, row.first if row.at is None else row.at, row.last)
        if row.at is not None:
            behind = [mark for mark in marks if _reached(row, row.at, mark.frame)]
            start = max(behind, key=lambda mark: abs(mark.frame - row.first), default=start)
        if start is None:
            continue
        by_hand = {
            mark.frame: (mark.x, mark.y)
            for mark in marks
            if mark.quality is None and mark.frame != start.frame and not row.over_hand
        }
        found[body.id] = Start(start.frame, (start.x, start.y), by_hand, row.reach, row.search)
    return found


def _reached(row: Follow, at: int, frame: int) -> bool:
    return abs(frame - row.first) <= abs(at - row.first)


def _write(row: Follow, person: Person, stretch: _Stretch) -> None:
    edit = stretch.edit(over_hand=row.over_hand)
    if edit is None:
        return
    for attempt in range(_TRIES):
        seq = read_study(row.study_id).seq
        request = EditRequest(edit=edit, based_on=seq, token=uuid4().hex)
        try:
            submit(row.study_id, person, request, run=_run(row))
        except Stale:  # somebody marked the same body just now; what they did stays
            if attempt == _TRIES - 1:
                raise
        else:
            return


def _goes_on(row: Follow) -> bool:
    """Whether nobody paused or stopped it, or took back what it did so far."""
    present = records.fetch(Follow, row.id)
    if present is None:
        return False
    if present.state == "waiting":  # paused, and let go on before that was noticed here
        _tell(present, replace(present, state="running"))
    elif present.state != "running":
        return False
    if was_taken_back(row.study_id, _run(row)):
        _tell(present, replace(present, state="stopped", said="It was taken back."))
        return False
    return True


def _tell(before: Follow, after: Follow) -> Follow:
    """Keep how far it is, and tell the pages."""
    records.change(before, after)
    notify(after.study_id, follow=follow_line(after))
    return after


def _said(row: Follow, ends: dict[int, Ended], by_outline: dict[int, dict[int, bool]]) -> str:
    """How it went; how many frames are open changes with each decision, and is not part of it.

    by_outline : for each body and frame, whether its outline placed the mark
    """
    rows = read_study(row.study_id)
    bodies = _bodies(row, rows)
    names = {body.id: body.name for body in bodies}
    low, high = sorted((row.first, row.last))
    count = sum(low <= mark.frame <= high for body in bodies for mark in rows.marks_of(body))
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


def _run(row: Follow) -> str:
    return f"follow {row.id}"
