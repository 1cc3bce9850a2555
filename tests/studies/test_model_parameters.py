"""Parameters of predicted motions: typed, taken from fits, found; with what uncertainty."""

import pytest

from footing.core.errors import Refused
from footing.store.access import class_study
from footing.studies.edits.parameters import SetParameter
from footing.studies.queries.model_trial import try_parameter
from tests.studies.conftest import legs_of
from tests.studies.modelling import (
    G,
    Throw,
    models,
    parameters,
    passage,
    predicted,
    printed,
)
from tests.studies.motions import thrown, value


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
