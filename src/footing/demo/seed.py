"""Fills an empty database with the demo: class 9K, its groups, labs and studies.

Studies are made through the same edits that a person makes. Marks come from the clips' truth with
the scatter of a hand that clicks; the application itself never sees the truth.
"""

import json
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
from pydantic import TypeAdapter

from footing.demo import lesson, reports
from footing.demo.lesson import Works
from footing.settings import Settings
from footing.store.classes import any_class
from footing.store.database import transaction
from footing.store.pupils import note_members
from footing.store.reading import read_study
from footing.store.records import add, change, fetch
from footing.store.rows import (
    Group,
    Lab,
    MotionModel,
    SchoolClass,
    Sheet,
    Student,
    Study,
    Teacher,
)
from footing.studies.door import EditRequest, submit
from footing.studies.films import uploads
from footing.studies.lesson import lab_library
from footing.studies.model.keys import made_key
from footing.studies.school import people
from footing.studies.school.codes import hashed_secret
from footing.studies.school.people import Person

_CLIPS = Path(__file__).parent / "clips"
_PIN = "2468"  # of everybody in the demo
_HAND = 0.45  # px, scatter of a careful click
_FOLLOWED = 0.06  # px, scatter of following
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


class Hand:
    """Somebody who works on a study: sends edits one after the other."""

    def __init__(self, study: Study, person: Person) -> None:
        self._study = study
        self._person = person
        self._seq = study.seq

    @property
    def study_id(self) -> int:
        """The key of the study."""
        return self._study.id

    @property
    def person(self) -> Person:
        """Who works on it."""
        return self._person

    def does(self, kind: str, **fields: Any) -> int:
        """Make an edit; give the key of the row that it made, if any."""
        request = TypeAdapter(EditRequest).validate_python(
            {"edit": {"kind": kind, **fields}, "based_on": self._seq, "token": uuid4().hex}
        )
        accepted = submit(self._study.id, self._person, request)
        self._seq = accepted.seq
        return made_key(accepted.made) or 0

    def fit_of(self, sheet: int) -> int:
        """The key of the fit of a sheet."""
        rows = read_study(self._study.id)
        (fit,) = rows.fits_of(rows.find(Sheet, sheet))
        return fit.id

    def first_leg(self, model: int) -> int:
        """The key of the first leg of a model."""
        rows = read_study(self._study.id)
        return rows.legs_of(rows.find(MotionModel, model))[0].id

    def models_of(self, body: int) -> list[tuple[int, str]]:
        """The keys and names of the models of a body."""
        rows = read_study(self._study.id)
        return [(one.id, one.name) for one in rows.all(MotionModel) if one.body_id == body]

    def marks(
        self, body: int, truth: dict[str, Any], frames: range, rng: np.random.Generator
    ) -> None:
        """Mark a body by hand in some frames."""
        for frame in frames:
            x, y = np.array(truth["positions"][frame]) + rng.normal(scale=_HAND, size=2)
            self.does("place_mark", body=body, frame=frame, x=float(x), y=float(y))


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
        _finished_lob(lob, settings)
        reports.write_report(lob.does, lob.study_id, reports.LOB)
        _half_done_sled(study("Sled run", "Wren"), settings)
        _just_uploaded(study("Snowball lob", "Dipper"), settings)
        _slow_motion(study("Lantern and cone", "Siskin"), settings)
        _arch(study("Footbridge", "Plover"), settings)
        _collision(study("Curling stones", "Dipper"), settings)
        _kick_sled(study("Kick-sled", "Siskin"))
        _snow_tube(study("Snow tube", "Wren"), settings)
        _ice_puck(study("Ice puck", "Plover"), settings)
        _two_falls(study("Lantern and cone", "Heron"), settings)
        _bounce(study("Snowball bounce", "Siskin"), settings)
        truth = json.loads((_CLIPS / "sled-run.json").read_text())
        lesson.asks_of_sleds(labs["Sled run"], truth["acceleration"])
        _given_sled(labs["Sled run"], of, settings, teacher)
        runs: dict[str, Hand] = {}

        def run(group: str) -> Hand:
            runs[group] = study("Sled run", group)
            return runs[group]

        lesson.sled_runs(run, lambda hand, name, shown: _clip(hand, name, shown, settings))
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
    footage, _ = _clip(hand, "sled-run.mp4", "sled_run.mp4", settings)
    for fields in ready.prepared:
        given: dict[str, Any] = {**fields, "footage": footage}
        hand.does(**given)
    change(lab, replace(lab, instructions=ready.instructions, start_id=start.id))


