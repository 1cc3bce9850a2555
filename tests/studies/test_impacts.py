"""An impact is crossed by no derivative, no fit and no mean; moving it changes every number."""

from typing import Any

import pytest

from footing.core.errors import Refused
from footing.store.reading import read_study
from footing.store.rows import Body
from footing.studies.queries import stretch
from footing.studies.queries.stretch import Plot
from tests.studies.conftest import Measured
from tests.studies.steps import Tab

HIT = 10  # frames; the body goes right before and left after, 2.5 and 5 px a frame
FAR, BACK = 5.0, -2.5


def place(n: float) -> float:
    return 20 + FAR * n if n <= HIT + 0.5 else 20 + FAR * (HIT + 0.5) + BACK * (n - HIT - 0.5)


@pytest.fixture
def bounced(measured: Measured) -> tuple[Tab, int]:
    """The rival goes to the right, is hit between frames 10 and 11, and comes back."""
    tab = measured.tab
    marks = [[n, place(n), 50.0] for n in range(20)]
    tab.does("place_marks", body=measured.rival, marks=marks)
    return tab, measured.rival


def column(tab: Tab, body: int, key: str) -> dict[int, float]:
    shown = next(one for one in tab.view()["bodies"] if one["id"] == body)
    keys = [one["key"] for one in shown["table"]["columns"]]
    cells = [row[keys.index(key)] for row in shown["table"]["rows"]]
    pairs = zip(shown["counting"], cells, strict=True)
    return {frame: float(text.replace("−", "-")) for frame, text in pairs if text}


def test_velocities_are_one_sided_beside_an_impact(bounced: tuple[Tab, int]) -> None:
    tab, body = bounced
    per_second = 25 / 100
    between = column(tab, body, "vx")
    assert FAR * per_second > between[HIT] > BACK * per_second
    impact = tab.makes("add_impact", footage=footage_of(tab, body), at=HIT + 0.5)
    sided = column(tab, body, "vx")
    assert sided[HIT] == pytest.approx(FAR * per_second, abs=0.02)
    assert sided[HIT + 1] == pytest.approx(BACK * per_second, abs=0.02)
    tab.does("move_impact", impact=impact, at=HIT - 2.5)
    moved = column(tab, body, "vx")
    assert moved[HIT] == pytest.approx(between[HIT], abs=1e-6)
    tab.does("remove_impact", impact=impact)
    assert column(tab, body, "vx") == between


def footage_of(tab: Tab, body: int) -> int:
    return read_study(tab.study_id).find(Body, body).footage_id


def test_an_impact_of_one_body_leaves_others_alone(
    bounced: tuple[Tab, int], measured: Measured
) -> None:
    tab, body = bounced
    tab.does("add_impact", footage=measured.footage, at=5.5, body=body)
    assert ends_of(tab, measured.body, "vy") == [0, 11]
    tab.does("add_impact", footage=measured.footage, at=6.5)
    assert ends_of(tab, measured.body, "vy") == [0, 6, 7, 11]


def ends_of(tab: Tab, body: int, key: str) -> list[int]:
    """The rows of a column that were taken one-sided."""
    table = next(one for one in tab.view()["bodies"] if one["id"] == body)["table"]
    found: list[int] = table["end_rows"][[one["key"] for one in table["columns"]].index(key)]
    return found


def test_no_fit_crosses_an_impact(bounced: tuple[Tab, int], measured: Measured) -> None:
    tab, body = bounced
    fit = tab.makes("add_fit", body=body, x="t", y="x", curve="line")
    assert fit_of(tab, fit)["reason"] is None
    tab.does("add_impact", footage=measured.footage, at=HIT + 0.5)
    assert "between 10 and 11" in fit_of(tab, fit)["reason"]
    before = tab.makes("add_passage", footage=measured.footage, name="to", first=0, last=HIT)
    tab.does("change_fit", fit=fit, curve="line", passages=[before])
    slope = fit_of(tab, fit)["parameters"][0]["plain"]
    assert float(slope) == pytest.approx(FAR * 0.25, rel=1e-6)


