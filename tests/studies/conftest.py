from dataclasses import dataclass
from pathlib import Path

import pytest

from footing.settings import Settings
from tests.conftest import World
from tests.studies.steps import Tab


@dataclass(frozen=True)
class Measured:
    """A study with footage, a known length, a body with marks, a passage, a fit, a finding."""

    tab: Tab
    footage: int
    length: int
    body: int
    passage: int
    fit: int
    finding: int


@pytest.fixture
def tab(world: World) -> Tab:
    """Group Heron's tab on its empty study."""
    return Tab(world.study, world.heron)


@pytest.fixture
def footage(tab: Tab, plain_film: Path, settings: Settings) -> int:
    return tab.uploads(plain_film, settings)


@pytest.fixture
def measured(tab: Tab, footage: int) -> Measured:
    """A body that falls: y = 20 + 2 n + 0.1 n² pixels downwards, 25 frames/s, 1 m = 100 px."""
    ends = {"start_x": 10, "start_y": 10, "end_x": 110, "end_y": 10}
    length = tab.makes("add_known_length", footage=footage, frame=0, **ends)
    tab.does("type_known_length", known_length=length, length="1.00", unit="m")
    tab.does("set_zero", footage=footage, x=0, y=0)
    body = tab.makes("add_body", footage=footage, name="cone")
    for n in range(12):
        tab.does("place_mark", body=body, frame=n, x=50 + n, y=20 + 2 * n + 0.1 * n**2)
    passage = tab.makes("add_passage", footage=footage, name="fall", first=1, last=10)
    fit = tab.makes("add_fit", body=body, x="t", y="y", curve="quadratic", passage=passage)
    finding = tab.makes("add_finding", fit=fit, reading="acceleration", name="a")
    return Measured(tab, footage, length, body, passage, fit, finding)
