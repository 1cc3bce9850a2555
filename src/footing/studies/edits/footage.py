"""Footage comes and goes; its span and stride."""

from typing import Any, Literal

from footing.core.errors import Refused
from footing.core.ground import PIXEL_UNCERTAINTY
from footing.store.tables import Body, Footage, Ground, KnownLength, Media, Passage
from footing.studies.edits.base import EditModel, Name
from footing.studies.edits.bodies import remove_body
from footing.studies.edits.passages import remove_passage
from footing.studies.work import Work


class AddFootage(EditModel):
    """Measure on an uploaded video. The zero begins in the middle of the picture, at frame 0."""

    kind: Literal["add_footage"] = "add_footage"
    content: str
    name: Name

    @property
    def label(self) -> str:
        """In the history."""
        return f"footage “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add footage with an untouched ground."""
        present = work.rows(Footage)
        if present:
            raise Refused(
                f"The study has the footage “{present[0].name}” already; remove it first, or start "
                "a new study for this video."
            )
        media: Any = Media.get_or_none(Media.content == self.content)
        if media is None:
            raise Refused("The video is not there; upload it again.")
        footage = work.changes.insert(
            Footage,
            study=work.study_id,
            media=self.content,
            name=self.name,
            first=0,
            last=media.frames - 1,
            stride=1,
        )
        work.changes.insert(
            Ground,
            footage=footage,
            study=work.study_id,
            zero_x=(media.width - 1) / 2,
            zero_y=(media.height - 1) / 2,
            zero_placed=False,
            angle=0.0,
            flip_x=False,
            flip_y=False,
            zero_frame=0,
            pixel_uncertainty=PIXEL_UNCERTAINTY,
        )


class RemoveFootage(EditModel):
    """Remove footage with everything that was measured on it."""

    kind: Literal["remove_footage"] = "remove_footage"
    footage: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing footage"

    def apply(self, work: Work) -> None:
        """Remove what rests on the footage first."""
        footage = work.row(Footage, self.footage)
        for body in work.rows(Body, footage=footage):
            remove_body(work, body)
        for passage in work.rows(Passage, footage=footage):
            remove_passage(work, passage)
        for table in (KnownLength, Ground):
            for row in work.rows(table, footage=footage):
                work.changes.delete(row)
        work.changes.delete(footage)


class SetSpan(EditModel):
    """Choose the frames that count and the stride. Marks outside stay but do not count."""

    kind: Literal["set_span"] = "set_span"
    footage: int
    first: int
    last: int
    stride: int

    @property
    def label(self) -> str:
        """In the history."""
        return f"span {self.first}–{self.last}, stride {self.stride}"

    def apply(self, work: Work) -> None:
        """Change the footage's span."""
        footage = work.row(Footage, self.footage)
        work.check_frame(footage, self.first, field="first")
        work.check_frame(footage, self.last, field="last")
        if self.first > self.last:
            raise Refused(
                f"The first frame ({self.first}) lies behind the last ({self.last}).", field="first"
            )
        if self.stride < 1:
            raise Refused(f"A stride of {self.stride} cannot be; the least is 1.", field="stride")
        work.changes.update(footage, first=self.first, last=self.last, stride=self.stride)
