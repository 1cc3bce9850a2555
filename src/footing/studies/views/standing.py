"""How a study stands: what its teacher wants to know of it, worked out with its state.

Whoever changes a study gets its state anyway; what the class's overview and board need of it is put
on the shelf then, so that these work nothing out for studies on which somebody is at work.
"""

from dataclasses import dataclass

from cachetools import LRUCache

from footing.core.dimensions import Unit
from footing.core.findings import Measured
from footing.store import shelf
from footing.store.rows import Body
from footing.store.snapshot import StudyRows
from footing.studies.model.results import NoResult, Results
from footing.studies.shapes.state import SharedShape
from footing.studies.views.states import version_of

_REMEMBERED = 400  # studies


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
    """How far a study is, as seen from its first source.

    steps : by step, ``untouched``, ``under way`` or ``done``
    marks : of bodies, without spots of the background
    shaky : titles of the checks that are shaky, of so many
    """

    steps: dict[str, str]
    marks: int
    checks: int
    shaky: tuple[str, ...]
    findings: tuple[StandingFinding, ...]


_kept: LRUCache[str, Standing] = LRUCache(_REMEMBERED)


def known(study_id: int, seq: int, token: str | None) -> Standing | None:
    """How a study stands at an edit, if somebody has worked that out."""
    name = _name(study_id, seq, token)
    found: Standing | None = _kept.get(name) or shelf.found(name)
    if found is not None:
        _kept[name] = found
    return found


def note(rows: StudyRows, view: SharedShape, results: Results) -> Standing:
    """Have it known how a study stands, of what was worked out of it."""
    found = []
    for row, shown in zip(rows.findings, view["findings"], strict=True):
        result = results[row.id]
        if isinstance(result, NoResult):
            found.append(StandingFinding(row.id, row.name, result.reason, None, None))
        else:
            text = shown["text"] if shown["reason"] is None else ""
            found.append(StandingFinding(row.id, row.name, text, result.value, result.unit))
    made = Standing(
        steps=view["steps"],
        marks=sum(len(rows.marks_of(body)) for body in rows.all(Body) if not body.background),
        checks=len(view["checks"]),
        shaky=tuple(check["title"] for check in view["checks"] if not check["sound"]),
        findings=tuple(found),
    )
    name = _name(rows.study_id, rows.seq, rows.token)
    _kept[name] = made
    shelf.put(name, made)
    return made


def _name(study_id: int, seq: int, token: str | None) -> str:
    return version_of(study_id, "standing", seq, token)
