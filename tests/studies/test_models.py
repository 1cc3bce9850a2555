"""Predicted motions in a study: legs, parameters, what they match, and what is said of them."""

import csv
import io
from typing import Any

import numpy as np
import pytest

from footing.core.errors import NotThere, Refused
from footing.store.access import class_study
from footing.studies.class_rules import Rules, change_rules
from footing.studies.edits.parameters import SetParameter
from footing.studies.queries.model_trial import try_parameter
from footing.studies.queries.models_out import as_csv
from footing.studies.school.copying import duplicate
from footing.studies.views.shown import Shown
from footing.studies.views.view import study_view
from tests.conftest import World
from tests.studies.conftest import legs_of
from tests.studies.motions import METRE, RATE, thrown, value
from tests.studies.steps import Tab

Throw = tuple[Tab, int, int]
G = 9.80665


def printed(text: str) -> float:
    """A number that may be printed with a power of ten."""
    plain = text.translate(str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻−", "0123456789--"))
    return float(plain.replace("×10", "e"))


def models(tab: Tab) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = tab.view()["models"]["models"]
    return found


def parameters(leg: dict[str, Any]) -> dict[str, dict[str, Any]]:
    return {one["name"]: one for one in leg["parameters"]}


def predicted(tab: Tab, body: int, footage: int, law: str, name: str = "theory") -> int:
    return tab.makes("add_model", footage=footage, body=body, name=name, law=law)


def passage(tab: Tab, footage: int, name: str, first: float, last: float) -> int:
    return tab.makes("add_passage", footage=footage, name=name, first=first, last=last)


def legs_over(tab: Tab, model: int, law: str, passages: list[int]) -> list[int]:
    """Legs of a model by one law, one over each passage."""
    legs = legs_of(tab, model)
    tab.does("change_leg", leg=legs[0], law=law, passage=passages[0], goes_on="free")
    legs += [tab.makes("add_leg", model=model, law=law, passage=key) for key in passages[1:]]
    return legs


def test_a_throw_is_predicted_in_the_frames_of_its_leg(throw: Throw) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "free fall")
    way = passage(tab, footage, "rise", 2, 9)
    tab.does("change_leg", leg=legs_of(tab, model)[0], law="free fall", passage=way)
    (one,) = models(tab)
    found = parameters(one["legs"][0])
    t = 2 / RATE
    for name, truth in (("x", 1.2 * t), ("vx", 1.2), ("vy", 3.0 - G * t)):
        assert found[name]["found"]
        assert value(found[name]["text"]) == pytest.approx(truth, abs=1e-3)
    ghost = one["ghost"]
    assert ghost["frames"] == list(range(2, 10))
    assert set(ghost["leg"]) == {1}
    for frame, x, y in zip(ghost["frames"], ghost["x"], ghost["y"], strict=True):
        assert (x, y) == pytest.approx(thrown(frame), abs=0.02)
    assert one["stops"] == "matches all marks within their scatter"
    assert one["legs"][0]["marks"] == 8


def test_a_model_that_is_wrong_says_where_it_leaves_the_marks(throw: Throw) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "constant velocity")
    (leg,) = legs_of(tab, model)
    for name in ("x", "y", "vx", "vy"):
        tab.does("set_parameter", model=model, leg=leg, name=name, how="begin")
    (one,) = models(tab)
    assert one["stops"].startswith("leaves the marks at 0.")
    assert 0 < one["stops_at"] < 6
    assert value(one["rms"].split(" ")[0]) > 10


def test_legs_go_on_and_their_border_is_moved_with_both_passages(throw: Throw) -> None:
    tab, body, footage = throw
    ways = [passage(tab, footage, "first", 0, 7), passage(tab, footage, "second", 7.5, 14)]
    model = predicted(tab, body, footage, "free fall")
    legs = legs_over(tab, model, "free fall", ways)
    before = models(tab)[0]["legs"]
    assert before[0]["last"] == before[1]["first"] == pytest.approx(7.25)
    assert parameters(before[1]).keys() == set()
    tab.does("move_border", leg=legs[1], at=4.5)
    view = tab.view()
    moved = {one["name"]: (one["first"], one["last"]) for one in view["passages"]}
    assert moved == {"first": (0, 4.5), "second": (4.5, 14)}
    after = view["models"]["models"][0]["legs"]
    assert after[0]["last"] == after[1]["first"] == pytest.approx(4.5)
    assert view["models"]["models"][0]["ghost"]["leg"] == [1] * 5 + [2] * 10
    tab.does("undo")
    assert models(tab)[0]["legs"][0]["last"] == pytest.approx(7.25)
    for at, why in ((0, "stays between"), (14, "stays between"), (99, "no frame 99")):
        with pytest.raises(Refused, match=why):
            tab.does("move_border", leg=legs[1], at=at)
    with pytest.raises(Refused, match="no leg before"):
        tab.does("move_border", leg=legs[0], at=4.5)


