"""What graphs show, and how: chosen by edits, seen in the state and in the file."""

import re
from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from footing.core.errors import NotThere, Refused
from footing.store.records import change
from footing.studies.shapes.graphs import LegendEntryShape
from footing.studies.shapes.models import LineShape
from footing.studies.views.graph import say_what_is_what
from footing.studies.views.graph_file import Boxes, filled, graph_file
from footing.studies.views.graph_labels import box_layers, legend_layers
from tests.studies.conftest import Measured, typed_sheet
from tests.studies.steps import Tab

ACCELERATION = -1.25  # m/s², of the measured body


def graphs(measured: Measured) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = measured.tab.view(measured.footage)["graphs"]
    return found


def choose(measured: Measured, **what: Any) -> dict[str, Any]:
    measured.tab.does("set_graph", footage=measured.footage, **what)
    return graphs(measured)[what.get("place", 0)]


def test_a_graph_names_itself_until_somebody_does(measured: Measured) -> None:
    graph = choose(measured, x="t", ys=["y", "x"])
    assert graph["title"] == "Position y, position x against time"
    assert graph["y_title"] == "position y, position x (m)"
    named = choose(measured, title="Cone", x_title="time in s", y_title="place in m")
    assert (named["title"], named["x_title"], named["y_title"]) == (
        "Cone",
        "time in s",
        "place in m",
    )
    titles = [axis["title"] for axis in _axes(named["spec"])]
    assert {"time in s", "place in m"} <= set(titles)
    again = choose(measured, title="", x_title="", y_title="")
    assert again["x_title"] == "time (s)"
    assert again["title"] == graph["title"]


def _axes(spec: Any) -> list[dict[str, Any]]:
    """Everything in a specification that has a title."""
    if isinstance(spec, dict):
        mine = [spec] if isinstance(spec.get("title"), str) else []
        return mine + [one for part in spec.values() for one in _axes(part)]
    if isinstance(spec, list):
        return [one for part in spec for one in _axes(part)]
    return []


def test_series_of_different_units_on_one_axis_are_said_to_be_unsound(measured: Measured) -> None:
    assert not choose(measured, x="t", ys=["y", "x"])["mixed_units"]
    mixed = choose(measured, x="t", ys=["y", "vy"])
    assert mixed["mixed_units"]
    assert mixed["y_title"] == "position y (m), velocity y (m/s)"
    said = [check for check in measured.tab.view(measured.footage)["checks"] if not check["sound"]]
    assert "units" in [check["key"] for check in said]


def test_graphs_are_stacked_on_a_common_axis_and_close_up_when_one_goes(
    measured: Measured,
) -> None:
    choose(measured, x="t", ys=["y"])
    choose(measured, place=1, ys=["vy"])
    choose(measured, place=2, ys=["ay"])
    assert [(graph["x"], graph["ys"]) for graph in graphs(measured)] == [
        ("t", ["y"]),
        ("t", ["vy"]),
        ("t", ["ay"]),
    ]
    measured.tab.does("remove_graph", graph=graphs(measured)[1]["id"])
    assert [graph["ys"] for graph in graphs(measured)] == [["y"], ["ay"]]
    assert [graph["place"] for graph in graphs(measured)] == [0, 1]
    for place in (2, 3):
        choose(measured, place=place, ys=["vx"])
    with pytest.raises(ValueError, match="less than 4"):
        choose(measured, place=4, ys=["vx"])


def test_points_look_as_was_chosen_then_as_the_class_has_it_then_as_the_body(
    measured: Measured,
) -> None:
    own = choose(measured, x="t", ys=["y"])["series"][0]
    row = measured.tab.study.school_class
    change(row, replace(row, series_look={"form": "plus", "size": 4}))
    of_class = graphs(measured)[0]["series"][0]
    assert of_class["path"] != own["path"]
    assert of_class["size"] > own["size"]
    assert of_class["colour"] == own["colour"]
    look = {"form": "square", "size": 1, "joined": "both", "colour": "teal"}
    chosen = choose(measured, looks={"y": look})["series"][0]
    assert chosen["colour"] == "#0B7F86"
    assert chosen["joined"] == "both"
    assert chosen["size"] < own["size"]
    assert chosen["path"] not in (own["path"], of_class["path"])


def test_a_hidden_body_is_left_out_with_its_fits(measured: Measured) -> None:
    shown = choose(measured, x="t", ys=["y"])
    assert shown["drawn_fits"] == [measured.fit]
    assert [one["owner_id"] for one in shown["series"]].count(measured.body) == 1
    hidden = choose(measured, hidden=[measured.body])
    assert hidden["drawn_fits"] == []
    assert measured.body not in [one["owner_id"] for one in hidden["series"]]


