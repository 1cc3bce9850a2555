"""Labs: what a teacher gives and asks for, and makes ready beforehand."""

from dataclasses import replace
from datetime import UTC, datetime

from footing.core.dimensions import read_unit
from footing.core.errors import Refused
from footing.core.units import read_number
from footing.store import labs, records
from footing.store.rows import NEW, Lab, LabFinding, LabQuestion, Study
from footing.studies.received import Received
from footing.studies.school.copying import fill_from
from footing.studies.school.people import Person

_LONGEST_TITLE, _LONGEST_QUESTION, _LONGEST_INSTRUCTIONS = 80, 600, 20_000
_MOST_PARTS = 30  # findings, or questions


class LabWords(Received):
    """What a lab says, and its switches; ``due`` is local, as ``2026-01-16T15:30``, or empty."""

    title: str
    task: str = ""
    instructions: str = ""
    due: str = ""
    follows: bool = False
    tells_meanings: bool = False
    tells_verdicts: bool = False
    sketch_first: bool = False


class AskedFinding(Received):
    """A finding that a lab asks for."""

    name: str
    quantity: str = ""
    unit: str = ""
    accepted: str = ""
    tolerance: str = ""
    shown: bool = False


def words_of(lab: Lab) -> LabWords:
    """What a lab says, without its due date, which belongs to a class."""
    return LabWords(
        title=lab.title,
        task=lab.task,
        instructions=lab.instructions,
        follows=lab.follows,
        tells_meanings=lab.tells_meanings,
        tells_verdicts=lab.tells_verdicts,
        sketch_first=lab.sketch_first,
    )


def asked_of(finding: LabFinding) -> AskedFinding:
    """What a lab asks for with a finding."""
    return AskedFinding(
        name=finding.name,
        quantity=finding.quantity,
        unit=finding.unit,
        accepted=finding.accepted or "",
        tolerance=finding.tolerance or "",
        shown=finding.shown,
    )


def new_lab(class_id: int, title: str) -> Lab:
    """Make an empty lab.

    Raises
    ------
    Refused : for a title that is empty or too long.
    """
    return records.add(Lab(school_class_id=class_id, title=_title(title), task=""))


def change_lab(lab: Lab, words: LabWords) -> Lab:
    """Change what a lab says.

    Raises
    ------
    Refused : for a text that is too long, or a due date that is none.
    """
    for text, most in (
        (words.task, _LONGEST_QUESTION),
        (words.instructions, _LONGEST_INSTRUCTIONS),
    ):
        if len(text) > most:
            raise Refused(f"This has {len(text)} characters; {most} are the most.", field="task")
    changed = replace(
        lab,
        title=_title(words.title),
        task=words.task.strip(),
        instructions=words.instructions.strip(),
        due=_moment(words.due),
        follows=words.follows,
        tells_meanings=words.tells_meanings,
        tells_verdicts=words.tells_verdicts,
        sketch_first=words.sketch_first,
    )
    return records.change(lab, changed)


def ask_for(lab: Lab, asked: AskedFinding) -> None:
    """Have a lab ask for one more finding.

    Raises
    ------
    Refused : if its name is bad or taken, or unit, accepted value or tolerance are none.
    """
    name, task = asked.name.strip(), labs.task_of(lab)
    if not 0 < len(name) <= 60:
        raise Refused("A finding has a name of 1 to 60 letters.", field="name")
    if name.casefold() in {one.name.casefold() for one in task.findings}:
        raise Refused(f"{name} is asked for already.", field="name")
    _check_number_of(task.findings)
    if asked.unit.strip():
        read_unit(asked.unit)
    for field, typed in (("accepted", asked.accepted), ("tolerance", asked.tolerance)):
        if typed.strip():
            read_number(typed, field=field)
    records.add(
        LabFinding(
            lab_id=lab.id,
            name=name,
            quantity=asked.quantity.strip()[:60],
            unit=asked.unit.strip(),
            accepted=asked.accepted.strip() or None,
            tolerance=asked.tolerance.strip() or None,
            shown=asked.shown,
        )
    )


