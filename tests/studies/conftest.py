from dataclasses import dataclass
from pathlib import Path

import pytest

from footing.settings import Settings
from footing.studies import uploads
from tests.conftest import World
from tests.films import numbered_film
from tests.studies.steps import Tab


@dataclass(frozen=True)
class Measured:
    """A study with footage, a known length, a body with marks, a passage, a fit, a finding.

    rival : a second body on the first footage, without marks, but with frame 30 in doubt
    second : another footage of the same size, with an oblique view (``point`` is its fifth point)
        and a background spot
    content : a file of the same size that is not in the study
    """

    tab: Tab
    footage: int
    length: int
    body: int
    passage: int
    fit: int
    finding: int
    second: int
    point: int
    spot: int
    rival: int
    content: str


@pytest.fixture
def tab(world: World) -> Tab:
    """Group Heron's tab on its empty study."""
    return Tab(world.study, world.heron)


@pytest.fixture
def footage(tab: Tab, plain_film: Path, settings: Settings) -> int:
    return tab.uploads(plain_film, settings)


@pytest.fixture(scope="session")
def other_films(films: Path) -> tuple[Path, Path]:
    """Two more films of the same size; the second is shorter."""
    return (
        numbered_film(films / "second.mp4", frames=30),
        numbered_film(films / "third.mp4", frames=25),
    )


@pytest.fixture
def measured(
    tab: Tab, footage: int, other_films: tuple[Path, Path], settings: Settings
) -> Measured:
    """A body that falls: y = 20 + 2 n + 0.1 n² pixels downwards, 25 frames/s, 1 m = 100 px."""
    ends = {"start_x": 10, "start_y": 10, "end_x": 110, "end_y": 10}
    length = tab.makes("add_known_length", footage=footage, frame=0, **ends)
    tab.does("type_known_length", known_length=length, length="1.00", unit="m")
    tab.does("set_zero", footage=footage, x=0, y=0)
    body = tab.makes("add_body", footage=footage, name="cone")
    rival = tab.makes("add_body", footage=footage, name="lamp")
    for n in range(12):
        tab.does("place_mark", body=body, frame=n, x=50 + n, y=20 + 2 * n + 0.1 * n**2)
    second = tab.uploads(other_films[0], settings)
    corners = [[60, 150], [260, 140], [220, 60], [90, 64]]
    tab.does("draw_plane", footage=second, frame=2, corners=corners)
    tab.does("type_plane", footage=second, across="2.00", along="3.00", unit="m")
    point = tab.makes("add_plane_point", footage=second, x=150, y=100)
    spot = tab.makes("add_body", footage=second, name="gatepost", background=True)
    for n in range(4):
        tab.does("place_mark", body=spot, frame=n, x=100 + n, y=50)
    doubt = [30, 5.0, 6.0, 0.4]
    tab.does("follow_marks", bodies=[{"body": rival, "marks": [], "open": [doubt]}])
    passage = tab.makes("add_passage", footage=footage, name="fall", first=1, last=10)
    fit = tab.makes("add_fit", body=body, x="t", y="y", curve="quadratic", passage=passage)
    finding = tab.makes("add_finding", fit=fit, reading="acceleration", name="a")
    content = uploads.take_in(other_films[1], settings)
    return Measured(
        tab, footage, length, body, passage, fit, finding, second, point, spot, rival, content
    )
