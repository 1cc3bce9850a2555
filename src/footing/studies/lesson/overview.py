"""The overview of a lab: one line for each study, with how far it is; for the teacher."""

from collections import Counter
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime

from footing.core.errors import FootingError
from footing.store import labs, lessons
from footing.store.access import class_study
from footing.store.reading import read_study
from footing.store.rows import Lab, LabFinding
from footing.studies.school.people import Person
from footing.studies.views import standing
from footing.studies.views.lab_view import answers_to, as_asked, is_well
from footing.studies.views.shown import Shown
from footing.studies.views.standing import Standing, StandingFinding
from footing.studies.views.view import study_view

_NOTHING = Shown(())  # of the bodies
_TRIES = 3  # while somebody goes on changing a study
STEPS = ("sources", "ground", "mark", "graph", "model", "ledger", "report")


@dataclass(frozen=True)
class FoundFinding:
    """What a study has of a finding that is asked for.

    well : whether it agrees with what is accepted; None where nothing is
    """

    text: str
    well: bool | None


@dataclass(frozen=True)
class OverviewLine:
    """A study in the overview.

    which : of several of its group, such as "2 of 3"; empty for the only one
    since : seconds since the last change; hand : minutes since a hand was raised, None if none is
    asked : by finding that is asked for, what there is of it
    """

    study_id: int
    title: str
    which: str
    group: str
    members: tuple[str, ...]
    standing: Standing | None
    since: float
    hand: int | None
    group_id: int | None
    asked: tuple[tuple[FoundFinding, ...], ...]

    @property
    def steps_done(self) -> int:
        """How many steps are done."""
        states = self.standing.steps if self.standing else {}
        return sum(state == "done" for state in states.values())

    @property
    def activity(self) -> str:
        """How long ago the last change was, in words."""
        if self.since < 60:
            return "now"
        minutes = int(self.since // 60)
        if minutes < 60:
            return f"{minutes} min ago"
        hours = minutes // 60
        return f"{hours} h ago" if hours < 48 else f"{hours // 24} days ago"


@dataclass(frozen=True)
class Overview:
    """A lab with its studies, and the groups that have none yet."""

    task: labs.LabTask
    lines: tuple[OverviewLine, ...]
    waiting: tuple[str, ...]


def overview(lab: Lab, person: Person, *, order: str = "group") -> Overview:
    """The overview of a lab, in an order of `_ORDERS`."""
    task, now = labs.task_of(lab), datetime.now(UTC)
    lines = []
    at_work = lessons.studies_of_lab(lab.id)
    of_group = Counter(at.study.group_id for at in at_work)
    begun: Counter[int | None] = Counter()
    for at in at_work:
        group = at.study.group_id
        begun[group] += 1
        stands = _standing(at, person)
        lines.append(
            OverviewLine(
                study_id=at.study.id,
                title=at.study.title,
                which=f"{begun[group]} of {of_group[group]}" if of_group[group] > 1 else "",
                group=at.group or "teacher",
                members=at.members,
                standing=stands,
                since=(now - at.changed).total_seconds(),
                hand=int((now - at.hand_at).total_seconds() // 60) if at.hand_at else None,
                group_id=group,
                asked=tuple(
                    tuple(_found(asked, stands.findings if stands else ()))
                    for asked in task.findings
                ),
            )
        )
    busy = {line.group_id for line in lines}
    waiting = [
        one.name for one in lessons.groups_with_members(lab.school_class_id) if one.id not in busy
    ]
    lines.sort(key=_ORDERS.get(order, _ORDERS["group"]))
    return Overview(task, tuple(lines), tuple(waiting))


_ORDERS = {
    "group": lambda line: (line.group.casefold(), line.study_id),
    "steps": lambda line: (line.steps_done, line.group.casefold()),
    "marks": lambda line: (line.standing.marks if line.standing else 0, line.group.casefold()),
    "soundness": lambda line: (-len(line.standing.shaky) if line.standing else 0, line.group),
    "activity": lambda line: -line.since,
    "hand": lambda line: (-1 if line.hand is None else -line.hand - 2, line.group.casefold()),
}


def _standing(at: lessons.AtWork, person: Person) -> Standing | None:
    """How a study stands; None where it cannot be computed, so that the others are still shown."""
    known = standing.known(at.study.id, at.study.seq, at.token)
    if known is not None:
        return known
    study = class_study(at.study.id)
    if study is None:
        return None
    for _ in range(_TRIES):
        with suppress(FootingError):
            study_view(study, person, shown=_NOTHING)  # which has it noted
        rows = read_study(study.id)
        known = standing.known(study.id, rows.seq, rows.token)
        if known is not None:
            break
    return known


def _found(asked: LabFinding, findings: tuple[StandingFinding, ...]) -> list[FoundFinding]:
    found = []
    for one in findings:
        if not answers_to(asked.name, one.name):
            continue
        if one.value is None or one.unit is None:
            found.append(FoundFinding("no value", None))
            continue
        measured = as_asked(asked, one.value, one.unit)
        if measured is None:
            found.append(FoundFinding(f"{one.text}: another kind", well=False))
        else:
            found.append(FoundFinding(measured[1], is_well(asked, measured[0])))
    return found
