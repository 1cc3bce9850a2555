"""Sources come and go: footage and pictures, their span and stride, turn and mirror."""

from dataclasses import replace
from typing import Literal

from footing.core.errors import Refused
from footing.core.ground import PIXEL_UNCERTAINTY, UPWARDS, Quarter
from footing.media.index import MediaIndex
from footing.store.contents import is_stored
from footing.store.rows import (
    NEW,
    Body,
    Doubt,
    Footage,
    Ground,
    HiddenFrame,
    Mark,
)
from footing.studies.edits.base import EditModel, Name
from footing.studies.edits.bodies import remove_body
from footing.studies.edits.columns import remove_column
from footing.studies.edits.impacts import remove_impact
from footing.studies.edits.models import remove_model
from footing.studies.edits.passages import remove_passage
from footing.studies.edits.sheets import remove_sheet
from footing.studies.model.grounds import media_index
from footing.studies.model.kinds import kind_of
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
        if len(work.rows.footages) >= _MOST_SOURCES:
            raise Refused(f"A study has room for {_MOST_SOURCES} sources; remove one first.")
        media = _media(self.content)
        footage = work.changes.insert(
            Footage(
                study_id=work.study_id,
                content=self.content,
                name=self.name,
                first=0,
                last=media.frames - 1,
                stride=1,
            )
        )
        work.changes.insert(
            Ground(
                footage_id=footage.id,
                study_id=work.study_id,
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
        work.changes.update(replace(work.row(Footage, self.footage), name=self.name))


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
        work.changes.update(
            replace(footage, content=self.content, name=self.name, first=first, last=last)
        )
        if not kind_of(new).has_time:
            return
        for body in work.rows.bodies_of(footage):
            of_frames: list[Mark | Doubt | HiddenFrame] = [
                *work.rows.marks_of(body),
                *work.rows.doubts_of(body),
                *work.rows.hidden_of(body),
            ]
            for row in of_frames:
                if row.frame > end:
                    work.changes.delete(row)
            if max(body.first or 0, body.last or 0) > end:
                own_first = body.first if body.first is not None and body.first <= end else None
                work.changes.update(replace(body, first=own_first, last=None))
        for length in work.rows.known_lengths_of(footage):
            work.changes.update(replace(length, frame=min(length.frame, end)))
        for passage in work.rows.passages_of(footage):
            if passage.last > end:
                remove_passage(work, passage)
        for impact in work.rows.impacts_on(footage):
            if impact.at > end:
                remove_impact(work, impact)
        energies = work.rows.energy_ledger_of(footage)
        if energies is not None:
            start, top, finish = (
                None if frame is None or frame > end else frame
                for frame in (energies.start, energies.top, energies.finish)
            )
            work.changes.update(replace(energies, start=start, top=top, finish=finish))
        ground = work.row(Ground, self.footage)
        ground = replace(ground, zero_frame=min(ground.zero_frame, end))
        if ground.clock_last is not None and ground.clock_last > end:
            ground = replace(
                ground, clock="file", clock_typed=None, clock_first=None, clock_last=None
            )
        work.changes.update(ground)


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
        own, other = work.rows.ground_of(footage), work.rows.ground_of(source)
        copied = replace(
            other,
            footage_id=footage.id,
            zero_frame=own.zero_frame,
            clock_first=own.clock_first,
            clock_last=own.clock_last,
        )
        if other.clock_first is not None:  # a clock for certain frames is of that file only
            copied = replace(copied, clock="file", clock_typed=None)
        work.changes.update(copied)
        last = here.frames - 1
        for length in work.rows.known_lengths_of(source):
            frame = min(length.frame, last)
            work.changes.insert(replace(length, id=NEW, footage_id=footage.id, frame=frame))
        plane = work.rows.plane_of(source)
        if plane is not None:
            frame = min(plane.frame, last)
            work.changes.insert(replace(plane, footage_id=footage.id, frame=frame))
            for point in work.rows.plane_points_of(source):
                work.changes.insert(replace(point, id=NEW, plane_id=footage.id))


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
        work.changes.update(replace(ground, quarter=self.quarter, mirror=self.mirror))


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
        for body in work.rows.bodies_of(footage):
            if work.rows.get(Body, body.id):  # it may have gone with one that it belongs to
                remove_body(work, body)
        for impact in work.rows.impacts_on(footage):
            remove_impact(work, impact)
        for model in work.rows.models_on(footage):
            remove_model(work, model)
        for passage in work.rows.passages_of(footage):
            remove_passage(work, passage)
        for sheet in work.rows.sheets_on(footage):
            remove_sheet(work, sheet)
        for column in work.rows.columns_of(footage):
            remove_column(work, column)
        _remove_lengths_and_plane(work, footage)
        ledger = work.rows.energy_ledger_of(footage)
        for row in (
            *work.rows.graphs_of(footage),
            *([ledger] if ledger else []),
            work.rows.ground_of(footage),
        ):
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
        changed = replace(footage, first=self.first, last=self.last, stride=self.stride)
        work.changes.update(changed)


def _media(content: str) -> MediaIndex:
    if not is_stored(content):  # it may have been tidied away since this process knew it
        raise Refused("The file is not there; upload it again.")
    return media_index(content)


def _check_same_size(old: MediaIndex, new: MediaIndex) -> None:
    """Refuse where a ground would not fit."""
    if old.kind != new.kind:
        raise Refused("A picture and a video cannot have the same ground; add it as a new source.")
    if (old.width, old.height) != (new.width, new.height):
        raise Refused(
            f"The pictures have different sizes ({old.width} × {old.height} and {new.width} × "
            f"{new.height} px), so the ground would not fit."
        )


def _remove_lengths_and_plane(work: Work, footage: Footage) -> None:
    plane = work.rows.plane_of(footage)
    for row in (
        *work.rows.plane_points_of(footage),
        *([plane] if plane else []),
        *work.rows.known_lengths_of(footage),
    ):
        work.changes.delete(row)
