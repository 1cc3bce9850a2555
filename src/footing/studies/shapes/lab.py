"""What a lab asks for, and what the class laid down, as data."""

from typing import TypedDict

from footing.store.rows import SeriesRule
from footing.studies.steps import Step


class AskedFindingShape(TypedDict):
    """A finding that a lab asks for, and what the study has recorded under its name.

    accepted, tolerance (per cent) : None where the lab does not show them
    """

    name: str
    quantity: str
    unit: str
    accepted: str | None
    tolerance: str | None
    found: list[str]


class AnswerShape(TypedDict):
    """A question of a lab, and what the study answers."""

    id: int
    question: str
    words: str


class LabTaskShape(TypedDict):
    """A line of the instructions that asks for something at a step.

    words : as Markdown
    """

    step: Step
    words: str
    done: bool


class LabShape(TypedDict):
    """What the lab asks for.

    given : whether there is something to start from
    checks : what its instructions want of the study, and if it is so
    tasks : the same, line by line
    """

    id: int
    class_id: int
    given: bool
    title: str
    question: str
    instructions: str
    due: str
    checks: dict[str, bool]
    tasks: list[LabTaskShape]
    asked: list[AskedFindingShape]
    questions: list[AnswerShape]
    follows: bool
    sketch_first: bool


class RulesShape(TypedDict):
    """What the class laid down, and whether this person may change it."""

    series_look: SeriesRule
    tells_meanings: bool
    tells_verdicts: bool
    has_lab: bool
    may_change: bool
