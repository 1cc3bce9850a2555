"""What a study shows: numbers from marks, in units, with what they mean."""

from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from footing.core.axes import axis_range
from footing.core.errors import Refused
from footing.store.records import change
from footing.store.tables import Media
from footing.studies.queries import tables_out
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.studies.steps import Tab

# the measured study falls with y = −(20 + 2 n + 0.1 n²) px, n = 25 t, 100 px for a metre
ACCELERATION = -2 * 0.1 * 25**2 / 100


def test_table_holds_positions_and_velocities_in_metres(measured: Measured) -> None:
    table = measured.tab.view()["bodies"][0]["table"]
    shown = {column["key"]: column["unit"] for column in table["columns"]}
    expected = {"t": "s", "x": "m", "y": "m", "vx": "m/s", "vy": "m/s", "v": "m/s"}
    assert {key: shown[key] for key in expected} == expected
    cells = dict(zip(shown, table["rows"][5], strict=True))
    row = [float(cells[key].replace("−", "-")) for key in expected]
    n = 5
    vx, vy = 0.25, -(2 + 0.2 * n) * 25 / 100
    y = -(20 + 2 * n + 0.1 * n**2) / 100
    assert row == pytest.approx([0.2, 0.55, y, vx, vy, np.hypot(vx, vy)], abs=0.02)


def test_fit_says_the_acceleration_with_unit_and_meaning(measured: Measured) -> None:
    fit = measured.tab.view()["fits"][0]
    reading = fit["readings"][0]
    assert reading["label"] == "acceleration"
    assert reading["formula"] == [["2c", "2"]]
    assert reading["text"].endswith("m/s²")
    assert fit["n"] == 10
    assert float(reading["text"].split(" ")[0].replace("−", "-")) == pytest.approx(ACCELERATION)


def test_finding_combines_fit_and_scale(measured: Measured) -> None:
    measured.tab.does(
        "change_finding", finding=measured.finding, name="g", as_size=True, accepted="1.25"
    )
    finding = measured.tab.view()["findings"][0]
    relative = np.sqrt((0.003 / 1) ** 2 + 2 * (0.5 / 100) ** 2)
    scale = next(part for part in finding["budget"] if part["source"] == "scale")
    assert float(scale["text"]) == pytest.approx(1.25 * relative, rel=0.05)
    assert finding["text"] == "1.250 ± 0.010 m/s²"
    assert finding["comparison"]["verdict"] == "agrees"
    assert finding["comparison"]["percent"] == "0.0 %"


def test_opposite_sign_asks_for_the_size(measured: Measured) -> None:
    measured.tab.does("change_finding", finding=measured.finding, name="g", accepted="1.25")
    comparison = measured.tab.view()["findings"][0]["comparison"]
    assert comparison["opposite_sign"]
    assert comparison["percent"] == "−200.0 %"


@pytest.mark.parametrize("kind", ["measured", "finding", "sheet"])
def test_what_matters_is_highlighted_until_it_is_not(measured: Measured, kind: str) -> None:
    what: dict[str, Any] = {
        "measured": {"footage": measured.footage, "key": "vy"},
        "finding": {"finding": measured.finding},
        "sheet": {"column": measured.column},
    }[kind]

    def highlighted() -> list[str]:
        view = measured.tab.view(f"s{measured.sheet}" if kind == "sheet" else measured.footage)  # type: ignore[arg-type]
        columns = view["bodies"][0]["table"]["columns"] if view["bodies"] else []
        named = {"measured": columns, "finding": view["findings"], "sheet": view["columns"]}[kind]
        return [one["name"] for one in named if one["highlighted"]]

    assert highlighted() == []
    measured.tab.does("highlight", **what)
    assert len(highlighted()) == 1
    measured.tab.does("highlight", **what, highlighted=False)
    assert highlighted() == []


