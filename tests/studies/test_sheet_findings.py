"""Findings of sheets, what rests on them, and columns that name them."""

import numpy as np
import pytest

from tests.studies.sheets import column, seen, texts
from tests.studies.steps import Tab


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


def test_findings_of_one_name_are_told_apart(tab: Tab, sheet: int) -> None:
    v, d = (column(tab, sheet, symbol)["key"] for symbol in "vd")
    fit = tab.makes("add_fit", sheet=sheet, x=v, y=d, curve="line")
    for _ in range(3):
        tab.does("add_finding", fit=fit, reading="slope", name="slope")
    names = [one["name"] for one in seen(tab, sheet)["findings"]]
    assert names == ["slope", "slope 2", "slope 3"]


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