def test_the_marks_say_where_a_border_is(throw: Throw) -> None:
    """The ball falls freely up to frame 9, and goes straight on from there."""
    tab, body, footage = throw
    t = 9 / RATE
    speed = (1.2, 3.0 - G * t)
    x, y = thrown(9)
    straight = [
        [n, x + METRE * speed[0] * (n / RATE - t), y - METRE * speed[1] * (n / RATE - t)]
        for n in range(10, 20)
    ]
    tab.does("remove_marks", body=body, first=10, last=14)
    tab.does("place_marks", body=body, marks=straight)
    ways = [passage(tab, footage, "fall", 0, 7), passage(tab, footage, "straight", 8, 19)]
    model = predicted(tab, body, footage, "free fall")
    legs = legs_over(tab, model, "free fall", ways[:1])
    tab.does("add_leg", model=model, law="constant velocity", passage=ways[1])
    assert models(tab)[0]["stops"] != "matches all marks within their scatter"
    law = {"law": "free fall", "passage": ways[0], "goes_on": "free"}
    tab.does("change_leg", leg=legs[0], border="marks", **law)
    (one,) = models(tab)
    assert value(parameters(one["legs"][0])["until"]["text"]) == pytest.approx(t, abs=2e-3)
    assert one["stops"] == "matches all marks within their scatter"
    assert one["legs"][0]["last"] == pytest.approx(9, abs=0.1)


def test_a_parameter_is_taken_from_a_fit_and_follows_it(throw: Throw) -> None:
    tab, body, footage = throw
    way = passage(tab, footage, "part", 0, 14)
    fit = tab.makes("add_fit", body=body, x="t", y="y", curve="quadratic", passages=[way])
    model = predicted(tab, body, footage, "constant acceleration")
    (leg,) = legs_of(tab, model)
    offered = parameters(models(tab)[0]["legs"][0])["ay"]["hows"]
    assert any("acceleration −9.8" in one["text"] for one in offered)
    assert not any("velocity" in one["text"] for one in offered)
    tab.does(
        "set_parameter",
        **{"model": model, "leg": leg, "name": "ay", "how": "fit"},
        **{"fit": fit, "reading": "acceleration"},
    )
    assert value(parameters(models(tab)[0]["legs"][0])["ay"]["text"]) == pytest.approx(-G, abs=0.01)
    tab.does("place_mark", body=body, frame=14, x=thrown(14)[0], y=thrown(14)[1] + 8)
    moved = value(parameters(models(tab)[0]["legs"][0])["ay"]["text"])
    assert moved < -G - 0.1  # the last mark lies lower, and so does the fit
    tab.does("undo")
    assert value(parameters(models(tab)[0]["legs"][0])["ay"]["text"]) == pytest.approx(-G, abs=0.01)
    tab.does("remove_fit", fit=fit)
    (one,) = models(tab)
    assert "fit is not there any more" in one["legs"][0]["problem"]
    assert one["ghost"] is None
    tab.does("undo")
    assert models(tab)[0]["ghost"] is not None


