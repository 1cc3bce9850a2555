"""Fits: curves through series, over all points, passages or chosen ones."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, StringConstraints

from footing.core.curves import CURVES, own_curve
from footing.core.errors import Refused
from footing.core.units import read_number
from footing.store.rows import Body, Finding, Fit, Passage, Sheet
from footing.store.rows import GivenParameter as Given
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

    @property
    def stored(self) -> Given:
        """As it is kept."""
        return {"value": self.value, "fixed": self.fixed, "low": self.low, "high": self.high}

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


def _known_curve(key: str) -> str:
    if key not in CURVES and key != "own":
        raise ValueError(f"There is no curve “{key}”.")
    return key


class Fitting(EditModel):
    """What is fitted, and over which points; without passages and points over all of them."""

    curve: Annotated[str, AfterValidator(_known_curve)]
    formula: Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)] = ""
    passages: Annotated[tuple[int, ...], Field(max_length=20)] = ()
    points: Annotated[list[int], Field(max_length=_MOST_POINTS)] | None = None
    weights: Literal["equal", "stated"] = "equal"
    digits: Annotated[int, Field(ge=1, le=12)] | None = None
    given: dict[str, GivenParameter] = Field(default_factory=dict)

    def fitting(self, work: Work, fit: Fit) -> Fit:
        """A fit with what is chosen here, once checked."""
        if self.curve == "own":
            own_curve(self.formula)
        for name, given in self.given.items():
            given.check(name)
        for passage in self.passages:
            work.row(Passage, passage)
        return replace(
            fit,
            curve=self.curve,
            formula=self.formula or None if self.curve == "own" else None,
            passages=list(self.passages),
            points=self.points,
            weights=self.weights,
            digits=self.digits,
            given={name: given.stored for name, given in self.given.items()},
        )


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
        work.changes.insert(self.fit(work))

    def fit(self, work: Work) -> Fit:
        """The fit, once checked."""
        if self.x == self.y:
            raise Refused("A quantity cannot be fitted against itself.", field="y")
        if (self.body is None) == (self.sheet is None):
            raise Refused("Name a body or a sheet.", field="body")
        if self.body is not None:
            source = work.rows.footage_of(work.row(Body, self.body))
            check_columns(work, source, self.x, self.y)
        else:
            check_columns(work, work.row(Sheet, self.sheet or 0), self.x, self.y)
        plain = Fit(
            study_id=work.study_id,
            body_id=self.body,
            sheet_id=self.sheet,
            x=self.x,
            y=self.y,
            curve=self.curve,
            dashed=bool(work.rule.get("dashed")),
        )
        return self.fitting(work, plain)


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
        changed = replace(
            self.fitting(work, work.row(Fit, self.fit)),
            label=self.label_text or None,
            dashed=self.dashed,
            colour=self.colour or None,
        )
        work.changes.update(changed)


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
        work.changes.update(replace(work.row(Fit, self.fit), box=[self.x, self.y]))


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


def remove_fit(work: Work, fit: Fit) -> None:
    """Remove a fit's findings, then the fit."""
    for finding in work.rows.findings_of(fit):
        remove_finding(work, finding)
    work.changes.delete(fit)


def remove_finding(work: Work, finding: Finding) -> None:
    """Remove a finding; what was compared with it is not any more."""
    for other in work.rows.compared_with(finding):
        work.changes.update(replace(other, other_id=None))
    work.changes.delete(finding)


def remove_fits_of(work: Work, *, sheet: Sheet | None = None, column: str | None = None) -> None:
    """Remove the fits of a sheet, or those that use a column."""
    for fit in work.rows.all(Fit):
        if (sheet is not None and fit.sheet_id == sheet.id) or column in (fit.x, fit.y):
            remove_fit(work, fit)
