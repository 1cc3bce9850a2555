"""Ledgers of a study: energies, momenta, their words and blanks."""

from typing import Any

import numpy as np
import pytest

from footing.core.errors import Refused
from footing.store.tables import Lab
from footing.store.tables import Study as StudyTable
from footing.studies.class_rules import Rules, change_rules
from footing.studies.queries.working import working
from footing.studies.views.graph_file import filled
from footing.studies.views.ledger_file import as_csv
from tests.conftest import World
from tests.studies.motions import ENDS, METRE, RATE, thrown, value
from tests.studies.steps import Tab


def energy(tab: Tab) -> dict[str, Any]:
    found: dict[str, Any] = tab.view()["ledger"]["energy"]
    return found


def momentum(tab: Tab) -> dict[str, Any]:
    (found,) = tab.view()["ledger"]["momenta"]
    return dict(found)


def test_energies_of_a_throw_in_grams_are_those_of_the_formula(
    throw: tuple[Tab, int, int],
) -> None:
    tab, _, _ = throw
    shown = energy(tab)
    whole = 0.120 * (1.2**2 + 3.0**2) / 2
    bars = {bar["key"]: bar for bar in shown["bars"]["bars"]}
    assert shown["unit"] == "J"
    assert bars["e"]["values"] == pytest.approx([whole] * 15, rel=0.02)
    high = [0.120 * 9.80665 * (160 - thrown(n)[1]) / METRE for n in range(15)]
    assert bars["ep"]["values"] == pytest.approx(high, abs=1e-4)
    assert bars["e"]["total"]
    assert shown["changes"][0]["said"].startswith("kept within")


def test_small_energies_are_in_millijoules(throw: tuple[Tab, int, int]) -> None:
    tab, body, _ = throw
    tab.does("weigh_body", body=body, mass="2.5", mass_unit="g")
    shown = energy(tab)
    assert shown["unit"] == "mJ"
    assert shown["bars"]["bars"][-1]["values"][5] == pytest.approx(13.05, rel=2e-3)


def test_axes_along_a_slope_change_no_energy(throw: tuple[Tab, int, int]) -> None:
    tab, _, footage = throw
    before = energy(tab)["bars"]["bars"]
    tab.does("turn_axes", footage=footage, angle="-12", flip_x=True, flip_y=False)
    for one, other in zip(before, energy(tab)["bars"]["bars"], strict=True):
        assert one["values"] == pytest.approx(other["values"], rel=1e-9)
        assert one["texts"] == other["texts"]


def test_the_zero_of_height_moves_the_potential_energy_only(
    throw: tuple[Tab, int, int],
) -> None:
    tab, _, footage = throw
    before = {bar["key"]: bar["values"][3] for bar in energy(tab)["bars"]["bars"]}
    tab.does("set_height_zero", footage=footage, x=50, y=140)
    after = {bar["key"]: bar["values"][3] for bar in energy(tab)["bars"]["bars"]}
    assert after["ek"] == before["ek"]
    assert after["ep"] - before["ep"] == pytest.approx(-0.120 * 9.80665 * 0.20, rel=1e-3)


def test_energies_are_columns_for_any_graph_and_fit(throw: tuple[Tab, int, int]) -> None:
    tab, body, footage = throw
    tab.does("set_graph", footage=footage, x="h", ys=["ek"])
    (graph,) = tab.view()["graphs"]
    assert graph["y_title"] == "kinetic energy (J)"
    fit = tab.makes("add_fit", body=body, x="h", y="ek", curve="line")
    found = next(one for one in tab.view()["fits"] if one["id"] == fit)
    assert float(found["parameters"][0]["plain"]) == pytest.approx(-0.120 * 9.80665, rel=0.01)
    shown = next(one for one in tab.view()["bodies"] if one["id"] == body)["table"]
    assert {"ek", "ep", "e"} <= {column["key"] for column in shown["columns"]}


def test_scale_and_mass_are_in_the_uncertainty(throw: tuple[Tab, int, int]) -> None:
    tab, body, footage = throw
    tab.does("set_pixel_uncertainty", footage=footage, pixels="0.001")
    tab.does("weigh_body", body=body, mass="120 ± 12", mass_unit="g")
    text = energy(tab)["bars"]["bars"][0]["texts"][7]
    size, spread = (value(part) for part in text.split(" ± "))
    assert spread / size == pytest.approx(0.10, abs=0.01)