def test_a_leg_may_begin_with_an_impact(throw: Throw) -> None:
    """A drop of 1 m that comes back with 0.8 of its speed, all of it typed."""
    tab, _body, footage = throw
    lands = float(np.sqrt(2 / G))
    ways = [
        passage(tab, footage, "drop", 0, lands * RATE // 0.5 * 0.5),
        passage(tab, footage, "back", lands * RATE // 0.5 * 0.5, 30),
    ]
    model = tab.makes("add_model", footage=footage, name="bounce", law="free fall")
    legs = legs_over(tab, model, "free fall", ways)
    tab.does("set_parameter", model=model, leg=legs[0], name="y", typed="1", unit="m")
    back = {"leg": legs[1], "law": "free fall", "passage": ways[1], "hits": True}
    tab.does("change_leg", **back)
    tab.does("set_parameter", model=model, leg=legs[1], name="restitution", typed="0.8")
    (one,) = models(tab)
    heights = dict(zip(one["ghost"]["frames"], one["ghost"]["values"]["y"], strict=True))
    highest = max(height for frame, height in heights.items() if frame > lands * RATE + 3)
    assert highest == pytest.approx(0.64, abs=0.04)
    tab.does("change_leg", **back, normal="0")  # as if it hit a wall
    assert models(tab)[0]["ghost"]["values"]["y"][-1] < -0.5


@pytest.mark.parametrize(
    ("stretches", "said"),
    [
        (((0, 8), (5, 14)), "begins before “a” has ended; passages of legs may not overlap"),
        (((8, 14), (0, 5)), "begins before “a” does; put the legs in their order"),
    ],
)
def test_passages_that_do_not_follow_each_other_are_said(
    throw: Throw, stretches: tuple[tuple[float, float], ...], said: str
) -> None:
    tab, body, footage = throw
    ways = [
        passage(tab, footage, name, *stretch) for name, stretch in zip("ab", stretches, strict=True)
    ]
    model = predicted(tab, body, footage, "free fall")
    legs_over(tab, model, "free fall", ways)
    legs = models(tab)[0]["legs"]
    assert said in legs[1]["problem"]
    assert models(tab)[0]["ghost"] is None


def test_what_is_missing_is_said_where_it_is(throw: Throw) -> None:
    tab, body, footage = throw
    tab.does("weigh_body", body=body, mass="", mass_unit="kg")
    model = predicted(tab, body, footage, "quadratic drag")
    (one,) = models(tab)
    assert one["problem"] == "The mass is missing; type it in What moves."
    tab.does("set_parameter", model=model, name="mass", typed="0.12", unit="kg")
    assert "The diameter is missing" in models(tab)[0]["problem"]
    tab.does("set_parameter", model=model, name="diameter", typed="7", unit="cm")
    assert models(tab)[0]["problem"] == ""
    tab.does("remove_marks", body=body, first=2, last=14)
    assert "2 marks there, too few to find x at the start" in models(tab)[0]["legs"][0]["problem"]
    assert models(tab)[0]["ghost"] is None


def test_too_few_marks_are_said_at_the_leg(throw: Throw) -> None:
    tab, body, footage = throw
    way = passage(tab, footage, "short", 3, 4)
    model = predicted(tab, body, footage, "constant acceleration")
    law = "constant acceleration"
    tab.does("change_leg", leg=legs_of(tab, model)[0], law=law, passage=way, goes_on="free")
    assert models(tab)[0]["legs"][0]["problem"].startswith("2 marks there, too few to find")
    tab.does("remove_passage", passage=way)
    assert models(tab)[0]["legs"][0]["problem"] == ""  # it goes over all marks then
    tab.does("undo")
    assert "too few" in models(tab)[0]["legs"][0]["problem"]


def test_without_a_known_length_there_is_no_model(throw: Throw) -> None:
    tab, body, footage = throw
    predicted(tab, body, footage, "free fall")
    length = tab.view()["ground"]["known_lengths"][0]["id"]
    tab.does("remove_known_length", known_length=length)
    assert "draw a known length at Ground" in models(tab)[0]["problem"]
    tab.does("undo")
    assert models(tab)[0]["problem"] == ""


def test_own_formulas_have_units_and_parameters(throw: Throw) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "formula")
    (leg,) = legs_of(tab, model)
    tab.does("set_formulas", leg=leg, along_x="0", along_y="-a")
    (one,) = models(tab)
    found = parameters(one["legs"][0])["a"]
    assert found["found"]
    assert value(found["text"]) == pytest.approx(G, abs=0.01)
    assert found["unit"] == "m/s²"
    tab.does("set_formulas", leg=leg, along_x="0", along_y="-3*y")
    assert "do not go together" in models(tab)[0]["legs"][0]["problem"]
    tab.does("set_quantity", symbol="w2", name="stiffness", typed="3.0", unit="1/s^2")
    tab.does("set_formulas", leg=leg, along_x="0", along_y="-w2*y")
    assert models(tab)[0]["legs"][0]["problem"] == ""
    with pytest.raises(Refused, match="__import__"):
        tab.does("set_formulas", leg=leg, along_x="__import__('os')", along_y="0")
    path = predicted(tab, body, footage, "formula of time", "path")
    (other,) = legs_of(tab, path)
    tab.does("set_formulas", leg=other, along_x="u*t", along_y="w*t - g*t^2/2")
    found = parameters(models(tab)[1]["legs"][0])
    assert value(found["u"]["text"]) == pytest.approx(1.2, abs=1e-3)
    assert value(found["w"]["text"]) == pytest.approx(3.0, abs=1e-3)


def test_theory_with_and_without_air_in_one_action(throw: Throw) -> None:
    tab, body, _footage = throw
    tab.does("change_body", body=body, name="ball", mass="120", mass_unit="g", size="7.0")
    tab.does("add_theory", body=body)
    view = tab.view()["models"]
    assert [one["name"] for one in view["models"]] == ["with air", "without air"]
    with_air, without = view["models"]
    assert {one["how"] for one in with_air["legs"][0]["parameters"]} == {'{"how": "begin"}'}
    assert "Terminal speed" in with_air["air"]
    assert "Reynolds number up to 1" in with_air["air"]
    assert without["air"] == ""
    assert any("The air" in said for said in view["compared"])
    drawn = {line["name"] for line in view["graph"]["lines"]}
    assert drawn == {"with air", "without air"}
    tab.does("change_model", model=without["id"], name="without air", shown=False)
    after = tab.view()["models"]
    assert {line["name"] for line in after["graph"]["lines"]} == {"with air"}
    assert after["compared"] == []
    tab.does("undo")
    tab.does("undo")
    assert models(tab) == []


def test_the_weather_says_how_dense_the_air_is(throw: Throw) -> None:
    tab, body, footage = throw
    tab.does("change_body", body=body, name="ball", mass="120", mass_unit="g", size="7.0")
    predicted(tab, body, footage, "quadratic drag")
    assert tab.view()["models"]["density"] == "1.20 ± 0.03 kg/m³"
    warm = {"temperature": "86 ± 1", "temperature_unit": "°F", "pressure": "990 ± 1"}
    tab.does("set_weather", **warm, damp="71.6", damp_is="dew point")
    view = tab.view()["models"]
    assert value(view["density"]) == pytest.approx(1.1265, abs=2e-3)
    assert view["by_weather"]
    density = next(one for one in view["models"][0]["common"] if one["name"] == "density")
    assert value(density["text"]) == pytest.approx(1.1265, abs=2e-3)
    with pytest.raises(Refused) as error:
        tab.does("set_weather", **warm | {"pressure": "99"}, damp="50")
    assert error.value.field == "pressure"
    tab.does("forget_weather")
    assert not tab.view()["models"]["by_weather"]


@pytest.mark.parametrize(
    ("said", "metres"),
    [
        ({"typed": "12 cm"}, 0.12),
        ({"typed": "60", "unit": "mm", "as_is": "radius"}, 0.12),
        ({"typed": "113.1", "unit": "cm^2", "as_is": "area"}, 0.12),
        ({"typed": "0.12 ± 0.01", "unit": "m"}, 0.12),
    ],
)
def test_a_size_is_typed_as_it_was_measured(
    throw: Throw, said: dict[str, str], metres: float
) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "quadratic drag")
    tab.does("set_parameter", model=model, name="diameter", **said)
    common = {one["name"]: one for one in models(tab)[0]["common"]}
    assert value(common["diameter"]["text"]) in (
        pytest.approx(100 * metres, rel=1e-3),
        pytest.approx(metres, rel=1e-3),
        pytest.approx(1000 * metres, rel=1e-3),
    )
    tab.does("set_parameter", model=model, name="drag_coefficient", shape="disc")
    common = {one["name"]: one for one in models(tab)[0]["common"]}
    assert common["drag_coefficient"]["text"] == "1.17 ± 0.06"


