"""What following found, and deciding about the frames that it left open."""

from typing import Annotated, Any, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.store.tables import Doubt, Mark
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
            present = {mark.frame: mark for mark in work.rows(Mark, body=body)}
            by_hand = {frame for frame, mark in present.items() if mark.quality is None}
            kept = set() if self.over_hand else by_hand
            for frame, x, y, quality in found.marks:
                if frame not in kept:
                    work.check_frame(body.footage, frame)
                    work.check_inside(body.footage, x, y)
                    put_mark(work, body, frame, x, y, quality=quality)
            for frame, *place, quality in found.open:
                if frame not in kept:
                    work.check_frame(body.footage, frame)
                    self._leave_open(work, body, present.get(frame), frame, (*place, quality))

    def _leave_open(
        self, work: Work, body: Any, mark: Any, frame: int, proposal: tuple[Any, ...]
    ) -> None:
        for row in said_of(work, body.id, frame):
            work.changes.delete(row)
        if mark is not None:
            work.changes.delete(mark)
        x, y, quality = proposal
        work.changes.insert(
            Doubt, body=body, frame=frame, study=work.study_id, x=x, y=y, quality=quality
        )


class DecideDoubt(EditModel):
    """Decide about a frame that following left open (moving the mark is placing it by hand)."""

    kind: Literal["decide_doubt"] = "decide_doubt"
    body: int
    frame: int
    decision: Literal["right", "hidden", "ends"]

    @property
    def label(self) -> str:
        """In the history."""
        return f"deciding about frame {self.frame}"

    def apply(self, work: Work) -> None:
        """Make the proposal a mark, say that the body is hidden, or end its motion before."""
        body = marked_body(work, self.body)
        doubts = work.rows(Doubt, body=body)
        here = [doubt for doubt in doubts if doubt.frame == self.frame]
        if not here:
            raise Refused(f"Frame {self.frame} waits for no decision.", field="decision")
        if self.decision == "hidden":
            hide(work, body, self.frame)
        elif self.decision == "right":
            if here[0].x is None:
                raise Refused("Nothing was proposed here; click where it is.", field="decision")
            proposal = here[0]
            put_mark(work, body, self.frame, proposal.x, proposal.y, quality=proposal.quality)
        else:
            marks = [mark for mark in work.rows(Mark, body=body) if mark.quality is not None]
            for row in [*doubts, *marks]:
                if row.frame >= self.frame:
                    work.changes.delete(row)
            work.changes.update(body, last=max(self.frame - 1, 0))