@pytest.mark.parametrize(
    ("mass", "unit", "size", "said"),
    [
        ("50", "kg", "", "50 kg is a lot. Is it 50 g?"),
        ("0.05", "g", "", "0.05 g is very little. Is it 0.05 kg?"),
        ("50", "kg", "6.0", "denser than any metal"),
        ("50", "g", "6.0", ""),
        ("19.1", "kg", "29", ""),
        ("0.05", "g", "6.0", "lighter than foam"),
    ],
)
def test_grams_taken_for_kilograms_are_asked_about(
    throw: tuple[Tab, int, int], mass: str, unit: str, size: str, said: str
) -> None:
    tab, body, _ = throw
    tab.does(
        "change_body", body=body, name="ball", mass=mass, mass_unit=unit, size=size, size_unit="cm"
    )
    asks = energy(tab)["bodies"][0]["asks"]
    assert said in asks
    assert bool(asks) == bool(said)


def test_what_is_missing_is_said_where_it_is(throw: tuple[Tab, int, int]) -> None:
    tab, body, _ = throw
    tab.does("weigh_body", body=body)
    shown = energy(tab)
    assert shown["bodies"][0]["needs"] == "The mass of ball is missing."
    assert shown["problem"] == "Energies need a mass; type it under What counts, beside the body."
    assert shown["bars"] is None
    tab.does("weigh_body", body=body, mass="120", mass_unit="g")
    known = tab.view()["ground"]["known_lengths"][0]["id"]
    tab.does("type_known_length", known_length=known, length="1", unit="sled")
    assert "here lengths are in sled" in energy(tab)["problem"]
    tab.does("remove_known_length", known_length=known)
    assert (energy(tab)["step"], energy(tab)["bars"]) == ("ground", None)


def test_a_rolling_body_has_energy_of_turning(throw: tuple[Tab, int, int]) -> None:
    tab, body, _ = throw
    tab.does("add_second_spot", body=body)
    spot = next(one["id"] for one in tab.view()["bodies"] if one["second_of"] == body)
    places = [thrown(n) for n in range(15)]
    marks = [
        [n, x + 8 * np.cos(0.3 * n), y - 8 * np.sin(0.3 * n)] for n, (x, y) in enumerate(places)
    ]
    tab.does("place_marks", body=spot, marks=marks)
    tab.does("set_inertia", body=body, typed="0.0004")
    bars = {bar["key"]: bar["values"] for bar in energy(tab)["bars"]["bars"]}
    assert bars["er"][5] == pytest.approx(0.0004 * (0.3 * RATE) ** 2 / 2, rel=0.05)
    assert bars["e"][5] == pytest.approx(bars["ek"][5] + bars["ep"][5] + bars["er"][5], abs=1e-4)


def test_a_spring_has_elastic_energy(throw: tuple[Tab, int, int]) -> None:
    tab, body, footage = throw
    tab.does("set_spring", footage=footage, body=body, constant="8.0", rest_length="0.10")
    tab.does("set_fixed_end", footage=footage, x=20, y=60)
    bars = {bar["key"]: bar["values"] for bar in energy(tab)["bars"]["bars"]}
    x, y = thrown(4)
    stretched = np.hypot(x - 20, y - 60) / METRE - 0.10
    assert bars["es"][4] == pytest.approx(8.0 * stretched**2 / 2, rel=0.01)


def test_three_moments_stand_beside_each_other(throw: tuple[Tab, int, int]) -> None:
    tab, _, footage = throw
    start, top, finish = energy(tab)["moments"]
    assert (start["frame"], top["frame"], finish["frame"]) == (0, 8, 14)
    tab.does("set_moments", footage=footage, top=6)
    assert [one["frame"] for one in energy(tab)["moments"]] == [0, 6, 14]
    assert [one["chosen"] for one in energy(tab)["moments"]] == [False, True, False]


