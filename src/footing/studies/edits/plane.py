"""An oblique view: a rectangle whose sides are known, and further known points."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from footing.core.errors import Refused
from footing.core.plane import fitted_plane, rectangle
from footing.core.units import LENGTHS, read_number, read_positive
from footing.store.rows import Footage, Plane, PlanePoint
from footing.studies.edits.base import EditModel, Pixel, Typed
from footing.studies.edits.lengths import check_unit
from footing.studies.model.grounds import CORNERS
from footing.studies.work import Work

_MOST_POINTS = 24

Corner = tuple[Pixel, Pixel]


class DrawPlane(EditModel):
    """Mark the corners of a rectangle in the plane of the motion, seen at a slant.

    corners : counter-clockwise as seen, beginning at the lower left
    """

    kind: Literal["draw_plane"] = "draw_plane"
    footage: int
    frame: int
    corners: Annotated[list[Corner], Field(min_length=CORNERS, max_length=CORNERS)]

    @property
    def label(self) -> str:
        """In the history."""
        return "oblique view"

    def apply(self, work: Work) -> None:
        """Add the rectangle; its sides are typed next."""
        footage = work.row(Footage, self.footage)
        work.check_frame(footage, self.frame)
        if work.rows.plane_of(footage):
            raise Refused("There is a rectangle already; move its corners, or remove it.")
        fitted_plane(tuple(self.corners), rectangle(1.0, 1.0), pixel_uncertainty=1.0)
        study = work.study_id
        work.changes.insert(
            Plane(footage_id=footage.id, study_id=study, frame=self.frame, unit="m")
        )
        for place, (x, y) in enumerate(self.corners):
            corner = PlanePoint(study_id=study, plane_id=footage.id, place=place, x=x, y=y)
            work.changes.insert(corner)


class TypePlane(EditModel):
    """Say how long the sides of the rectangle are: across its first side, and along its second."""

    kind: Literal["type_plane"] = "type_plane"
    footage: int
    across: Typed
    along: Typed
    unit: Typed

    @property
    def label(self) -> str:
        """In the history."""
        return f"rectangle of {self.across} by {self.along} {self.unit}"

    def apply(self, work: Work) -> None:
        """Keep what was typed; a side may still be missing."""
        plane = work.row(Plane, self.footage)
        for field in ("across", "along"):
            if text := getattr(self, field):
                read_positive(text, field=field, what="A side", limits=LENGTHS)
        lengths = work.rows.known_lengths_of(work.rows.footage_of(plane))
        check_unit(self.unit, {row.unit or "" for row in lengths if row.typed is not None})
        work.changes.update(
            replace(plane, across=self.across or None, along=self.along or None, unit=self.unit)
        )


class AddPlanePoint(EditModel):
    """Add a point whose place in the plane is known, counted from the rectangle's first corner."""

    kind: Literal["add_plane_point"] = "add_plane_point"
    footage: int
    x: Pixel
    y: Pixel

    @property
    def label(self) -> str:
        """In the history."""
        return "point of the oblique view"

    def apply(self, work: Work) -> None:
        """Add the point; its place is typed next."""
        plane = work.row(Plane, self.footage)
        footage = work.rows.footage_of(plane)
        present = work.rows.plane_points_of(footage)
        if len(present) >= _MOST_POINTS:
            raise Refused(f"{_MOST_POINTS} points are enough.")
        work.check_inside(footage, self.x, self.y)
        place = max(point.place for point in present) + 1
        point = PlanePoint(
            study_id=work.study_id, plane_id=footage.id, place=place, x=self.x, y=self.y
        )
        work.changes.insert(point)


class MovePlanePoint(EditModel):
    """Move a corner or a point of the oblique view."""

    kind: Literal["move_plane_point"] = "move_plane_point"
    point: int
    x: Pixel
    y: Pixel

    @property
    def label(self) -> str:
        """In the history."""
        return "moving a corner"

    def apply(self, work: Work) -> None:
        """Change its place in the picture."""
        work.changes.update(replace(work.row(PlanePoint, self.point), x=self.x, y=self.y))


class TypePlanePoint(EditModel):
    """Say where a further point lies in the plane: across and along, from the first corner."""

    kind: Literal["type_plane_point"] = "type_plane_point"
    point: int
    across: Typed
    along: Typed

    @property
    def label(self) -> str:
        """In the history."""
        return "place of a point"

    def apply(self, work: Work) -> None:
        """Keep what was typed."""
        point = work.row(PlanePoint, self.point)
        if point.place < CORNERS:
            raise Refused("The place of a corner follows from the sides.", field="across")
        for field in ("across", "along"):
            if text := getattr(self, field):
                read_number(text, field=field)
        work.changes.update(replace(point, across=self.across or None, along=self.along or None))


class RemovePlanePoint(EditModel):
    """Remove a further point of the oblique view."""

    kind: Literal["remove_plane_point"] = "remove_plane_point"
    point: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a point"

    def apply(self, work: Work) -> None:
        """Remove it; a corner goes with the rectangle only."""
        point = work.row(PlanePoint, self.point)
        if point.place < CORNERS:
            raise Refused("A rectangle has four corners; remove the oblique view instead.")
        work.changes.delete(point)


class RemovePlane(EditModel):
    """Look at the picture square-on again."""

    kind: Literal["remove_plane"] = "remove_plane"
    footage: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing the oblique view"

    def apply(self, work: Work) -> None:
        """Remove the rectangle with its points."""
        plane = work.row(Plane, self.footage)
        for point in work.rows.plane_points_of(work.rows.footage_of(plane)):
            work.changes.delete(point)
        work.changes.delete(plane)
