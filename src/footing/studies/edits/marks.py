"""Marks: where a body is, frame by frame, and putting whole stretches of them right."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from footing.core.errors import Refused
from footing.store.rows import Body, Doubt, HiddenFrame, Mark
from footing.studies.edits.base import EditModel, Pixel
from footing.studies.work import Work


class PlaceMark(EditModel):
    """Say where a body is in a frame; a mark that is there already moves."""

    kind: Literal["place_mark"] = "place_mark"
    body: int
    frame: int
    x: Pixel
    y: Pixel

    @property
    def label(self) -> str:
        """In the history."""
        return f"mark in frame {self.frame}"

    def apply(self, work: Work) -> None:
        """Add or move the mark."""
        body = marked_body(work, self.body)
        footage = work.rows.footage_of(body)
        work.check_point(footage, self.frame)
        work.check_inside(footage, self.x, self.y)
        put_mark(work, body, self.frame, self.x, self.y, quality=None)


class PlaceMarks(EditModel):
    """Say where a body is in many frames at once; marks that are there stay."""

    kind: Literal["place_marks"] = "place_marks"
    body: int
    marks: Annotated[list[tuple[int, Pixel, Pixel]], Field(min_length=1, max_length=100_000)]

    @property
    def label(self) -> str:
        """In the history."""
        return f"{len(self.marks)} marks"

    def apply(self, work: Work) -> None:
        """Add the marks of frames that have none."""
        body = marked_body(work, self.body)
        footage = work.rows.footage_of(body)
        present = {mark.frame for mark in work.rows.marks_of(body)}
        new = {frame: (x, y) for frame, x, y in reversed(self.marks) if frame not in present}
        for frame, (x, y) in new.items():
            work.check_point(footage, frame)
            work.check_inside(footage, x, y)
        said: list[HiddenFrame | Doubt] = [*work.rows.hidden_of(body), *work.rows.doubts_of(body)]
        for row in said:  # it is settled by a mark
            if row.frame in new:
                work.changes.delete(row)
        for frame, (x, y) in sorted(new.items()):
            mark = Mark(body_id=body.id, frame=frame, study_id=work.study_id, x=x, y=y)
            work.changes.insert(mark)


class RemoveMark(EditModel):
    """Remove the mark of a body in a frame, or what was said about it there instead."""

    kind: Literal["remove_mark"] = "remove_mark"
    body: int
    frame: int

    @property
    def label(self) -> str:
        """In the history."""
        return f"removing the mark in frame {self.frame}"

    def apply(self, work: Work) -> None:
        """Remove it."""
        body = work.row(Body, self.body)
        rows = _all_of(work, body, self.frame)
        if not rows:
            raise Refused(f"There is no mark in frame {self.frame}.", field="mark")
        for row in rows:
            work.changes.delete(row)


class HideBody(EditModel):
    """Say that a body is hidden in a frame; nothing is computed across it."""

    kind: Literal["hide_body"] = "hide_body"
    body: int
    frame: int

    @property
    def label(self) -> str:
        """In the history."""
        return f"hidden in frame {self.frame}"

    def apply(self, work: Work) -> None:
        """Keep that; a mark that was there goes."""
        body = marked_body(work, self.body)
        work.check_frame(work.rows.footage_of(body), self.frame)
        if work.rows.get(HiddenFrame, (body.id, self.frame)):
            raise Refused(f"{body.name} is hidden in frame {self.frame} already.", field="mark")
        hide(work, body, self.frame)


class SetMarkAside(EditModel):
    """Set a doubtful mark aside, so that it does not count, or take it back in."""

    kind: Literal["set_mark_aside"] = "set_mark_aside"
    body: int
    frame: int
    aside: bool
    reason: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] = ""

    @property
    def label(self) -> str:
        """In the history."""
        return f"setting the mark in frame {self.frame} aside"

    def apply(self, work: Work) -> None:
        """Keep that."""
        mark = work.rows.get(Mark, (work.row(Body, self.body).id, self.frame))
        if mark is None:
            raise Refused(f"There is no mark in frame {self.frame}.", field="mark")
        reason = self.reason or None if self.aside else None
        work.changes.update(replace(mark, aside=self.aside, reason=reason))


class ShiftMarks(EditModel):
    """Move all marks of a body by the same offset, because another spot was meant."""

    kind: Literal["shift_marks"] = "shift_marks"
    body: int
    dx: Pixel
    dy: Pixel

    @property
    def label(self) -> str:
        """In the history."""
        return f"shifting all marks by ({self.dx:g}, {self.dy:g}) px"

    def apply(self, work: Work) -> None:
        """Move them; none may leave the picture."""
        body = work.row(Body, self.body)
        if self.dx == self.dy == 0:
            raise Refused("A shift by nothing changes nothing; type an offset.", field="dx")
        footage = work.rows.footage_of(body)
        for mark in work.rows.marks_of(body):
            x, y = mark.x + self.dx, mark.y + self.dy
            work.check_inside(footage, x, y)
            work.changes.update(replace(mark, x=x, y=y))


class RemoveMarks(EditModel):
    """Remove the marks of a body in a range of frames, both ends included."""

    kind: Literal["remove_marks"] = "remove_marks"
    body: int
    first: int
    last: int

    @property
    def label(self) -> str:
        """In the history."""
        return f"removing the marks of frames {self.first}–{self.last}"

    def apply(self, work: Work) -> None:
        """Remove them."""
        marks = work.rows.marks_of(work.row(Body, self.body))
        chosen = [mark for mark in marks if self.first <= mark.frame <= self.last]
        if not chosen:
            raise Refused(
                f"There is no mark in the frames {self.first} to {self.last}.", field="first"
            )
        for mark in chosen:
            work.changes.delete(mark)


class SwapMarks(EditModel):
    """Exchange the marks of two bodies from a frame on, where they were taken for each other."""

    kind: Literal["swap_marks"] = "swap_marks"
    body: int
    other: int
    frame: int

    @property
    def label(self) -> str:
        """In the history."""
        return f"exchanging marks from frame {self.frame} on"

    def apply(self, work: Work) -> None:
        """Give each body the other's later marks; in frames that one alone has, it hands over."""
        body, other = work.row(Body, self.body), work.row(Body, self.other)
        if body.id == other.id or body.footage_id != other.footage_id:
            raise Refused("Choose another body of the same source.", field="other")
        later = [
            (mark, giver, taker)
            for giver, taker in ((body, other), (other, body))
            for mark in work.rows.marks_of(giver)
            if mark.frame >= self.frame
        ]
        if not later:
            raise Refused(f"Neither has a mark from frame {self.frame} on.", field="frame")
        for mark, _, _ in later:
            work.changes.delete(mark)
        for mark, _, taker in later:
            put_mark(work, taker, mark.frame, mark.x, mark.y, quality=mark.quality)