def test_seen_from_above_there_are_no_heights(throw: tuple[Tab, int, int]) -> None:
    tab, _, footage = throw
    tab.does("set_energies", footage=footage, from_above=True)
    assert [bar["key"] for bar in energy(tab)["bars"]["bars"]] == ["ek", "e"]


def test_a_quantity_of_ones_own_in_joules_is_a_further_line(
    throw: tuple[Tab, int, int],
) -> None:
    tab, _, footage = throw
    own = tab.makes("add_column", footage=footage, name="half", formula="m*v^2/4", unit="J")
    plain = tab.makes("add_column", footage=footage, name="twice", formula="2*x")
    assert energy(tab)["joules"] == [(own, "half")]
    tab.does("set_energies", footage=footage, columns=[own])
    names = [one["name"] for one in tab.view()["ledger"]["graph"]["series"]]
    assert "half" in names
    assert plain not in [key for key, _ in energy(tab)["joules"]]


def test_the_total_stands_out(throw: tuple[Tab, int, int]) -> None:
    tab, _, _ = throw
    series = {one["y"]: one for one in tab.view()["ledger"]["graph"]["series"]}
    assert series["e"]["size"] > 2 * series["ek"]["size"]
    assert series["e"]["band"]


def test_momentum_from_marks_to_verdict(collision: tuple[Tab, int, int, int]) -> None:
    tab, _, _, _ = collision
    shown = momentum(tab)
    left, right = shown["rows"]
    assert value(left["before"]["px"]) == pytest.approx(0.500, abs=0.003)
    assert value(left["after"]["px"]) == pytest.approx(0.500 * 0.4375, abs=0.003)
    assert value(right["after"]["px"]) == pytest.approx(0.300 * 0.9375, abs=0.003)
    assert value(right["after"]["py"]) == pytest.approx(-0.300 * 0.41667, abs=0.003)
    assert value(left["impulse_x"]) == pytest.approx(-value(right["impulse_x"]), abs=0.004)
    assert shown["conserved"] == "yes"
    assert shown["said"].endswith("kg·m/s: conserved as far as this can tell.")
    assert value(shown["kept"]) == pytest.approx(
        100 * (0.25 * (0.4375**2 + 0.25**2) + 0.15 * (0.9375**2 + 0.41667**2)) / 0.25, abs=1.5
    )
    assert shown["happened"].startswith("partly elastic")
    assert shown["decides"]


def test_units_of_momentum(collision: tuple[Tab, int, int, int]) -> None:
    tab, _, _, impact = collision
    tab.does("set_momenta", impact=impact, unit="g*cm/s")
    shown = momentum(tab)
    assert shown["unit_text"] == "g·cm/s"
    assert value(shown["rows"][0]["before"]["px"]) == pytest.approx(50_000, abs=300)


def test_moving_the_impact_moves_every_number(collision: tuple[Tab, int, int, int]) -> None:
    tab, _, _, impact = collision
    before = momentum(tab)
    tab.does("move_impact", impact=impact, at=19.5)
    after = momentum(tab)
    assert after["rows"][0]["before"]["px"] != before["rows"][0]["before"]["px"]
    tab.does("undo")
    assert momentum(tab)["rows"] == before["rows"]


def test_a_body_that_rests_or_does_not_count(collision: tuple[Tab, int, int, int]) -> None:
    tab, _, right, impact = collision
    tab.does("set_momenta", impact=impact, resting_before=[right])
    assert momentum(tab)["rows"][1]["before"]["px"] == "0"
    tab.does("set_momenta", impact=impact, left_out=[right])
    shown = momentum(tab)
    assert not shown["rows"][1]["counts"]
    assert shown["conserved"] == "no"


def test_without_a_mass_the_row_says_so(collision: tuple[Tab, int, int, int]) -> None:
    tab, _, right, _ = collision
    tab.does("weigh_body", body=right)
    shown = momentum(tab)
    assert shown["rows"][1]["needs"] == "The mass of right is missing."
    assert shown["rows"][1]["before"] is None


def test_too_few_marks_on_a_side_are_said(collision: tuple[Tab, int, int, int]) -> None:
    tab, left, _, _ = collision
    tab.does("remove_marks", body=left, first=0, last=12)
    assert "left has 2 marks before the impact; a line needs 3" in momentum(tab)["problem"]