def _clip(
    hand: Works, name: str, shown_name: str, settings: Settings
) -> tuple[int, dict[str, Any]]:
    """Upload a clip of the demo; give the footage and the clip's truth."""
    content = uploads.take_in(_CLIPS / name, settings)
    footage = hand.does("add_footage", content=content, name=shown_name)
    return footage, json.loads((_CLIPS / name).with_suffix(".json").read_text())


def _known_length(hand: Hand, footage: int, stick: dict[str, Any], length: str) -> None:
    (start_x, start_y), (end_x, end_y) = stick["start"], stick["end"]
    ends = {"start_x": start_x, "start_y": start_y, "end_x": end_x, "end_y": end_y}
    known = hand.does("add_known_length", footage=footage, frame=0, **ends)
    hand.does("type_known_length", known_length=known, length=length, unit="m")


def _finished_lob(hand: Hand, settings: Settings) -> None:
    footage, truth = _clip(hand, "snowball-lob.mp4", "VID_lob_heron.mp4", settings)
    flying = [frame for frame, flies in enumerate(truth["flying"]) if flies]
    first, last = flying[0], flying[-1]
    hand.does("set_span", footage=footage, first=first, last=last, stride=2)
    _known_length(hand, footage, truth["post"], "1.50")
    foot_x, foot_y = truth["post"]["start"]
    hand.does("set_zero", footage=footage, x=foot_x, y=foot_y)
    hand.does("set_zero_frame", footage=footage, frame=first)
    body = hand.does("add_body", footage=footage, name="snowball")
    hand.does("change_body", body=body, name="snowball", mass="120", mass_unit="g")
    hand.marks(body, truth, range(first, last + 1, 2), np.random.default_rng(11))
    flight = hand.does(
        "add_passage", footage=footage, name="flight", first=first + 2, last=last - 2
    )
    hand.does("set_graph", footage=footage, x="t", ys=["y"])
    fit = hand.does("add_fit", body=body, x="t", y="y", curve="quadratic", passages=[flight])
    hand.does(
        "add_finding", fit=fit, reading="acceleration", name="g", as_size=True, accepted="9.81"
    )
    hand_x = truth["positions"][first][0]
    hand.does("set_height_zero", footage=footage, x=hand_x, y=foot_y)
    hand.does("set_energies", footage=footage)
    hand.does(
        "say_verdict",
        footage=footage,
        words="The total stays the same from hand to snow: the air takes less than we can see.",
    )


def _half_done_sled(hand: Hand, settings: Settings) -> None:
    footage, truth = _clip(hand, "sled-run.mp4", "sled_wren_2.mp4", settings)
    released = round(truth["release_time"] * 30)
    hand.does("set_span", footage=footage, first=released, last=85, stride=3)
    _known_length(hand, footage, truth["pole"], "2.00")
    x, y = truth["positions"][released]
    hand.does("set_zero", footage=footage, x=x, y=y)
    hand.does("turn_axes", footage=footage, angle="-12", flip_x=False, flip_y=False)
    body = hand.does("add_body", footage=footage, name="sled")
    hand.marks(body, truth, range(released, released + 36, 3), np.random.default_rng(12))


def _slow_motion(hand: Hand, settings: Settings) -> None:
    footage, truth = _clip(hand, "lantern-and-cone.mp4", "slowmo_siskin.mp4", settings)
    hand.does("set_clock", footage=footage, clock="capture", typed="120")
    _known_length(hand, footage, truth["ladder"], "3.00")
    released = round(truth["release_time"] * truth["capture_rate"])
    hand.does("set_span", footage=footage, first=released, last=116, stride=6)
    hand.does("set_zero_frame", footage=footage, frame=released)
    x, y = truth["positions"]["lantern"][released]
    hand.does("set_zero", footage=footage, x=x, y=y)
    hand.does("turn_axes", footage=footage, angle="0", flip_x=False, flip_y=True)
    rng = np.random.default_rng(13)
    for name in ("lantern", "cone"):
        body = hand.does("add_body", footage=footage, name=name)
        spots = {"positions": truth["positions"][name]}
        hand.marks(body, spots, range(released, 101, 6), rng)
    hand.does("set_graph", footage=footage, x="t", ys=["y"])


def _arch(hand: Hand, settings: Settings) -> None:
    footage, truth = _clip(hand, "footbridge.jpg", "footbridge_plover.jpg", settings)
    _known_length(hand, footage, truth["railing"], "3.00")
    x, y = truth["crown"]
    hand.does("set_zero", footage=footage, x=x, y=y)
    body = hand.does("add_body", footage=footage, name="arch")
    spots = {"positions": truth["arch"]}
    hand.marks(body, spots, range(len(truth["arch"])), np.random.default_rng(14))
    hand.does("add_fit", body=body, x="x", y="y", curve="quadratic")


