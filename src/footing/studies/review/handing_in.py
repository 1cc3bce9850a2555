"""Handing in: the study is copied as it is, with its report and its numbers, and stays so."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime

from footing import __version__
from footing.core.errors import Refused, Stale
from footing.store import hand_ins, history, records
from footing.store.access import ClassStudy
from footing.store.database import transaction
from footing.store.notices import notify, notify_class
from footing.store.reading import read_study
from footing.store.rows import NEW, FrozenBlock, HandIn
from footing.studies.report.report import Report, names_of
from footing.studies.review.numbers import numbers_of
from footing.studies.school.copying import fill
from footing.studies.school.people import Person


def check_may_hand_in(study: ClassStudy) -> None:
    """Refuse where a report was returned and nobody asked for another one, or there is none.

    Raises
    ------
    Refused : with what to do.
    """
    if study.is_frozen:
        raise Refused("This is what was handed in already.")
    if not read_study(study.id).report:
        raise Refused("There is no report yet; lay one out first.")
    latest = next(reversed(hand_ins.of_study(study.id)), None)
    if latest is not None and latest.returned_at is not None and not latest.again:
        raise Refused(
            "This report was returned and is settled. Ask your teacher if you want to hand in "
            "another one."
        )


def hand_in(
    study: ClassStudy, person: Person, report: Report, blocks: Sequence[FrozenBlock]
) -> HandIn:
    """Freeze a study with its report.

    Parameters
    ----------
    report, blocks : as they are now, with pictures

    Raises
    ------
    Stale : if the study changed while the report was drawn.
    Refused : as `check_may_hand_in`.
    """
    now = datetime.now(UTC)
    with transaction():
        locked = history.lock_study(study.id)
        check_may_hand_in(study)
        if locked is None or locked.seq != report.seq:
            raise Stale("The study changed while its report was drawn; try again.")
        copy = records.add(replace(study.row, id=NEW, seq=0, made_at=now, frozen_from_id=study.id))
        hand_ins.note_same_members(study.row, copy.id)
        fill(read_study(study.id), copy.id, person, label=f"handing in “{study.title}”")
        due = study.lab.due if study.lab is not None else None
        made = records.add(
            HandIn(
                study_id=study.id,
                copy_id=copy.id,
                number=len(hand_ins.of_study(study.id)) + 1,
                made_at=now,
                teacher_id=person.teacher_id,
                student_id=person.student_id,
                person_name=person.name,
                names=list(names_of(study)),
                title=report.title,
                late=due is not None and now > due,
                version=__version__,
                blocks=list(blocks),
                numbers=numbers_of(study, person),
            )
        )
    notify_class(study.school_class.id, studies=True)
    notify(study.id, handed=True, said=f"{person.name} has handed in the report.")
    return made