def test_momenta_lie_head_to_tail(collision: tuple[Tab, int, int, int]) -> None:
    tab, _, _, _ = collision
    arrows = momentum(tab)["arrows"]
    after = [one for one in arrows if one["side"] == "after"]
    parts, (total,) = (
        [one for one in after if not one["total"]],
        [one for one in after if one["total"]],
    )
    assert parts[0]["end"] == pytest.approx(parts[1]["start"], abs=0.1)
    assert total["start"] == parts[0]["start"]
    assert total["end"] == pytest.approx(parts[1]["end"], abs=0.1)
    assert parts[0]["end"][1] < parts[0]["start"][1]  # up in the picture
    assert parts[1]["end"][1] > parts[1]["start"][1]


@pytest.mark.parametrize(
    ("typed", "right", "said"),
    [
        ("0.5", True, ""),
        ("0.50 kg*m/s", True, ""),
        ("500 g*m/s", True, ""),
        ("-0.5", False, "the sign is not"),
        ("500", False, "the unit is not"),
        ("50000", False, "the unit is not"),
        ("0.3", False, "Not this value"),
        ("0.5 J", False, "no unit of momentum"),
    ],
)
def test_a_blank_ledger_checks_value_sign_and_unit(
    collision: tuple[Tab, int, int, int], typed: str, right: bool, said: str
) -> None:
    tab, left, _, impact = collision
    tab.does("set_momenta", impact=impact, blank=True)
    tab.does("fill_in", impact=impact, cell=f"b{left}.before.x", typed=typed)
    entry = momentum(tab)["cells"][f"b{left}.before.x"]
    assert entry["right"] is right
    assert said in entry["said"]
    assert momentum(tab)["cells"]["total.change.x"]["right"] is None


def test_a_blank_ledger_tells_no_answer(collision: tuple[Tab, int, int, int]) -> None:
    tab, left, _, impact = collision
    tab.does("set_momenta", impact=impact, blank=True)
    shown = momentum(tab)
    assert [(row["before"], row["after"], row["impulse_x"]) for row in shown["rows"]] == [
        (None, None, "")
    ] * 2
    assert (shown["total_before"], shown["change_x"], shown["percent"]) == (None, "", "")
    assert (shown["said"], shown["restitution"], shown["kept"]) == ("", "", "")
    assert shown["arrows"] == []
    assert "restitution" not in as_csv(tab.view()["ledger"]).decode()
    with pytest.raises(Refused, match="to be filled in"):
        working(tab.study, tab.person, f"momentum/{impact}/b{left}.before.x")
    tab.does("set_momenta", impact=impact, blank=False)
    assert momentum(tab)["rows"][0]["before"] is not None


def test_verdicts_can_be_left_to_the_students(
    collision: tuple[Tab, int, int, int], world: World
) -> None:
    tab, _, _, impact = collision
    lab = Lab.create(school_class=world.school_class, title="Stones", task="Push.")
    StudyTable.update(lab=lab).where(StudyTable.id == tab.study_id).execute()
    change_rules(tab.study, world.teacher, Rules(tells_verdicts=False))
    told = momentum(tab)
    assert (told["said"], told["happened"], told["conserved"]) == ("", "", "")
    assert told["change_x"] != ""
    assert momentum(Tab(tab.study, world.teacher))["said"] != ""
    tab.does("say_verdict", impact=impact, words="It stayed the same.")
    assert momentum(tab)["words"] == "It stayed the same."
    assert tab.view()["steps"]["ledger"] == "done"


