"""What a study's lab asks for, and how far the study is with it."""

import re
from collections.abc import Callable, Iterator

from footing.core import findings
from footing.core.dimensions import Unit, read_unit
from footing.core.units import read_number
from footing.store.labs import LabTask
from footing.store.rows import (
    Answer,
    Body,
    Fit,
    Footage,
    Ground,
    Impact,
    KnownLength,
    LabFinding,
    MotionModel,
    Passage,
)
from footing.store.snapshot import StudyRows
from footing.studies.model.results import NoResult, Result, Results
from footing.studies.school.lists import moment_text
from footing.studies.shapes.lab import AnswerShape, AskedFindingShape, LabShape, LabTaskShape
from footing.studies.steps import Step

# what a line of the instructions can ask of the study
CHECKS: dict[str, str] = {
    "source": "a film, a picture or a sheet is there",
    "span": "first and last frame are chosen",
    "scale": "a known length has its value",
    "zero": "zero was placed",
    "marks": "a body has five marks; another number as in “12 marks”",
    "passage": "a passage is named",
    "impact": "an impact is placed",
    "fit": "a curve was fitted",
    "model": "a model was made",
    "finding": "a finding is recorded",
    "answers": "every question is answered",
}
CHECK = re.compile(
    rf"^(?P<bullet>[ \t]*[-*+] )\[(?P<check>(?:\d{{1,4}} )?(?:{'|'.join(CHECKS)}))\] ", re.MULTILINE
)
_AT = {  # questions are answered wherever somebody likes to
    "source": Step.SOURCES,
    "span": Step.SOURCES,
    "scale": Step.GROUND,
    "zero": Step.GROUND,
    "marks": Step.MARK,
    "passage": Step.GRAPH,
    "fit": Step.GRAPH,
    "finding": Step.GRAPH,
    "model": Step.MODEL,
    "impact": Step.LEDGER,
}
_FEWEST_MARKS = 5


def lab_view(task: LabTask, rows: StudyRows, results: Results, *, follows: bool) -> LabShape:
    """What the lab asks for, with what the study has of it."""
    lab = task.lab
    answers = {row.question_id: row.words for row in rows.all(Answer)}
    questions: list[AnswerShape] = [
        {"id": one.id, "question": one.words, "words": answers.get(one.id, "")}
        for one in task.questions
    ]
    answered = all(one["words"] for one in questions)
    wanted = {found["check"] for found in CHECK.finditer(lab.instructions)}
    checks = {check: _has(check, rows, answered=answered) for check in sorted(wanted)}
    return {
        "id": lab.id,
        "class_id": lab.school_class_id,
        "given": lab.start_id is not None,
        "title": lab.title,
        "question": lab.task,
        "instructions": lab.instructions,
        "due": moment_text(lab.due) if lab.due else "",
        "checks": checks,
        "tasks": [
            one
            for check, one in _tasks(lab.instructions, checks)
            if check != "finding" or not task.findings  # which are told by their names
        ],
        "asked": [_asked(one, rows, results) for one in task.findings],
        "questions": questions,
        "follows": follows,
        "sketch_first": lab.sketch_first,
    }


def _tasks(instructions: str, done: dict[str, bool]) -> Iterator[tuple[str, LabTaskShape]]:
    """What the lines of instructions ask for at a step, in their order, under its check."""
    for found in CHECK.finditer(instructions):
        check = found["check"].rpartition(" ")[-1]
        if check in _AT:
            words, _, _ = instructions[found.end() :].partition("\n")
            yield check, {"step": _AT[check], "words": words.strip(), "done": done[found["check"]]}


def _has(check: str, rows: StudyRows, *, answered: bool) -> bool:
    number, _, name = check.rpartition(" ")
    if name == "marks":
        most = int(number) if number else _FEWEST_MARKS
        return any(len(rows.marks_of(body)) >= most for body in rows.all(Body))
    if name == "answers":
        return answered
    return bool(_HAS[name](rows))


_HAS: dict[str, Callable[[StudyRows], object]] = {
    "source": lambda rows: bool(rows.footages or rows.sheets),
    "span": lambda rows: any(one.first > 0 for one in rows.all(Footage)),
    "scale": lambda rows: any(one.typed for one in rows.all(KnownLength)),
    "zero": lambda rows: any(one.zero_placed for one in rows.all(Ground)),
    "passage": lambda rows: bool(rows.all(Passage)),
    "impact": lambda rows: bool(rows.all(Impact)),
    "fit": lambda rows: bool(rows.all(Fit)),
    "model": lambda rows: bool(rows.all(MotionModel)),
    "finding": lambda rows: bool(rows.findings),
}


def _asked(asked: LabFinding, rows: StudyRows, results: Results) -> AskedFindingShape:
    found = found_for(asked, rows, results)
    said = [as_asked(asked, one.value, one.unit) for one in found]
    return {
        "name": asked.name,
        "quantity": asked.quantity,
        "unit": asked.unit,
        "accepted": asked.accepted if asked.shown else None,
        "tolerance": asked.tolerance if asked.shown else None,
        "found": [one[1] for one in said if one is not None],
    }


def answers_to(wanted: str, name: str) -> bool:
    """Whether a finding is what is asked for under a name.

    In one study each has a name of its own: a second *a* is *a 2*, or *a of sled*.
    """
    own, wanted = name.strip().casefold(), wanted.strip().casefold()
    return own == wanted or bool(re.fullmatch(rf"{re.escape(wanted)} (\d+|of .+)", own))


def found_for(asked: LabFinding, rows: StudyRows, results: Results) -> list[Result]:
    """The findings of a study that answer to the name that is asked for, and have a value."""
    named = [row for row in rows.findings if answers_to(asked.name, row.name)]
    every = (results[row.id] for row in named)
    return [one for one in every if not isinstance(one, NoResult)]


def as_asked(
    asked: LabFinding, value: findings.Measured, unit: Unit
) -> tuple[findings.Measured, str] | None:
    """A value in the unit that is asked for, and as text; None where it is of another kind."""
    if not asked.unit:
        return value, findings.measured(value.value, value.uncertainty, str(unit))
    wanted = read_unit(asked.unit)
    if not wanted.converts_to(unit):
        return None
    scaled = findings.scaled(value, unit.factor / wanted.factor)
    return scaled, findings.measured(scaled.value, scaled.uncertainty, asked.unit)


def is_well(asked: LabFinding, value: findings.Measured) -> bool | None:
    """Whether a value agrees with what is accepted, or lies within the tolerance.

    None where nothing is accepted.
    """
    if not asked.accepted:
        return None
    accepted = read_number(asked.accepted, field="accepted").value
    if asked.tolerance:
        share = read_number(asked.tolerance, field="tolerance").value / 100
        return abs(value.value - accepted) <= share * abs(accepted)
    return findings.compare(value, accepted).verdict == "agrees"
