"""Sheets: columns that compute, units that go along, fits and findings without any video."""

from typing import Any

import numpy as np
import pytest

from footing.core.errors import FootingError, Refused
from footing.core.formulas.syntax import WrongFormula
from footing.studies.queries import tables_out
from footing.studies.views.graph_file import filled
from tests.studies.conftest import typed_sheet
from tests.studies.steps import Tab


@pytest.fixture
def sheet(tab: Tab) -> int:
    return typed_sheet(tab)[0]


def seen(tab: Tab, sheet: int) -> dict[str, Any]:
    return tab.view(f"s{sheet}")  # type: ignore[arg-type]


def column(tab: Tab, sheet: int, symbol: str) -> dict[str, Any]:
    found: dict[str, Any] = next(
        one for one in seen(tab, sheet)["columns"] if one["symbol"] == symbol
    )
    return found


def texts(tab: Tab, sheet: int, symbol: str) -> list[str]:
    key = column(tab, sheet, symbol)["key"]
    window = tables_out.window(tab.study, sheet, 0, 500, [])
    found: list[str] = window["cells"][key]
    return found


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


def test_the_intercept_is_asked_about_only_near_the_points(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=d, curve="line")
    assert fit_of(tab, sheet, fit)["sense"] is None  # v from 1.0 to 2.5
    first = column(tab, sheet, "v")["id"]
    tab.does("set_cells", sheet=sheet, row=1, column=first, cells=[["0.2"]])
    assert "intercept" in fit_of(tab, sheet, fit)["sense"]


def test_typed_table_to_straight_line_and_finding(tab: Tab, sheet: int) -> None:
    """d = v²/(2 a): the slope of d against v² gives the deceleration, with its unit."""
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    tab.does("straighten", sheet=sheet, x=v, y=d, form="y-x2")
    view = seen(tab, sheet)
    assert view["graphs"][-1]["title"] == "Distance against square"  # that column was there already
    fit = view["fits"][0]
    tab.does("add_finding", fit=fit["id"], formula="1/(2*m)", name="deceleration", symbol="a")
    finding = seen(tab, sheet)["findings"][0]
    rows = np.array([[1.0, 0.9], [1.5, 1.9], [2.0, 3.4], [2.5, 5.3]])
    slope = np.polyfit(rows[:, 0] ** 2, rows[:, 1], 1)[0]
    assert float(finding["text"].split(" ")[0]) == pytest.approx(1 / (2 * slope), abs=0.01)
    assert finding["text"].endswith("m/s²")
    tab.does("undo")
    tab.does("undo")
    assert seen(tab, sheet)["fits"] == []


def fit_of(tab: Tab, sheet: int, fit: int) -> dict[str, Any]:
    found: dict[str, Any] = next(one for one in seen(tab, sheet)["fits"] if one["id"] == fit)
    return found


def state(tab: Tab, sheet: int, symbol: str, uncertainty: str, unit: str) -> None:
    one = column(tab, sheet, symbol)
    kept = {"column": one["id"], "name": one["name"], "symbol": symbol, "unit": unit}
    tab.does("change_column", **kept, uncertainty=uncertainty, convert=True)


def test_a_fit_may_weigh_its_points_by_the_uncertainties_that_are_stated(
    tab: Tab, sheet: int
) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=d, curve="line")
    assert not fit_of(tab, sheet, fit)["may_weigh"]
    held = tab.makes("add_column", sheet=sheet, name="error", symbol="e", unit="m")
    each = [0.1, 0.2, 0.4, 0.8, 1.0]
    tab.does("set_cells", sheet=sheet, row=1, column=held, cells=[[f"{u}"] for u in each])
    state(tab, sheet, "d", "e", "m")
    assert fit_of(tab, sheet, fit)["may_weigh"]
    assert not fit_of(tab, sheet, fit)["weighed"]
    tab.does("change_fit", fit=fit, curve="line", weights="stated")
    rows = np.array([[1.0, 0.9], [1.5, 1.9], [2.0, 3.4], [2.5, 5.3]])
    line, _ = np.polyfit(*rows.T, 1, w=1 / np.array(each[:4]), cov="unscaled")
    view = fit_of(tab, sheet, fit)
    assert [float(one["plain"]) for one in view["parameters"]] == pytest.approx(line, rel=1e-6)
    chi = float(np.sum(((rows[:, 1] - np.polyval(line, rows[:, 0])) / each[:4]) ** 2)) / 2
    assert f"χ² per degree of freedom {chi:.2g} (2)" in view["weighed"]
    tab.does("change_column", column=held, name="error", symbol="u", unit="m")
    assert fit_of(tab, sheet, fit)["weighed"] == view["weighed"]
    tab.does("remove_column", column=held)
    assert "no ± of its own" in fit_of(tab, sheet, fit)["reason"]


