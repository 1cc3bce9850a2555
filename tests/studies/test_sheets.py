"""Sheets: cells, columns that compute, and units that go along."""

from typing import Any

import numpy as np
import pytest

from footing.core.errors import Refused
from footing.core.formulas.syntax import WrongFormula
from tests.studies.sheets import column, seen, texts
from tests.studies.steps import Tab


def test_typed_digits_stay_and_computed_ones_follow(tab: Tab, sheet: int) -> None:
    assert texts(tab, sheet, "v") == ["1.0", "1.5", "2.0", "2.5", "3.0"]
    assert texts(tab, sheet, "w")[:4] == ["1.0", "2.2", "4.0", "6.2"]
    assert column(tab, sheet, "w")["shown_unit"] == "m²/s²"


def test_a_row_set_aside_takes_no_part(tab: Tab, sheet: int) -> None:
    assert texts(tab, sheet, "w")[4] == ""
    graph = seen(tab, sheet)["graphs"][0]
    assert [point[0] for point in graph["series"][0]["points"]] == [1, 2, 3, 4]
    assert graph["asides"] == [{"number": 5, "x": 3.0, "y": 9.9}]


def test_a_row_set_aside_stays_visible_in_computed_columns(tab: Tab, sheet: int) -> None:
    keys = {symbol: column(tab, sheet, symbol)["key"] for symbol in ("v", "w")}
    tab.does("set_graph", sheet=sheet, x=keys["v"], ys=[keys["w"]])
    (aside,) = seen(tab, sheet)["graphs"][0]["asides"]
    assert aside["number"] == 5
    assert aside["y"] == pytest.approx(aside["x"] ** 2)


def test_digits_are_chosen_and_small_values_never_show_as_zeros(tab: Tab, sheet: int) -> None:
    tab.does("add_column", sheet=sheet, name="small", symbol="k", formula="v/10000")
    assert texts(tab, sheet, "k")[0] == "0.000100"
    one = column(tab, sheet, "w")
    chosen = {"column": one["id"], "name": "square", "symbol": "w"}
    tab.does("change_column", **chosen, digits=2, digits_as="significant")
    assert texts(tab, sheet, "w")[:3:2] == ["1.0", "4.0"]


def test_a_new_unit_converts_or_relabels(tab: Tab, sheet: int) -> None:
    one = column(tab, sheet, "d")
    named = {"column": one["id"], "name": "distance", "symbol": "d"}
    tab.does("change_column", **named, unit="cm", convert=True)
    assert texts(tab, sheet, "d")[:2] == ["90", "190"]
    tab.does("change_column", **named, unit="mm", convert=False)
    assert texts(tab, sheet, "d")[:2] == ["90", "190"]
    with pytest.raises(Refused, match="mm cannot be converted to s"):
        tab.does("change_column", **named, unit="s", convert=True)


def test_a_new_symbol_goes_into_the_formulas(tab: Tab, sheet: int) -> None:
    one = column(tab, sheet, "v")
    tab.does("change_column", column=one["id"], name="speed", symbol="u", unit="m/s")
    assert column(tab, sheet, "w")["formula"] == "u^2"
    assert texts(tab, sheet, "w")[0] == "1.0"


def test_circles_are_named(tab: Tab, sheet: int) -> None:
    tab.does("add_column", sheet=sheet, name="first", symbol="p", formula="q + 1")
    tab.does("add_column", sheet=sheet, name="second", symbol="q", formula="2*p")
    problems = " ".join(str(column(tab, sheet, symbol)["problem"]) for symbol in "pq")
    assert "circle: p → q → p" in problems or "circle: q → p → q" in problems


@pytest.mark.parametrize(
    ("kind", "fields", "said"),
    [
        ("add_column", {"name": "n", "symbol": "v"}, "has the symbol v already"),
        ("add_column", {"name": "n", "symbol": "sin"}, "cannot be a symbol"),
        ("add_column", {"name": "n", "symbol": "2b"}, "cannot be a symbol"),
        ("add_column", {"name": "n", "unit": "m//"}, "cannot be read as a unit"),
        ("remove_rows", {"row": 9}, "no row 9; the last one is 5"),
        ("set_row_aside", {"row": 6, "aside": True}, "no row 6"),
    ],
)
def test_bad_input_is_refused_where_it_is(
    kind: str, fields: dict[str, Any], said: str, tab: Tab, sheet: int
) -> None:
    with pytest.raises(Refused, match=said):
        tab.does(kind, sheet=sheet, **fields)


