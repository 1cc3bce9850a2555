"""Ledgers from files, as a notebook asks for them."""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from footing import ledgers_cli
from footing.core.errors import Refused
from tests.commands import footing, refused
from tests.core.ledgers.collisions import made, marks

_TIMES = np.arange(-0.6, 0.6, 1 / 30) + 0.01


def _write(folder: Path, name: str, times: np.ndarray, places: np.ndarray) -> None:
    lines = [f"{t},{x},{y}" for t, (x, y) in zip(times, places, strict=True)]
    (folder / name).write_text("\n".join(["t,x,y", *lines]))


@pytest.fixture
def collision(tmp_path: Path) -> dict[str, Any]:
    """A specification of a collision, with its marks beside it."""
    rng = np.random.default_rng(8)
    of = made(rng)
    for body, name in enumerate(("a", "b")):
        places = marks(of, body, _TIMES, rng, scatter=0.0005)
        _write(tmp_path, f"{name}.csv", _TIMES, places)
    return {
        "kind": "momentum",
        "bodies": [
            {"name": name, "mass": float(mass), "mass_stderr": 0.001, "marks": f"{name}.csv"}
            for name, mass in zip("ab", of.masses, strict=True)
        ],
        "before": [-0.6, -0.01],
        "after": [0.0, 0.6],
        "impact": 0.0,
        "scale_relative_stderr": 0.003,
    }


def _spec(folder: Path, asked: dict[str, Any]) -> Path:
    file = folder / "spec.json"
    file.write_text(json.dumps(asked))
    return file


def _refusal(folder: Path, asked: dict[str, Any]) -> str:
    with pytest.raises(Refused) as error:
        ledgers_cli.ledger(_spec(folder, asked), as_json=True)
    return str(error.value)


def test_a_collision_in_json(tmp_path: Path, collision: dict[str, Any]) -> None:
    found = json.loads(footing("ledger", _spec(tmp_path, collision), "--json").stdout)
    of = made(np.random.default_rng(8))
    assert [body["name"] for body in found["bodies"]] == ["a", "b"]
    for k, body in enumerate(found["bodies"]):
        px = body["after"]["px"]
        assert abs(px["value"] - of.masses[k] * of.after[k, 0]) < 4 * px["stderr"]
        change = body["after"]["py"]["value"] - body["before"]["py"]["value"]
        assert body["impulse"]["y"]["value"] == pytest.approx(change)
    assert set(found["total"]) == {"before", "after", "change"}
    assert found["conserved"] == "yes"
    assert found["restitution"]["value"] == pytest.approx(0.8, abs=0.02)
    assert found["kinetic_kept"]["value"] == pytest.approx(of.kept, abs=0.02)
    assert found["kind"] == "partly elastic"


def test_a_body_seen_on_one_side_is_null_on_the_other(
    tmp_path: Path, collision: dict[str, Any], capsys: pytest.CaptureFixture[str]
) -> None:
    late = _TIMES[_TIMES > 0]
    _write(tmp_path, "b.csv", late, np.outer(late, (0.4, 0.0)))
    ledgers_cli.ledger(_spec(tmp_path, collision), as_json=True)
    found = json.loads(capsys.readouterr().out)
    assert found["bodies"][1]["before"] is None
    assert found["bodies"][1]["impulse"] is None
    assert found["restitution"] is None
    assert found["conserved"] == "cannot tell"


def test_a_throw_in_json(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    rng = np.random.default_rng(9)
    times = np.arange(36) / 30
    places = np.stack([2.0 * times, 1.5 + 6.5 * times - 9.81 * times**2 / 2], axis=1)
    _write(tmp_path, "ball.csv", times, places + rng.normal(scale=0.002, size=(36, 2)))
    asked = {
        "kind": "energy",
        "bodies": [{"name": "ball", "mass": 0.12, "mass_stderr": 0.001, "marks": "ball.csv"}],
        "g": 9.81,
        "up": [0, 2],
        "zero_height": 0.5,
        "spring": None,
        "passage": [0.1, 1.0],
        "scale_relative_stderr": 0.003,
    }
    ledgers_cli.ledger(_spec(tmp_path, asked), as_json=True)
    found = json.loads(capsys.readouterr().out)
    whole = 0.06 * (4 + 6.5**2) + 0.12 * 9.81 * 1.0
    off = [abs(row["total"]["value"] - whole) / row["total"]["stderr"] for row in found["rows"]]
    assert len(found["rows"]) == 36
    assert np.mean(np.array(off) < 1.96) > 0.8
    assert abs(found["change"]["value"]) < 3 * found["change"]["stderr"]
    assert found["relative_change"]["stderr"] < 0.1
    for row in found["rows"]:
        parts = row["kinetic"]["value"] + row["potential"]["value"]
        assert row["total"]["value"] == pytest.approx(parts)


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"before": [0.1, 0.3]}, "“before” ends at 0.3 s, after “after” has begun (0 s)"),
        ({"after": [0.6, 0.0]}, "“after” would begin at 0.6 s and end at 0 s"),
        ({"impact": -0.3}, "The impact at -0.3 s does not lie between"),
        ({"after": [0.0, 0.06]}, "a has 2 marks in “after”; a line needs 3"),
        ({"after": [7, 8]}, "No body has a mark in “after”"),
        ({"scale_relative_stderr": -1}, "scale_relative_stderr: input should be greater than"),
        ({"colour": 1}, "colour: extra inputs are not permitted (it is 1)"),
        ({"kind": "heat"}, "spec.json"),
    ],
)
def test_a_wrong_specification_is_refused(
    tmp_path: Path, collision: dict[str, Any], change: dict[str, Any], said: str
) -> None:
    message = _refusal(tmp_path, collision | change)
    assert said in message
    assert "\n" not in message


@pytest.mark.parametrize(
    ("mass", "said"),
    [
        (0, "mass: input should be greater than 0 (it is 0)"),
        (-1, "mass: input should be greater than 0 (it is -1)"),
        ("much", "mass: input should be a valid number"),
    ],
)
def test_a_mass_that_cannot_be_is_refused(
    tmp_path: Path, collision: dict[str, Any], mass: object, said: str
) -> None:
    collision["bodies"][1]["mass"] = mass
    assert said in _refusal(tmp_path, collision)


def test_a_mass_that_is_missing_is_refused(tmp_path: Path, collision: dict[str, Any]) -> None:
    del collision["bodies"][0]["mass"]
    assert "bodies.0.mass: field required" in _refusal(tmp_path, collision)


def test_refusals_are_one_line_with_status_2(tmp_path: Path, collision: dict[str, Any]) -> None:
    collision["bodies"][0]["marks"] = "nowhere.csv"
    assert "nowhere.csv" in refused("ledger", _spec(tmp_path, collision), "--json")


def test_two_marks_at_one_time_are_refused(tmp_path: Path, collision: dict[str, Any]) -> None:
    times = np.array([-0.5, -0.4, -0.4, -0.3, 0.1, 0.2, 0.3])
    _write(tmp_path, "a.csv", times, np.zeros((7, 2)))
    assert "a.csv has two marks at -0.4 s" in _refusal(tmp_path, collision)
