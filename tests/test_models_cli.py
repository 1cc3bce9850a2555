"""Models and the density of air, as a notebook asks for them."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from footing import models_cli
from footing.core.errors import Refused
from tests.commands import footing

G = 9.81
FALL = {"law": "free fall"}
LANDS = float(np.sqrt(2 * 1.5 / G))


def _write(folder: Path, asked: dict[str, Any], marks: np.ndarray | None = None) -> list[Any]:
    """The arguments of the command, with the specification and the marks written down."""
    file = folder / "spec.json"
    file.write_text(json.dumps({"g": G, **asked}))
    if marks is None:
        return [file, None]
    data = folder / "marks.csv"
    rows = [",".join(str(float(value)) for value in row) for row in marks]
    data.write_text("\n".join(["t,x,y", *rows]))
    return [file, data]


def _found(
    folder: Path,
    capsys: pytest.CaptureFixture[str],
    asked: dict[str, Any],
    marks: np.ndarray | None = None,
) -> dict[str, Any]:
    models_cli.model(*_write(folder, asked, marks), as_json=True)
    printed: dict[str, Any] = json.loads(capsys.readouterr().out)
    return printed


def _refusal(folder: Path, asked: dict[str, Any], marks: np.ndarray | None = None) -> str:
    with pytest.raises(Refused) as error:
        models_cli.model(*_write(folder, asked, marks), as_json=True)
    return str(error.value)


def _bounced() -> np.ndarray:
    """Marks of a ball that falls 1.5 m and comes back with 0.8 of its speed."""
    rng = np.random.default_rng(1)
    t = np.arange(0, 1.1, 1 / 60)
    up = 0.8 * G * LANDS * (t - LANDS) - G * (t - LANDS) ** 2 / 2
    y = np.where(t <= LANDS, 1.5 - G * t**2 / 2, up)
    places = np.stack([1.2 * t, y], axis=1) + rng.normal(scale=0.002, size=(len(t), 2))
    return np.column_stack([t, places])


def test_air_by_its_dew_point_and_its_humidity() -> None:
    asked = ("air", "--temperature", "20", "--pressure", "101325")
    found = json.loads(footing(*asked, "--dew-point", "9.27", "--json").stdout)
    assert found == {"density": pytest.approx(1.1993, abs=5e-5), "unit": "kg/m^3"}
    damp = json.loads(footing(*asked, "--relative-humidity", "50", "--json").stdout)
    assert damp["density"] == pytest.approx(1.1992, abs=2e-4)


def test_a_prediction_without_marks(tmp_path: Path) -> None:
    asked = {
        "start": {"t": 1.0, "y": 2.0, "vx": 1.0},
        "legs": [{**FALL, "until": 1.5}, {"law": "rest", "until": 2.0}],
        "times": [1.0, 1.5, 2.0],
    }
    file, _ = _write(tmp_path, asked)
    found = json.loads(footing("model", file, "--json").stdout)
    assert found["converged"] is True
    assert [leg["rms"] for leg in found["legs"]] == [None, None]
    ends = {"t": 1.5, "x": 0.5, "y": 2 - G / 8, "vx": 1.0, "vy": -G / 2, "leg": 0}
    assert found["points"][1] == pytest.approx(ends)
    rests = {"t": 2.0, "x": 0.5, "y": 2 - G / 8, "vx": 0.0, "vy": 0.0, "leg": 1}
    assert found["points"][2] == pytest.approx(rests)
    assert found["legs"][0]["parameters"]["vx"] == {"value": 1.0, "stderr": None, "fitted": False}


def test_an_impact_as_it_is_given(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    impact = {"law": "impact", "restitution": 0.6, "friction": 0.1, "normal": [0, 1]}
    asked = {
        "start": {"y": 1.5, "vx": 2.0},
        "legs": [{**FALL, "until": LANDS}, impact, {**FALL, "until": LANDS + 0.1}],
        "times": [LANDS, LANDS + 0.1],
    }
    hits, after = _found(tmp_path, capsys, asked)["points"]
    assert after["vx"] == pytest.approx(2.0 - 0.1 * 1.6 * -hits["vy"])
    assert after["vy"] == pytest.approx(-0.6 * hits["vy"] - G * 0.1)


def test_the_drag_coefficient_of_a_fall(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    asked: dict[str, Any] = {
        "body": {"mass": 0.018, "diameter": 0.12, "drag_coefficient": 0.6},
        "medium": {"temperature": 20, "pressure": 101325, "dew_point": 9.27},
        "legs": [{"law": "quadratic drag"}],
        "times": list(np.arange(0, 1.0, 0.02)),
    }
    points = _found(tmp_path, capsys, asked)["points"]
    rng = np.random.default_rng(2)
    marks = np.array([[point["t"], point["x"], point["y"]] for point in points])
    marks[:, 1:] += rng.normal(scale=0.003, size=(len(marks), 2))
    del asked["body"]["drag_coefficient"]
    asked["legs"][0]["fit"] = ["drag_coefficient", "vy"]
    found = _found(tmp_path, capsys, asked, marks)
    parameters = found["legs"][0]["parameters"]
    for name, truth in (("drag_coefficient", 0.6), ("vy", 0.0)):
        one = parameters[name]
        assert one["fitted"]
        assert abs(one["value"] - truth) < 3 * one["stderr"]
    assert found["legs"][0]["rms"] == pytest.approx(0.003 * np.sqrt(2), rel=0.2)
    assert parameters["density"]["value"] == pytest.approx(1.1993, abs=5e-5)


def test_a_bounce_with_its_moment_and_restitution(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    asked = {
        "start": {"y": 1.5, "vx": 1.0},
        "legs": [
            {**FALL, "until": 0.5, "fit": ["vx", "g", "until"]},
            {"law": "impact", "restitution": 0.6, "normal": [0, 2], "fit": ["restitution"]},
            FALL,
        ],
    }
    found = _found(tmp_path, capsys, asked, _bounced())
    first, impact, last = found["legs"]
    truths = ((first, "vx", 1.2), (first, "g", G), (first, "until", LANDS))
    for leg, name, truth in (*truths, (impact, "restitution", 0.8)):
        one = leg["parameters"][name]
        assert abs(one["value"] - truth) < 3.5 * one["stderr"], name
    assert impact["law"] == "impact"
    assert impact["from"] == impact["to"] == first["to"] == last["from"]
    assert impact["rms"] is None
    assert {point["leg"] for point in found["points"]} == {0, 2}


def test_a_fall_into_water(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    body = {"mass": 0.012, "diameter": 0.02}
    air = {"law": "quadratic drag", "until": 0.25, "parameters": {"drag_coefficient": 0.47}}
    water: dict[str, Any] = {"law": "buoyancy and drag", "medium": {"density": 998}}
    asked: dict[str, Any] = {
        "body": {**body, "drag_coefficient": 0.5},
        "medium": {"density": 1.2},
        "legs": [air, water],
        "times": list(np.arange(0, 0.7, 0.01)),
    }
    points = _found(tmp_path, capsys, asked)["points"]
    volume = np.pi / 6 * 0.02**3
    net, pull = (0.012 - 998 * volume) * G, 998 * 0.5 * np.pi / 4 * 0.02**2
    assert -points[-1]["vy"] == pytest.approx(np.sqrt(2 * net / pull), rel=0.02)
    rng = np.random.default_rng(3)
    marks = np.array([[point["t"], point["x"], point["y"]] for point in points])
    marks[:, 1:] += rng.normal(scale=0.001, size=(len(marks), 2))
    water["fit"] = ["drag_coefficient"]
    found = _found(tmp_path, capsys, {**asked, "body": body}, marks)
    one = found["legs"][1]["parameters"]["drag_coefficient"]
    assert abs(one["value"] - 0.5) < 3 * one["stderr"]
    assert found["legs"][0]["parameters"]["drag_coefficient"]["fitted"] is False


def test_a_motion_in_formulas_with_a_parameter_of_its_own(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    t = np.arange(0, 2, 0.02)
    marks = np.column_stack([t, 0.4 * np.cos(3 * t), np.zeros_like(t)])
    law = {"law": "formula", "parameters": {"ax": "-k*x", "ay": 0, "k": 8}, "fit": ["k"]}
    found = _found(tmp_path, capsys, {"start": {"x": 0.4}, "legs": [law]}, marks)
    assert found["legs"][0]["parameters"]["k"]["value"] == pytest.approx(9, rel=1e-6)


LEG = {"law": "free fall", "until": 1.0}
DRAG = {"law": "quadratic drag", "until": 1.0}


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ({"legs": [DRAG]}, "“mass” is needed"),
        ({"legs": [{"law": "warp", "until": 1}]}, "there is no law “warp”"),
        ({"legs": [{"law": "rest"}]}, "needs an “until”"),
        ({"legs": [{"law": "rest"}, LEG]}, "only the last leg may go without"),
        ({"legs": [LEG, {**LEG, "until": 0.5}]}, "legs.1: it would end at 0.5 s, but it begins at"),
        ({"legs": [LEG], "times": [1.5]}, "1.5 s lies outside of the motion"),
        ({"legs": [{**LEG, "parameters": {"gg": 3}}]}, "it has no parameter “gg”"),
        ({"legs": [{**LEG, "fit": ["gg"]}]}, "free fall has no parameter “gg”"),
        ({"legs": [{**LEG, "fit": ["until"]}]}, "the end of the last leg is not looked for"),
        ({"legs": [{**LEG, "fit": ["g"]}]}, "marks are needed: --data"),
        ({"legs": [{**LEG, "parameters": {"g": "big"}}]}, "“big” is no number"),
        ({"legs": [{"law": "impact"}]}, "an impact alone is no motion"),
        ({"up": [0, 0], "legs": [LEG]}, "up: it has no direction"),
        ({"body": {"mass": -1}, "legs": [LEG]}, "body.mass"),
        ({"medium": {"temperature": 20}, "legs": [LEG]}, "needs temperature and pressure"),
        (
            {"medium": {"temperature": 20, "pressure": 101325}, "legs": [LEG]},
            "either a dew point or a relative humidity",
        ),
        ({"legs": [LEG, {"law": "impact", "normal": [0, 0]}, {**LEG, "until": 2}]}, "legs.1.norm"),
        ({"legs": [{"law": "formula", "until": 1, "parameters": {"ax": "1"}}]}, "“ay” is missing"),
        (
            {"legs": [{"law": "formula", "until": 1, "parameters": {"ax": "open(1)", "ay": "0"}}]},
            "legs.0 (formula): ax = open(1)",
        ),
        (
            {
                "legs": [
                    {"law": "formula", "until": 1, "parameters": {"ax": "1/(t-0.5)", "ay": "0"}}
                ]
            },
            "legs.0 (formula): at t = 0.5",
        ),
        (
            {"legs": [{"law": "formula", "until": 9, "parameters": {"ax": "1+50*x^2", "ay": "0"}}]},
            "legs.0 (formula): at t = ",
        ),
    ],
)
def test_bad_input_is_said_where_it_is(tmp_path: Path, asked: dict[str, Any], said: str) -> None:
    assert said in _refusal(tmp_path, asked)


def test_too_few_marks_and_what_they_cannot_tell_apart(tmp_path: Path) -> None:
    marks = _bounced()
    asked: dict[str, Any] = {"legs": [{**LEG, "fit": ["g", "vy"]}]}
    assert "1 mark there, too few to find g and vy" in _refusal(tmp_path, asked, marks[:1])
    drag = {**DRAG, "fit": ["drag_coefficient", "diameter"]}
    asked = {"body": {"mass": 0.1}, "medium": {"density": 1.2}, "legs": [drag]}
    assert "cannot tell" in _refusal(tmp_path, asked, marks[:30])
    twice = np.concatenate([marks[:4], marks[3:4]])
    assert "two marks at" in _refusal(tmp_path, {"legs": [LEG]}, twice)


def test_it_can_be_read_without_json(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file, data = _write(tmp_path, {"legs": [{**FALL, "fit": ["g", "y", "vx"]}]}, _bounced()[:30])
    models_cli.model(file, data, as_json=False)
    lines = capsys.readouterr().out.splitlines()
    assert lines[0].startswith("free fall  0 … ")
    assert any(line.startswith("  g  9.8") and "from the marks" in line for line in lines)
    assert any(line.startswith("  rms") for line in lines)