def _collision(hand: Hand, settings: Settings) -> None:
    """Both stones followed by the computer, from marks made by hand in the first frame."""
    footage, truth = _clip(hand, "curling-stones.mp4", "rink_from_above.mp4", settings)
    first, last, stride = 4, 118, 2
    hand.does("set_span", footage=footage, first=first, last=last, stride=stride)
    _known_length(hand, footage, truth["ring"], "1.22")
    start_x, start_y = truth["ring"]["start"]
    hand.does("set_zero", footage=footage, x=start_x, y=start_y)
    rng = np.random.default_rng(15)
    found, made = [], []
    for name, kilograms in truth["masses"].items():
        body = hand.does("add_body", footage=footage, name=name)
        size = f"{200 * truth['radius']:g}"
        hand.does(
            "change_body", body=body, name=name, mass=str(kilograms), size=size, spot="white dot"
        )
        places = np.array(truth["positions"][name])
        x, y = places[first] + rng.normal(scale=_HAND / 3, size=2)
        hand.does("place_mark", body=body, frame=first, x=float(x), y=float(y))
        frames = range(first + stride, last + 1, stride)
        followed = places[frames] + rng.normal(scale=_FOLLOWED, size=(len(frames), 2))
        qualities = np.clip(rng.normal(0.97, 0.012, size=len(frames)), 0, 1)
        marks = [
            (frame, float(x), float(y), float(quality))
            for frame, (x, y), quality in zip(frames, followed, qualities, strict=True)
        ]
        found.append({"body": body, "marks": marks})
        made.append(body)
    hand.does("follow_marks", bodies=found)
    hand.does("add_centre", footage=footage, bodies=made)
    impact = truth["impact_time"] * 60
    hand.does("add_passage", footage=footage, name="before", first=first, last=int(impact))
    hand.does("add_passage", footage=footage, name="after", first=int(impact) + 1, last=last)
    hand.does("set_graph", footage=footage, x="t", ys=["x"])
    met = hand.does("add_impact", footage=footage, at=int(impact) + 0.5)
    hand.does("set_energies", footage=footage, from_above=True)
    hand.does("set_momenta", impact=met)
    hand.does(
        "say_verdict",
        impact=met,
        words="Momentum stays in both directions. A sixteenth of the kinetic energy is gone.",
    )


def _snow_tube(hand: Hand, settings: Settings) -> None:
    """Pushed, gliding, braking: three passages, and what each takes or gives."""
    footage, truth = _clip(hand, "snow-tube.mp4", "tube_wren.mp4", settings)
    begins, rate, stride = truth["begins"], 30, 2
    ends = np.cumsum([leg["seconds"] for leg in truth["legs"]]) + begins
    first, last = round(begins * rate) - 2, 106
    hand.does("set_span", footage=footage, first=first, last=last, stride=stride)
    _known_length(hand, footage, truth["pole"], "2.00")
    x, y = truth["positions"][0]
    hand.does("set_zero", footage=footage, x=x, y=y)
    hand.does("set_zero_frame", footage=footage, frame=round(begins * rate))
    body = hand.does("add_body", footage=footage, name="tube")
    mass = f"{truth['mass']:g}"
    hand.does("change_body", body=body, name="tube", mass=mass, size="105", spot="white patch")
    hand.marks(body, truth, range(first, last + 1, stride), np.random.default_rng(26))
    starts, legs = [begins, *ends[:2]], []
    names = [leg["name"] for leg in truth["legs"]]
    gliding, straw = truth["legs"][1:]
    slowed = truth["speed_after_push"] + gliding["acceleration"] * gliding["seconds"]
    stops = ends[1] - slowed / straw["acceleration"]
    for name, start, end in zip(names, starts, [*ends[:2], stops], strict=True):
        frames = {"first": round(start * rate) + 1, "last": round(end * rate) - 1}
        legs.append(hand.does("add_passage", footage=footage, name=name, **frames))
    hand.does("set_graph", footage=footage, x="t", ys=["x"])
    fit = hand.does("add_fit", body=body, x="t", y="x", curve="quadratic", passages=[legs[1]])
    hand.does("add_finding", fit=fit, reading="acceleration", name="glide")
    _three_legs(hand, footage, body, legs)
    hand.does("set_velocity_window", footage=footage, marks=5)
    hand.does("set_energies", footage=footage)
    hand.does(
        "say_verdict",
        footage=footage,
        words="The push gives it, snow takes a little of it, and the straw takes the rest.",
    )


