"""What the first graph shows, and how long the axis is of what hardly changes."""

import math
from collections.abc import Callable
from pathlib import Path

import pytest

from footing.settings import Settings
from tests.conftest import World
from tests.films import numbered_film
from tests.studies.steps import Tab

_FRAMES = 30
_METRE = 100.0  # px
Way = Callable[[float], tuple[float, float]]


class Filmed:
    """A film on which a body goes some way, in metres from the zero, frame after frame."""

    def __init__(self, tab: Tab, film: Path, settings: Settings) -> None:
        self.tab = tab
        self.footage = tab.uploads(film, settings)
        ends = {"start_x": 20, "start_y": 200, "end_x": 120, "end_y": 200}
        length = tab.makes("add_known_length", footage=self.footage, frame=0, **ends)
        tab.does("type_known_length", known_length=length, length="1.00", unit="m")
        tab.does("set_zero", footage=self.footage, x=20, y=200)

    def moves(self, way: Way, name: str = "puck") -> int:
        body = self.tab.makes("add_body", footage=self.footage, name=name)
        places = [way(frame / 25) for frame in range(_FRAMES)]
        marks = [[frame, 20 + _METRE * x, 200 - _METRE * y] for frame, (x, y) in enumerate(places)]
        self.tab.does("place_marks", body=body, marks=marks)
        return body

    def graph(self, place: int = 0) -> dict[str, object]:
        found: dict[str, object] = self.tab.view(self.footage)["graphs"][place]
        return found

    def y_ends(self, of: str = "ranges") -> tuple[float, float]:
        graph = self.graph()
        ranges = graph["ranges"] if of == "ranges" else graph["steady"]["ranges"]  # type: ignore[index]
        return ranges["y_low"], ranges["y_high"]  # type: ignore[index]


@pytest.fixture
def filmed(world: World, tmp_path: Path, settings: Settings) -> Filmed:
    film = numbered_film(tmp_path / "way.mp4", frames=_FRAMES, rate=25, size=(320, 240))
    return Filmed(Tab(world.study, world.heron), film, settings)


def slides(t: float) -> tuple[float, float]:
    """Along x with 1.5 m/s, but for a wobble of 2 mm."""
    return 1.5 * t, 0.3 + 0.002 * math.sin(40 * t)


def falls(t: float) -> tuple[float, float]:
    """Down, and a little farther across."""
    return 2.0 * t, 1.8 - 4.905 * t * t / 4


def test_the_first_graph_shows_the_coordinate_that_moves(filmed: Filmed) -> None:
    assert filmed.graph()["ys"] == ["y"]
    filmed.moves(slides)
    assert (filmed.graph()["x"], filmed.graph()["ys"]) == ("t", ["x"])


def test_a_throw_is_shown_by_its_height(filmed: Filmed) -> None:
    filmed.moves(falls)
    assert filmed.graph()["ys"] == ["y"]


def test_along_turned_axes_the_first_graph_shows_the_way_along_them(filmed: Filmed) -> None:
    filmed.moves(lambda t: (0.5, 1.5 * t))
    assert filmed.graph()["ys"] == ["y"]
    filmed.tab.does("turn_axes", footage=filmed.footage, angle="90", flip_x=False, flip_y=False)
    assert filmed.graph()["ys"] == ["x"]


def test_what_is_shown_by_itself_stays_when_a_graph_comes_below(filmed: Filmed) -> None:
    filmed.moves(slides)
    filmed.tab.does("set_graph", footage=filmed.footage, place=1)
    assert [filmed.graph(place)["ys"] for place in (0, 1)] == [["x"], ["x"]]


def test_what_hardly_changes_has_an_axis_as_long_as_the_other_coordinate(filmed: Filmed) -> None:
    filmed.moves(slides)
    filmed.tab.does("set_graph", footage=filmed.footage, x="t", ys=["y"])
    steady = filmed.graph()["steady"]
    assert steady is not None
    assert steady["text"] == "Position y hardly changes; the axis is as long as for position x"  # type: ignore[index]
    low, high = filmed.y_ends()
    assert high - low >= 1.5 * (_FRAMES - 1) / 25
    assert low < 0.298
    assert high > 0.302
    close_low, close_high = filmed.y_ends("steady")
    assert close_high - close_low < 0.1
    assert close_low < 0.299 < 0.301 < close_high


def test_what_changes_has_the_axis_that_it_needs(filmed: Filmed) -> None:
    filmed.moves(slides)
    filmed.tab.does("set_graph", footage=filmed.footage, x="t", ys=["x"])
    assert filmed.graph()["steady"] is None
    filmed.tab.does("set_graph", footage=filmed.footage, x="x", ys=["y"])
    assert filmed.graph()["steady"] is None  # a shape, and no matter of time


def test_a_typed_range_is_kept(filmed: Filmed) -> None:
    filmed.moves(slides)
    filmed.tab.does("set_graph", footage=filmed.footage, x="t", ys=["y"], y_range=[0.29, 0.31])
    assert filmed.y_ends() == (0.29, 0.31)
    assert filmed.graph()["steady"] is None


def test_a_small_acceleration_is_shown_beside_g(filmed: Filmed) -> None:
    filmed.moves(lambda t: (0.5 * 0.8 * t * t, 0.3))
    filmed.tab.does("set_graph", footage=filmed.footage, x="t", ys=["ax"])
    steady = filmed.graph()["steady"]
    assert steady is not None
    assert steady["beside"] == "g"  # type: ignore[index]
    low, high = filmed.y_ends()
    assert 9.81 <= high - low < 15


def test_g_is_said_in_the_unit_of_the_study(filmed: Filmed) -> None:
    filmed.moves(lambda t: (0.5 * 0.8 * t * t, 0.3))
    filmed.tab.does("set_unit", length="cm")
    filmed.tab.does("set_graph", footage=filmed.footage, x="t", ys=["ax"])
    low, high = filmed.y_ends()
    assert 981 <= high - low < 1500


def test_a_sheet_is_compared_with_nothing(world: World) -> None:
    tab = Tab(world.study, world.heron)
    sheet = tab.makes("add_sheet", name="battery")
    first = tab.makes("add_column", sheet=sheet, name="time", unit="s")
    tab.makes("add_column", sheet=sheet, name="voltage", unit="V")
    cells = [[str(n), f"{5 + 0.001 * n:.3f}"] for n in range(8)]
    tab.does("set_cells", sheet=sheet, row=1, column=first, cells=cells)
    (graph,) = tab.view(f"s{sheet}")["graphs"]  # type: ignore[arg-type]
    assert graph["steady"] is None
    assert graph["ranges"]["y_high"] - graph["ranges"]["y_low"] < 0.05
