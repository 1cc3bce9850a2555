"""Judging what was handed in: points by criterion, a grade, words; returning it."""

from dataclasses import replace
from datetime import UTC, datetime
from typing import Annotated

from pydantic import Field, StringConstraints

from footing.core.errors import NotThere, Refused
from footing.store import hand_ins, records
from footing.store.notices import notify
from footing.store.rows import Criterion, HandIn, Lab
from footing.studies.received import Received
from footing.studies.school.people import Person

_MOST_CRITERIA = 20
_MOST_POINTS = 1000.0


class Judgement(Received):
    """What a teacher makes of it; points by key of the criterion, None for none."""

    points: dict[int, Annotated[float, Field(ge=0, allow_inf_nan=False)] | None] = {}  # noqa: RUF012
    grade: Annotated[str, StringConstraints(strip_whitespace=True, max_length=20)] = ""
    words: Annotated[str, StringConstraints(strip_whitespace=True, max_length=5000)] = ""


class NewCriterion(Received):
    """Something by which hand-ins are judged."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
    most: Annotated[float, Field(gt=0, le=_MOST_POINTS, allow_inf_nan=False)]


def judge(hand_in: HandIn, lab: Lab | None, judgement: Judgement) -> HandIn:
    """Note points, grade and words; students see them when it is returned.

    Raises
    ------
    Refused : if a criterion gives less points than that.
    """
    criteria = {one.id: one for one in hand_ins.criteria_of(lab.id)} if lab is not None else {}
    points = {}
    for key, given in judgement.points.items():
        criterion = criteria.get(key)
        if criterion is None or given is None:
            continue
        if given > criterion.most:
            raise Refused(
                f"{criterion.name} gives {criterion.most:g} points at most.", field=f"points.{key}"
            )
        points[str(key)] = given
    judged = replace(hand_in, points=points, grade=judgement.grade, words=judgement.words)
    return records.change(hand_in, judged)


def give_back(hand_in: HandIn, person: Person, *, again: bool) -> HandIn:
    """Let the students see what was said; ``again`` asks them for another one."""
    now = datetime.now(UTC)
    returned = replace(hand_in, returned_at=now, returned_by=person.name, again=again)
    made = records.change(hand_in, returned)
    notify(hand_in.study_id, handed=True, said="The report was returned: see the step Report.")
    return made


def keep_back(hand_in: HandIn) -> HandIn:
    """Take a return back: the students do not see what was said, until it is returned again."""
    made = records.change(hand_in, replace(hand_in, returned_at=None, returned_by="", again=False))
    notify(hand_in.study_id, handed=True)
    return made


def add_criterion(lab: Lab, wanted: NewCriterion) -> Criterion:
    """Judge by something more.

    Raises
    ------
    Refused : if there are too many.
    """
    if len(hand_ins.criteria_of(lab.id)) >= _MOST_CRITERIA:
        raise Refused(f"A lab has {_MOST_CRITERIA} criteria at most.")
    return records.add(Criterion(lab_id=lab.id, name=wanted.name, most=wanted.most))


def remove_criterion(lab: Lab, key: int) -> None:
    """Judge by something no more.

    Raises
    ------
    NotThere : if the lab has no such criterion.
    """
    found = next((one for one in hand_ins.criteria_of(lab.id) if one.id == key), None)
    if found is None:
        raise NotThere("The lab has no such criterion.")
    hand_ins.remove_criterion(found)


def criteria(lab: Lab) -> list[Criterion]:
    """By what the hand-ins of a lab are judged."""
    return hand_ins.criteria_of(lab.id)


def total(hand_in: HandIn, criteria: list[Criterion]) -> float | None:
    """All points that count; None before any were given."""
    given = [hand_in.points[str(one.id)] for one in criteria if str(one.id) in hand_in.points]
    return sum(given) if given else None