@pytest.mark.parametrize(
    ("name", "said", "why"),
    [
        ("mass", {"typed": "-3", "unit": "kg"}, "cannot be -3"),
        ("mass", {"typed": "3", "unit": "m"}, "mass is in kg, not in m"),
        ("mass", {"typed": "heavy", "unit": "kg"}, "not a number"),
        ("mass", {"how": "begin"}, "Only place and velocity"),
        ("mass", {"how": "fit"}, "Choose the fit"),
        ("drag_coefficient", {"shape": "whale"}, "no shape whale"),
        ("ax", {"typed": "3"}, "no parameter ax for all its legs"),
        ("mass", {"typed": ""}, "Nothing was typed"),
    ],
)
def test_parameters_that_cannot_be_are_refused(
    throw: Throw, name: str, said: dict[str, str], why: str
) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "quadratic drag")
    with pytest.raises(Refused, match=why):
        tab.does("set_parameter", model=model, name=name, **said)


def test_findings_from_models_have_a_budget(throw: Throw) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "constant acceleration")
    (leg,) = legs_of(tab, model)
    g = tab.makes(
        "add_finding", model=model, reading=f"{leg}.ay", name="g", as_size=True, accepted="9.81"
    )
    tab.does("add_finding", model=model, formula="-ay/g", name="share")
    found = {one["name"]: one for one in tab.view()["findings"]}
    assert value(found["g"]["text"]) == pytest.approx(G, abs=0.05)
    assert {part["source"] for part in found["g"]["budget"]} >= {"scatter about the model", "scale"}
    assert "Agrees" in found["g"]["comparison"]["verdict"] or found["g"]["comparison"]["percent"]
    assert value(found["share"]["text"]) == pytest.approx(1.0, abs=0.01)
    scale = next(part for part in found["g"]["budget"] if part["source"] == "scale")
    assert scale["share"] > 50
    tab.does("set_parameter", model=model, leg=leg, name="ay", typed="-9.8")
    reason = next(one for one in tab.view()["findings"] if one["id"] == g)["reason"]
    assert "does not give this number any more" in reason
    tab.does("remove_model", model=model)
    assert tab.view()["findings"] == []
    tab.does("undo")
    assert len(tab.view()["findings"]) == 2


