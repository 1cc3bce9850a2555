"""Somebody who works on a study of the demo, through the same edits that a person makes.

Marks come from the clips' truth with the scatter of a hand that clicks; the application itself
never sees the truth.
"""

import json
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
from pydantic import TypeAdapter

from footing.demo.lesson import Works
from footing.settings import Settings
from footing.store.reading import read_study
from footing.store.rows import MotionModel, Sheet, Study
from footing.studies.door import EditRequest, submit
from footing.studies.films import uploads
from footing.studies.model.keys import made_key
from footing.studies.school.people import Person

CLIPS = Path(__file__).parent / "clips"
HAND_SCATTER = 0.45  # px, scatter of a careful click


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
            x, y = np.array(truth["positions"][frame]) + rng.normal(scale=HAND_SCATTER, size=2)
            self.does("place_mark", body=body, frame=frame, x=float(x), y=float(y))


def clip(hand: Works, name: str, shown_name: str, settings: Settings) -> tuple[int, dict[str, Any]]:
    """Upload a clip of the demo; give the footage and the clip's truth."""
    content = uploads.take_in(CLIPS / name, settings)
    footage = hand.does("add_footage", content=content, name=shown_name)
    return footage, json.loads((CLIPS / name).with_suffix(".json").read_text())


def begins_at(hand: Hand, footage: int, place: list[float], frame: int) -> None:
    """Put zero where a body is, and the zero of time at the frame in which it is there."""
    x, y = place
    hand.does("set_zero", footage=footage, x=x, y=y)
    hand.does("set_zero_frame", footage=footage, frame=frame)


def known_length(hand: Hand, footage: int, stick: dict[str, Any], length: str) -> None:
    """Draw a known length along a stick of the truth, and type it in metres."""
    (start_x, start_y), (end_x, end_y) = stick["start"], stick["end"]
    ends = {"start_x": start_x, "start_y": start_y, "end_x": end_x, "end_y": end_y}
    known = hand.does("add_known_length", footage=footage, frame=0, **ends)
    hand.does("type_known_length", known_length=known, length=length, unit="m")
