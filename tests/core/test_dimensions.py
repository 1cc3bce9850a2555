import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from footing.core.dimensions import KNOWN, Unit, own_words, read_quantity, read_unit
from footing.core.errors import Refused

NAMES = sorted(set(KNOWN) - {"°C"})


@pytest.mark.parametrize(
    ("typed", "printed", "factor"),
    [
        ("m/s^2", "m/s²", 1),
        ("m/s²", "m/s²", 1),
        ("cm s⁻¹", "cm/s", 0.01),
        ("kg*m/s", "kg·m/s", 1),
        ("1/s", "1/s", 1),
        ("J/(kg K)", "J/(kg·K)", 1),
        ("km/h", "km/h", 1 / 3.6),
        ("deg", "°", 0.017453292519943295),
        ("%", "%", 0.01),
        ("", "", 1),
        ("m^0.5", "m^0.5", 1),
        ("sled/s", "sled/s", 1),
    ],
)
def test_units_as_people_write_them(typed: str, printed: str, factor: float) -> None:
    unit = read_unit(typed)
    assert str(unit) == printed
    assert unit.factor == pytest.approx(factor)


@pytest.mark.parametrize("typed", ["m/", "m//s)", "(m", "m^99", "5 m", "m/s^1/0", "x" * 60])
def test_no_unit(typed: str) -> None:
    with pytest.raises(Refused):
        read_unit(typed)


def test_every_known_unit_has_a_size_and_a_made_up_one_says_so() -> None:
    assert all(read_unit(name).factor > 0 and own_words(name) == "" for name in KNOWN)
    assert read_unit("kWh").factor == pytest.approx(3.6e6)
    assert read_unit("rpm").factor == pytest.approx(2 * np.pi / 60)
    assert own_words("sled/s") == "“sled” is a unit of your own, with no conversion to others."
    assert own_words("sled/hop").startswith("“sled” and “hop” are units")


def test_conversion_needs_the_same_dimension() -> None:
    assert read_unit("N").converts_to(read_unit("kg m/s^2"))
    assert read_unit("°").converts_to(read_unit("rad"))
    assert not read_unit("sled").converts_to(read_unit("m"))
    assert not read_unit("px").converts_to(read_unit("m"))


@given(
    parts=st.lists(
        st.tuples(st.sampled_from(NAMES), st.sampled_from([-3, -2, -1, 1, 2])),
        max_size=4,
        unique_by=lambda part: part[0],
    )
)
def test_what_is_printed_reads_back(parts: list[tuple[str, int]]) -> None:
    unit = Unit()
    for name, power in parts:
        unit = unit * read_unit(name) ** power
    again = read_unit(str(unit))
    assert again.dimension == unit.dimension
    assert again.factor == pytest.approx(unit.factor)


@pytest.mark.parametrize(
    ("text", "value", "uncertainty", "unit"),
    [
        ("9.81", 9.81, 0.003, None),
        ("9.81 m/s^2", 9.81, 0.003, "m/s²"),
        ("−9,8 m/s²", -9.8, 0.03, "m/s²"),
        ("1.50 ± 0.02 kg", 1.5, 0.02, "kg"),
        ("6e-3 mT", 6e-3, 3e-4, "mT"),
        ("7°", 7, 0.3, "°"),
    ],
)
def test_a_number_may_have_a_unit_behind_it(
    text: str, value: float, uncertainty: float, unit: str | None
) -> None:
    typed, found = read_quantity(text, field="accepted")
    assert typed.value == pytest.approx(value)
    assert typed.uncertainty == pytest.approx(uncertainty)
    assert (str(found) if found else None) == unit


@pytest.mark.parametrize(
    ("written", "meant"),
    [
        ("(m/s)^2", "m^2/s^2"),
        ("(m/s)²", "m²/s²"),
        ("kg/(m/s)^2", "kg*s^2/m^2"),
        ("(cm)^-1", "1/cm"),
    ],
)
def test_a_power_behind_a_bracket_belongs_to_all_that_is_in_it(written: str, meant: str) -> None:
    unit, expected = read_unit(written), read_unit(meant)
    assert unit.dimension == expected.dimension
    assert unit.factor == pytest.approx(expected.factor)


@pytest.mark.parametrize("written", ["m/^2s", "(m/s^2", "m*²"])
def test_a_power_of_nothing_is_refused(written: str) -> None:
    with pytest.raises(Refused):
        read_unit(written)


@pytest.mark.parametrize(
    ("value", "unit", "pascal"),
    [(1, "mbar", 100), (760, "mmHg", 101_325), (29.92, "inHg", 101_320), (1, "atm", 101_325)],
)
def test_pressures_of_school_are_known(value: float, unit: str, pascal: float) -> None:
    assert read_unit(unit).to_base(value) == pytest.approx(pascal, rel=1e-4)


def test_fahrenheit_begins_elsewhere() -> None:
    assert read_unit("°F").to_base(212.0) == pytest.approx(373.15)
    assert read_unit("°C").from_base(read_unit("°F").to_base(32.0)) == pytest.approx(0, abs=1e-9)