def test_scale_and_clock_enter_a_found_parameter_as_they_enter_a_fit(throw: Throw) -> None:
    """The same acceleration by a fit and by a model has the same budget."""
    tab, body, footage = throw
    tab.does("set_clock", footage=footage, clock="capture", typed="25 ± 1")
    fit = tab.makes("add_fit", body=body, x="t", y="y", curve="quadratic")
    tab.does("add_finding", fit=fit, reading="acceleration", name="by fit")
    model = predicted(tab, body, footage, "constant acceleration")
    (leg,) = legs_of(tab, model)
    tab.does("add_finding", model=model, reading=f"{leg}.ay", name="by model")
    shares = {
        one["name"]: {part["source"]: part["text"] for part in one["budget"]}
        for one in tab.view()["findings"]
    }
    for source in ("scale", "clock"):
        by_fit, by_model = (printed(shares[name][source]) for name in ("by fit", "by model"))
        assert by_model == pytest.approx(by_fit, rel=0.02)


def test_what_was_assumed_enters_what_was_found(throw: Throw) -> None:
    """A coefficient of drag is as uncertain as the mass, and twice as much as the size."""
    tab, body, footage = throw
    known = {"mass": "2.0 ± 0.2", "mass_unit": "g", "size": "10.0 ± 0.0", "size_unit": "cm"}
    tab.does("change_body", body=body, name="ball", **known)
    model = predicted(tab, body, footage, "quadratic drag")
    tab.does("set_parameter", model=model, name="density", typed="1.2 ± 0", unit="kg/m^3")
    tab.does("set_parameter", model=model, name="drag_coefficient", typed="0.5", how="marks")
    tab.does("add_finding", model=model, reading="drag_coefficient", name="C")

    def of_mass() -> float:
        (finding,) = tab.view()["findings"]
        return printed(next(p["text"] for p in finding["budget"] if p["source"] == "m"))

    first = of_mass()
    tab.does("weigh_body", body=body, mass="2.0 ± 0.4", mass_unit="g")
    assert of_mass() == pytest.approx(2 * first, rel=0.05)


def test_a_trial_changes_nothing(throw: Throw) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "constant acceleration")
    (leg,) = legs_of(tab, model)
    before = tab.view()["models"]
    study = class_study(tab.study_id)
    assert study is not None
    wanted = SetParameter(model=model, leg=leg, name="ay", typed="-1")
    tried = try_parameter(study, wanted, "y")
    assert tried["model"]["ghost"] != before["models"][0]["ghost"]
    assert tried["graph"] is not None
    assert tried["graph"]["lines"][0]["points"] != before["graph"]["lines"][0]["points"]
    assert tab.view()["models"] == before
    with pytest.raises(Refused, match="not a number"):
        try_parameter(study, wanted.model_copy(update={"typed": "x"}), "y")
    with pytest.raises(Refused, match="not there any more"):
        try_parameter(study, wanted.model_copy(update={"model": 999}), "y")


