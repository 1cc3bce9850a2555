"""The lesson of the demo: what 9K found on the sled run, and a class of another teacher."""

from collections.abc import Callable
from typing import Any, Protocol

import numpy as np

from footing.store.records import add
from footing.store.rows import Group, Lab, LabFinding, LabQuestion, SchoolClass, Student, Teacher

_MARKED = 12  # frames
_STRIDE = 3
_LINE = 0.6  # px, scatter of the ends of a known length
_TURNED = 0.15  # degrees, scatter of the axes that somebody turns

# group, seed, the length that they typed for the pole of 2.00 m, and by how much they turned
_RUNS = (
    ("Heron", 31, "2.00", -12.0),
    ("Heron", 32, "2.00", -12.0),
    ("Dipper", 33, "2.00", -12.0),
    ("Dipper", 34, "2.00", -12.0),
    ("Siskin", 35, "2.00", -12.0),
    ("Siskin", 36, "1.50", -12.0),  # stands out: they took the pole for another
    ("Plover", 37, "2.00", 0.0),  # the usual mistake: axes as they were
    ("Plover", 38, "2.00", -12.0),
)


class Works(Protocol):
    """Somebody who works on a study."""

    def does(self, kind: str, **fields: object) -> int:
        """Make an edit; give the key of the row that it made."""

    def marks(
        self, body: int, truth: dict[str, Any], frames: range, rng: np.random.Generator
    ) -> None:
        """Mark a body by hand."""


Clip = Callable[[Works, str, str], tuple[int, dict[str, Any]]]


def sled_runs(begin: Callable[[str], Works], clip: Clip) -> None:
    """Eight findings of the acceleration, with the scatter of hands and two mistakes."""
    for group, seed, length, turned in _RUNS:
        _sled_run(begin(group), clip, np.random.default_rng(seed), length=length, turned=turned)


def _sled_run(
    hand: Works, clip: Clip, rng: np.random.Generator, *, length: str, turned: float
) -> None:
    footage, truth = clip(hand, "sled-run.mp4", "sled_run.mp4")
    released = round(truth["release_time"] * 30)
    last = released + _MARKED * _STRIDE
    hand.does("set_span", footage=footage, first=released, last=last, stride=_STRIDE)
    start, end = (
        np.array(truth["pole"][which]) + rng.normal(scale=_LINE, size=2)
        for which in ("start", "end")
    )
    ends = {"start_x": start[0], "start_y": start[1], "end_x": end[0], "end_y": end[1]}
    known = hand.does(
        "add_known_length",
        footage=footage,
        frame=0,
        **{name: float(value) for name, value in ends.items()},
    )
    hand.does("type_known_length", known_length=known, length=length, unit="m")
    x, y = truth["positions"][released]
    hand.does("set_zero", footage=footage, x=x, y=y)
    hand.does("set_zero_frame", footage=footage, frame=released)
    if turned:
        angle = f"{turned + rng.normal(scale=_TURNED):.1f}"
        hand.does("turn_axes", footage=footage, angle=angle, flip_x=False, flip_y=False)
    body = hand.does("add_body", footage=footage, name="sled")
    hand.marks(body, truth, range(released, last, _STRIDE), rng)
    hand.does("set_graph", footage=footage, x="t", ys=["x"])
    fit = hand.does("add_fit", body=body, x="t", y="x", curve="quadratic", passages=[])
    hand.does("add_finding", fit=fit, reading="acceleration", name="a")


def asks_of_sleds(lab_id: int, acceleration: float) -> None:
    """What the lab of the sled run asks for."""
    add(
        LabFinding(
            lab_id=lab_id,
            name="a",
            quantity="acceleration along the slope",
            unit="m/s²",
            accepted=f"{acceleration:.3f}",
            tolerance="5",
            shown=False,
        )
    )
    add(LabQuestion(lab_id=lab_id, words="What else acts on the sled, and how do you know?"))


def another_class() -> None:
    """A class of another teacher, with a lab and two students."""
    teacher = add(Teacher(name="Mr Oddfell"))
    of = add(SchoolClass(teacher_id=teacher.id, name="8B Physics", code="maple-comet-58")).id
    group = add(Group(school_class_id=of, name="Merlin")).id
    for name in ("Anselm", "Ilse"):
        add(Student(school_class_id=of, group_id=group, name=name))
    add(Lab(school_class_id=of, title="Icicles", task="How fast does an icicle grow?"))
