"""Numbers at graphs: readable, with room beside the titles; rounding is no residual."""

import re

import pytest
import vl_convert

from footing.studies.views.graph_spec import main_spec, residual_spec
from tests.studies.sheets import column, fit_of
from tests.studies.steps import Tab

_LONGEST = 7  # letters that stand beside the title


def test_what_is_left_by_rounding_alone_is_nothing(tab: Tab) -> None:
    sheet = tab.makes("add_sheet", name="exact")
    t, x = (tab.makes("add_column", sheet=sheet, name=name, unit="") for name in "tx")
    rows = [[f"{n / 10:.1f}", f"{0.7 * n / 10 + 0.1:.2f}"] for n in range(9)]
    tab.does("set_cells", sheet=sheet, row=1, column=t, cells=rows)
    keys = {axis: column(tab, sheet, axis)["key"] for axis in "tx"}
    fit = tab.makes("add_fit", sheet=sheet, x=keys["t"], y=keys["x"], curve="line")
    assert [left for *_, left in fit_of(tab, sheet, fit)["residuals"]] == [0.0] * 9
    parameters = fit_of(tab, sheet, fit)["parameters"]
    assert [(one["text"], one["interval"]) for one in parameters] == [
        ("0.7000", "0.7000"),
        ("0.1000", "0.1000"),
    ]
    tab.does("set_cells", sheet=sheet, row=3, column=x, cells=[["0.2400001"]])
    left = [left for *_, left in fit_of(tab, sheet, fit)["residuals"]]
    assert max(map(abs, left)) == pytest.approx(1e-7, rel=0.3)
    assert " … " in fit_of(tab, sheet, fit)["parameters"][0]["interval"]


@pytest.mark.parametrize("size", [3e-13, 2e-6, 0.004, 0.3, 40.0, 6e5])
def test_numbers_at_the_residuals_do_not_run_into_the_title(size: float) -> None:
    rows = [{"x": k, "residual": size * (-1) ** k, "size": 26} for k in range(5)]
    spec = residual_spec("t", ["residual", "(m)"])
    drawn = {**spec, "width": 600, "height": 60, "datasets": {"residuals": rows}}
    svg = vl_convert.vegalite_to_svg(drawn, vl_version="6.4")
    labels = re.findall(r'text-anchor="end"[^>]*>([^<]+)<', svg)
    assert len(labels) >= 2
    assert max(map(len, labels)) <= _LONGEST
    assert len(set(labels)) == len(labels)
    numbers = [float(label.replace("−", "-")) for label in labels]
    assert 0.3 * size <= max(numbers) <= 2 * size


def test_thousands_have_no_comma_that_could_begin_decimals() -> None:
    rows = [{"x": 400 * k, "y": 1080 - 200 * k, "size": 26, "series": "1"} for k in range(5)]
    drawn = {**main_spec("x (px)", "y (px)"), "width": 600, "height": 300}
    drawn["params"] = [
        {**one, "value": {"x_high": 1920, "y_high": 1080}.get(one["name"], one["value"])}
        for one in drawn["params"]
    ]
    drawn["datasets"] = {"points": rows}
    svg = vl_convert.vegalite_to_svg(drawn, vl_version="6.4")
    labels = re.findall(r'text-anchor="(?:end|middle)"[^>]*>([^<]+)<', svg)
    assert "1000" in labels
    assert not any("," in label for label in labels)
