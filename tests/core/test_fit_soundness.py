import numpy as np
import pytest

from footing.core import fit_soundness
from footing.core.choosing import ByInformation, choose
from footing.core.curves import CURVES
from footing.core.dimensions import read_unit
from footing.core.fitting import Fit, fit_curve
from footing.core.motion import Motion
from footing.core.straightening import straight_forms

X = np.linspace(0, 2, 30)
NUMBERS = np.arange(30)


def fitted(y: np.ndarray, curve: str, x: np.ndarray = X) -> Fit:
    found = fit_curve(x, y, CURVES[curve])
    assert isinstance(found, Fit)
    return found


def scattered(y: np.ndarray, seed: int = 3, size: float = 0.02) -> np.ndarray:
    return y + np.random.default_rng(seed).normal(scale=size, size=len(y))


def test_a_line_through_a_parabola_shows_a_pattern_and_the_parabola_does_not() -> None:
    y = scattered(3 * X - 4.9 * X**2)
    line = fit_soundness.pattern(fitted(y, "line"), X, NUMBERS)
    arc = fit_soundness.pattern(fitted(y, "quadratic"), X, NUMBERS)
    assert line is not None
    assert not line.sound
    assert arc is not None
    assert arc.sound


def test_few_residuals_say_nothing_about_a_pattern() -> None:
    assert fit_soundness.runs(np.array([1.0, 1, 1, 1, 1, -1, -1, -1, -1, -1, -1])) is None


def test_false_alarms_are_as_rare_as_stated() -> None:
    """On sound data each of the tests speaks up in about one of a hundred cases."""
    rng = np.random.default_rng(9)
    patterns = outliers = 0
    for _ in range(1000):
        fit = fitted(2 * X + rng.normal(size=30), "line")
        pattern = fit_soundness.pattern(fit, X, NUMBERS)
        outlier = fit_soundness.outliers(fit, X, NUMBERS)
        patterns += pattern is not None and not pattern.sound
        outliers += outlier is not None and not outlier.sound
    assert patterns <= 20
    assert 2 <= outliers <= 20


def test_an_outlier_is_named() -> None:
    y = scattered(3 * X)
    y[17] += 0.2
    found = fit_soundness.outliers(fitted(y, "line"), X, NUMBERS)
    assert found is not None
    assert not found.sound
    assert found.number == 17


def test_a_bounce_inside_a_fit_is_found_and_a_flight_is_not_one() -> None:
    t = np.linspace(0, 1, 31)
    flight = scattered(2 + t - 4.905 * t**2, size=0.004)
    bounce = scattered(np.abs(1 - 2.5 * t), size=0.004)
    calm = fit_soundness.impact(t, flight, np.arange(31))
    found = fit_soundness.impact(t, bounce, np.arange(31))
    assert calm is not None
    assert calm.sound
    assert found is not None
    assert not found.sound
    assert found.number in (11, 12, 13)


def test_an_impact_is_found_in_whatever_order_rows_were_typed() -> None:
    t = np.arange(30) / 30
    fall = np.where(t < 0.5, 2 - 4.9 * t**2, 0.775 + 4.0 * (t - 0.5) - 4.9 * (t - 0.5) ** 2)
    values = fall + np.random.default_rng(4).normal(scale=0.002, size=30)
    found = fit_soundness.impact(t, values, np.arange(30))
    assert found is not None
    assert found.number == pytest.approx(15, abs=1)
    typed = np.random.default_rng(5).permutation(30)
    assert fit_soundness.impact(t[typed], values[typed], typed) == found


@pytest.mark.parametrize("times", [2, 4])
def test_no_impact_is_looked_for_where_several_points_are_at_one_time(times: int) -> None:
    t = np.repeat(np.arange(10.0), times)
    values = t**2 + np.random.default_rng(6).normal(scale=0.1, size=len(t))
    assert fit_soundness.impact(t, values, np.arange(len(t))) is None


def test_as_many_points_as_a_curve_deserves() -> None:
    x = np.arange(5.0)
    assert not fit_soundness.PointsEnough(CURVES["quadratic"], len(x)).sound
    assert fit_soundness.PointsEnough(CURVES["line"], len(x)).sound


