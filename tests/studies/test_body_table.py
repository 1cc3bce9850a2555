"""Columns computed for a body: what they have in common with the marks that they rest on."""

from typing import Any

import numpy as np
import pytest

from footing.store.reading import read_study
from footing.store.rows import Body
from footing.studies.model.body_table import BodyTable
from footing.studies.model.sources import Sources
from tests.studies.conftest import Measured

U = 0.005  # m: half a pixel


def computed(measured: Measured, formula: str) -> Any:
    """A column of the measured body by a formula."""
    tab, footage = measured.tab, measured.footage
    before = len(tab.view(footage)["columns"])
    name = f"made {before}"
    tab.does("add_column", footage=footage, name=name, symbol=f"Q{before}", formula=formula)
    rows = read_study(tab.study_id)
    table = Sources(rows).table(rows.find(Body, measured.body))
    assert isinstance(table, BodyTable)
    column = table.column(f"c{table.columns[-1].id}")
    assert column is not None
    return column


@pytest.mark.parametrize(
    "formula",
    [
        "v - v/2 - v/2",
        "vx - rate(x)",
        "h - y",
        "(y - first(y))/(t - first(t)) - my",
        "ay + 1.25 m/s^2 - ay",
    ],
)
def test_what_is_the_same_by_its_making_has_no_uncertainty(
    measured: Measured, formula: str
) -> None:
    assert computed(measured, formula).uncertainties == pytest.approx(0, abs=1e-9)


def test_heights_along_up_that_is_not_an_axis_rest_on_both_coordinates(measured: Measured) -> None:
    turned = {"angle": "30", "flip_x": True, "flip_y": False}
    measured.tab.does("turn_axes", footage=measured.footage, **turned)
    found = computed(measured, "h + x*sin(30°) - y*cos(30°)")
    assert found.values == pytest.approx(0, abs=1e-9)
    assert found.uncertainties == pytest.approx(0, abs=1e-9)


def test_what_rests_on_the_same_marks_carries_their_share_once(measured: Measured) -> None:
    """At an end, y and vy lean on the same mark: −3/2, 2 and −1/2 over the time of a frame."""
    found = computed(measured, "y + vy*0.1 s")
    step = 0.04
    share = np.array([1 - 0.15 / step, 0.2 / step, -0.05 / step])
    assert found.uncertainties[0] == pytest.approx(U * np.sqrt(np.sum(share**2)))
    middle = U * np.hypot(1, 0.1 / step / np.sqrt(2))
    assert found.uncertainties[5] == pytest.approx(middle)


def test_neighbours_that_share_marks_are_said_to_depend_on_each_other(measured: Measured) -> None:
    lone = computed(measured, "2*y")
    assert lone.covariance is None
    found = computed(measured, "vy/(1 m/s)")
    assert found.covariance is not None
    matrix = found.covariance(np.arange(len(found.values))).toarray()
    assert np.sqrt(np.diag(matrix)) == pytest.approx(found.uncertainties)
    assert matrix[4, 6] == pytest.approx(-(U**2) / (4 * 0.04**2))  # both lean on the mark between
    assert matrix[4, 5] == pytest.approx(0, abs=1e-12)


def test_formulas_may_name_the_diameter_of_the_body(measured: Measured) -> None:
    tab = measured.tab
    tab.does("change_body", body=measured.body, name="cone", size="12.0 ± 0.3", size_unit="cm")
    area = computed(measured, "pi*diameter^2/4")
    assert area.values == pytest.approx(np.pi * 12**2 / 4)  # cm²
    assert area.uncertainties == pytest.approx(area.values * 2 * 0.3 / 12)