@pytest.mark.parametrize(
    ("accepted", "said"),
    [("125 cm/s^2", "125 cm/s^2"), ("1,25 m/s²", "1,25 m/s²"), ("1.25", "1.25 m/s²")],
)
def test_an_accepted_value_may_have_a_unit_of_its_own(
    measured: Measured, accepted: str, said: str
) -> None:
    change = {"finding": measured.finding, "name": "g", "as_size": True}
    measured.tab.does("change_finding", **change, accepted=accepted)
    (finding,) = measured.tab.view()["findings"]
    assert finding["comparison"]["accepted"] == said
    assert finding["comparison"]["percent"] == "0.0 %"
    assert finding["accepted_unit"] == "m/s²"


def test_an_accepted_value_of_another_kind_is_said_not_to_go_together(measured: Measured) -> None:
    change = {"finding": measured.finding, "name": "g"}
    measured.tab.does("change_finding", **change, accepted="1.25 m/s")
    (finding,) = measured.tab.view()["findings"]
    assert "do not go together" in finding["comparison"]["needs"]
    for wrong, message in (("9.81 m/s²2x", "cannot be read as a unit"), ("fast", "not a number")):
        with pytest.raises(Refused, match=message) as refused:
            measured.tab.does("change_finding", **change, accepted=wrong)
        assert refused.value.field == "accepted"


def test_without_a_known_length_everything_is_in_pixels(measured: Measured) -> None:
    measured.tab.does("change_finding", finding=measured.finding, name="g", accepted="1.25")
    measured.tab.does("remove_known_length", known_length=measured.length)
    view = measured.tab.view()
    assert view["ground"]["length_unit"] == "px"
    assert view["fits"][0]["readings"][0]["text"].endswith("px/s²")
    assert "needs a known length" in view["findings"][0]["comparison"]["needs"]


def test_too_few_points_are_said_where_the_fit_is(measured: Measured) -> None:
    measured.tab.does("change_passage", passage=measured.passage, name="fall", first=1, last=3)
    view = measured.tab.view()
    assert view["fits"][0]["reason"] == "3 points here; a quadratic needs at least 4."
    assert view["findings"][0]["reason"] == view["fits"][0]["reason"]


def test_a_finding_whose_curve_lost_its_reading_says_so(measured: Measured) -> None:
    measured.tab.does("change_fit", fit=measured.fit, curve="line", passages=[measured.passage])
    assert "has no acceleration" in measured.tab.view()["findings"][0]["reason"]


def test_marks_outside_the_span_stay_but_do_not_count(measured: Measured) -> None:
    measured.tab.does("set_span", footage=measured.footage, first=4, last=39, stride=2)
    body = measured.tab.view()["bodies"][0]
    assert len(body["marks"]) == 12
    assert body["counting"] == [4, 5, 6, 7, 8, 9, 10, 11]
    assert len(body["table"]["rows"]) == 8


def test_time_zero_moves_every_time(measured: Measured) -> None:
    measured.tab.does("set_zero_frame", footage=measured.footage, frame=5)
    view = measured.tab.view()
    assert view["bodies"][0]["table"]["rows"][0][0] == "−0.200"
    assert view["passages"][0]["text"] == "−0.160 … 0.200 s"


def test_down_is_positive_when_y_is_flipped(measured: Measured) -> None:
    footage = measured.footage
    measured.tab.does("turn_axes", footage=footage, angle="0", flip_x=False, flip_y=True)
    text = measured.tab.view()["fits"][0]["readings"][0]["text"]
    assert text.startswith("1.25")


def test_graph_shows_what_is_chosen_and_only_its_own_fits(measured: Measured) -> None:
    tab = measured.tab
    assert tab.view()["graphs"][0]["drawn_fits"] == [measured.fit]
    tab.does("set_graph", footage=measured.footage, x="t", ys=["x"])
    graph = tab.view()["graphs"][0]
    assert graph["title"] == "Position x against time"
    assert graph["drawn_fits"] == []
    assert [point[0] for point in graph["series"][0]["points"]] == list(range(12))


@pytest.mark.parametrize(
    ("values", "shows_zero"), [([2.0, 10.0], True), ([-3.0, 1.0], True), ([9.0, 10.0], False)]
)
def test_axis_shows_zero_where_that_costs_less_than_half(
    values: list[float], shows_zero: bool
) -> None:
    found = axis_range(np.array(values), include_zero=False)
    low, high, note = found.low, found.high, found.note
    assert (low <= 0 <= high) is shows_zero
    assert (note is None) is shows_zero
    assert low < min(values)
    assert high > max(values)


