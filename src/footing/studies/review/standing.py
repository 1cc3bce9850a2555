"""What a lab's groups handed in: as a list that is read one after the other, and as a table."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from footing.core import findings
from footing.core.errors import NotThere
from footing.formats import writing
from footing.formats.headings import Heading
from footing.store import hand_ins, labs
from footing.store.access import class_study
from footing.store.reading import read_study
from footing.store.rows import Criterion, FrozenNumber, HandIn, Lab, LabFinding
from footing.studies.model.results import Result
from footing.studies.model.sources import Sources
from footing.studies.review.judging import total
from footing.studies.school.people import Person
from footing.studies.shapes.checks import CheckShape
from footing.studies.shapes.findings import FindingShape
from footing.studies.shapes.state import StateShape
from footing.studies.views.lab_view import as_asked, found_for, is_well
from footing.studies.views.shown import NO_PARTS
from footing.studies.views.view import study_view

Form = Literal["csv", "ods"]
_DIGITS = 6


@dataclass(frozen=True)
class Listed:
    """A hand-in in the list of its lab."""

    hand_in: HandIn
    group: str
    total: float | None

    @property
    def state(self) -> str:
        """In one word, and whether another one is asked for."""
        if self.hand_in.returned_at is None:
            return "to be read"
        return "returned, asked for again" if self.hand_in.again else "returned"


def listed(lab: Lab) -> list[Listed]:
    """The latest hand-in of each group of a lab, by the groups' names."""
    groups, criteria = hand_ins.group_names(lab.id), hand_ins.criteria_of(lab.id)
    found = [
        Listed(one, groups.get(one.study_id, "teacher"), total(one, criteria))
        for one in hand_ins.latest_of_lab(lab.id)
    ]
    return sorted(found, key=lambda one: (one.group.casefold(), one.hand_in.id))


@dataclass(frozen=True)
class Expected:
    """A finding that the lab asks for, and what was handed in of it.

    found : each with whether it agrees with what the lab accepts; None where that says nothing
    """

    asked: LabFinding
    found: tuple[tuple[str, bool | None], ...]


@dataclass(frozen=True)
class Beside:
    """What a teacher sees beside a report: its checks, and how it agrees with what was expected."""

    checks: list[CheckShape]
    expected: list[Expected]
    findings: list[FindingShape]


def beside(hand_in: HandIn, person: Person) -> Beside:
    """Checks and findings of the study as it was handed in."""
    study = class_study(hand_in.copy_id)
    if study is None:
        raise NotThere("What was handed in is not there any more.")
    view: StateShape = study_view(study, person, shown=NO_PARTS)
    task = labs.task_of(study.lab) if study.lab is not None else None
    rows = read_study(study.id)
    results = Sources(rows).results
    expected = [
        Expected(one, tuple(_agreeing(one, found_for(one, rows, results))))
        for one in (task.findings if task else ())
    ]
    return Beside(view["checks"], expected, view["findings"])


def _agreeing(asked: LabFinding, results: Sequence[Result]) -> Iterator[tuple[str, bool | None]]:
    """What was found, in the unit that is asked for, and whether it agrees."""
    for result in results:
        measured = as_asked(asked, result.value, result.unit)
        if measured is None:
            text = findings.measured(result.value.value, result.value.uncertainty, str(result.unit))
            yield f"{text}: another kind", False
        else:
            yield measured[1], is_well(asked, measured[0])


def table(lab: Lab, form: Form) -> bytes:
    """Findings, points and grades of a lab's hand-ins as a spreadsheet or CSV."""
    headings, rows = _table(lab)
    return _WRITTEN[form](lab.title, headings, rows)


def _table(lab: Lab) -> tuple[list[Heading], list[list[str]]]:
    criteria, every = hand_ins.criteria_of(lab.id), listed(lab)
    columns = _columns(lab, every)
    headings = [Heading(name, "", "") for name in ("group", "names", "handed in", "late")]
    for name, unit in columns.values():
        headings += [Heading(name, "", unit), Heading(f"± of {name}", "", unit)]
    headings += [Heading(f"{one.name}, of {one.most:g}", "", "") for one in criteria]
    headings += [Heading(name, "", "") for name in ("points", "grade", "returned")]
    return headings, [list(_row(one, columns, criteria)) for one in every]


def _columns(lab: Lab, every: Sequence[Listed]) -> dict[str, tuple[str, str]]:
    """Names and units of all findings, those that the lab asks for first, by name in small letters.

    The unit is that of the first who has it; what another one has in another unit is written out.
    """
    wanted = [one.name for one in labs.task_of(lab).findings]
    found = [number for one in every for number in _findings(one.hand_in)]
    units = {number["name"].casefold(): number["unit"] for number in reversed(found)}
    names = [*wanted, *(number["name"] for number in found)]
    return {
        name.casefold(): (name, units.get(name.casefold(), "")) for name in dict.fromkeys(names)
    }


def _row(
    one: Listed, columns: Mapping[str, tuple[str, str]], criteria: Sequence[Criterion]
) -> Iterator[str]:
    hand_in = one.hand_in
    yield one.group
    yield ", ".join(hand_in.names)
    yield hand_in.made_at.astimezone().strftime("%Y-%m-%d %H:%M")
    yield "late" if hand_in.late else ""
    found = {number["name"].casefold(): number for number in _findings(hand_in)}
    for key, (_, unit) in columns.items():
        yield from _cells(found.get(key), unit)
    yield from (f"{hand_in.points.get(str(each.id), '')}" for each in criteria)
    yield "" if one.total is None else f"{one.total:g}"
    yield hand_in.grade
    returned = hand_in.returned_at
    yield returned.astimezone().strftime("%Y-%m-%d %H:%M") if returned else ""


def _cells(number: FrozenNumber | None, unit: str) -> tuple[str, str]:
    """A finding and its uncertainty, rounded as it is said."""
    if number is None:
        return "", ""
    value, uncertainty = number["value"], number["uncertainty"]
    if value is None or uncertainty is None or number["unit"] != unit:
        return number["text"], ""
    if not uncertainty:
        return findings.significant(value, _DIGITS), ""
    decimals = max(findings.uncertainty_decimals(uncertainty), 0)
    return findings.number(value, decimals), findings.number(uncertainty, decimals)


def _findings(hand_in: HandIn) -> list[FrozenNumber]:
    return [one for one in hand_in.numbers if one["of"] == "finding"]


_WRITTEN: dict[Form, Callable[[str, list[Heading], list[list[str]]], bytes]] = {
    "csv": lambda _name, headings, rows: writing.as_csv(headings, rows),
    "ods": writing.as_ods,
}
