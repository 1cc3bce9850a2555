"""NIST Statistical Reference Datasets for regression with one predictor, from the second start."""

import json
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from typer.testing import CliRunner

from footing.cli import app

REFERENCE = json.loads((Path(__file__).parents[1] / "reference" / "nist.json").read_text())
REPORTED_ONLY = {"Filip", "Wampler4", "Wampler5"}
ROUND_OFF = {"Lanczos1", "Wampler1", "Wampler2"}  # their residuals are


@cache
def fitted(name: str, folder: Path) -> dict[str, Any]:
    """What ``./footing fit`` answers for a problem."""
    problem = REFERENCE[name]
    table = folder / f"{name}.csv"
    rows = zip(problem["x"], problem["y"], strict=True)
    table.write_text("x,y\n" + "\n".join(f"{x!r},{y!r}" for x, y in rows))
    start = ",".join(f"{key}={value!r}" for key, value in (problem["start"] or {}).items())
    arguments = ["fit", str(table), "--x", "x", "--y", "y", "--curve", problem["formula"]]
    done = CliRunner().invoke(app, [*arguments, "--start", start, "--json"])
    assert done.exit_code == 0, done.output
    found: dict[str, Any] = json.loads(done.output)
    return found


def digits(found: float, certified: float) -> float:
    """Correct digits: −log₁₀ of the relative error."""
    error = abs(found - certified) / (abs(certified) or 1.0)
    return 15.0 if error < 1e-15 else float(-np.log10(error))


def correct(name: str, folder: Path, what: str) -> float:
    found = fitted(name, folder)["parameters"]
    field = {"values": "value", "errors": "stderr"}[what]
    certified = REFERENCE[name][what]
    return min(digits(found[key][field], certified[key]) for key in certified)


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("nist")


def test_all_problems_with_one_predictor_are_here() -> None:
    assert len(REFERENCE) == 36


@pytest.mark.parametrize("name", sorted(set(REFERENCE) - REPORTED_ONLY))
def test_parameters_have_the_digits_asked_for(name: str, folder: Path) -> None:
    needed = 9 if REFERENCE[name]["start"] is None else 6
    assert correct(name, folder, "values") >= needed


@pytest.mark.parametrize("name", sorted(set(REFERENCE) - ROUND_OFF))
def test_standard_errors_have_four_digits(name: str, folder: Path) -> None:
    assert correct(name, folder, "errors") >= 4


@pytest.mark.parametrize("name", sorted(REFERENCE))
def test_sum_of_squares(name: str, folder: Path) -> None:
    found, certified = fitted(name, folder), REFERENCE[name]["rss"]
    assert found["converged"]
    size = float(np.sum(np.square(REFERENCE[name]["y"])))
    assert found["rss"] == pytest.approx(certified, rel=1e-6, abs=1e-18 * size)