def test_a_prediction_needs_no_film(tab: Tab) -> None:
    model = tab.makes("add_model", name="hail", law="free fall")
    (leg,) = legs_of(tab, model)
    tab.does("set_parameter", model=model, leg=leg, name="y", typed="30", unit="m")
    tab.does("change_leg", leg=leg, law="free fall", lasts="2")
    tab.does("add_leg", model=model, law="rest", lasts="0.5")
    view = tab.view()["models"]
    (one,) = view["models"]
    assert [leg["text"] for leg in one["legs"]] == ["0.000 … 2.000 s", "2.000 … 2.500 s"]
    end = view["graph"]["lines"][0]["points"][-1]
    assert end == pytest.approx([2.0, 30 - 2 * G], rel=1e-4)
    assert view["graph"]["y_title"] == "position y (m)"
    study = class_study(tab.study_id)
    assert study is not None
    rows = list(csv.reader(io.StringIO(as_csv(study, None).decode("utf-8-sig"))))
    assert rows[0][:4] == ["model", "leg", "t (s)", "x (m)"]
    assert float(rows[-1][4]) == pytest.approx(30 - 2 * G, rel=1e-6)
    with pytest.raises(Refused) as error:
        tab.does("change_leg", leg=leg, law="free fall", lasts="0")
    assert error.value.field == "lasts"


def test_what_a_sheet_measured_of_the_same_stands_beside_a_prediction(tab: Tab) -> None:
    model = tab.makes("add_model", name="hail", law="free fall")
    sheet = tab.makes("add_sheet", name="photogate")
    t = tab.makes("add_column", sheet=sheet, name="time", symbol="t", unit="ms")
    y = tab.makes("add_column", sheet=sheet, name="depth", symbol="y", unit="cm")
    tab.makes("add_column", sheet=sheet, name="load", symbol="F", unit="N")
    tab.does("set_cells", sheet=sheet, row=1, column=t, cells=[["0", "0"], ["500", "-122"]])
    sketch = {"x": f"c{t}", "y": f"c{y}", "line": [[0.0, 0.0], [400.0, -100.0]]}
    tab.does("set_graph", sheet=sheet, x=f"c{t}", ys=[f"c{y}"], sketch=sketch)
    graph = tab.view()["models"]["graph"]
    (series,) = graph["series"]
    assert [point[1:3] for point in series["points"]] == [
        pytest.approx([0.0, 0.0]),
        pytest.approx([0.5, -1.22]),
    ]
    assert graph["lines"][0]["name"] == "hail"
    assert graph["sketch"] == [pytest.approx([0.0, 0.0]), pytest.approx([0.4, -1.0])]
    assert models(tab)[0]["id"] == model


def test_models_as_a_table_hold_the_marks_beside_them(throw: Throw) -> None:
    tab, body, footage = throw
    study = class_study(tab.study_id)
    assert study is not None
    with pytest.raises(NotThere):
        as_csv(study, None)
    predicted(tab, body, footage, "free fall", "fall, by theory")
    rows = list(csv.DictReader(io.StringIO(as_csv(study, str(footage)).decode("utf-8-sig"))))
    assert [int(row["frame"]) for row in rows] == list(range(15))
    for row in rows:
        assert row["model"] == "fall, by theory"
        assert float(row["y (m)"]) == pytest.approx(float(row["mark y"]), abs=1e-4)
    table = tab.view()["models"]["table"]
    assert [row["frame"] for row in table["rows"]] == list(range(15))
    assert float(table["rows"][7]["cells"][-1]) == pytest.approx(0, abs=1e-3)


def test_lines_lie_on_graphs_of_what_is_predicted_only(throw: Throw) -> None:
    tab, body, footage = throw
    predicted(tab, body, footage, "free fall")
    tab.does("set_graph", footage=footage, x="t", ys=["vy"])
    line = tab.view()["graphs"][0]["lines"][0]
    assert line["points"][0][1] == pytest.approx(3.0, abs=1e-3)
    (one,) = models(tab)
    tab.does("change_model", model=one["id"], name=one["name"], shown=False)
    assert tab.view()["graphs"][0]["lines"] == []  # it is switched off
    tab.does("undo")
    tab.does("set_graph", footage=footage, x="t", ys=["ay"])
    assert tab.view()["graphs"][0]["lines"] == []
    study = class_study(tab.study_id)
    assert study is not None
    bare = study_view(study, tab.person, shown=Shown(("lane:x",)))
    assert bare["models"] is None