def test_a_formula_that_cannot_be_read_is_refused_with_its_place(tab: Tab, sheet: int) -> None:
    with pytest.raises(WrongFormula) as wrong:
        tab.does("add_column", sheet=sheet, name="n", formula="2v")
    assert wrong.value.span == (0, 2)


def test_units_that_do_not_go_together_are_a_problem_of_the_column(tab: Tab, sheet: int) -> None:
    tab.does("add_column", sheet=sheet, name="nonsense", symbol="n", formula="v + d")
    found = column(tab, sheet, "n")
    assert found["problem"] == "Adding: m/s and m do not go together."
    assert tuple(found["span"]) == (0, 5)
    units = [one for one in seen(tab, sheet)["checks"] if one["key"] == "units"]
    assert not units[0]["sound"]


def test_what_is_no_number_is_named_and_left_out(tab: Tab, sheet: int) -> None:
    v = column(tab, sheet, "v")["id"]
    tab.does("set_cells", sheet=sheet, row=2, column=v, cells=[["fast"]])
    assert "“fast” in row 2" in column(tab, sheet, "v")["problem"]
    assert texts(tab, sheet, "v")[1] == "fast"
    assert texts(tab, sheet, "w")[1] == ""


def test_pasting_grows_the_sheet_and_makes_columns(tab: Tab, sheet: int) -> None:
    d = column(tab, sheet, "d")["id"]
    w = column(tab, sheet, "w")["id"]
    tab.does("remove_column", column=w)
    tab.does("paste_cells", sheet=sheet, row=5, column=d, text="7,5\t1\n8,5\t2\n")
    assert texts(tab, sheet, "d")[4:] == ["7.5", "8.5"]
    assert texts(tab, sheet, "c")[4:] == ["1", "2"]


def test_typing_over_a_computed_column_is_refused(tab: Tab, sheet: int) -> None:
    w = column(tab, sheet, "w")["id"]
    with pytest.raises(Refused, match="is computed"):
        tab.does("set_cells", sheet=sheet, row=1, column=w, cells=[["5"]])


def test_rows_move_with_what_was_set_aside(tab: Tab, sheet: int) -> None:
    tab.does("insert_rows", sheet=sheet, row=2, count=2)
    assert seen(tab, sheet)["sheet"]["asides"] == {"7": "hit the hay"}
    tab.does("remove_rows", sheet=sheet, row=1, count=3)
    assert seen(tab, sheet)["sheet"]["asides"] == {"4": "hit the hay"}
    assert texts(tab, sheet, "v") == ["1.5", "2.0", "2.5", "3.0"]


def test_an_even_series_leaves_out_what_runs_over_the_end(tab: Tab, sheet: int) -> None:
    v = column(tab, sheet, "v")["id"]
    tab.does("fill_column", column=v, first="0", step="0.5", last="2.2")
    assert texts(tab, sheet, "v") == ["0.0", "0.5", "1.0", "1.5", "2.0"]
    with pytest.raises(Refused, match="do not lead there"):
        tab.does("fill_column", column=v, first="0", step="-1", last="3")


def test_practice_data_stay_until_they_are_drawn_again_or_frozen(tab: Tab, sheet: int) -> None:
    w = column(tab, sheet, "w")["id"]
    tab.does("set_formula", column=w, formula="v^2", scatter="0.3", seed=4)
    first = texts(tab, sheet, "w")
    assert first == texts(tab, sheet, "w")
    assert first[0] != "1.0"
    tab.does("set_formula", column=w, formula="v^2", scatter="0.3", seed=5)
    assert texts(tab, sheet, "w") != first
    drawn = texts(tab, sheet, "w")
    tab.does("freeze_column", column=w)
    v = column(tab, sheet, "v")["id"]
    tab.does("set_cells", sheet=sheet, row=1, column=v, cells=[["9.0"]])
    assert texts(tab, sheet, "w") == drawn