def test_a_fit_is_drawn_on_graphs_of_its_own_columns_only(measured: Measured) -> None:
    assert choose(measured, x="t", ys=["vy"])["drawn_fits"] == []
    assert choose(measured, x="t", ys=["x", "y"])["drawn_fits"] == [measured.fit]


def test_typed_limits_hold_until_they_are_emptied(measured: Measured) -> None:
    free = choose(measured, x="t", ys=["y"])["ranges"]
    typed = choose(measured, x_range=[0.1, 0.3])["ranges"]
    assert (typed["x_low"], typed["x_high"]) == (0.1, 0.3)
    assert (typed["y_low"], typed["y_high"]) == (free["y_low"], free["y_high"])
    assert "horizontal axis starts at 0.100 s" in graphs(measured)[0]["notes"]
    assert choose(measured, x_range=[])["ranges"] == free
    with pytest.raises(Refused, match="cannot go from 3 to 1"):
        choose(measured, y_range=[3, 1])


def test_a_sketch_belongs_to_the_columns_for_which_it_was_drawn(measured: Measured) -> None:
    line = [[0.0, -0.2], [0.2, -0.5], [0.4, -1.0]]
    choose(measured, x="t", ys=["y"], sketch={"x": "t", "y": "y", "line": line})
    assert graphs(measured)[0]["sketch"] == line
    assert choose(measured, x="t", ys=["vy"])["sketch"] == []
    assert choose(measured, x="t", ys=["y"])["sketch"] == line
    assert choose(measured, sketch={"x": "t", "y": "y", "line": []})["sketch"] == []


def test_the_file_holds_what_the_screen_shows(measured: Measured) -> None:
    line = [[0.0, -0.2], [0.4, -1.0]]
    choose(
        measured,
        **{"x": "t", "ys": ["y"], "error_bars": True, "title": "Cone"},
        sketch={"x": "t", "y": "y", "line": line},
    )
    look = {"curve": "quadratic", "colour": "rose", "dashed": True}
    measured.tab.does("change_fit", fit=measured.fit, **look)
    view = measured.tab.view(measured.footage)
    data = filled(view["graphs"][0], view["fits"])["datasets"]
    assert [(row["x"], row["y"]) for row in data["sketch"]] == [tuple(point) for point in line]
    assert {(row["colour"], row["dashed"]) for row in data["curves"]} == {("#B83B6B", True)}
    points = [row for row in data["points"] if row["number"] == 3]
    (point,) = points
    assert point["high"] - point["y"] == pytest.approx(0.005, rel=0.01)  # half a pixel
    assert point["left"] == point["x"]  # moments are known
    picture = graph_file(view, 0, "svg").decode()
    assert "Cone" in picture
    with pytest.raises(Refused, match="18000 pixels wide cannot be"):
        graph_file(view, 0, "png", width=9000)
    with pytest.raises(NotThere):
        graph_file(view, 3, "svg")


def test_the_legend_can_be_taken_away(measured: Measured) -> None:
    choose(measured, x="t", ys=["x", "y"], hidden=[measured.rival])
    assert {"position x", "position y"} <= printed(measured)
    assert not choose(measured, legend=False)["legend"]
    assert not {"position x", "position y"} & printed(measured)


def printed(measured: Measured, **how: Any) -> set[str]:
    """The texts of the first graph as a file, without those of its axes."""
    view = measured.tab.view(measured.footage)
    svg = graph_file(view, 0, "svg", **how).decode()
    return set(re.findall(r"<text[^>]*>([^<]+)</text>", svg))


def entry(name: str, **look: Any) -> LegendEntryShape:
    plain: Any = {"colour": "#000", "path": "circle", "hollow": False, "dashed": False}
    return {"name": name, **(plain | look)}


def test_a_long_legend_takes_several_lines_above_the_plot() -> None:
    entries = [entry(f"body number {n}: position x", hollow=n > 3) for n in range(6)]
    layers, height = legend_layers(entries, 600)
    places = [
        (layer["encoding"]["x"]["value"], layer["encoding"]["y"]["value"])
        for layer in layers
        if layer["mark"]["type"] == "text"
    ]
    assert len(set(places)) == 6
    assert len({y for _, y in places}) == 3
    assert all(0 <= x < 600 and -height < y < 0 for x, y in places)
    assert legend_layers([], 600)[0] == []