def ask_in_words(lab: Lab, words: str) -> None:
    """Have a lab ask one more question.

    Raises
    ------
    Refused : for a question that is empty or too long, or too many.
    """
    words = words.strip()
    if not 0 < len(words) <= _LONGEST_QUESTION:
        raise Refused(f"A question has 1 to {_LONGEST_QUESTION} characters.", field="words")
    _check_number_of(labs.task_of(lab).questions)
    records.add(LabQuestion(lab_id=lab.id, words=words))


def _check_number_of(parts: tuple[object, ...]) -> None:
    if len(parts) >= _MOST_PARTS:
        raise Refused(f"A lab asks for {_MOST_PARTS} at most.")


def ask_no_more(lab: Lab, *, finding: int | None = None, question: int | None = None) -> None:
    """Take something out of what a lab asks for."""
    task = labs.task_of(lab)
    for asked in task.findings:
        if asked.id == finding:
            labs.remove_finding(asked)
    for one in task.questions:
        if one.id == question:
            records.change(one, replace(one, removed_at=datetime.now(UTC)))


def make_ready(lab: Lab) -> int:
    """The study that groups start from, made if there is none: sources, ground, sheets, graphs."""
    present = labs.start_of(lab)
    if present is not None:
        return present.id
    start = records.add(
        Study(
            school_class_id=lab.school_class_id,
            lab_id=lab.id,
            title=lab.title,
            made_at=datetime.now(UTC),
        )
    )
    records.change(lab, replace(lab, start_id=start.id))
    return start.id


def begin_with(lab: Lab, study_id: int) -> Lab:
    """Have groups start from copies of a study that was made for it."""
    return records.change(lab, replace(lab, start_id=study_id))


def start_empty(lab: Lab) -> None:
    """Have groups begin with nothing; what they started from goes."""
    start = labs.start_of(lab)
    records.change(lab, replace(lab, start_id=None))
    if start is not None:
        records.change(start, replace(start, removed_at=datetime.now(UTC)))


def start_from(lab: Lab, study: Study, person: Person) -> None:
    """Have groups start from a copy of what is in a study now."""
    start = records.add(
        replace(study, id=NEW, group_id=None, seq=0, lab_id=lab.id, title=lab.title)
    )
    fill_from(study, start.id, person)
    records.change(lab, replace(lab, start_id=start.id))


def duplicate_lab(lab: Lab, person: Person, *, class_id: int) -> Lab:
    """Make a copy of a lab in a class, with what groups start from."""
    same_class = class_id == lab.school_class_id
    title = f"{lab.title[: _LONGEST_TITLE - 6]}, copy" if same_class else lab.title
    copy = replace(lab, id=NEW, school_class_id=class_id, title=title, start_id=None, due=None)
    made = records.add(copy)
    task = labs.task_of(lab)
    for asked in task.findings:
        records.add(replace(asked, id=NEW, lab_id=made.id))
    for question in task.questions:
        records.add(replace(question, id=NEW, lab_id=made.id))
    start = labs.start_of(lab)
    if start is not None:
        start_from(made, replace(start, school_class_id=class_id), person)
    return made


def remove_lab(lab: Lab) -> None:
    """Take a lab out of sight; its studies stay, as questions of the groups' own."""
    records.change(lab, replace(lab, removed_at=datetime.now(UTC)))


def _title(title: str) -> str:
    title = " ".join(title.split())
    if not 0 < len(title) <= _LONGEST_TITLE:
        raise Refused(f"A lab has a title of 1 to {_LONGEST_TITLE} characters.", field="title")
    return title


def _moment(typed: str) -> datetime | None:
    if not typed.strip():
        return None
    try:
        return datetime.fromisoformat(typed.strip()).astimezone()
    except ValueError:
        raise Refused(f"{typed!r} is no date and time.", field="due") from None
