"""Impacts, and the ledgers of energy and of momentum."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import ClassVar

from footing.store.rows.base import NEW, Row


@dataclass(frozen=True, slots=True, kw_only=True)
class Impact(Row):
    """A moment between two frames that no derivative, no fit and no mean crosses.

    body_id : whose it is; of all bodies of the footage if empty
    at : a frame and a half: 58.5 lies between 58 and 59
    kind : ``impact``; ``begins`` or ``ends``, of a free motion
    """

    id: int = NEW
    study_id: int
    footage_id: int
    body_id: int | None = None
    at: float
    kind: str = "impact"


@dataclass(frozen=True, slots=True, kw_only=True)
class EnergyLedger(Row):
    """The account of the energies on a footage.

    left_out : bodies that do not count
    columns : columns of the bodies, in joules, that are further lines
    spring_body_id : the body at the end of a spring, if there is one
    spring_constant, rest_length : of the spring, as typed, in their units
    fixed_x, fixed_y : its other end in pixels; in zero if empty
    start, top, finish : frames that are compared by hand
    against : what stands across on its graph: ``t`` or ``h``
    from_above : whether the film shows no heights, so that there is no potential energy
    verdict : what the people of the study say of it, in words
    """

    KEY: ClassVar[tuple[str, ...]] = ("footage_id",)

    footage_id: int
    study_id: int
    left_out: list[int] = field(default_factory=list)
    columns: list[int] = field(default_factory=list)
    spring_body_id: int | None = None
    spring_constant: str | None = None
    spring_unit: str = "N/m"
    rest_length: str | None = None
    rest_unit: str = "m"
    fixed_x: float | None = None
    fixed_y: float | None = None
    start: int | None = None
    top: int | None = None
    finish: int | None = None
    against: str = "t"
    from_above: bool = False
    verdict: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class MomentumLedger(Row):
    """The account of the momenta before and after an impact.

    before_id, after_id : passages; if empty from the impact before it, and to the next one
    left_out : bodies that do not count
    resting_before, resting_after : bodies that are said to rest there
    unit : in which momenta are shown
    blank : whether its cells are to be filled in
    entries : what was filled in, by the key of the cell
    verdict : what the people of the study say of it, in words
    """

    KEY: ClassVar[tuple[str, ...]] = ("impact_id",)

    impact_id: int
    study_id: int
    before_id: int | None = None
    after_id: int | None = None
    left_out: list[int] = field(default_factory=list)
    resting_before: list[int] = field(default_factory=list)
    resting_after: list[int] = field(default_factory=list)
    unit: str = "kg*m/s"
    blank: bool = False
    entries: Mapping[str, str] = field(default_factory=dict)
    verdict: str | None = None
