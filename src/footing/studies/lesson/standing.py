"""How a study stands, in short: what an overview and a board need of it.

It is computed once for each state of a study, whoever looks.
"""

from dataclasses import dataclass

from footing.core.dimensions import Unit
from footing.core.findings import Measured
from footing.store import shelf
from footing.store.access import ClassStudy
from footing.store.reading import read_study
from footing.store.rows import Body
from footing.studies.model.results import NoResult
from footing.studies.model.sources import Sources
from footing.studies.school.people import Person
from footing.studies.views.shown import Shown
from footing.studies.views.states import version_of
from footing.studies.views.view import study_view


@dataclass(frozen=True)
class StandingFinding:
    """A recorded finding; ``value`` is None where it has none, with the reason in ``text``."""

    id: int
    name: str
    text: str
    value: Measured | None
    unit: Unit | None


@dataclass(frozen=True)
class Standing:
    """How far a study is.

    steps : by step, ``untouched``, ``under way`` or ``done``
    marks : of bodies, without spots of the background
    shaky : titles of the checks that are shaky, of so many
    """

    steps: dict[str, str]
    marks: int
    checks: int
    shaky: tuple[str, ...]
    findings: tuple[StandingFinding, ...]


def standing(study: ClassStudy, person: Person) -> Standing:
    """How a study stands, as its teacher sees it."""
    rows = read_study(study.id)
    key = version_of(study.id, "standing", rows.seq, rows.token)
    known: Standing | None = shelf.found(key)
    if known is not None:
        return known
    made = _standing(study, person)  # outside of the claim: the state has one of its own
    return shelf.shared(key, lambda: made)


def _standing(study: ClassStudy, person: Person) -> Standing:
    view = study_view(study, person, shown=Shown.read(""))
    rows = read_study(study.id)
    results = Sources(rows).results
    found = []
    for row, shown in zip(rows.findings, view["findings"], strict=True):
        result = results[row.id]
        if isinstance(result, NoResult):
            found.append(StandingFinding(row.id, row.name, result.reason, None, None))
        else:
            text = shown["text"] if shown["reason"] is None else ""
            found.append(StandingFinding(row.id, row.name, text, result.value, result.unit))
    return Standing(
        steps=view["steps"],
        marks=sum(len(rows.marks_of(body)) for body in rows.all(Body) if not body.background),
        checks=len(view["checks"]),
        shaky=tuple(check["title"] for check in view["checks"] if not check["sound"]),
        findings=tuple(found),
    )