def fit_of(tab: Tab, key: int) -> dict[str, Any]:
    found: dict[str, Any] = next(one for one in tab.view()["fits"] if one["id"] == key)
    return found


def test_no_mean_crosses_an_impact(bounced: tuple[Tab, int], measured: Measured) -> None:
    tab, body = bounced
    plot = Plot(f"b{body}", "t", "x")
    whole = dict(stretch.stretch(tab.study, plot, 0.0, 0.76)["rows"])
    assert "±" in whole["mean"]
    tab.does("add_impact", footage=measured.footage, at=HIT + 0.5)
    parted = dict(stretch.stretch(tab.study, plot, 0.0, 0.76)["rows"])
    assert parted["mean"] == "none: something hits between 10 and 11"
    assert "slope from end to end" not in parted
    since_start = column(tab, body, "mx")
    assert HIT + 1 not in since_start  # the first one after it
    assert since_start[HIT + 5] == pytest.approx(BACK * 0.25, abs=0.02)


def test_a_slope_of_a_graph_does_not_cross_it(bounced: tuple[Tab, int], measured: Measured) -> None:
    tab, body = bounced
    plot = Plot(f"b{body}", "t", "x")
    tab.does("add_impact", footage=measured.footage, at=HIT + 0.5)
    text = stretch.tangent(tab.study, plot, HIT)["text"]
    assert float(text.split(" ±")[0].replace("−", "-")) == pytest.approx(1.25, abs=0.06)


def test_rates_of_formulas_do_not_cross_it(bounced: tuple[Tab, int], measured: Measured) -> None:
    tab, body = bounced
    made = tab.makes("add_column", footage=measured.footage, name="u", formula="rate(x)")
    step = tab.makes("add_column", footage=measured.footage, name="d", formula="diff(x)")
    tab.does("add_impact", footage=measured.footage, at=HIT + 0.5)
    assert column(tab, body, f"c{made}")[HIT] == pytest.approx(1.25, abs=0.02)
    assert HIT + 1 not in column(tab, body, f"c{step}")


def test_where_a_velocity_breaks_an_impact_is_offered(
    bounced: tuple[Tab, int], measured: Measured
) -> None:
    tab, body = bounced
    ledger = tab.view()["ledger"]
    (offer,) = ledger["offers"]
    assert (offer["body"], offer["at"]) == (body, HIT + 0.5)
    assert offer["said"] == "something hits lamp between 10 and 11"
    tab.does("add_impact", footage=measured.footage, at=HIT + 0.5)
    assert tab.view()["ledger"]["offers"] == []


def test_what_rests_on_a_body_goes_with_it(measured: Measured) -> None:
    tab = measured.tab
    own = tab.makes("add_impact", footage=measured.footage, at=5.5, body=measured.rival)
    tab.does("set_momenta", impact=own)
    tab.does("set_spring", footage=measured.footage, body=measured.rival, constant="5")
    tab.does("remove_body", body=measured.rival)
    assert [one["id"] for one in tab.view()["impacts"]] == [measured.impact]
    assert tab.view()["ledger"]["energy"]["spring"]["body"] is None


def test_passages_of_an_account_lie_on_their_side(measured: Measured) -> None:
    tab = measured.tab
    with pytest.raises(Refused, match=r"does not lie after the impact at 20\.5"):
        tab.does("set_momenta", impact=measured.impact, after=measured.passage)
    tab.does("set_momenta", impact=measured.impact, before=measured.passage)
    tab.does("remove_passage", passage=measured.passage)
    (momenta,) = tab.view()["ledger"]["momenta"]
    assert momenta["before"] is None


def test_a_centre_of_mass_is_not_differentiated_across(
    bounced: tuple[Tab, int], measured: Measured
) -> None:
    tab, body = bounced
    for one, mass in ((body, "1.0"), (measured.body, "1.0")):
        tab.does("weigh_body", body=one, mass=mass)
    centre = tab.makes("add_centre", footage=measured.footage, bodies=[body, measured.body])
    assert HIT - 5 not in ends_of(tab, centre, "vx")
    tab.does("add_impact", footage=measured.footage, at=HIT - 4.5)
    assert HIT - 5 in ends_of(tab, centre, "vx")
