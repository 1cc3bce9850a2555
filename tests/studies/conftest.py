from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
import pytest

from footing.settings import Settings
from footing.store import tables
from footing.store.reading import read_study
from footing.store.rows import MotionModel
from footing.studies.films import uploads
from tests.conftest import World
from tests.films import numbered_film
from tests.moments import Once
from tests.studies.motions import ENDS, thrown
from tests.studies.steps import Tab


@dataclass(frozen=True)
class Measured:
    """A study with footage, a known length, a body with marks, a passage, a fit, a finding.

    rival : a second body on the first footage, without marks, but with frame 30 in doubt
    second : another footage of the same size, with an oblique view (``point`` is its fifth point)
        and a background spot
    content : a file of the same size that is not in the study
    sheet : speeds and distances of five slides, with a computed column and a graph; ``eye`` is a
        sheet read by eye from the first footage; ``quantity`` a mass of the study
    impact : on the first footage, behind all marks
    model : of the body, with a leg before and a ``second_leg`` in its two passages; its ``written``
        third leg has formulas
    question : of the lab; block : the first of two of the report
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
    sheet: int
    column: int
    other_column: int
    computed: int
    eye: int
    quantity: int
    graph: int
    impact: int
    model: int
    leg: int
    second_leg: int
    written: int
    question: int
    block: int
    second_block: int


@pytest.fixture
def tab(world: World) -> Tab:
    """Group Heron's tab on its empty study."""
    return Tab(world.study, world.heron)


@pytest.fixture
def footage(tab: Tab, plain_film: Path, settings: Settings, once: Once) -> int:
    return once("plain film", tab, lambda: tab.uploads(plain_film, settings))


@pytest.fixture(scope="session")
def other_films(films: Path) -> tuple[Path, Path]:
    """Two more films of the same size; the second is shorter."""
    return (
        numbered_film(films / "second.mp4", frames=30),
        numbered_film(films / "third.mp4", frames=25),
    )


@pytest.fixture
def measured(
    world: World,
    tab: Tab,
    footage: int,
    other_films: tuple[Path, Path],
    settings: Settings,
    once: Once,
) -> Measured:
    """A body that falls: y = 20 + 2 n + 0.1 n² pixels downwards, 25 frames/s, 1 m = 100 px."""

    def make() -> Measured:
        return _measured(world, tab, footage, other_films, settings)

    return replace(once("measured", tab, make), tab=tab)


def _measured(
    world: World, tab: Tab, footage: int, other_films: tuple[Path, Path], settings: Settings
) -> Measured:
    ends = {"start_x": 10, "start_y": 10, "end_x": 110, "end_y": 10}
    length = tab.makes("add_known_length", footage=footage, frame=0, **ends)
    tab.does("type_known_length", known_length=length, length="1.00", unit="m")
    tab.does("set_zero", footage=footage, x=0, y=0)
    body = tab.makes("add_body", footage=footage, name="cone")
    rival = tab.makes("add_body", footage=footage, name="lamp")
    marks = [[n, 50 + n, 20 + 2 * n + 0.1 * n**2] for n in range(12)]
    tab.does("place_marks", body=body, marks=marks)
    second = tab.uploads(other_films[0], settings)
    corners = [[60, 150], [260, 140], [220, 60], [90, 64]]
    tab.does("draw_plane", footage=second, frame=2, corners=corners)
    tab.does("type_plane", footage=second, across="2.00", along="3.00", unit="m")
    point = tab.makes("add_plane_point", footage=second, x=150, y=100)
    spot = tab.makes("add_body", footage=second, name="gatepost", background=True)
    tab.does("place_marks", body=spot, marks=[[n, 100 + n, 50] for n in range(4)])
    doubt = [30, 5.0, 6.0, 0.4]
    tab.does("follow_marks", bodies=[{"body": rival, "marks": [], "open": [doubt]}])
    sheet, column, other_column, computed = typed_sheet(tab)
    eye = tab.makes("read_by_eye", footage=footage, name="rule", unit="cm")
    tab.does("add_reading", sheet=eye, frame=3, text="12,5")
    quantity = tab.makes("set_quantity", symbol="M", name="mass", typed="0.250 ± 0.001", unit="kg")
    graph = tab.makes("set_graph", sheet=sheet, x=f"c{column}", ys=[f"c{other_column}"])
    block = tab.makes("add_block", block="heading", words="Result")
    second_block = tab.makes("add_block", block="text", words="It falls with {a}.")
    impact = tab.makes("add_impact", footage=footage, at=20.5)
    passage = tab.makes("add_passage", footage=footage, name="fall", first=1, last=10)
    fit = tab.makes("add_fit", body=body, x="t", y="y", curve="quadratic", passages=[passage])
    end = tab.makes("add_passage", footage=footage, name="end of the fall", first=10.5, last=11)
    model = tab.makes("add_model", footage=footage, body=body, name="by theory")
    leg = legs_of(tab, model)[0]
    way = {"law": "constant acceleration", "goes_on": "free"}
    tab.does("change_leg", leg=leg, passage=passage, **way)
    second_leg = tab.makes("add_leg", model=model, law="constant velocity", passage=end)
    written = tab.makes("add_leg", model=model, law="formula")
    tab.does("set_weather", temperature="20.0", pressure="1013", damp="50")
    question = tables.LabQuestion.create(lab=world.lab, words="Why does it slow down?")
    finding = tab.makes("add_finding", fit=fit, reading="acceleration", name="a")
    content = uploads.take_in(other_films[1], settings)
    return Measured(
        *(tab, footage, length, body, passage, fit, finding, second, point, spot, rival, content),
        *(sheet, column, other_column, computed, eye, quantity, graph, impact),
        *(model, leg, second_leg, written, question.id, block, second_block),
    )


