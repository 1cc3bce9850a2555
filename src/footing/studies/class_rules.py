"""What a teacher lays down: how graphs of a class look, whether fits of a lab explain numbers."""

from typing import Any

from footing.core.errors import NotThere, Refused
from footing.store.database import transaction
from footing.store.notices import notify
from footing.store.tables import Study
from footing.studies.edits.graphs import SeriesLook
from footing.studies.people import Person
from footing.studies.received import Received


class Rules(Received):
    """The rules to change; what is left out stays."""

    series_look: SeriesLook | None = None
    dashed: bool | None = None
    tells_meanings: bool | None = None


def change_rules(study: Any, person: Person, rules: Rules) -> None:
    """Change the rules of the study's class and lab; every open page of theirs is told.

    Raises
    ------
    NotThere : if the person is no teacher.
    Refused : if the study belongs to no lab.
    """
    if person.role != "teacher":
        raise NotThere("Only a teacher lays down how graphs look and what fits say.")
    with transaction():
        school_class = study.school_class
        look = dict(school_class.series_look)
        if rules.series_look is not None:
            look |= rules.series_look.model_dump()
        if rules.dashed is not None:
            look["dashed"] = rules.dashed
        school_class.series_look = look
        school_class.save(only=["series_look"])
        if rules.tells_meanings is not None:
            if study.lab is None:
                raise Refused("This study belongs to no lab.", field="tells_meanings")
            study.lab.tells_meanings = rules.tells_meanings
            study.lab.save(only=["tells_meanings"])
        for other in Study.select().where(Study.school_class == school_class):
            notify(other.id, seq=other.seq)


def tells_meanings(study: Any, person: Person) -> bool:
    """Whether fits say to this person what their numbers mean."""
    return person.role == "teacher" or study.lab is None or bool(study.lab.tells_meanings)
