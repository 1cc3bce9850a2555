"""What a teacher lays down: how graphs of a class look, what fits and ledgers of a lab tell,
and what comes first in it."""

from dataclasses import replace

from footing.core.errors import NotThere, Refused
from footing.store import records
from footing.store.access import ClassStudy
from footing.store.database import transaction
from footing.store.notices import notify_class
from footing.store.rows import Lab
from footing.studies.edits.graphs import SeriesLook
from footing.studies.received import Received
from footing.studies.school.people import Person


class Rules(Received):
    """The rules to change; what is left out stays."""

    series_look: SeriesLook | None = None
    dashed: bool | None = None
    tells_meanings: bool | None = None
    tells_verdicts: bool | None = None

    def in_lab(self, lab: Lab) -> Lab:
        """The lab with those rules that are its own."""
        meanings, verdicts = self.tells_meanings, self.tells_verdicts
        return replace(
            lab,
            tells_meanings=lab.tells_meanings if meanings is None else meanings,
            tells_verdicts=lab.tells_verdicts if verdicts is None else verdicts,
        )


def change_rules(study: ClassStudy, person: Person, rules: Rules) -> None:
    """Change the rules of the study's class and lab; every open page of theirs is told.

    Raises
    ------
    NotThere : if the person is no teacher.
    Refused : if the study belongs to no lab.
    """
    if person.role != "teacher":
        raise NotThere("Only a teacher lays down how graphs look and what fits say.")
    school_class = study.school_class
    look = school_class.series_look
    if rules.series_look is not None:
        look = look | rules.series_look.stored
    if rules.dashed is not None:
        look = look | {"dashed": rules.dashed}
    with transaction():
        records.change(school_class, replace(school_class, series_look=look))
        if rules.tells_meanings is not None or rules.tells_verdicts is not None:
            records.change(_lab(study), rules.in_lab(_lab(study)))
        notify_class(school_class.id, labs=True)


def _lab(study: ClassStudy) -> Lab:
    if study.lab is None:
        raise Refused("This study belongs to no lab.", field="tells_meanings")
    return study.lab


def tells_verdicts(study: ClassStudy, person: Person) -> bool:
    """Whether ledgers say to this person whether something is conserved."""
    return person.role == "teacher" or study.lab is None or bool(study.lab.tells_verdicts)


def tells_meanings(study: ClassStudy, person: Person) -> bool:
    """Whether fits say to this person what their numbers mean."""
    return person.role == "teacher" or study.lab is None or bool(study.lab.tells_meanings)


def sketches_first(study: ClassStudy, person: Person) -> bool:
    """Whether graphs show this person their points only after a sketch."""
    return person.role != "teacher" and study.lab is not None and study.lab.sketch_first


def may_follow(study: ClassStudy, person: Person) -> bool:
    """Whether this person may have bodies followed."""
    return person.role == "teacher" or study.lab is None or study.lab.follows
