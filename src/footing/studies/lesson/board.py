"""The board: a finding of all groups of a lab, pooled; and two of them against each other."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import sqrt

from footing.core import findings, pooling
from footing.core.dimensions import Unit, read_unit
from footing.core.errors import NotThere
from footing.core.units import read_number
from footing.store import labs
from footing.store.rows import LabFinding
from footing.studies.lesson.overview import Overview, OverviewLine
from footing.studies.school.people import Person
from footing.studies.views.lab_view import answers_to
from footing.studies.views.standing import StandingFinding

TRIALS, GROUPS = "trials", "groups"  # each finding is a point, or each group's mean is


@dataclass(frozen=True)
class Entry:
    """A point of the board, in the unit of the board.

    who : the group, or a number where names are hidden; trials : how many findings it is made of
    shaky : what is not sound in the study; stands_out : far from the others
    """

    study_id: int
    group_id: int | None
    who: str
    value: float
    uncertainty: float
    text: str
    trials: int
    shaky: tuple[str, ...]
    stands_out: bool = False


@dataclass(frozen=True)
class Pool:
    """A finding of a class.

    accepted : value and uncertainty with which it is compared; None where nothing is or is shown
    left_out : how many are of another kind, or have no value
    without : those that stand out, where they are wanted to be left out
    """

    name: str
    quantity: str
    unit: str
    entries: tuple[Entry, ...]
    pooled: pooling.Pooled | None
    accepted: tuple[float, float] | None
    accepted_text: str
    left_out: int
    without: tuple[Entry, ...] = ()

    @property
    def axis(self) -> str:
        """What stands at the axis."""
        name = f"{self.name} ({self.quantity})" if self.quantity else self.name
        return f"{name} / {self.unit}" if self.unit else name


def names_on_board(seen: Overview) -> list[str]:
    """What can be pooled: the findings that are asked for, then others that several groups have."""
    asked = [one.name for one in seen.task.findings]
    others: dict[str, tuple[str, set[int]]] = {}
    for line in seen.lines:
        for one in line.standing.findings if line.standing else ():
            key = one.name.strip().casefold()
            if one.value is not None and not any(answers_to(name, key) for name in asked):
                others.setdefault(key, (one.name.strip(), set()))[1].add(line.study_id)
    return asked + [name for name, studies in others.values() if len(studies) > 1]


def pool_of(
    seen: Overview,
    person: Person,
    name: str,
    *,
    each: str = TRIALS,
    hides_names: bool = False,
    all_of_them: bool = True,
) -> Pool:
    """A finding of all groups of a lab.

    each : whether a point is a finding (`TRIALS`) or the mean of a group's findings (`GROUPS`)
    all_of_them : whether those that stand out are pooled, too

    Raises
    ------
    NotThere : if nothing of this name is asked for or recorded.
    """
    asked = _asked(seen.task, name, seen.lines)
    unit = read_unit(asked.unit) if asked.unit else Unit()
    entries: list[Entry] = []
    left_out = 0
    for line in seen.lines:
        for one in _named(line, asked.name):
            measured = _in_unit(one, unit)
            if measured is None:
                left_out += 1
                continue
            entries.append(
                Entry(
                    study_id=line.study_id,
                    group_id=line.group_id,
                    who=line.group,
                    value=measured.value,
                    uncertainty=measured.uncertainty,
                    text=findings.measured(measured.value, measured.uncertainty, asked.unit),
                    trials=1,
                    shaky=line.standing.shaky if line.standing else (),
                )
            )
    if each == GROUPS:
        entries = _means_of_groups(entries, asked.unit)
    pooled = _pooled(entries)
    outliers = set(pooled.outliers) if pooled else set()
    entries = [replace(one, stands_out=place in outliers) for place, one in enumerate(entries)]
    without = () if all_of_them else tuple(one for one in entries if one.stands_out)
    if without:
        entries = [one for one in entries if not one.stands_out]
        pooled = _pooled(entries)
    if hides_names:
        entries = [replace(one, who=f"{place}") for place, one in enumerate(_shuffled(entries), 1)]
    accepted = _accepted(asked, shown=asked.shown or person.role == "teacher")
    return Pool(
        name=asked.name,
        quantity=asked.quantity,
        unit=asked.unit,
        entries=tuple(entries),
        pooled=pooled,
        accepted=accepted,
        accepted_text=f"{asked.accepted} {asked.unit}".strip() if accepted else "",
        left_out=left_out,
        without=without,
    )


def _shuffled(entries: Sequence[Entry]) -> list[Entry]:
    """In the order of their values, which says nothing of who they are."""
    return sorted(entries, key=lambda one: (one.value, one.study_id))


def _asked(task: labs.LabTask, name: str, lines: Sequence[OverviewLine]) -> LabFinding:
    """What is asked for under a name; for other findings the unit of the first that has one."""
    wanted = name.strip().casefold()
    for asked in task.findings:
        if asked.name.casefold() == wanted:
            unit = asked.unit or _first_unit(lines, asked.name)
            return replace(asked, unit=unit)
    for line in lines:
        for one in _named(line, name):
            return LabFinding(lab_id=task.lab.id, name=one.name, unit=_first_unit(lines, name))
    raise NotThere(f"Nobody has a finding called {name} yet.")


def _first_unit(lines: Sequence[OverviewLine], name: str) -> str:
    found = (one for line in lines for one in _named(line, name) if one.unit is not None)
    return next((str(one.unit) for one in found), "")


def _named(line: OverviewLine, name: str) -> list[StandingFinding]:
    every = line.standing.findings if line.standing else ()
    return [one for one in every if answers_to(name, one.name)]


def _in_unit(one: StandingFinding, unit: Unit) -> findings.Measured | None:
    if one.value is None or one.unit is None or not unit.converts_to(one.unit):
        return None
    return findings.scaled(one.value, one.unit.factor / unit.factor)


def _means_of_groups(entries: Sequence[Entry], unit: str) -> list[Entry]:
    """The mean of each group's findings; its uncertainty is the standard error of several.

    That of few trials that agree by chance is never smaller than what each says of itself shared
    out among them.
    """
    found = []
    for key in dict.fromkeys((one.group_id, one.who) for one in entries):
        own = [one for one in entries if (one.group_id, one.who) == key]
        mean = pooling.pool([one.value for one in own], [one.uncertainty for one in own])
        said = sqrt(sum(one.uncertainty**2 for one in own)) / len(own)
        uncertainty = max(mean.standard_error or 0.0, said)
        found.append(
            replace(
                own[0],
                value=mean.mean,
                uncertainty=uncertainty,
                text=findings.measured(mean.mean, uncertainty, unit),
                trials=len(own),
                shaky=tuple(dict.fromkeys(title for one in own for title in one.shaky)),
            )
        )
    return found


def _pooled(entries: Sequence[Entry]) -> pooling.Pooled | None:
    if not entries:
        return None
    return pooling.pool([one.value for one in entries], [one.uncertainty for one in entries])


def _accepted(asked: LabFinding, *, shown: bool) -> tuple[float, float] | None:
    if not asked.accepted or not shown:
        return None
    value = read_number(asked.accepted, field="accepted").value
    share = read_number(asked.tolerance, field="tolerance").value if asked.tolerance else 0.0
    return value, abs(value) * share / 100


@dataclass(frozen=True)
class Pair:
    """Two findings of one study, group or trial, against each other."""

    x: Entry
    y: Entry


def pairs_of(across: Pool, up: Pool) -> list[Pair]:
    """The studies that have both; with several findings of a name, those of the same place."""
    found = []
    for study in dict.fromkeys(one.study_id for one in across.entries):
        xs = [one for one in across.entries if one.study_id == study]
        ys = [one for one in up.entries if one.study_id == study]
        found += [Pair(x, y) for x, y in zip(xs, ys, strict=False)]
    return found