def test_axis_shows_zero_when_asked() -> None:
    found = axis_range(np.array([9.0, 10.0]), include_zero=True)
    assert found.low <= 0
    assert found.note is None


def test_steps_say_how_far_they_are(measured: Measured) -> None:
    view = measured.tab.view()
    done = dict.fromkeys(("sources", "ground", "mark", "graph"), "done")
    assert view["steps"] == {**done, "model": "under way", "ledger": "under way", "report": "done"}
    measured.tab.does("remove_known_length", known_length=measured.length)
    assert measured.tab.view()["steps"]["ground"] == "under way"


def test_whoever_asks_sees_the_same_state_but_for_their_own_undo(
    measured: Measured, world: World
) -> None:
    mine = measured.tab.view()
    theirs = Tab(world.study, world.teacher).view()
    of_a_person = {"undo", "redo", "rules"}
    assert {key for key in mine if mine[key] != theirs[key]} <= of_a_person
    assert (mine["undo"], theirs["undo"]) == ("finding “a”", None)


def test_what_was_found_in_the_file_since_and_the_rules_of_the_class_are_seen_at_once(
    measured: Measured,
) -> None:
    before = measured.tab.view()
    assert not before["footage"]["surveyed"]
    survey = {"damaged": [3], "repeated": [5], "moves_from": None}
    Media.update(survey=survey).execute()
    assert measured.tab.view()["footage"]["damaged"] == [3]
    row = measured.tab.study.school_class
    change(row, replace(row, series_look={"form": "cross"}))
    after = measured.tab.view()
    assert after["seq"] == before["seq"]
    paths = [view["graphs"][0]["series"][0]["path"] for view in (before, after)]
    assert paths[0] != paths[1]


def test_chosen_digits_reach_the_table_and_the_file(measured: Measured, tmp_path: Path) -> None:
    tab, footage = measured.tab, measured.tab.view()["footage"]["id"]
    tab.does("set_digits", footage=footage, key="y", digits=2, digits_as="significant")
    view = tab.view()
    table = view["bodies"][0]["table"]
    place = [column["key"] for column in table["columns"]].index("y")
    shown = [row[place] for row in table["rows"]]
    assert shown[0] == "−0.20"
    _, path = tables_out.table_file(tab.study_id, f"b{view['bodies'][0]['id']}", "csv", tmp_path)
    assert "-0.20" in path.read_text().replace("−", "-")


def test_a_mark_set_aside_stays_visible_where_it_is(measured: Measured) -> None:
    tab, body = measured.tab, measured.body
    footage = tab.view()["footage"]["id"]
    tab.does("set_mark_aside", body=body, frame=4, aside=True, reason="touched the net")
    for x, place in (("t", 0.16), ("x", 0.54)):
        tab.does("set_graph", footage=footage, x=x, ys=["y"])
        view = tab.view()
        (aside,) = view["graphs"][0]["asides"]
        assert aside["number"] == 4
        assert aside["x"] == pytest.approx(place, abs=0.01)
        assert aside["y"] == pytest.approx(-(20 + 8 + 1.6) / 100, abs=0.01)
    assert view["bodies"][0]["reasons"] == {4: "touched the net"}
    tab.does("set_mark_aside", body=body, frame=4, aside=False)
    assert tab.view()["graphs"][0]["asides"] == []


def test_heights_follow_their_zero_though_nothing_else_about_the_motion_changed(
    measured: Measured,
) -> None:
    tab = measured.tab

    def heights() -> list[float]:
        table = tab.view()["bodies"][0]["table"]
        place = [column["key"] for column in table["columns"]].index("h")
        return [float(row[place].replace("−", "-")) for row in table["rows"]]

    tab.does("set_height_zero", footage=measured.footage, x=0, y=0)
    before = heights()
    tab.does("set_height_zero", footage=measured.footage, x=0, y=100)
    assert heights() == pytest.approx([one + 1.0 for one in before])