def test_a_stated_uncertainty_is_a_number_a_share_or_a_typed_column(tab: Tab, sheet: int) -> None:
    for wrong in ("w", "d", "nothing", "-1", "5 %%"):
        with pytest.raises(Refused):
            state(tab, sheet, "d", wrong, "m")
    state(tab, sheet, "d", "10 %", "m")
    d = column(tab, sheet, "d")["key"]
    v = column(tab, sheet, "v")["key"]
    tab.does("set_graph", sheet=sheet, x=v, ys=[d], error_bars=True)
    points = seen(tab, sheet)["graphs"][0]["series"][0]["points"]
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=d, curve="proportional", weights="stated")
    assert "χ²" in fit_of(tab, sheet, fit)["weighed"]
    assert [one[4] for one in points] == pytest.approx([0.09, 0.19, 0.34, 0.53])
    state(tab, sheet, "d", "0.25", "m")
    state(tab, sheet, "d", "0.25", "cm")
    assert column(tab, sheet, "d")["uncertainty"] == "25"


def test_weights_leave_out_what_all_points_have_in_common(tab: Tab, sheet: int) -> None:
    """A mass that is ± 20 % makes no point less sure than another."""
    state(tab, sheet, "d", "0.25", "m")
    tab.does("set_quantity", symbol="M", name="mass", typed="2.0 ± 0.4", unit="kg")
    made = tab.makes("add_column", sheet=sheet, name="moment", symbol="q", formula="M*d")
    v = column(tab, sheet, "v")["key"]
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=f"c{made}", curve="line", weights="stated")
    rows = np.array([[1.0, 0.9], [1.5, 1.9], [2.0, 3.4], [2.5, 5.3]])
    line = np.polyfit(rows[:, 0], 2 * rows[:, 1], 1)
    found = [float(one["plain"]) for one in fit_of(tab, sheet, fit)["parameters"]]
    assert found == pytest.approx(line, rel=1e-6)


def test_a_column_may_name_a_finding_and_goes_round_in_no_circle(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=d, curve="line")
    slope = tab.makes("add_finding", fit=fit, reading="slope", name="slope", symbol="k")
    made = tab.makes("add_column", sheet=sheet, name="drawn", symbol="q", formula="k*v")
    rows = np.array([[1.0, 0.9], [1.5, 1.9], [2.0, 3.4], [2.5, 5.3]])
    k = np.polyfit(*rows.T, 1)[0]
    shown = [float(text) for text in texts(tab, sheet, "q")[:4]]
    assert shown == pytest.approx(k * rows[:, 0], abs=0.06)
    assert column(tab, sheet, "q")["shown_unit"] == "m"
    round_ = tab.makes("add_fit", sheet=sheet, x=v, y=f"c{made}", curve="line")
    tab.does("change_finding", finding=slope, name="slope", symbol="")
    assert "k" in column(tab, sheet, "q")["problem"]
    tab.does("add_finding", fit=round_, reading="slope", name="own", symbol="k")
    assert "has no value" in column(tab, sheet, "q")["problem"]  # it would be made of itself


def test_a_column_that_names_a_finding_is_frozen_with_its_numbers(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=d, curve="line")
    tab.does("add_finding", fit=fit, reading="slope", name="slope", symbol="k")
    made = tab.makes("add_column", sheet=sheet, name="drawn", symbol="q", formula="k*v")
    before = texts(tab, sheet, "q")
    tab.does("freeze_column", column=made)
    assert texts(tab, sheet, "q") == before
    assert column(tab, sheet, "q")["formula"] is None


def test_a_column_of_uncertainties_may_be_in_another_unit(tab: Tab, sheet: int) -> None:
    held = tab.makes("add_column", sheet=sheet, name="error", symbol="e", unit="m")
    each = ["0.1", "0.2", "0.4", "0.8", "1.0"]
    tab.does("set_cells", sheet=sheet, row=1, column=held, cells=[[u] for u in each])
    state(tab, sheet, "d", "e", "m")
    named = {"column": held, "name": "error", "symbol": "e"}
    tab.does("change_column", **named, unit="cm", convert=True)
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    tab.does("set_graph", sheet=sheet, x=v, ys=[d])
    points = seen(tab, sheet)["graphs"][0]["series"][0]["points"]
    assert [one[4] for one in points] == pytest.approx([0.1, 0.2, 0.4, 0.8])
    tab.does("change_column", **named, unit="s", convert=False)
    assert "e" in column(tab, sheet, "d")["problem"]


def test_findings_of_one_name_are_told_apart(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=d, curve="line")
    for _ in range(3):
        tab.does("add_finding", fit=fit, reading="slope", name="slope")
    names = [one["name"] for one in seen(tab, sheet)["findings"]]
    assert names == ["slope", "slope 2", "slope 3"]


