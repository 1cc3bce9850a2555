"""Two sheets on one graph."""

import numpy as np
import pytest

from footing.studies.views.graph_file import filled
from tests.studies.sheets import seen
from tests.studies.steps import Tab


def test_a_second_sheet_on_the_same_graph(tab: Tab, sheet: int) -> None:
    other = tab.makes("add_sheet", name="on ice")
    v = tab.makes("add_column", sheet=other, name="speed", unit="m/s")
    d = tab.makes("add_column", sheet=other, name="distance", unit="m")
    tab.does("set_cells", sheet=other, row=1, column=v, cells=[["1.0", "4.1"], ["2.0", "9.7"]])
    series = {"sheet": other, "x": f"c{v}", "y": f"c{d}"}
    tab.does("set_graph", sheet=sheet, others=[series])
    shown = seen(tab, sheet)["graphs"][0]["series"]
    assert [one["name"] for one in shown] == ["slides: distance", "on ice: distance"]
    assert [point[1:3] for point in shown[1]["points"]] == [[1.0, 4.1], [2.0, 9.7]]
    assert shown[0]["colour"] != shown[1]["colour"]
    tab.does("remove_sheet", sheet=other)
    assert len(seen(tab, sheet)["graphs"][0]["series"]) == 1


def test_a_second_sheet_comes_in_the_units_of_the_axes_with_its_fits(tab: Tab, sheet: int) -> None:
    other = tab.makes("add_sheet", name="on ice")
    v = tab.makes("add_column", sheet=other, name="speed", unit="m/s")
    d = tab.makes("add_column", sheet=other, name="distance", unit="cm")
    cells = [["1", "400"], ["2", "900"], ["3", "1200"], ["4", "1700"]]
    tab.does("set_cells", sheet=other, row=1, column=v, cells=cells)
    fit = tab.makes("add_fit", sheet=other, x=f"c{v}", y=f"c{d}", curve="line")
    tab.does("set_graph", sheet=sheet, others=[{"sheet": other, "x": f"c{v}", "y": f"c{d}"}])
    view = seen(tab, sheet)
    (graph,) = view["graphs"]
    own, guest = graph["series"]
    assert (own["guest"], guest["guest"]) == (False, True)
    assert guest["unit"] == own["unit"] == "m"
    assert [point[2] for point in guest["points"]] == pytest.approx([4, 9, 12, 17])
    assert not graph["mixed_units"]
    assert view["fits"] == []
    (drawn,) = graph["guest_fits"]
    assert drawn["id"] == fit
    slope, offset = np.polyfit([1, 2, 3, 4], [4, 9, 12, 17], 1)
    assert drawn["line"][0] == pytest.approx([1, slope + offset])
    assert drawn["line"][-1] == pytest.approx([4, 4 * slope + offset])
    left = [4, 9, 12, 17] - (slope * np.array([1, 2, 3, 4]) + offset)
    assert [row[2] for row in drawn["residuals"]] == pytest.approx(left)
    assert drawn["parameters"][0]["text"].endswith("cm·s/m")  # on its own sheet it is in cm
    curves = filled(graph, view["fits"])["datasets"]["curves"]
    assert {curve["fit"] for curve in curves} == {fit}


def test_a_second_sheet_that_measures_something_else_is_said_not_to_go_together(
    tab: Tab, sheet: int
) -> None:
    other = tab.makes("add_sheet", name="weights")
    v = tab.makes("add_column", sheet=other, name="load", unit="kg")
    d = tab.makes("add_column", sheet=other, name="distance", unit="m")
    tab.does("set_cells", sheet=other, row=1, column=v, cells=[["1", "4"], ["2", "9"]])
    tab.does("set_graph", sheet=sheet, others=[{"sheet": other, "x": f"c{v}", "y": f"c{d}"}])
    assert seen(tab, sheet)["graphs"][0]["mixed_units"]
