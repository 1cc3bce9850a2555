"""What the columns of a motion rest on: their slopes by the marks, against small changes."""

from typing import Any

import numpy as np
import pytest

from footing.core.formulas.computing import compute
from footing.core.formulas.parsing import parse
from footing.core.measured import MeasuredSymbols
from footing.core.motion import Motion
from footing.core.quantities import QUANTITIES
from footing.core.turning import turning

UP = (-0.6, 0.8)
TIMES = np.array([0.0, 0.03, 0.08, 0.10, 0.15, 0.19, 0.22, 0.28])
PATH = np.stack([3 * TIMES + 2 * TIMES**2, 0.4 - TIMES + 9 * TIMES**2], axis=1)
ANGLES = 0.3 + 2 * TIMES[2:] - 5 * TIMES[2:] ** 2
U = 0.002
STEP = 1e-6
MOVED = [key for key, quantity in QUANTITIES.items() if quantity.order >= 0]


def motion(path: Any = PATH, angles: Any = ANGLES) -> Motion:
    arms = np.stack([np.cos(angles), np.sin(angles)], axis=1)
    return Motion(
        TIMES,
        path,
        heights=path @ np.array(UP),
        up=UP,
        position_uncertainty=U,
        turning=turning(np.arange(2, 8), arms, position_uncertainty=U),
    )


def by_small_changes(key: Any, coordinate: str) -> np.ndarray:
    """The slopes (m, n) of a column by a coordinate of each mark, from changed marks."""
    before = motion().column(key)
    slopes = np.zeros((len(before.values), len(TIMES)))
    for mark in range(len(TIMES)):
        path, angles = PATH.copy(), ANGLES.copy()
        if coordinate != "th":
            path[mark, "xy".index(coordinate)] += STEP
        elif mark >= 2:
            angles[mark - 2] += STEP
        slopes[:, mark] = (motion(path, angles).column(key).values - before.values) / STEP
    return slopes


@pytest.mark.parametrize("key", MOVED)
def test_every_column_knows_how_it_changes_with_each_mark(key: Any) -> None:
    weights = motion().weights(key)
    # sizes change along a direction that is taken from a wide window, which differs a little
    close = 0.05 if QUANTITIES[key].component in ("magnitude", "path") else 1e-4
    coordinates = {"th"} if QUANTITIES[key].component == "angle" else {"x", "y"}
    assert set(weights) <= coordinates
    for coordinate in coordinates:
        slopes = by_small_changes(key, coordinate)
        found = weights[coordinate].toarray() if coordinate in weights else np.zeros_like(slopes)  # type: ignore[index]
        assert found == pytest.approx(
            slopes, rel=close, abs=max(1e-3, close * np.abs(slopes).max())
        )


@pytest.mark.parametrize("key", MOVED)
def test_uncertainties_are_those_of_the_slopes(key: Any) -> None:
    made = motion()
    column, weights = made.column(key), made.weights(key)
    u = made.turning.uncertainty if "th" in weights and made.turning else U
    parts = [*weights.values(), *([made.across(key)] if made.across(key) is not None else [])]
    squares = sum(part.multiply(part).sum(axis=1) for part in parts)
    assert column.uncertainties == pytest.approx(u * np.sqrt(np.asarray(squares)), rel=1e-6)
    covariance = made.covariance(key)
    if covariance is not None:
        full = sum((part @ part.T).toarray() for part in parts)
        assert covariance.toarray() == pytest.approx(full, rel=1e-6, abs=1e-9 * np.abs(full).max())
        assert covariance.variances * u**2 == pytest.approx(column.uncertainties**2, rel=1e-6)


SHAPES = np.array([[[1 + 0.2 * k, 0.3], [-0.4, 0.5 + 0.1 * k]] for k in range(len(TIMES))])


def test_errors_that_are_not_round_carry_over_as_they_lie() -> None:
    """Against the scatter of columns of marks that are drawn with such errors."""
    rng = np.random.default_rng(12)
    given = {"up": UP, "position_uncertainty": U, "error_shapes": SHAPES}
    keys = ("x", "y", "h", "vx", "ay", "v", "phi", "s")
    drawn: dict[Any, list[np.ndarray]] = {key: [] for key in keys}
    for _ in range(400):
        errors = np.einsum("nij,nj->ni", SHAPES, rng.normal(scale=U, size=PATH.shape))
        path = PATH + errors
        made = Motion(TIMES, path, heights=path @ np.array(UP), **given)  # type: ignore[arg-type]
        for key in keys:
            drawn[key].append(made.column(key).values)
    known = Motion(TIMES, PATH, heights=PATH @ np.array(UP), **given)  # type: ignore[arg-type]
    for key, values in drawn.items():
        said = known.column(key).uncertainties
        moved = said > 0
        # what is stated for sizes holds a little more than the first order
        close = 0.3 if key in ("v", "s") else 0.18
        assert np.std(values, axis=0)[moved] == pytest.approx(said[moved], rel=close), key
        covariance = known.covariance(key)
        if covariance is not None:
            assert covariance.variances * U**2 == pytest.approx(said**2, rel=1e-6, abs=1e-18)


def test_formulas_know_that_errors_of_x_and_y_belong_together() -> None:
    """x and y of one mark err together where its errors are not round: of x + y all is counted."""
    path = PATH
    known = Motion(TIMES, path, heights=path[:, 1], position_uncertainty=U, error_shapes=SHAPES)
    symbols = MeasuredSymbols(known, ("t", "x", "y", "h"), length="m")
    found = compute(parse("x + y"), symbols, rows=len(TIMES))
    along = SHAPES.sum(axis=1)
    assert found.uncertainties == pytest.approx(U * np.hypot(*along.T))
    high = compute(parse("h - y"), symbols, rows=len(TIMES))
    assert high.uncertainties == pytest.approx(np.zeros(len(TIMES)), abs=1e-12)


def test_a_body_at_rest_has_no_direction_and_a_speed_within_its_uncertainty_of_zero() -> None:
    rng = np.random.default_rng(2)
    path = 1 + rng.normal(scale=U, size=(30, 2))
    still = Motion(np.arange(30) / 30, path, heights=path[:, 1], position_uncertainty=U)
    speed = still.column("v")
    measured = np.hypot(still.column("vx").values, still.column("vy").values)
    assert speed.values.mean() < 0.3 * measured.mean()
    assert np.all(speed.values < 3 * speed.uncertainties)
    resting = Motion(TIMES, np.ones((8, 2)), heights=np.ones(8), position_uncertainty=U)
    assert len(resting.column("phi").values) == 0
    assert resting.weights("phi")["x"].shape == (0, 8)


@pytest.mark.parametrize("marks", [0, 1, 2])
def test_very_few_marks_have_what_they_can_have(marks: int) -> None:
    few = Motion(TIMES[:marks], PATH[:marks], heights=PATH[:marks, 1], position_uncertainty=U)
    for key in MOVED:
        column = few.column(key)  # type: ignore[arg-type]
        for part in few.weights(key).values():  # type: ignore[arg-type]
            assert part.shape == (len(column.values), marks)
