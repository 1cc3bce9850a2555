import numpy as np
import pint
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from footing.core.dimensions import read_unit
from footing.core.formulas.computing import Computed, Known, compute
from footing.core.formulas.notes import InRadians, NoiseTakenOff, Note, NumberIn
from footing.core.formulas.parsing import parse
from footing.core.formulas.syntax import WrongFormula
from footing.core.units import registry

MASS = Known(20.0, read_unit("g"), 0.1)
SCOPE = {
    "m": MASS,
    "vx": Known(np.array([1.0, 2, 3]), read_unit("m/s"), 0.1),
    "vy": Known(np.array([0.0, 1, 2]), read_unit("m/s"), 0.1),
    "t": Known(np.array([0.0, 0.1, 0.2]), read_unit("s")),
    "T": Known(np.array([1.0, 2, 4]), read_unit("s"), 0.01),
    "h": Known(np.array([10.0, 20, 40]), read_unit("cm"), 0.1),
    "d": Known(np.array([0.0, 1, 2]), read_unit("cm")),
    "g": Known(9.81, read_unit("m/s^2")),
    "temp": Known(np.array([0.0, 20, 100]), read_unit("°C")),
}


def computed(text: str, unit: str | None = None) -> Computed:
    return compute(parse(text), SCOPE, rows=3, unit=read_unit(unit) if unit else None)


@pytest.mark.parametrize(
    ("text", "unit", "values"),
    [
        ("0.5*m*(vx^2+vy^2)", "J", [0.01, 0.05, 0.13]),
        ("ln(T)", "", np.log([1, 2, 4])),
        ("1/d", "1/cm", [np.nan, 1, 0.5]),
        ("sqrt(2*h/g)", "s", np.sqrt(0.2 * np.array([1, 2, 4]) / 9.81)),
        ("h/T", "cm/s", [10, 10, 10]),
        ("T^2", "s²", [1, 4, 16]),
        ("rate(h)", "cm/s", [50, 150, 250]),
        ("rate(h, T)", "cm/s", [10, 10, 10]),
        ("integral(vx)", "m", [0, 0.15, 0.4]),
        ("sum(h)", "cm", [10, 30, 70]),
        ("diff(h)", "cm", [np.nan, 10, 20]),
        ("if(vx>2 m/s, vx, 0 m/s)", "m/s", [0, 0, 3]),
        ("sin(30°)", "", [0.5] * 3),
        ("9.81 m/s^2*t", "m/s", [0, 0.981, 1.962]),
        ("5 m*d", "m²", [0, 0.05, 0.1]),
        ("m*g*h", "J", [0.01962, 0.03924, 0.07848]),
        ("h - mean(h)", "cm", np.array([10, 20, 40]) - 70 / 3),
        ("sqrt(vy - 1 m/s)", "m^0.5/s^0.5", [np.nan, 0, 1]),
        ("temp", "°C", [0, 20, 100]),
        ("temp*1", "K", [273.15, 293.15, 373.15]),
    ],
)
def test_values_and_units(text: str, unit: str, values: list[float]) -> None:
    found = computed(text)
    assert str(found.unit) == unit
    assert found.values == pytest.approx(np.asarray(values, dtype=float), nan_ok=True)


def test_an_exponent_may_be_computed_from_plain_numbers() -> None:
    assert str(computed("h^2^2").unit) == "cm⁴"
    assert str(computed("h^(6/2 - 1)").unit) == "cm²"
    with pytest.raises(WrongFormula, match="that is written there"):
        computed("h^0^(-1)")


def test_a_wanted_unit_converts() -> None:
    assert computed("h/T", "m/s").values == pytest.approx([0.1] * 3)
    assert computed("asin(0.5)", "°").values == pytest.approx([30] * 3)


@pytest.mark.parametrize(
    ("text", "said", "place"),
    [
        ("vx + h", "m/s and m do not go together", "vx + h"),
        ("m*g*h + vx", "do not go together", "m*g*h + vx"),
        ("2*sin(vx)", "takes an angle or a plain number, not m/s", "vx"),
        ("exp(h)", "takes a plain number, not m", "h"),
        ("2^h", "An exponent is a plain number, not m", "h"),
        ("h^vx", "An exponent is a plain number", "vx"),
        ("if(vx > 2, vx, vx)", "Comparing", "vx > 2"),
        ("vx*k", "There is no “k” here", "k"),
        ("rate(h, d) + rate(h, d - d)", "always rise", "rate(h, d - d)"),
    ],
)
def test_units_that_do_not_go_together_are_named_at_their_place(
    text: str, said: str, place: str
) -> None:
    with pytest.raises(WrongFormula) as wrong:
        computed(text)
    assert said in str(wrong.value)
    begin, end = wrong.value.span
    assert text[begin:end] == place


def test_says_how_an_angle_and_a_logarithm_were_taken() -> None:
    assert computed("sin(1)").notes == (InRadians("sin"),)
    assert computed("sin(7°)").notes == ()
    assert computed("ln(T)").notes == (NumberIn("ln", read_unit("s")),)


@pytest.mark.parametrize(("noise", "said"), [(0.5, (NoiseTakenOff(),)), (0.05, ())])
def test_noise_that_is_taken_off_is_said_where_it_matters(
    noise: float, said: tuple[Note, ...]
) -> None:
    speeds = Known(np.array([1.0, 2, 3]), read_unit("m/s"), 0.1, noise=noise)
    found = compute(parse("vx^2"), {"vx": speeds}, rows=3)
    assert found.values == pytest.approx(np.array([1.0, 4, 9]) - noise**2)
    assert found.notes == said