def test_digits_of_a_fit_can_be_chosen(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=d, curve="line")
    before = fit_of(tab, sheet, fit)
    tab.does("change_fit", fit=fit, curve="line", digits=5)
    slope = fit_of(tab, sheet, fit)["parameters"][0]["text"]
    assert slope.split(" ")[0] == f"{float(before['parameters'][0]['plain']):.4f}"
    assert (
        fit_of(tab, sheet, fit)["r"]
        == f"{np.corrcoef([1, 1.5, 2, 2.5], [0.9, 1.9, 3.4, 5.3])[0, 1]:.4f}"
    )


def test_a_finding_may_rest_on_another_and_on_quantities(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=d, curve="line")
    tab.does("set_quantity", symbol="M", name="mass", typed="2.00 ± 0.10", unit="kg")
    one = tab.makes("add_finding", fit=fit, formula="1/m", name="rate", symbol="r")
    tab.does("add_finding", formula="M*r", name="drag", unit="kg/s")
    rate, drag = seen(tab, sheet)["findings"]
    assert drag["text"].endswith("kg/s")
    assert {part["source"] for part in drag["budget"]} == {"M", "fit"}
    tab.does("change_finding", finding=one, name="rate", symbol="")
    assert "no “r” here" in seen(tab, sheet)["findings"][1]["reason"]
    assert rate["unit"] == "1/s"


def test_mean_of_trials_and_percent_difference(tab: Tab, sheet: int) -> None:
    v, w = (column(tab, sheet, symbol)["id"] for symbol in "vd")
    one = tab.makes("add_finding", column=v, name="mean speed")
    tab.does("add_finding", column=v, name="again", other=one)
    tab.does("add_finding", column=w, name="in metres", other=one)
    mean, again, other = seen(tab, sheet)["findings"]
    values = np.array([1.0, 1.5, 2.0, 2.5])
    assert mean["text"] == f"1.8 ± {values.std(ddof=1) / 2:.1f} m/s"
    assert again["difference"]["percent"] == "0.0 %"
    assert "no comparison" in other["difference"]["needs"]


def test_a_fit_by_own_formula_says_units_and_where_they_fail(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    fields = {"sheet": sheet, "x": v, "y": d, "curve": "own"}
    tab.does("add_fit", **fields, formula="v^2/(2*k*9.81 m/s^2) + s")
    tab.does("add_fit", **fields, formula="a*exp(v) + b")
    good, bad = seen(tab, sheet)["fits"]
    texts_of = {one["key"]: one["text"] for one in good["parameters"]}
    assert texts_of["s"].endswith(" m")
    assert not texts_of["k"].endswith("m")
    assert "exp() takes a plain number" in bad["problem"]
    with pytest.raises(FootingError, match=r"write 2\*v"):
        tab.does("add_fit", **fields, formula="2v")


def test_a_fit_over_passages_and_over_chosen_points(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    first = tab.makes("add_passage", sheet=sheet, name="slow", first=1, last=2)
    second = tab.makes("add_passage", sheet=sheet, name="fast", first=4, last=5)
    fields = {"sheet": sheet, "x": v, "y": d, "curve": "proportional"}
    tab.does("add_fit", **fields, passages=[first, second])
    tab.does("add_fit", **fields, points=[1, 2])
    assert [fit["n"] for fit in seen(tab, sheet)["fits"]] == [3, 2]
    tab.does("remove_passage", passage=first)
    assert seen(tab, sheet)["fits"][0]["passages"] == [second]
    with pytest.raises(Refused, match="no row 9"):
        tab.does("add_passage", sheet=sheet, name="late", first=1, last=9)


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


def test_two_curves_on_the_same_points_are_compared(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    for curve in ("proportional", "line"):
        tab.does("add_fit", sheet=sheet, x=v, y=d, curve=curve)
    (choice,) = seen(tab, sheet)["choices"]
    assert "straight line" in choice["said"]


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
        for n in range(8):
            tab.does("place_mark", body=body, frame=n, x=50 + 4 * n, y=100)
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


@pytest.mark.parametrize("formula", ["0.5 M*v^2", "2 M*g*d", "v*2 M*d"])
def test_a_number_that_may_have_a_unit_or_a_factor_is_asked_about(
    tab: Tab, sheet: int, formula: str
) -> None:
    """With a quantity m there, 0.5 m*v^2 is half a metre, or half of m."""
    tab.does("set_quantity", symbol="m", name="mass", typed="2.00", unit="kg")
    tab.does("add_column", sheet=sheet, name="E", symbol="E", formula=formula.replace("M", "m"))
    assert "for the quantity" in seen(tab, sheet)["columns"][-1]["problem"]