def _three_legs(hand: Hand, footage: int, body: int, passages: list[int]) -> None:
    """The tube by three constant accelerations; the marks say where one passes to the next."""
    law = "constant acceleration"
    model = hand.does("add_model", footage=footage, body=body, name="three legs", law=law)
    legs = [hand.first_leg(model)]
    legs += [hand.does("add_leg", model=model, law=law, passage=key) for key in passages[1:]]
    for leg, passage, border in zip(legs, passages, ("marks", "marks", "passages"), strict=True):
        goes_on = "free" if leg == legs[0] else "both"
        hand.does("change_leg", leg=leg, law=law, passage=passage, goes_on=goes_on, border=border)
        # along the pole it only moves to the side
        hand.does("set_parameter", model=model, leg=leg, name="ay", typed="0", unit="m/s^2")
    hand.does("set_parameter", model=model, leg=legs[0], name="vy", typed="0", unit="m/s")
    for number, leg in enumerate(legs, start=1):
        hand.does("add_finding", model=model, reading=f"{leg}.ax", name=f"acceleration {number}")
    hand.does("add_finding", model=model, formula="-ax2/g", name="friction of the snow")


def _two_falls(hand: Hand, settings: Settings) -> None:
    """Lantern and cone by theory, with the air and without it; the lantern says its coefficient."""
    footage, truth = _clip(hand, "lantern-and-cone.mp4", "slowmo_heron.mp4", settings)
    hand.does("set_clock", footage=footage, clock="capture", typed="120")
    _known_length(hand, footage, truth["ladder"], "3.00")
    released = round(truth["release_time"] * truth["capture_rate"])
    last = 112
    hand.does("set_span", footage=footage, first=released, last=last, stride=2)
    hand.does("set_zero_frame", footage=footage, frame=released)
    x, y = truth["positions"]["lantern"][released]
    hand.does("set_zero", footage=footage, x=x, y=y)
    hand.does("set_weather", temperature="20.0", pressure="1013", damp="50")
    rng = np.random.default_rng(28)
    bodies = {}
    for name in ("lantern", "cone"):
        body = hand.does("add_body", footage=footage, name=name)
        grams, width = 1000 * truth["masses"][name], 200 * truth["radii"][name]
        hand.does(
            "change_body",
            body=body,
            name=name,
            mass=f"{grams:.1f} ± 0.2",
            mass_unit="g",
            size=f"{width:.1f} ± 0.1",
            size_unit="cm",
            spot="the middle",
        )
        spots = {"positions": truth["positions"][name]}
        hand.marks(body, spots, range(released, min(last, len(spots["positions"]) - 1), 2), rng)
        bodies[name] = body
    hand.does("set_graph", footage=footage, x="t", ys=["y"])
    for name, body in bodies.items():
        hand.does("add_theory", body=body)
        for model, kind in hand.models_of(body):
            hand.does("change_model", model=model, name=f"{name} {kind}")
            leg = hand.first_leg(model)
            for axis in ("vx", "vy"):  # both are let go at rest
                hand.does("set_parameter", model=model, leg=leg, name=axis, typed="0", unit="m/s")
            if kind == "with air":
                for axis in ("x", "y"):
                    hand.does("set_parameter", model=model, leg=leg, name=axis, how="marks")
            if kind == "with air":
                hand.does("set_parameter", model=model, name="drag_coefficient", how="marks")
                at_rest = f"drag coefficient of the {name}"
                accepted = f"{truth['drag_coefficients'][name]:g}"
                hand.does(
                    "add_finding",
                    model=model,
                    reading="drag_coefficient",
                    name=at_rest,
                    accepted=accepted,
                )
                speed = f"terminal speed of the {name}"
                hand.does("add_finding", model=model, reading=f"{leg}.terminal_speed", name=speed)