def test_practice_data_are_as_unsure_as_the_errors_in_them(tab: Tab, sheet: int) -> None:
    v, w = (column(tab, sheet, symbol) for symbol in "vw")
    tab.does("set_graph", sheet=sheet, x=v["key"], ys=[w["key"]])

    def errors() -> list[float]:
        (series,) = seen(tab, sheet)["graphs"][0]["series"]
        return [point[4] for point in series["points"]]

    tab.does("set_formula", column=w["id"], formula="v^2")
    exact = errors()
    tab.does("set_formula", column=w["id"], formula="v^2", scatter="0.3", seed=4)
    assert errors() == pytest.approx([np.hypot(error, 0.3) for error in exact])


def test_practice_data_are_rounded_with_their_errors_in_them(tab: Tab, sheet: int) -> None:
    w = column(tab, sheet, "w")["id"]
    kept = {"name": "square", "symbol": "w", "unit": "m^2/s^2"}
    tab.does("change_column", column=w, **kept, digits=4)
    tab.does("set_formula", column=w, formula="round(v^2, 1)", scatter="0.3", seed=4)
    drawn = [float(text) for text in texts(tab, sheet, "w")[:4]]
    tab.does("set_formula", column=w, formula="v^2", scatter="0.3", seed=4)
    plain = [float(text) for text in texts(tab, sheet, "w")[:4]]
    assert drawn == [round(10 * one) / 10 for one in drawn]
    assert drawn == pytest.approx(plain, abs=0.06)
    assert drawn != [1.0, 2.3, 4.0, 6.3]


def test_what_is_read_by_eye_gets_the_time_of_its_frame(tab: Tab, footage: int) -> None:
    eye = tab.makes("read_by_eye", footage=footage, name="ruler", unit="cm")
    for frame, text in ((10, "4,5"), (5, "2.0"), (15, "8.1")):
        tab.does("add_reading", sheet=eye, frame=frame, text=text)
    tab.does("add_reading", sheet=eye, frame=10, text="4.6")
    points = seen(tab, eye)["graphs"][0]["series"][0]["points"]
    assert [(x, y) for _, x, y, *_ in points] == [(0.2, 2.0), (0.4, 4.6), (0.6, 8.1)]
    tab.does("set_zero_frame", footage=footage, frame=5)
    assert seen(tab, eye)["graphs"][0]["series"][0]["points"][0][1] == 0
    with pytest.raises(Refused, match="is not a number"):
        tab.does("add_reading", sheet=eye, frame=3, text="about 4")


def test_computed_columns_of_footage_are_those_of_every_body(tab: Tab, footage: int) -> None:
    ends = {"start_x": 10, "start_y": 10, "end_x": 110, "end_y": 10}
    length = tab.makes("add_known_length", footage=footage, frame=0, **ends)
    tab.does("type_known_length", known_length=length, length="1.00", unit="m")
    for name, mass in (("light", "0.5"), ("heavy", "2")):
        body = tab.makes("add_body", footage=footage, name=name)
        tab.does("change_body", body=body, name=name, mass=mass, mass_unit="kg")
        tab.does("place_marks", body=body, marks=[[n, 50 + 4 * n, 100] for n in range(8)])
    tab.does("set_pixel_uncertainty", footage=footage, pixels="0.01")  # these are exact
    key = tab.makes("add_column", footage=footage, name="energy", symbol="E", formula="0.5*m*v^2")
    tab.does("set_graph", footage=footage, x="t", ys=[f"c{key}"])
    series = tab.view(footage)["graphs"][0]["series"]
    speed = 0.04 * 25
    found = [one["points"][3][2] for one in series]
    assert found == pytest.approx([0.25 * speed**2, speed**2], rel=1e-4)
    assert [one["unit"] for one in series] == ["J", "J"]
    light = tab.view(footage)["bodies"][0]
    body, table = light["id"], light["table"]
    assert table["columns"][-1]["name"] == "energy"
    assert float(table["rows"][3][-1]) == pytest.approx(0.25 * speed**2, abs=0.01)
    tab.does("add_fit", body=body, x="t", y=f"c{key}", curve="level")
    fit = tab.view(footage)["fits"][0]
    assert fit["readings"][0]["label"] == "mean energy"