def legs_of(tab: Tab, model: int) -> list[int]:
    """The keys of the legs of a model, in their order."""
    rows = read_study(tab.study_id)
    return [leg.id for leg in rows.legs_of(rows.find(MotionModel, model))]


def typed_sheet(tab: Tab) -> tuple[int, int, int, int]:
    """A sheet of five slides with v in m/s, d in m and v²; row 5 is set aside."""
    sheet = tab.makes("add_sheet", name="slides")
    v = tab.makes("add_column", sheet=sheet, name="speed", unit="m/s")
    d = tab.makes("add_column", sheet=sheet, name="distance", unit="m")
    rows = [["1.0", "0.9"], ["1.5", "1.9"], ["2.0", "3.4"], ["2.5", "5.3"], ["3.0", "9.9"]]
    tab.does("set_cells", sheet=sheet, row=1, column=v, cells=rows)
    computed = tab.makes("add_column", sheet=sheet, name="square", symbol="w", formula="v^2")
    tab.does("set_row_aside", sheet=sheet, row=5, aside=True, reason="hit the hay")
    return sheet, v, d, computed


@pytest.fixture
def throw(tab: Tab, footage: int, once: Once) -> tuple[Tab, int, int]:
    """A tab with a thrown body of 120 g, marked in 15 frames; and its footage."""
    body = once("throw", tab, lambda: _throw(tab, footage))
    return tab, body, footage


def _throw(tab: Tab, footage: int) -> int:
    length = tab.makes("add_known_length", footage=footage, frame=0, **ENDS)
    tab.does("type_known_length", known_length=length, length="1.00", unit="m")
    tab.does("set_zero", footage=footage, x=20, y=160)
    body = tab.makes("add_body", footage=footage, name="ball")
    marks = [[n, *thrown(n)] for n in range(15)]
    tab.does("place_marks", body=body, marks=marks)
    tab.does("weigh_body", body=body, mass="120", mass_unit="g")
    return body


@pytest.fixture
def collision(tab: Tab, footage: int, once: Once) -> tuple[Tab, int, int, int]:
    """Two bodies that meet between frames 14 and 15: 0.5 kg at 1 m/s and 0.3 kg at rest."""
    left, right, impact = once("collision", tab, lambda: _collision(tab, footage))
    return tab, left, right, impact


def _collision(tab: Tab, footage: int) -> tuple[int, int, int]:
    rng = np.random.default_rng(3)
    length = tab.makes("add_known_length", footage=footage, frame=0, **ENDS)
    tab.does("type_known_length", known_length=length, length="1.00", unit="m")
    tab.does("set_zero", footage=footage, x=0, y=100)
    made = []
    for name, mass, start, before, after in (
        ("left", "0.500", 40.0, 4.0, (1.75, 1.0)),
        ("right", "0.300", 110.0, 0.0, (3.75, -1.0 * 5 / 3)),
    ):
        body = tab.makes("add_body", footage=footage, name=name)
        marks = []
        for n in range(30):
            hit = max(n - 14.5, 0.0)
            x = start + before * min(n, 14.5) + after[0] * hit
            dx, dy = rng.normal(scale=0.05, size=2)
            marks.append([n, x + dx, 100 - after[1] * hit + dy])
        tab.does("place_marks", body=body, marks=marks)
        tab.does("weigh_body", body=body, mass=mass, mass_unit="kg")
        made.append(body)
    impact = tab.makes("add_impact", footage=footage, at=14.5)
    return made[0], made[1], impact


@pytest.fixture
def sheet(tab: Tab) -> int:
    return typed_sheet(tab)[0]