def test_uncertainties_carry_over() -> None:
    speed = computed("sqrt(vx^2+vy^2)").uncertainties
    assert speed == pytest.approx([0.1] * 3)
    assert computed("h - h").uncertainties == pytest.approx([0] * 3, abs=1e-15)
    assert computed("m*g").uncertainties == pytest.approx([0.1e-3 * 9.81] * 3)
    assert computed("diff(h)").uncertainties[1:] == pytest.approx([np.sqrt(0.02)] * 2)
    assert computed("rate(h)").uncertainties[1] == pytest.approx(0.1 * np.sqrt(2) / 0.2)


def test_uncertainties_carry_through_what_sums_up_a_column() -> None:
    assert computed("mean(h)").uncertainties == pytest.approx([0.1 / np.sqrt(3)] * 3)
    apart = computed("h - mean(h)").uncertainties  # 2/3 of its own value, −1/3 of the two others
    assert apart == pytest.approx([0.1 * np.sqrt(4 + 1 + 1) / 3] * 3)
    assert computed("largest(h) - smallest(h)").uncertainties == pytest.approx([0.1 * 2**0.5] * 3)
    assert computed("h - first(h)").uncertainties == pytest.approx([0, *[0.1 * 2**0.5] * 2])
    assert computed("mean(h)/d").uncertainties[1] == pytest.approx(0.1 / np.sqrt(3))
    assert computed("mean(m*h)/m").uncertainties == pytest.approx(computed("mean(h)").uncertainties)


def test_no_mean_and_no_difference_crosses_an_impact() -> None:
    def sides(text: str) -> Computed:
        return compute(parse(text), SCOPE, rows=3, breaks=np.array([0]))

    mean = sides("mean(h)")
    assert mean.values == pytest.approx([10, 30, 30])
    assert mean.uncertainties == pytest.approx([0.1, 0.1 / np.sqrt(2), 0.1 / np.sqrt(2)])
    assert sides("h - mean(h)").uncertainties == pytest.approx([0, *[0.1 / np.sqrt(2)] * 2])
    assert sides("largest(h)").values == pytest.approx([40] * 3)
    assert np.isnan(sides("diff(h)").values).tolist() == [True, True, False]


def test_a_summary_of_rows_without_a_value_leaves_them_out() -> None:
    assert computed("mean(1/d)").values == pytest.approx([0.75] * 3)
    assert np.isnan(computed("mean(ln(0*d))").values).all()
    long = {"x": Known(np.arange(100_000.0), read_unit("m"), 0.1)}
    assert compute(parse("x - mean(x)"), long, rows=100_000).values[0] == pytest.approx(-49_999.5)


def test_a_column_of_a_column_remembers_what_both_rest_on() -> None:
    first = computed("2*h")
    scope = SCOPE | {"y": Known(first.values, first.unit, first.uncertainties, first.slopes)}
    found = compute(parse("y - 2*h"), scope, rows=3)
    assert found.uncertainties == pytest.approx([0] * 3, abs=1e-12)


def test_what_a_shared_mass_does_not_know_it_does_not_know_in_all_rows() -> None:
    found = computed("rate(m*h)", "kg m/s")
    by_mass = np.array([50, 150, 250]) * 0.1e-3 * 1e-2
    by_height = np.sqrt(found.uncertainties**2 - by_mass**2)
    assert by_height == pytest.approx(computed("0.02 kg*rate(h)", "kg m/s").uncertainties)


UNITS = {"x": "cm", "y": "m", "u": "s", "w": "ms"}
numbers = st.floats(0.2, 5).map(lambda value: round(value, 3))


def joined(inner: st.SearchStrategy[str]) -> st.SearchStrategy[str]:
    return st.one_of(
        st.tuples(inner, st.sampled_from("+-*/"), inner).map(lambda t: f"({t[0]} {t[1]} {t[2]})"),
        inner.map(lambda one: f"sqrt(({one})^2)"),
        inner.map(lambda one: f"(-{one})"),
        st.tuples(inner, st.sampled_from("23")).map(lambda t: f"({t[0]})^{t[1]}"),
    )


leaves = st.one_of(st.sampled_from(sorted(UNITS)), numbers.map(str))
expressions = st.recursive(leaves, joined, max_leaves=6)


@settings(max_examples=150)
@given(text=expressions, numbers=st.lists(numbers, min_size=4, max_size=4))
def test_agrees_with_pint_and_numpy_on_any_expression(text: str, numbers: list[float]) -> None:
    scope = {
        name: Known(np.full(2, value), read_unit(unit))
        for (name, unit), value in zip(UNITS.items(), numbers, strict=True)
    }
    quantities = {
        name: registry().Quantity(value, unit)
        for (name, unit), value in zip(UNITS.items(), numbers, strict=True)
    }
    python = text.replace("^", "**").replace("sqrt", "root")
    try:
        expected = eval(python, {"root": lambda q: q**0.5}, quantities)
    except pint.DimensionalityError:
        with pytest.raises(WrongFormula, match="do not go together"):
            compute(parse(text), scope, rows=2)
        return
    except ZeroDivisionError:
        return
    found = compute(parse(text), scope, rows=2)
    base = registry().Quantity(expected).to_base_units()
    measured = np.asarray(found.unit.to_base(found.values))
    if np.isfinite(base.magnitude):
        assert measured[0] == pytest.approx(base.magnitude, rel=1e-9, abs=1e-12)
    dimension = {str(unit): float(power) for unit, power in base.unit_items()}
    ours = {name: float(power) for name, power in found.unit.dimension}
    names = {"meter": "m", "second": "s"}
    assert ours == {names[name]: power for name, power in dimension.items()}
