"""Fits of sheets: what they weigh, which points they go through, what they are compared with."""

import numpy as np
import pytest

from footing.core.errors import FootingError, Refused
from tests.studies.sheets import column, fit_of, seen
from tests.studies.steps import Tab


def test_the_intercept_is_asked_about_only_near_the_points(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=d, curve="line")
    assert fit_of(tab, sheet, fit)["sense"] is None  # v from 1.0 to 2.5
    first = column(tab, sheet, "v")["id"]
    tab.does("set_cells", sheet=sheet, row=1, column=first, cells=[["0.2"]])
    assert "intercept" in fit_of(tab, sheet, fit)["sense"]


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


def test_two_curves_on_the_same_points_are_compared(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    for curve in ("proportional", "line"):
        tab.does("add_fit", sheet=sheet, x=v, y=d, curve=curve)
    (choice,) = seen(tab, sheet)["choices"]
    assert "straight line" in choice["said"]


@pytest.mark.parametrize("formula", ["0.5 M*v^2", "2 M*g*d", "v*2 M*d"])
def test_a_number_that_may_have_a_unit_or_a_factor_is_asked_about(
    tab: Tab, sheet: int, formula: str
) -> None:
    """With a quantity m there, 0.5 m*v^2 is half a metre, or half of m."""
    tab.does("set_quantity", symbol="m", name="mass", typed="2.00", unit="kg")
    tab.does("add_column", sheet=sheet, name="E", symbol="E", formula=formula.replace("M", "m"))
    assert "for the quantity" in seen(tab, sheet)["columns"][-1]["problem"]


def test_trials_of_the_same_times_are_fitted_and_checked(tab: Tab) -> None:
    sheet = tab.makes("add_sheet", name="trials")
    t = tab.makes("add_column", sheet=sheet, name="time", unit="s")
    d = tab.makes("add_column", sheet=sheet, name="distance", unit="m")
    cells = [
        [f"{0.5 * n:.1f}", f"{1.2 * 0.5 * n + 0.01 * (trial % 3):.2f}"]
        for n in range(6)
        for trial in range(5)
    ]
    tab.does("set_cells", sheet=sheet, row=1, column=t, cells=cells)
    key = tab.makes("add_fit", sheet=sheet, x=f"c{t}", y=f"c{d}", curve="line")
    fit = fit_of(tab, sheet, key)
    assert fit["reason"] is None
    assert fit["parameters"][0]["text"].startswith("1.2")
    assert "points" in {check["key"] for check in seen(tab, sheet)["checks"]}