def test_predicted_lines_stand_in_the_legend_once_each(measured: Measured) -> None:
    choose(measured, x="t", ys=["y"], hidden=[measured.rival])
    graph = measured.tab.view(measured.footage)["graphs"][0]
    assert graph["legend_entries"] == []  # there is nothing to tell it from
    lines: list[LineShape] = [
        {"key": f"{leg}", "name": "fall", "colour": "#1F5B4A", "dashed": leg > 0, "points": []}
        for leg in range(2)
    ]
    graph["lines"] = lines
    say_what_is_what(graph)
    names = [(one["name"], one["path"] is None) for one in graph["legend_entries"]]
    assert names == [(graph["series"][0]["name"], False), ("fall", True)]
    marks = [layer["mark"] for layer in legend_layers(graph["legend_entries"], 600)[0]]
    assert [mark["type"] for mark in marks] == ["point", "text", "rule", "text"]
    assert marks[3]["text"] == "fall"


def test_results_stand_in_boxes_where_they_were_put(measured: Measured) -> None:
    choose(measured, x="t", ys=["y"])
    fit = measured.tab.view(measured.footage)["fits"][0]
    texts = [one["text"] for one in fit["parameters"]]
    said = {f"{letter} = {text}" for letter, text in zip(("c2", "c1", "c0"), texts, strict=True)}
    assert not said & printed(measured)
    assert said <= printed(measured, boxes=Boxes(shown=True))
    measured.tab.does("place_box", fit=measured.fit, x=0.5, y=0.25)
    view = measured.tab.view(measured.footage)
    for large, size in ((False, 13), (True, 19)):
        layers = box_layers(view["fits"], 800, 500, large=large)
        (frame,) = [one for one in layers if one["mark"]["type"] == "rect"]
        ends = {name: place["value"] for name, place in frame["encoding"].items()}
        assert (ends["x"], ends["y"]) == (400, 125)
        assert ends["x2"] <= 800
        assert ends["y2"] - ends["y"] > 4 * size
    assert box_layers([fit | {"reason": "Too few points."}], 800, 500, large=False) == []


def test_very_many_points_are_thinned_on_the_graph_but_not_in_the_fit(tab: Tab) -> None:
    sheet, first, second, _ = typed_sheet(tab)
    n = 9000
    rows = [[f"{k / 100}", f"{np.sin(k / 900):.5f}"] for k in range(n)]
    tab.does("set_cells", sheet=sheet, row=1, column=first, cells=rows)
    tab.does("set_row_aside", sheet=sheet, row=5, aside=False)
    key = {"x": f"c{first}", "y": f"c{second}"}
    tab.does("add_fit", sheet=sheet, **key, curve="line")
    view = tab.view(f"s{sheet}")  # type: ignore[arg-type]
    (series,) = view["graphs"][0]["series"]
    assert series["every"] == 3
    assert len(series["points"]) == n // 3
    assert view["fits"][-1]["n"] == n


@pytest.mark.parametrize(
    ("said", "message"),
    [
        ({"value": "", "fixed": True}, "Type the value at which a is held"),
        ({"low": "3", "high": "1"}, "leave no room"),
        ({"value": "fast"}, "fast"),
    ],
)
def test_what_is_said_about_a_parameter_is_checked(
    measured: Measured, said: dict[str, Any], message: str
) -> None:
    with pytest.raises(Refused, match=message):
        measured.tab.does("change_fit", fit=measured.fit, curve="quadratic", given={"a": said})


def test_a_held_parameter_stays_and_a_bound_that_was_reached_is_said(measured: Measured) -> None:
    held = changed(measured, {"a": {"value": "-0.5", "fixed": True}})
    (parameter,) = [one for one in held["parameters"] if one["key"] == "a"]
    assert parameter["held"]
    assert float(parameter["plain"]) == pytest.approx(-0.5)
    bounded = changed(measured, {"a": {"low": "-0.3", "high": "0"}})
    assert bounded["at_bound"] == ["a"]
    wide = changed(measured, {"c": {"low": "-0.3", "high": "0"}})
    assert wide["at_bound"] == []
    values = {one["key"]: float(one["plain"]) for one in wide["parameters"]}
    assert values == pytest.approx({"a": ACCELERATION / 2, "b": -0.5, "c": -0.2}, abs=1e-6)


def changed(measured: Measured, given: dict[str, Any]) -> dict[str, Any]:
    measured.tab.does("change_fit", fit=measured.fit, curve="quadratic", given=given)
    found: dict[str, Any] = measured.tab.view(measured.footage)["fits"][0]
    return found


def test_the_place_of_a_result_box_is_kept_within_the_graph(measured: Measured) -> None:
    measured.tab.does("place_box", fit=measured.fit, x=0.25, y=0.5)
    assert measured.tab.view(measured.footage)["fits"][0]["box"] == [0.25, 0.5]
    with pytest.raises(ValueError, match="less than or equal to 1"):
        measured.tab.does("place_box", fit=measured.fit, x=1.5, y=0.5)