def marked_body(work: Work, body: int) -> Body:
    """A body that can be marked; one that follows from others is refused."""
    row = work.row(Body, body)
    if row.kind != "marked":
        raise Refused(f"{row.name} follows from other bodies; mark those.", field="mark")
    return row


def put_mark(
    work: Work, body: Body, frame: int, x: float, y: float, *, quality: float | None
) -> None:
    """Add or move a mark; what was said about the body in this frame is settled by it."""
    for row in said_of(work, body, frame):
        work.changes.delete(row)
    mark = Mark(body_id=body.id, frame=frame, study_id=work.study_id, x=x, y=y, quality=quality)
    if work.rows.get(Mark, (body.id, frame)):
        work.changes.update(mark)
    else:
        work.changes.insert(mark)


def hide(work: Work, body: Body, frame: int) -> None:
    """Say that a body is hidden in a frame, instead of all that was known of it there."""
    for row in _all_of(work, body, frame):
        work.changes.delete(row)
    work.changes.insert(HiddenFrame(body_id=body.id, frame=frame, study_id=work.study_id))


def said_of(work: Work, body: Body, frame: int) -> list[HiddenFrame | Doubt]:
    """What was said of a body in a frame without a mark: that it is hidden, or in doubt."""
    key = (body.id, frame)
    said = (work.rows.get(HiddenFrame, key), work.rows.get(Doubt, key))
    return [row for row in said if row is not None]


def _all_of(work: Work, body: Body, frame: int) -> list[Mark | HiddenFrame | Doubt]:
    """The mark of a body in a frame, and what was said of it there."""
    mark = work.rows.get(Mark, (body.id, frame))
    return [*([mark] if mark else []), *said_of(work, body, frame)]
