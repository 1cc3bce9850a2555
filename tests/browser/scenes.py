"""Studies of the demo's clips, marked with the scatter of a hand; and who joins a class."""

from pathlib import Path
from typing import Any

import numpy as np

from footing.settings import Settings
from footing.store import tables
from footing.studies.school.people import Person, person
from tests.browser.hands import truth_of
from tests.conftest import World
from tests.moments import Once
from tests.studies.steps import Tab


def known_length(tab: Tab, footage: int, stick: dict[str, Any], length: str) -> None:
    (start_x, start_y), (end_x, end_y) = stick["start"], stick["end"]
    ends = {"start_x": start_x, "start_y": start_y, "end_x": end_x, "end_y": end_y}
    known = tab.makes("add_known_length", footage=footage, frame=0, **ends)
    tab.does("type_known_length", known_length=known, length=length, unit="m")


def flying_snowball(tab: Tab, clips: Path, settings: Settings, once: Once) -> int:
    """The snowball's flight with scale and zero; gives the body."""
    return once("flying snowball", tab, lambda: _flying_snowball(tab, clips, settings))


def _flying_snowball(tab: Tab, clips: Path, settings: Settings) -> int:
    truth = truth_of(clips, "snowball-lob")
    footage = tab.uploads(clips / "snowball-lob.mp4", settings)
    flying = [n for n, flies in enumerate(truth["flying"]) if flies][1:-1]
    tab.does("set_span", footage=footage, first=flying[0], last=flying[-1], stride=2)
    known_length(tab, footage, truth["post"], "1.50")
    x, y = truth["post"]["start"]
    tab.does("set_zero", footage=footage, x=x, y=y)
    body = tab.makes("add_body", footage=footage, name="snowball")
    rng = np.random.default_rng(22)
    marks = [
        [n, *(np.array(truth["positions"][n]) + rng.normal(scale=0.3, size=2)).tolist()]
        for n in flying[::2]
    ]
    tab.does("place_marks", body=body, marks=marks)
    return body


def in_group(world: World, name: str, group: tables.Group) -> Person:
    """A further student of the class."""
    row = tables.Student.create(school_class=world.school_class, group=group, name=name)
    return person("student", row.id)
