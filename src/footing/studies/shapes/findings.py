"""Findings as data: their budgets, their trials and what they are compared with."""

from typing import TypedDict


class ShareShape(TypedDict):
    """A contribution to an uncertainty; ``share`` in percent of its square."""

    source: str
    text: str
    share: int


class ComparisonShape(TypedDict, total=False):
    """A finding beside an accepted value; only ``needs`` where that cannot be."""

    needs: str | None
    percent: str | None
    verdict: str
    distance: str
    opposite_sign: bool
    accepted: str


class DifferenceShape(TypedDict, total=False):
    """A finding beside another one; only ``needs`` where that cannot be."""

    needs: str | None
    name: str
    percent: str | None
    verdict: str
    distance: str


class FindingHead(TypedDict):
    """A finding as it was kept."""

    id: int
    fit: int | None
    model: int | None
    reading: str | None
    name: str
    symbol: str
    other: int | None
    formula: str | None
    as_size: bool
    highlighted: bool
    accepted: str
    accepted_uncertainty: str


class FindingWithout(FindingHead):
    """A finding that has no value, and why."""

    reason: str


class FindingWith(FindingHead):
    """A finding with its value ± uncertainty, budget and comparisons."""

    reason: None
    of: str
    shown_formula: str | None
    text: str
    unit: str
    interval: str
    budget: list[ShareShape]
    accepted_unit: str
    comparison: ComparisonShape | None
    difference: DifferenceShape | None


FindingShape = FindingWith | FindingWithout
