"""The working of any derived number of a study, by what names it.

``between/7/12/20`` mean velocities of body 7 from frame 12 to 20, ``cell/7/12/vx`` a cell of its
table, ``fit/3/acceleration`` a reading of a fit, ``finding/5`` and ``error/5`` a finding and its
percent error, ``energy/4/ek`` (``force``, ``power``) the change over passage 4 (0: all marks),
``momentum/2/b7.before.x`` (``restitution``, ``kept``) of an impact.
"""

from collections.abc import Callable
from typing import TypedDict

from footing.core.dimensions import read_unit
from footing.core.errors import NotThere
from footing.store.access import ClassStudy
from footing.store.reading import read_study
from footing.store.rows import Body, Finding, Fit, Footage, Impact, Passage
from footing.studies.class_rules import tells_meanings
from footing.studies.model.energy_ledger import EnergyAccount
from footing.studies.model.keys import SourceKey
from footing.studies.model.momenta import momenta_around
from footing.studies.model.sources import FootageSource, Sources
from footing.studies.queries.working_ledgers import of_energy, of_momentum
from footing.studies.queries.working_lines import Working
from footing.studies.queries.working_motion import BodyWorking
from footing.studies.queries.working_results import of_finding, of_percent_error, of_reading
from footing.studies.school.people import Person


class WorkingLineShape(TypedDict):
    """One line: a sentence, an equation, or both."""

    said: str
    mathml: str
    text: str


class WorkingPlaceShape(TypedDict):
    """A frame that a number came from."""

    said: str
    frame: int
    body: int | None


class WorkingShape(TypedDict):
    """How a number was worked out; text and mathml are all of it, to be copied."""

    title: str
    lines: list[WorkingLineShape]
    places: list[WorkingPlaceShape]
    text: str
    mathml: str


def working(study: ClassStudy, person: Person, of: str, source: str | None = None) -> WorkingShape:
    """How a number of a study was worked out, as far as a lab tells it.

    Raises
    ------
    NotThere : if nothing is named like this.
    Refused : if the number has no value.
    """
    kind, *parts = of.split("/")
    find = _KINDS.get(kind)
    if find is None or len(parts) != _PARTS[kind]:
        raise NotThere("The study has no such number.")
    made = find(_Study(study, source, meanings=tells_meanings(study, person)), *parts)
    return {
        "title": made.title,
        "lines": [
            {"said": line.said, "mathml": line.mathml, "text": line.text} for line in made.lines
        ],
        "places": [{"said": one.said, "frame": one.frame, "body": one.body} for one in made.places],
        "text": made.text,
        "mathml": made.mathml,
    }


class _Study:
    """What the working of numbers is found in."""

    def __init__(self, study: ClassStudy, source: str | None, *, meanings: bool) -> None:
        self.meanings = meanings
        self.rows = read_study(study.id)
        self.sources = Sources(self.rows)
        self._source = SourceKey.read(source)

    def body(self, key: str) -> BodyWorking:
        """The working of a body."""
        row = self.rows.find(Body, _number(key))
        source = self.sources.footage(self.rows.footage_of(row))
        motion = next(body for one, body in source.bodies if one.id == row.id)
        return BodyWorking(source, row, motion)

    @property
    def seen(self) -> FootageSource:
        """The footage on the stage, or the first."""
        footages = self.rows.footages
        wanted = (one for one in footages if SourceKey("footage", one.id) == self._source)
        found = next(wanted, footages[0] if footages else None)
        if found is None:
            raise NotThere("The study has no such number.")
        return self.sources.footage(found)


def _number(text: str) -> int:
    if not (text.isascii() and text.isdecimal()):
        raise NotThere("The study has no such number.")
    return int(text)


def _between(study: _Study, body: str, first: str, last: str) -> Working:
    return study.body(body).between(_number(first), _number(last))


def _cell(study: _Study, body: str, frame: str, key: str) -> Working:
    return study.body(body).cell(_number(frame), key)


def _fit(study: _Study, fit: str, reading: str) -> Working:
    row = study.rows.find(Fit, _number(fit))
    source = study.sources.source_of(row)
    found = next(one for one in source.fits if one.row.id == row.id)
    if not study.meanings and reading not in {one.key for one in found.parameters}:
        raise NotThere("In this lab you say yourselves what the numbers of a fit mean.")
    return of_reading(found, reading)


def _finding(study: _Study, finding: str) -> Working:
    row = study.rows.find(Finding, _number(finding))
    fit = None
    if row.fit_id is not None:
        source = study.sources.source_of(study.rows.find(Fit, row.fit_id))
        fit = next(one for one in source.fits if one.row.id == row.fit_id)
    return of_finding(row, study.sources.results, fit)


def _error(study: _Study, finding: str) -> Working:
    row = study.rows.find(Finding, _number(finding))
    return of_percent_error(row, study.sources.results)


def _energy(study: _Study, passage: str, what: str) -> Working:
    key = _number(passage)
    source = study.seen
    if key:
        row = study.rows.find(Passage, key)
        source = study.sources.footage(study.rows.find(Footage, row.footage_id or 0))
    return of_energy(EnergyAccount(source), key, what)


def _momentum(study: _Study, impact: str, cell: str) -> Working:
    row = study.rows.find(Impact, _number(impact))
    source = study.sources.footage(study.rows.find(Footage, row.footage_id))
    account = momenta_around(row, source.row, source.ground, source.bodies, study.rows)
    return of_momentum(account, cell, read_unit(account.row.unit))


_KINDS: dict[str, Callable[..., Working]] = {
    "between": _between,
    "cell": _cell,
    "fit": _fit,
    "finding": _finding,
    "error": _error,
    "energy": _energy,
    "momentum": _momentum,
}
_PARTS = {
    **{"between": 3, "cell": 3, "fit": 2, "finding": 1, "error": 1, "energy": 2, "momentum": 2}
}
