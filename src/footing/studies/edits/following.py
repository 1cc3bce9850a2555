"""What following found, and deciding about the frames that it left open."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.store.rows import Body, Doubt, Mark
from footing.studies.edits.base import EditModel, Pixel
from footing.studies.edits.marks import hide, marked_body, put_mark, said_of
from footing.studies.received import Received
from footing.studies.work import Work

Quality = Annotated[float, Field(ge=0, le=1)]
_MOST = 100_000


class FollowedBody(Received):
    """What was found of one body.

    marks : frame, x, y and quality of each mark
    open : frame, proposed x and y (if any) and quality, of frames without a mark
    """

    body: int
    marks: Annotated[list[tuple[int, Pixel, Pixel, Quality]], Field(max_length=_MOST)] = Field(
        default_factory=list
    )
    open: Annotated[
        list[tuple[int, Pixel | None, Pixel | None, Quality]], Field(max_length=_MOST)
    ] = Field(default_factory=list)


class FollowMarks(EditModel):
    """Keep what following found; marks made by hand stay, unless ``over_hand`` says otherwise."""

    kind: Literal["follow_marks"] = "follow_marks"
    bodies: Annotated[list[FollowedBody], Field(min_length=1, max_length=50)]
    over_hand: bool = False

    @property
    def label(self) -> str:
        """In the history."""
        return "following"

    def apply(self, work: Work) -> None:
        """Put the marks, and leave open what was left open."""
        for found in self.bodies:
            body = marked_body(work, found.body)
            footage = work.rows.footage_of(body)
            present = {mark.frame: mark for mark in work.rows.marks_of(body)}
            by_hand = {frame for frame, mark in present.items() if mark.quality is None}
            kept = set() if self.over_hand else by_hand
            for frame, x, y, quality in found.marks:
                if frame not in kept:
                    work.check_frame(footage, frame)
                    work.check_inside(footage, x, y)
                    put_mark(work, body, frame, x, y, quality=quality)
            for frame, proposed_x, proposed_y, quality in found.open:
                if frame not in kept:
                    work.check_frame(footage, frame)
                    doubt = Doubt(
                        body_id=body.id,
                        frame=frame,
                        study_id=work.study_id,
                        x=proposed_x,
                        y=proposed_y,
                        quality=quality,
                    )
                    self._leave_open(work, body, doubt)

    def _leave_open(self, work: Work, body: Body, doubt: Doubt) -> None:
        for row in said_of(work, body, doubt.frame):
            work.changes.delete(row)
        mark = work.rows.get(Mark, (body.id, doubt.frame))
        if mark is not None:
            work.changes.delete(mark)
        work.changes.insert(doubt)


class DecideDoubt(EditModel):
    """Decide about frames that following left open (moving a mark is placing it by hand).

    last : the last frame of the stretch; the one frame if it is not given
    """

    kind: Literal["decide_doubt"] = "decide_doubt"
    body: int
    frame: int
    last: int | None = None
    decision: Literal["right", "hidden", "ends"]

    @property
    def label(self) -> str:
        """In the history."""
        if self.last is None or self.last == self.frame:
            return f"deciding about frame {self.frame}"
        return f"deciding about frames {self.frame}–{self.last}"

    def apply(self, work: Work) -> None:
        """Make the proposals marks, say that the body is hidden, or end its motion before.

        Where it is right and nothing was proposed within a stretch, the body is hidden.
        """
        body = marked_body(work, self.body)
        doubts = work.rows.doubts_of(body)
        last = self.frame if self.last is None else self.last
        here = [doubt for doubt in doubts if self.frame <= doubt.frame <= last]
        if not here:
            raise Refused(f"Frame {self.frame} waits for no decision.", field="decision")
        if self.decision == "hidden":
            for doubt in here:
                hide(work, body, doubt.frame)
        elif self.decision == "right":
            if all(doubt.x is None for doubt in here):
                raise Refused("Nothing was proposed here; click where it is.", field="decision")
            for doubt in here:
                if doubt.x is None or doubt.y is None:
                    hide(work, body, doubt.frame)
                else:
                    put_mark(work, body, doubt.frame, doubt.x, doubt.y, quality=doubt.quality)
        else:
            marks = [mark for mark in work.rows.marks_of(body) if mark.quality is not None]
            later: list[Doubt | Mark] = [*doubts, *marks]
            for row in later:
                if row.frame >= self.frame:
                    work.changes.delete(row)
            work.changes.update(replace(body, last=max(self.frame - 1, 0)))
