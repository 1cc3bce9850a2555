"""Fits, what is read off them and how they compare, as data."""

from collections.abc import Mapping
from typing import TypedDict

from footing.store.rows import GivenParameter
from footing.studies.shapes.tables import Pieces


class ReadingShape(TypedDict):
    """A number that a fit gives, with all its uncertainty."""

    key: str
    label: str
    formula: Pieces
    text: str
    unit: str
    alone: str
    besides: str
    rests_on: str
    interval: str
    outside: bool
    held: bool
    plain: str


class FitHead(TypedDict):
    """A fit as it was asked for."""

    id: int
    owner: str
    owner_name: str
    of: dict[str, int]
    body: int | None
    passages: list[int]
    points: list[int] | None
    x: str
    y: str
    curve: str
    formula: str
    given: Mapping[str, GivenParameter]
    weights: str
    digits: int | None
    may_weigh: bool
    label_text: str
    dashed: bool
    colour_name: str
    colour: str
    box: list[float] | None
    title: str | None
    names: list[str]
    symbols: Pieces
    n: int
    series: str


class FitWithout(FitHead):
    """A fit that comes to nothing, and why."""

    reason: str


class FitWith(FitHead):
    """A fit with what it comes to.

    doubt : why the curve may not be that of these points
    line : x, y; residuals : number, x, residual
    """

    reason: None
    equations: list[str]
    plain_equation: str
    over: str
    parameters: list[ReadingShape]
    readings: list[ReadingShape]
    sense: str | None
    at_bound: list[str]
    rival: str
    problem: str | None
    doubt: str | None
    weighed: str
    scatter: str
    sum_of_squares: str
    r: str
    r_squared: str | None
    correlations: list[list[str]]
    line: list[list[float]]
    residuals: list[list[float]]


FitShape = FitWith | FitWithout


class ChoiceShape(TypedDict):
    """Which of two fits of the same points is better."""

    fits: list[int]
    said: str
