"""Fits: curves through series, over all points, passages or chosen ones."""

from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from footing.core.curves import CurveKey, own_curve
from footing.core.errors import Refused
from footing.core.units import read_number
from footing.store.tables import Body, Finding, Fit, Passage, Sheet, Study
from footing.studies.edits.base import EditModel, Typed
from footing.studies.edits.graphs import ColourName, ColumnKey, check_columns
from footing.studies.work import Work

_MOST_POINTS = 20_000


class GivenParameter(EditModel):
    """What is said about a parameter, as typed: where to start or what it is, and its bounds."""

    value: Typed = ""
    fixed: bool = False
    low: Typed = ""
    high: Typed = ""

    def check(self, name: str) -> None:
        """Refuse what is no number."""
        for text in (self.value, self.low, self.high):
            if text:
                read_number(text, field=name)
        if self.fixed and not self.value:
            raise Refused(f"Type the value at which {name} is held.", field=name)
        if self.low and self.high:
            low, high = (read_number(text, field=name).value for text in (self.low, self.high))
            if low >= high:
                raise Refused(f"The bounds of {name} leave no room.", field=name)


class Fitting(EditModel):
    """What is fitted, and over which points; without passages and points over all of them."""

    curve: CurveKey
    formula: Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)] = ""
    passages: Annotated[tuple[int, ...], Field(max_length=20)] = ()
    points: Annotated[list[int], Field(max_length=_MOST_POINTS)] | None = None
    weights: Literal["equal", "stated"] = "equal"
    digits: Annotated[int, Field(ge=1, le=12)] | None = None
    given: dict[str, GivenParameter] = Field(default_factory=dict)

    def values(self, work: Work) -> dict[str, Any]:
        """The columns, once checked."""
        if self.curve == "own":
            own_curve(self.formula)
        for name, given in self.given.items():
            given.check(name)
        for passage in self.passages:
            work.row(Passage, passage)
        return {
            "curve": self.curve,
            "formula": self.formula or None if self.curve == "own" else None,
            "passages": list(self.passages),
            "points": self.points,
            "weights": self.weights,
            "digits": self.digits,
            "given": {name: given.model_dump() for name, given in self.given.items()},
        }


class AddFit(Fitting):
    """Fit a curve to the y of a body or a sheet against its x."""

    kind: Literal["add_fit"] = "add_fit"
    body: int | None = None
    sheet: int | None = None
    x: ColumnKey
    y: ColumnKey

    @property
    def label(self) -> str:
        """In the history."""
        return f"{self.curve.replace('_', ' ')} fit"

    def apply(self, work: Work) -> None:
        """Add the fit; whether there are points enough is told where its result is shown."""
        if self.x == self.y:
            raise Refused("A quantity cannot be fitted against itself.", field="y")
        if (self.body is None) == (self.sheet is None):
            raise Refused("Name a body or a sheet.", field="body")
        owner: dict[str, Any]
        if self.body is not None:
            body = work.row(Body, self.body)
            owner = {"body": body, "sheet": None}
            check_columns(work, {"footage": body.footage}, self.x, self.y)
        else:
            sheet = work.row(Sheet, self.sheet or 0)
            owner = {"body": None, "sheet": sheet}
            check_columns(work, {"sheet": sheet}, self.x, self.y)
        values = self.values(work)
        work.changes.insert(
            Fit,
            study=work.study_id,
            x=self.x,
            y=self.y,
            label=None,
            colour=None,
            box=None,
            dashed=bool(class_of(work).series_look.get("dashed")),
            **owner,
            **values,
        )


class ChangeFit(Fitting):
    """Choose another curve or other points for a fit; its series stays."""

    kind: Literal["change_fit"] = "change_fit"
    fit: int
    label_text: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)] = ""
    dashed: bool = False
    colour: ColourName = ""

    @property
    def label(self) -> str:
        """In the history."""
        return f"{self.curve.replace('_', ' ')} fit"

    def apply(self, work: Work) -> None:
        """Change the fit."""
        work.changes.update(
            work.row(Fit, self.fit),
            label=self.label_text or None,
            dashed=self.dashed,
            colour=self.colour or None,
            **self.values(work),
        )


class PlaceBox(EditModel):
    """Move the box with the results of a fit to where it hides no points.

    x, y : of its upper left corner, as shares of the graph's width and height
    """

    kind: Literal["place_box"] = "place_box"
    fit: int
    x: Annotated[float, Field(ge=0, le=1)]
    y: Annotated[float, Field(ge=0, le=1)]

    @property
    def label(self) -> str:
        """In the history."""
        return "a result box"

    def apply(self, work: Work) -> None:
        """Keep the place."""
        work.changes.update(work.row(Fit, self.fit), box=[self.x, self.y])


class RemoveFit(EditModel):
    """Remove a fit with the findings read from it."""

    kind: Literal["remove_fit"] = "remove_fit"
    fit: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a fit"

    def apply(self, work: Work) -> None:
        """Remove what rests on it first."""
        remove_fit(work, work.row(Fit, self.fit))


def class_of(work: Work) -> Any:
    """The class that a study belongs to."""
    return Study.get_by_id(work.study_id).school_class


def remove_fit(work: Work, fit: Any) -> None:
    """Remove a fit's findings, then the fit."""
    for finding in work.rows(Finding, fit=fit):
        remove_finding(work, finding)
    work.changes.delete(fit)


def remove_finding(work: Work, finding: Any) -> None:
    """Remove a finding; what was compared with it is not any more."""
    for other in work.rows(Finding, other=finding):
        work.changes.update(other, other=None)
    work.changes.delete(finding)


def remove_fits_of(work: Work, *, sheet: Any = None, column: str | None = None) -> None:
    """Remove the fits of a sheet, or those that use a column."""
    for fit in work.rows(Fit):
        if (sheet is not None and fit.sheet_id == sheet.id) or column in (fit.x, fit.y):
            remove_fit(work, fit)