def _bounce(hand: Hand, settings: Settings) -> None:
    """Free fall, an impact, free fall again: g, restitution and moment of the impact in one."""
    footage, truth = _clip(hand, "snowball-bounce.mp4", "bounce_siskin.mp4", settings)
    rate, stride = 60, 2
    released = round(truth["release_time"] * rate)
    last = len(truth["positions"]) - 2
    hand.does("set_span", footage=footage, first=released, last=last, stride=stride)
    _known_length(hand, footage, truth["board"], "1.00")
    hand.does("set_zero", footage=footage, x=truth["positions"][0][0], y=truth["ice"][1])
    hand.does("set_zero_frame", footage=footage, frame=released)
    body = hand.does("add_body", footage=footage, name="snowball")
    hand.marks(body, truth, range(released, last + 1, stride), np.random.default_rng(29))
    hits = truth["impact_time"] * rate
    gap = int(hits) + 0.5
    hand.does("add_impact", footage=footage, at=gap)
    down = hand.does("add_passage", footage=footage, name="toss", first=released, last=gap)
    back = hand.does("add_passage", footage=footage, name="bounce", first=gap, last=last)
    hand.does("set_graph", footage=footage, x="t", ys=["y"])
    law = "free fall"
    model = hand.does("add_model", footage=footage, body=body, name="fall and bounce", law=law)
    first = hand.first_leg(model)
    second = hand.does("add_leg", model=model, law=law, passage=back)
    way = {"law": law, "passage": down, "goes_on": "free", "border": "marks"}
    hand.does("change_leg", leg=first, **way)
    hand.does("change_leg", leg=second, law=law, passage=back, hits=True)
    hand.does("set_parameter", model=model, name="g", how="marks")
    hand.does("set_parameter", model=model, leg=second, name="contact_friction", how="marks")
    hand.does("add_finding", model=model, reading="g", name="g", accepted="9.81")
    name = "restitution of the ice"
    hand.does("add_finding", model=model, reading=f"{second}.restitution", name=name)


def _ice_puck(hand: Hand, settings: Settings) -> None:
    """Up a ramp and back, with axes along it: heights are heights all the same."""
    footage, truth = _clip(hand, "ice-puck.mp4", "puck_plover.mp4", settings)
    first, last, stride = round(truth["begins"] * 30) + 1, 102, 3
    hand.does("set_span", footage=footage, first=first, last=last, stride=stride)
    _known_length(hand, footage, truth["board"], "1.50")
    x, y = truth["positions"][0]
    hand.does("set_zero", footage=footage, x=x, y=y)
    hand.does("set_zero_frame", footage=footage, frame=first)
    slope = f"{truth['slope_degrees']:g}"
    hand.does("turn_axes", footage=footage, angle=slope, flip_x=False, flip_y=False)
    body = hand.does("add_body", footage=footage, name="puck")
    hand.does("change_body", body=body, name="puck", mass="160", mass_unit="g", spot="yellow dot")
    hand.marks(body, truth, range(first, last + 1, stride), np.random.default_rng(27))
    turns = round(truth["turns"] * 30)
    hand.does("set_graph", footage=footage, x="t", ys=["x"])
    for name, begin, end in (("up", first, turns), ("down", turns, last)):
        way = hand.does("add_passage", footage=footage, name=name, first=begin, last=end)
        fit = hand.does("add_fit", body=body, x="t", y="x", curve="quadratic", passages=[way])
        hand.does("add_finding", fit=fit, reading="acceleration", name=name)
    hand.does("set_velocity_window", footage=footage, marks=5)
    hand.does("set_energies", footage=footage)
    hand.does(
        "say_verdict",
        footage=footage,
        words="No: a little goes on the way up, a little on the way down. It goes into the ice.",
    )


def _kick_sled(hand: Hand) -> None:
    """A typed table, its bent graph made straight, and the friction from the slope."""
    truth = json.loads((_CLIPS / "kick-sled.json").read_text())
    rows = (_CLIPS / "kick-sled.csv").read_text().splitlines()
    sheet = hand.does("add_sheet", name="glides")
    v = hand.does("add_column", sheet=sheet, name="speed", symbol="v", unit="m/s")
    d = hand.does("add_column", sheet=sheet, name="stopping distance", symbol="d", unit="m")
    cells = [row.split(",") for row in rows[1:]]
    hand.does("set_cells", sheet=sheet, row=1, column=v, cells=cells)
    short = truth["stopped_short"]
    hand.does("set_row_aside", sheet=sheet, row=short, aside=True, reason="ran into the straw")
    hand.does("set_quantity", symbol="g", name="free fall", typed="9.81 ± 0.01", unit="m/s^2")
    hand.does("set_graph", sheet=sheet, x=f"c{v}", ys=[f"c{d}"])
    hand.does("straighten", sheet=sheet, x=f"c{v}", y=f"c{d}", form="y-x2")
    fit = hand.fit_of(sheet)
    hand.does("add_finding", fit=fit, formula="1/(2*m*g)", name="friction", symbol="μ")


def _just_uploaded(hand: Hand, settings: Settings) -> None:
    _clip(hand, "snowball-lob.mp4", "20270114_dipper.mp4", settings)
