"""Fills an empty database with the demo: class 9K, its groups, labs and studies."""

import json
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from footing.demo import ledgers, lesson, measurements, models, reports
from footing.demo.hand import CLIPS, Hand, clip
from footing.settings import Settings
from footing.store.classes import any_class
from footing.store.database import transaction
from footing.store.pupils import note_members
from footing.store.records import add, change, fetch
from footing.store.rows import Group, Lab, SchoolClass, Student, Study, Teacher
from footing.studies.lesson import lab_library
from footing.studies.school import people
from footing.studies.school.codes import hashed_secret
from footing.studies.school.people import Person

_PIN = "2468"  # of everybody in the demo
_GROUPS = {
    "Heron": ("Ottilie", "Bram", "Edda"),
    "Wren": ("Saoirse", "Emeka", "Jonna"),
    "Dipper": ("Ines", "Tobin"),
    "Siskin": ("Marit", "Kwame"),
    "Plover": ("Yara", "Linus"),
}
_LABS = {
    "Sled run": "A sled slides down a slope of 12°. The red and white pole beside the track is "
    "2.00 m long. Turn the axes along the slope and find the acceleration.",
    "Snowball lob": "A snowball flies past a fence post that is 1.50 m high. Find the acceleration "
    "of free fall from its height against time.",
    "Lantern and cone": "A paper lantern and a pine cone are let go together and filmed in slow "
    "motion. The ladder is 3.00 m long. Which of them reaches a steady speed?",
    "Curling stones": "A stone with a red handle (19.1 kg) meets a resting one (18.6 kg). The blue "
    "ring is 1.22 m across. What happens to the momentum of both together?",
    "Kick-sled": "Once the kicking stops, a kick-sled glides on. How does the stopping distance "
    "depend on the speed? Find the coefficient of friction.",
    "Snow tube": "A tube is pushed, glides, and brakes in straw. The pole is 2.00 m long; tube and "
    "child weigh 34 kg. Where does the energy go?",
    "Ice puck": "A puck of 160 g slides up a ramp and back. The pole is 1.50 m long. Is its energy "
    "kept? If not, what takes it?",
    "Snowball bounce": "An icy snowball is tossed onto the rink. The board is 1.00 m long. By "
    "which laws does it move, and how much of its speed does the ice give back?",
    "Footbridge": "The red section of the railing is 3.00 m long. Is the arch a parabola? How high "
    "and how wide is it?",
}


def seed_demo(settings: Settings) -> None:
    """Make the demo world, unless the database has a class already."""
    if any_class() is not None:
        return
    with transaction():
        teacher = add(Teacher(name="Ms Tarnwick"))
        of = add(SchoolClass(teacher_id=teacher.id, name="9K Physics", code="larch-otter-42")).id
        who: dict[str, Person] = {}
        groups: dict[str, int] = {}
        together: dict[str, list[int]] = {}
        secret = hashed_secret(_PIN)
        for name, members in _GROUPS.items():
            groups[name] = add(Group(school_class_id=of, name=name)).id
            rows = [
                add(
                    Student(
                        school_class_id=of,
                        group_id=groups[name],
                        name=member,
                        secret_hash=secret,
                        secret_kind="pin",
                        joined_at=datetime.now(UTC),
                    )
                )
                for member in members
            ]
            who[name] = people.student(rows[0])
            together[name] = [row.id for row in rows]
        labs = {
            title: add(Lab(school_class_id=of, title=title, task=task)).id
            for title, task in _LABS.items()
        }

        def study(lab: str, group: str) -> Hand:
            row = Study(
                school_class_id=of,
                lab_id=labs[lab],
                group_id=groups[group],
                title=lab,
                made_at=datetime.now(UTC),
            )
            begun = add(row)
            note_members(begun.id, together[group])
            return Hand(begun, who[group])

        lob = study("Snowball lob", "Heron")
        measurements.finished_lob(lob, settings)
        reports.write_report(lob.does, lob.study_id, reports.LOB)
        measurements.half_done_sled(study("Sled run", "Wren"), settings)
        measurements.just_uploaded(study("Snowball lob", "Dipper"), settings)
        measurements.slow_motion(study("Lantern and cone", "Siskin"), settings)
        measurements.arch(study("Footbridge", "Plover"), settings)
        ledgers.collision(study("Curling stones", "Dipper"), settings)
        measurements.kick_sled(study("Kick-sled", "Siskin"))
        ledgers.snow_tube(study("Snow tube", "Wren"), settings)
        ledgers.ice_puck(study("Ice puck", "Plover"), settings)
        models.two_falls(study("Lantern and cone", "Heron"), settings)
        models.bounce(study("Snowball bounce", "Siskin"), settings)
        truth = json.loads((CLIPS / "sled-run.json").read_text())
        lesson.asks_of_sleds(labs["Sled run"], truth["acceleration"])
        _given_sled(labs["Sled run"], of, settings, teacher)
        runs: dict[str, Hand] = {}

        def run(group: str) -> Hand:
            runs[group] = study("Sled run", group)
            return runs[group]

        lesson.sled_runs(run, lambda hand, name, shown: clip(hand, name, shown, settings))
        lab = fetch(Lab, labs["Sled run"])
        assert lab is not None
        handed = [reports.Run(one.study_id, one.person, one.does) for one in runs.values()]
        reports.hand_in_runs(handed, lab, people.teacher(teacher), settings)
        lesson.another_class()


def _given_sled(lab_id: int, of: int, settings: Settings, teacher: Teacher) -> None:
    """What groups start the sled run from, and the instructions beside it."""
    lab = fetch(Lab, lab_id)
    assert lab is not None
    ready = next(one for one in lab_library.ready_labs() if one.title == lab.title)
    start = add(
        Study(school_class_id=of, lab_id=lab_id, title=lab.title, made_at=datetime.now(UTC))
    )
    hand = Hand(start, people.teacher(teacher))
    footage, _ = clip(hand, "sled-run.mp4", "sled_run.mp4", settings)
    for fields in ready.prepared:
        given: dict[str, Any] = {**fields, "footage": footage}
        hand.does(**given)
    change(lab, replace(lab, instructions=ready.instructions, start_id=start.id))