def test_a_line_that_should_go_through_zero() -> None:
    velocity, metre = read_unit("m^2/s^2"), read_unit("m")
    through = fit_soundness.through_zero(fitted(scattered(3 * X), "line"), velocity, metre)
    past = fit_soundness.through_zero(fitted(scattered(3 * X + 0.5), "line"), velocity, metre)
    assert through is not None
    assert through.sound
    assert past is not None
    assert not past.sound
    assert fit_soundness.through_zero(fitted(3 * X + 1, "line"), read_unit("s"), metre) is None


def test_the_simpler_curve_is_preferred_unless_the_freer_one_earns_it() -> None:
    straight, bent = scattered(3 * X), scattered(3 * X - X**2)
    assert choose(fitted(straight, "line"), fitted(straight, "quadratic")).preferred.key == "line"
    assert choose(fitted(bent, "quadratic"), fitted(bent, "line")).preferred.key == "quadratic"
    falling = scattered(2 * np.exp(-2 * X), size=0.01)
    choice = choose(fitted(falling, "exponential"), fitted(falling, "quadratic"))
    assert choice.preferred.key == "exponential"
    assert isinstance(choice, ByInformation)
    assert choice.clear


@pytest.mark.parametrize(
    ("y", "straight"),
    [(2 * X[1:] ** 2, "y-x2"), (np.sqrt(3 * X[1:]), "y2-x"), (4 / X[1:], "y-1/x")],
)
def test_the_straightest_form_comes_first(y: np.ndarray, straight: str) -> None:
    forms = straight_forms(X[1:], y)
    exact = {form.key for form in forms if form.straightness > 1 - 1e-9}
    assert straight in exact
    assert [form.straightness for form in forms] == sorted(
        (form.straightness for form in forms), reverse=True
    )


def test_points_without_a_place_in_a_form_are_counted() -> None:
    forms = {form.key: form for form in straight_forms(X, 1 + X)}
    assert forms["y-1/x"].left_out == 1


@pytest.mark.parametrize(("marks", "rate"), [(20, 30), (40, 60), (160, 240)])
@pytest.mark.parametrize("noise", [0.1, 0.5, 1.5])
def test_a_whole_bounce_is_found_at_every_rate_and_noise(
    marks: int, rate: int, noise: float
) -> None:
    rng = np.random.default_rng(marks)
    times, g, found, alarms = np.arange(marks) / rate, 1962.0, 0, 0
    for _ in range(40):
        half = times[-1] * rng.uniform(0.35, 0.65)
        after = times - half
        up = g / 2 * half**2 - 0.7 * g * half * after + g / 2 * after**2
        fall = np.where(times < half, g / 2 * times**2, up)
        for path, bounces in ((fall, True), (400 - 500 * times + g / 2 * times**2, False)):
            values = path + rng.normal(scale=noise, size=marks)
            check = fit_soundness.impact(times, values, np.arange(marks))
            assert check is not None
            found += bounces and not check.sound
            alarms += not bounces and not check.sound
    assert found >= 37
    assert alarms <= 1


@pytest.mark.parametrize(
    ("simple", "free", "column"),
    [("level", "line", "ay"), ("line", "quadratic", "vy"), ("level", "sine", None)],
)
def test_a_freer_curve_is_chosen_by_chance_once_in_a_hundred(
    simple: str, free: str, column: str | None
) -> None:
    """Velocities and accelerations share marks, and a sine's frequency is searched for."""
    rng = np.random.default_rng(11)
    wrong, tries = 0, 0
    for marks in (8, 15, 30):
        times = np.arange(marks) / 30
        for _ in range(60):
            y = 4 * times - 4.9 * times**2 + rng.normal(scale=0.01, size=marks)
            covariance, x = None, times
            if column is None:
                y = rng.normal(size=marks)
            else:
                path = np.stack([0 * times, y], axis=1)
                motion = Motion(times, path, heights=y, position_uncertainty=0.01)
                covariance = motion.covariance(column)  # type: ignore[arg-type]
                made = motion.column(column)  # type: ignore[arg-type]
                x, y = times[made.index], made.values
            fits = [fit_curve(x, y, CURVES[one], covariance=covariance) for one in (simple, free)]
            if all(isinstance(one, Fit) for one in fits):
                tries += 1
                wrong += choose(*fits).preferred == CURVES[free]  # type: ignore[arg-type]
    assert tries > 120
    assert wrong / tries <= 0.03