def test_energies_over_a_passage_and_what_is_missing(tab: Tab, footage: int) -> None:
    """A body that slides with friction: 2.0 m/s, slowed by 1.5 m/s²; 3 kg, so F = 4.5 N."""
    length = tab.makes("add_known_length", footage=footage, frame=0, **ENDS)
    tab.does("type_known_length", known_length=length, length="1.000", unit="m")
    tab.does("set_zero", footage=footage, x=20, y=100)
    tab.does("set_pixel_uncertainty", footage=footage, pixels="0.05")
    body = tab.makes("add_body", footage=footage, name="box")
    tab.does("weigh_body", body=body, mass="3.00", mass_unit="kg")
    marks = [[n, 20 + 100 * (2.0 * n / RATE - 0.75 * (n / RATE) ** 2), 100] for n in range(30)]
    tab.does("place_marks", body=body, marks=marks)
    glide = tab.makes("add_passage", footage=footage, name="glide", first=2, last=27)
    _, over = energy(tab)["changes"]
    assert over["name"] == "glide"
    assert over["said"].startswith("lost ")
    assert value(over["force"]) == pytest.approx(4.5, rel=0.03)
    ends = [2.0 - 1.5 * n / RATE for n in (2, 27)]
    lost = 1.5 * (ends[0] ** 2 - ends[1] ** 2)
    assert value(over["power"]) == pytest.approx(lost / 1.0, rel=0.03)
    assert value(over["rows"][-1]["change"]) == pytest.approx(-lost, rel=0.03)
    said = working(tab.study, tab.person, f"energy/{glide}/force")["text"]
    assert "F = -ΔE/s = " in said
    assert "r = ΔE/E1" in working(tab.study, tab.person, f"energy/{glide}/e")["text"]


def test_what_is_shown_can_be_taken_out(collision: tuple[Tab, int, int, int]) -> None:
    tab, left, _, _ = collision
    tab.does("weigh_body", body=left, mass="0.500")
    ledger = tab.view()["ledger"]
    text = as_csv(ledger).decode("utf-8-sig")
    assert "total energy" in text
    assert "left,x," in text
    assert "restitution," in text
    spec = filled(ledger["graph"], [])
    assert {point["band"] for point in spec["datasets"]["points"]} == {True}
    tab.does("change_body", body=left, name="=1+1", mass="0.500")
    assert "\n'=1+1,x," in as_csv(tab.view()["ledger"]).decode("utf-8-sig")


def test_no_line_is_drawn_across_an_impact(collision: tuple[Tab, int, int, int]) -> None:
    tab, _, _, impact = collision
    for at in (14.5, 19.5):
        tab.does("move_impact", impact=impact, at=at)
        graph = tab.view()["ledger"]["graph"]
        assert len(graph["series"]) > 2
        for point in filled(graph, [])["datasets"]["points"]:
            assert point["piece"] == (point["number"] > at), (point["series"], point["number"])


@pytest.mark.parametrize(
    ("mass", "said"),
    [("0", "larger than 0"), ("-0.5", "larger than 0"), ("heavy", "number"), ("nan", "number")],
)
def test_a_mass_that_cannot_be_is_refused_and_the_old_one_stays(
    collision: tuple[Tab, int, int, int], mass: str, said: str
) -> None:
    tab, left, _, _ = collision
    before = momentum(tab)["rows"]
    with pytest.raises(Refused, match=said) as refusal:
        tab.does("weigh_body", body=left, mass=mass, mass_unit="kg")
    assert refusal.value.field == "mass"
    assert momentum(tab)["rows"] == before


def test_momenta_need_metres(collision: tuple[Tab, int, int, int]) -> None:
    tab, _, _, _ = collision
    known = tab.view()["ground"]["known_lengths"][0]["id"]
    tab.does("type_known_length", known_length=known, length="1", unit="sled")
    shown = momentum(tab)
    assert "here lengths are in sled" in shown["problem"]
    assert (shown["step"], shown["said"]) == ("ground", "")
    tab.does("remove_known_length", known_length=known)
    shown = momentum(tab)
    assert "not pixels" in shown["problem"]
    assert (shown["step"], shown["said"]) == ("ground", "")
    tab.does("undo")
    tab.does("undo")
    assert momentum(tab)["conserved"] == "yes"


def test_g_of_the_place_is_that_of_the_energies(throw: tuple[Tab, int, int]) -> None:
    tab, _, _ = throw

    def highest() -> float:
        (bar,) = (bar for bar in energy(tab)["bars"]["bars"] if bar["key"] == "ep")
        return float(max(bar["values"]))

    tab.does("set_gravity", latitude="90")
    pole = highest()
    tab.does("set_gravity", latitude="0")
    assert pole / highest() == pytest.approx(9.8322 / 9.7803, rel=2e-5)
