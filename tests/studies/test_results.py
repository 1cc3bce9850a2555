"""What findings rest on: each source by its effect, once, against doing it."""

from typing import Any

import numpy as np
import pytest

from footing.store.reading import read_study
from footing.studies.model.sources import Sources
from tests.studies.conftest import Measured
from tests.studies.steps import Tab

NOISE = np.random.default_rng(7).normal(scale=0.4, size=(12, 2))
MASS, MASS_U = 0.150, 0.009


@pytest.fixture
def falling(measured: Measured) -> Measured:
    """The falling body with marks that scatter and with a mass."""
    for n in range(12):
        x, y = 50 + n + NOISE[n, 0], 20 + 2 * n + 0.1 * n**2 + NOISE[n, 1]
        measured.tab.does("place_mark", body=measured.body, frame=n, x=x, y=y)
    mass = {"mass": f"{MASS} ± {MASS_U}", "mass_unit": "kg"}
    measured.tab.does("change_body", body=measured.body, name="cone", **mass)
    return measured


def finding(tab: Tab, key: int) -> dict[str, Any]:
    return next(one for one in tab.view()["findings"] if one["id"] == key)


def value(tab: Tab, key: int) -> float:
    """In full: the text has too few digits for differences."""
    return float(Sources(read_study(tab.study_id)).results[key].value.value)  # type: ignore[union-attr]


def line_of(tab: Tab, key: int, source: str) -> float:
    """A line of a finding's budget."""
    parts = Sources(read_study(tab.study_id)).results[key].value.budget  # type: ignore[union-attr]
    return sum(part.uncertainty for part in parts if part.source == source)


FORMULAS = {
    "momentum": ("m*v", "kg m/s"),
    "height energy": ("m*g*h", "J"),
    "motion energy": ("0.5*m*v^2", "J"),
    "a pure number": ("y/(y + 2 m)", ""),
    "speed": ("vy", "m/s"),
}


@pytest.mark.parametrize("name", FORMULAS)
@pytest.mark.parametrize("curve", ["level", "line", "exponential"])
def test_scale_and_mass_enter_a_fit_of_a_computed_column_by_their_effect(
    falling: Measured, name: str, curve: str
) -> None:
    tab, (formula, _) = falling.tab, FORMULAS[name]
    tab.does("add_column", footage=falling.footage, name=name, symbol="Q", formula=formula)
    column = tab.view()["columns"][-1]["key"]
    fit = tab.makes("add_fit", body=falling.body, x="t", y=column, curve=curve)
    reading = {"level": "c", "line": "m", "exponential": "k"}[curve]
    key = tab.makes("add_finding", fit=fit, reading=reading, name="found")
    before, scale, mass_line = value(tab, key), *(line_of(tab, key, of) for of in ("scale", "m"))
    relative = np.sqrt((0.003 / 1) ** 2 + 2 * (0.5 / 100) ** 2)
    typed = {"known_length": falling.length, "unit": "m"}
    tab.does("type_known_length", length=f"{1 + relative:.12f} ± 0.003", **typed)
    by_scale = abs(value(tab, key) - before)
    tab.does("undo")
    mass = {"mass": f"{MASS + MASS_U} ± {MASS_U}", "mass_unit": "kg"}
    tab.does("change_body", body=falling.body, name="cone", **mass)
    by_mass = abs(value(tab, key) - before)
    smallest = max(0.02 * max(by_scale, by_mass), 1e-3 * abs(before))
    assert scale == pytest.approx(by_scale, rel=0.12, abs=smallest)
    assert mass_line == pytest.approx(by_mass, rel=0.12, abs=smallest)


def two_velocities(tab: Tab, falling: Measured, **points: list[int]) -> tuple[int, int]:
    """Findings u and w: the velocities of two stretches of the same body."""
    made = []
    for symbol, chosen in points.items():
        selection = {"points": chosen, "curve": "line", "x": "t", "y": "y"}
        fit = tab.makes("add_fit", body=falling.body, **selection)
        made.append(
            tab.makes("add_finding", fit=fit, reading="velocity", name=symbol, symbol=symbol)
        )
    return made[0], made[1]


def test_a_ratio_of_two_velocities_of_a_film_does_not_depend_on_its_scale(
    falling: Measured,
) -> None:
    tab = falling.tab
    before, after = two_velocities(tab, falling, u=[0, 1, 2, 3, 4], w=[6, 7, 8, 9, 10])
    key = tab.makes("add_finding", formula="w/u", name="ratio")
    assert line_of(tab, before, "scale") > line_of(tab, before, "fit") / 100
    assert line_of(tab, key, "scale") == 0
    shares = [line_of(tab, one, "fit") / abs(value(tab, one)) for one in (before, after)]
    expected = abs(value(tab, key)) * np.hypot(*shares)
    assert line_of(tab, key, "fit") == pytest.approx(expected, rel=1e-6)


def test_a_sum_of_two_velocities_of_a_film_has_the_scale_in_full(falling: Measured) -> None:
    tab = falling.tab
    before, after = two_velocities(tab, falling, u=[0, 1, 2, 3, 4], w=[6, 7, 8, 9, 10])
    total = tab.makes("add_finding", formula="u + w", name="total")
    both = [line_of(tab, one, "scale") for one in (before, after)]
    assert line_of(tab, total, "scale") == pytest.approx(sum(both))


def test_fits_of_the_same_marks_share_their_noise(falling: Measured) -> None:
    tab = falling.tab
    same = {"u": [0, 1, 2, 3, 4, 5], "w": [0, 1, 2, 3, 4, 5]}
    one, other = two_velocities(tab, falling, **same)
    nothing = tab.makes("add_finding", formula="u - w", name="nothing")
    assert line_of(tab, nothing, "fit") == pytest.approx(0, abs=1e-9)
    tab.does("change_finding", finding=one, name="u", symbol="u", other=other)
    assert finding(tab, one)["difference"]["verdict"] == "agrees"


def test_findings_of_one_fit_know_the_covariance_of_its_parameters(falling: Measured) -> None:
    """The moment of the apex, from two findings and from the parameters at once."""
    tab = falling.tab
    for reading, symbol in (("acceleration", "a1"), ("velocity_at_zero", "v1")):
        tab.makes("add_finding", fit=falling.fit, reading=reading, name=symbol, symbol=symbol)
    one = tab.makes("add_finding", formula="-v1/a1", name="one")
    other = tab.makes("add_finding", fit=falling.fit, formula="-b/(2*a)", name="other")
    assert finding(tab, one)["text"] == finding(tab, other)["text"]
    assert line_of(tab, one, "fit") == pytest.approx(line_of(tab, other, "fit"), rel=1e-4)
    assert line_of(tab, one, "scale") == line_of(tab, other, "scale") == 0


def test_what_is_read_first_has_the_scale_in_it_and_says_what_the_fit_alone_has(
    falling: Measured,
) -> None:
    tab = falling.tab
    fit = next(one for one in tab.view()["fits"] if one["id"] == falling.fit)
    shown = next(one for one in fit["readings"] if one["key"] == "acceleration")
    assert shown["text"] == finding(tab, falling.finding)["text"]
    tab.does("type_known_length", known_length=falling.length, length="1.0 ± 0.6", unit="m")
    fit = next(one for one in tab.view()["fits"] if one["id"] == falling.fit)
    shown = next(one for one in fit["readings"] if one["key"] == "acceleration")
    assert shown["besides"].startswith("scale")
    assert float(shown["text"].split("± ")[1].split()[0]) > 2 * float(shown["alone"])
