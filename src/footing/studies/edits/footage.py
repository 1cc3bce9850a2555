"""Sources come and go: footage and pictures, their span and stride, turn and mirror."""

from typing import Any, Literal

from footing.core.errors import Refused
from footing.core.ground import PIXEL_UNCERTAINTY, UPWARDS, Quarter
from footing.store.tables import (
    Body,
    Doubt,
    Footage,
    Graph,
    Ground,
    HiddenFrame,
    KnownLength,
    Mark,
    Media,
    Passage,
    Plane,
    PlanePoint,
    Sheet,
)
from footing.studies.edits.base import EditModel, Name
from footing.studies.edits.bodies import remove_body
from footing.studies.edits.passages import remove_passage
from footing.studies.edits.sheets import remove_sheet
from footing.studies.work import Work

_MOST_SOURCES = 12


class AddFootage(EditModel):
    """Measure on an uploaded video or picture. The zero begins in its middle, at frame 0."""

    kind: Literal["add_footage"] = "add_footage"
    content: str
    name: Name

    @property
    def label(self) -> str:
        """In the history."""
        return f"source “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add footage with an untouched ground."""
        if len(work.rows(Footage)) >= _MOST_SOURCES:
            raise Refused(f"A study has room for {_MOST_SOURCES} sources; remove one first.")
        media = _media(self.content)
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
            up=UPWARDS,
        )


class RenameFootage(EditModel):
    """Name a source."""

    kind: Literal["rename_footage"] = "rename_footage"
    footage: int
    name: Name

    @property
    def label(self) -> str:
        """In the history."""
        return f"source “{self.name}”"

    def apply(self, work: Work) -> None:
        """Change the name."""
        work.changes.update(work.row(Footage, self.footage), name=self.name)


class ReplaceFootage(EditModel):
    """Put another file in the place of a source; ground, bodies and marks stay.

    The file must be of the same kind and size, so that the ground fits. Marks and spans in frames
    that the new file does not have go.
    """

    kind: Literal["replace_footage"] = "replace_footage"
    footage: int
    content: str
    name: Name

    @property
    def label(self) -> str:
        """In the history."""
        return f"another file, “{self.name}”"

    def apply(self, work: Work) -> None:
        """Change the file, and what lies behind its last frame."""
        footage = work.row(Footage, self.footage)
        old, new = work.picture(footage), _media(self.content)
        _check_same_size(old, new)
        end = new.frames - 1
        whole = footage.last == old.frames - 1 and footage.first == 0
        last = end if whole else min(footage.last, end)
        first = min(footage.first, last)
        work.changes.update(footage, media=self.content, name=self.name, first=first, last=last)
        if new.kind == "picture":
            return
        for body in work.rows(Body, footage=footage):
            for table in (Mark, Doubt, HiddenFrame):
                for row in work.rows(table, body=body):
                    if row.frame > end:
                        work.changes.delete(row)
            if max(body.first or 0, body.last or 0) > end:
                own_first = body.first if body.first is not None and body.first <= end else None
                work.changes.update(body, first=own_first, last=None)
        for length in work.rows(KnownLength, footage=footage):
            work.changes.update(length, frame=min(length.frame, end))
        for passage in work.rows(Passage, footage=footage):
            if passage.last > end:
                remove_passage(work, passage)
        ground = work.row(Ground, self.footage)
        work.changes.update(ground, zero_frame=min(ground.zero_frame, end))
        if ground.clock_last is not None and ground.clock_last > end:
            clock = {"clock": "file", "clock_typed": None, "clock_first": None, "clock_last": None}
            work.changes.update(ground, **clock)


class CopyGround(EditModel):
    """Take over the ground of another source that was filmed from the same place.

    Known lengths, oblique view, zero, axes, up and clock come along; zero time stays.
    """

    kind: Literal["copy_ground"] = "copy_ground"
    footage: int
    source: int

    @property
    def label(self) -> str:
        """In the history."""
        return "copying the ground"

    def apply(self, work: Work) -> None:
        """Replace this ground by a copy of the other."""
        footage, source = work.row(Footage, self.footage), work.row(Footage, self.source)
        if footage.id == source.id:
            raise Refused("Choose another source to copy the ground from.", field="source")
        here, there = work.picture(footage), work.picture(source)
        _check_same_size(there, here)
        _remove_lengths_and_plane(work, footage)
        own = ("footage", "study", "zero_frame", "clock_first", "clock_last")
        other = dict(work.row(Ground, source.id).__data__)
        copied = {name: value for name, value in other.items() if name not in own}
        if other["clock_first"] is not None:  # a clock for certain frames is of that file only
            copied |= {"clock": "file", "clock_typed": None}
        work.changes.update(work.row(Ground, footage.id), **copied)
        for length in work.rows(KnownLength, footage=source):
            frame = min(length.frame, here.frames - 1)
            _insert_copy(work, length, footage=footage.id, frame=frame)
        for plane in work.rows(Plane, footage=source):
            frame = min(plane.frame, here.frames - 1)
            _insert_copy(work, plane, footage=footage.id, frame=frame)
            for point in work.rows(PlanePoint, plane=source.id):
                _insert_copy(work, point, plane=footage.id)


class TurnView(EditModel):
    """Turn a file that is simply sideways, and mirror it. Marks keep their place on the object."""

    kind: Literal["turn_view"] = "turn_view"
    footage: int
    quarter: Quarter
    mirror: bool

    @property
    def label(self) -> str:
        """In the history."""
        return f"picture turned by {self.quarter}°" + (", mirrored" if self.mirror else "")

    def apply(self, work: Work) -> None:
        """Keep turn and mirror with the ground."""
        ground = work.row(Ground, self.footage)
        work.changes.update(ground, quarter=self.quarter, mirror=self.mirror)


class RemoveFootage(EditModel):
    """Remove a source with everything that was measured on it."""

    kind: Literal["remove_footage"] = "remove_footage"
    footage: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a source"

    def apply(self, work: Work) -> None:
        """Remove what rests on the footage first."""
        footage = work.row(Footage, self.footage)
        for body in work.rows(Body, footage=footage):
            remove_body(work, body)
        for passage in work.rows(Passage, footage=footage):
            remove_passage(work, passage)
        for sheet in work.rows(Sheet, footage=footage):
            remove_sheet(work, sheet)
        _remove_lengths_and_plane(work, footage)
        for table in (Graph, Ground):
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


def _media(content: str) -> Any:
    media: Any = Media.get_or_none(Media.content == content)
    if media is None:
        raise Refused("The file is not there; upload it again.")
    return media


def _check_same_size(old: Any, new: Any) -> None:
    """Refuse where a ground would not fit."""
    if old.kind != new.kind:
        raise Refused("A picture and a video cannot have the same ground; add it as a new source.")
    if (old.width, old.height) != (new.width, new.height):
        raise Refused(
            f"The pictures have different sizes ({old.width} × {old.height} and {new.width} × "
            f"{new.height} px), so the ground would not fit."
        )


def _remove_lengths_and_plane(work: Work, footage: Any) -> None:
    for point in work.rows(PlanePoint, plane=footage.id):
        work.changes.delete(point)
    for table in (Plane, KnownLength):
        for row in work.rows(table, footage=footage):
            work.changes.delete(row)


def _insert_copy(work: Work, row: Any, **changed: Any) -> None:
    values = {name: value for name, value in row.__data__.items() if name != "id"}
    work.changes.insert(type(row), **(values | changed))