def test_students_say_themselves_how_models_compare_where_the_lab_wants_that(
    throw: Throw, world: World
) -> None:
    tab, body, _footage = throw
    tab.does("change_body", body=body, name="ball", mass="120", mass_unit="g", size="7.0")
    tab.does("add_theory", body=body)
    assert tab.view()["models"]["compared"]
    study = class_study(tab.study_id)
    assert study is not None
    change_rules(study, world.teacher, Rules(tells_verdicts=False))
    assert tab.view()["models"]["compared"] == []


def test_a_copied_study_takes_parameters_from_its_own_fits(throw: Throw) -> None:
    tab, body, footage = throw
    fit = tab.makes("add_fit", body=body, x="t", y="y", curve="quadratic")
    model = predicted(tab, body, footage, "constant acceleration")
    (leg,) = legs_of(tab, model)
    tab.does(
        "set_parameter",
        **{"model": model, "leg": leg, "name": "ay", "how": "fit"},
        **{"fit": fit, "reading": "acceleration"},
    )
    study = class_study(tab.study_id)
    assert study is not None
    other = class_study(duplicate(study, tab.person))
    assert other is not None
    copied = study_view(other, tab.person)["models"]
    assert copied is not None
    assert copied["models"][0]["legs"][0]["problem"] == ""
    said = {one["name"]: one["text"] for one in copied["models"][0]["legs"][0]["parameters"]}
    mine = {one["name"]: one["text"] for one in models(tab)[0]["legs"][0]["parameters"]}
    assert said == mine


def test_legs_are_removed_and_what_is_first_begins_freely(throw: Throw) -> None:
    tab, body, footage = throw
    ways = [passage(tab, footage, "a", 0, 7), passage(tab, footage, "b", 7.5, 14)]
    model = predicted(tab, body, footage, "free fall")
    legs = legs_over(tab, model, "free fall", ways)
    tab.does("remove_leg", leg=legs[0])
    (one,) = models(tab)
    assert one["legs"][0]["goes_on"] == "free"
    assert set(parameters(one["legs"][0])) >= {"x", "y", "vx", "vy"}
    assert one["ghost"]["frames"] == list(range(8, 15))
    tab.does("undo")
    assert len(models(tab)[0]["legs"]) == 2


def test_a_copied_model_is_changed_by_itself(throw: Throw) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "free fall", "with air")
    tab.does("copy_model", model=model)
    first, second = models(tab)
    assert second["name"] == "with air, copy"
    tab.does("change_leg", leg=second["legs"][0]["id"], law="constant velocity", goes_on="free")
    assert [one["legs"][0]["law"] for one in models(tab)] == ["free fall", "constant velocity"]
    said = tab.view()["models"]["compared"]
    assert said == [
        f"“with air” lies closer to the marks than “with air, copy”: {first['rms']} against "
        f"{models(tab)[1]['rms']}."
    ]


def test_over_an_unsteady_picture_a_model_goes_with_it(throw: Throw) -> None:
    """The camera drifts by a pixel a frame: the ball is predicted where it is seen."""
    tab, body, footage = throw
    drift = [[n, thrown(n)[0] + n, thrown(n)[1]] for n in range(15)]
    tab.does("remove_marks", body=body, first=0, last=14)
    tab.does("place_marks", body=body, marks=drift)
    spot = tab.makes("add_body", footage=footage, name="gatepost", background=True)
    tab.does("place_marks", body=spot, marks=[[n, 250.0 + n, 30.0] for n in range(15)])
    predicted(tab, body, footage, "free fall")
    (one,) = models(tab)
    assert value(parameters(one["legs"][0])["vx"]["text"]) == pytest.approx(1.2, abs=1e-3)
    seen = {mark[0]: mark[1:3] for mark in tab.view()["bodies"][0]["marks"]}
    for frame, x, y in zip(*(one["ghost"][key] for key in ("frames", "x", "y")), strict=True):
        assert (x, y) == pytest.approx(seen[frame], abs=0.02)
