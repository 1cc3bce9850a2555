"""Marks: where a body is, frame by frame, and putting whole stretches of them right."""

from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from footing.core.errors import Refused
from footing.store.tables import Body, Doubt, HiddenFrame, Mark
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
        work.check_point(body.footage, self.frame)
        work.check_inside(body.footage, self.x, self.y)
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
        present = {mark.frame for mark in work.rows(Mark, body=body)}
        new = {frame: (x, y) for frame, x, y in reversed(self.marks) if frame not in present}
        for frame, (x, y) in new.items():
            work.check_point(body.footage, frame)
            work.check_inside(body.footage, x, y)
        for table in (HiddenFrame, Doubt):  # what was said there is settled by a mark
            for row in work.rows(table, body=body):
                if row.frame in new:
                    work.changes.delete(row)
        plain = {"quality": None, "aside": False, "reason": None, "study": work.study_id}
        work.changes.insert_many(
            Mark,
            [
                {"body": body, "frame": frame, "x": x, "y": y, **plain}
                for frame, (x, y) in sorted(new.items())
            ],
        )


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
        rows = [*_marks_at(work, body.id, self.frame), *said_of(work, body.id, self.frame)]
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
        work.check_frame(body.footage, self.frame)
        if work.rows(HiddenFrame, body=body, frame=self.frame):
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
        present = _marks_at(work, work.row(Body, self.body).id, self.frame)
        if not present:
            raise Refused(f"There is no mark in frame {self.frame}.", field="mark")
        reason = self.reason or None if self.aside else None
        work.changes.update(present[0], aside=self.aside, reason=reason)


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
        for mark in _marks(work, self.body):
            x, y = mark.x + self.dx, mark.y + self.dy
            work.check_inside(body.footage, x, y)
            work.changes.update(mark, x=x, y=y)


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
        work.row(Body, self.body)
        chosen = [one for one in _marks(work, self.body) if self.first <= one.frame <= self.last]
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
            for mark in _marks(work, giver.id)
            if mark.frame >= self.frame
        ]
        if not later:
            raise Refused(f"Neither has a mark from frame {self.frame} on.", field="frame")
        for mark, _, _ in later:
            work.changes.delete(mark)
        for mark, _, taker in later:
            put_mark(work, taker, mark.frame, mark.x, mark.y, quality=mark.quality)


def marked_body(work: Work, body: int) -> Any:
    """A body that can be marked; one that follows from others is refused."""
    row = work.row(Body, body)
    if row.kind != "marked":
        raise Refused(f"{row.name} follows from other bodies; mark those.", field="mark")
    return row


def put_mark(
    work: Work, body: Any, frame: int, x: float, y: float, *, quality: float | None
) -> None:
    """Add or move a mark; what was said about the body in this frame is settled by it."""
    for row in said_of(work, body.id, frame):
        work.changes.delete(row)
    values = {"x": x, "y": y, "quality": quality, "aside": False, "reason": None}
    present = _marks_at(work, body.id, frame)
    if present:
        work.changes.update(present[0], **values)
    else:
        work.changes.insert(Mark, body=body, frame=frame, study=work.study_id, **values)


def hide(work: Work, body: Any, frame: int) -> None:
    """Say that a body is hidden in a frame, instead of all that was known of it there."""
    for row in [*_marks_at(work, body.id, frame), *said_of(work, body.id, frame)]:
        work.changes.delete(row)
    work.changes.insert(HiddenFrame, body=body, frame=frame, study=work.study_id)


def said_of(work: Work, body: int, frame: int) -> list[Any]:
    """What was said of a body in a frame without a mark: that it is hidden, or in doubt."""
    where = {"body": body, "frame": frame}
    return [*work.rows(HiddenFrame, **where), *work.rows(Doubt, **where)]


def _marks(work: Work, body: int) -> list[Any]:
    return work.rows(Mark, body=body)


def _marks_at(work: Work, body: int, frame: int) -> list[Any]:
    return work.rows(Mark, body=body, frame=frame)
