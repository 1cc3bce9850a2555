import pytest

from footing.core.dimensions import Dimension
from footing.core.errors import Refused
from footing.core.units import LENGTHS, check_made_up, read_number, read_positive, to_si


@pytest.mark.parametrize(
    ("dimension", "unit"),
    [
        (Dimension(1, -2), "m/s²"),
        (Dimension(1), "m"),
        (Dimension(0, -1), "1/s"),
        (Dimension(1, -1, 1), "kg·m/s"),
        (Dimension(), ""),
    ],
)
def test_dimension_is_named_as_in_print(dimension: Dimension, unit: str) -> None:
    assert dimension.unit() == unit


def test_dimension_before_a_known_length_is_in_pixels() -> None:
    assert Dimension(1, -2).unit(length="px") == "px/s²"


@pytest.mark.parametrize(
    ("text", "value", "uncertainty"),
    [
        ("1.50", 1.5, 0.003),
        ("1,5", 1.5, 0.03),
        ("150", 150, 0.3),
        ("-2.0e3", -2000, 30),
        ("−12", -12, 0.3),
        (" .25 ", 0.25, 0.003),
        ("1.50 ± 0.02", 1.5, 0.02),
        ("1.5 +/- 0,1", 1.5, 0.1),
        ("-3 +- 1", -3, 1),
    ],
)
def test_typed_number_has_the_uncertainty_of_its_last_digit(
    text: str, value: float, uncertainty: float
) -> None:
    typed = read_number(text, field="length")
    assert typed.value == pytest.approx(value)
    assert typed.uncertainty == pytest.approx(uncertainty)


@pytest.mark.parametrize(
    "text", ["", "two", "1.5 m", "1.5.2", "1 ± 2 ± 3", "1 ± -2", "nan", "inf", "1e"]
)
def test_text_that_is_no_number_is_refused_at_its_field(text: str) -> None:
    with pytest.raises(Refused) as refused:
        read_number(text, field="length")
    assert refused.value.field == "length"


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("0", "larger than 0"),
        ("0.00", "larger than 0"),
        ("-1.5", "larger than 0"),
        ("1e30", "from 1e-06 to 1e.06"),
        ("1e-155", "beyond what can be computed with"),
        ("1e400", "beyond what can be computed with"),
        ("1e-99999999999", "beyond what can be computed with"),
        ("1 ± 1e9", "too uncertain"),
    ],
)
def test_length_must_be_positive_and_sensible(text: str, said: str) -> None:
    with pytest.raises(Refused, match=said) as refused:
        read_positive(text, field="length", what="A length", limits=LENGTHS)
    assert refused.value.field == "length"


@pytest.mark.parametrize(
    ("unit", "metres"), [("m", 1), ("cm", 0.01), ("mm", 0.001), ("in", 0.0254), ("ft", 0.3048)]
)
def test_length_converts_to_metres_with_its_uncertainty(unit: str, metres: float) -> None:
    typed = to_si(read_number("2.0", field="length"), unit)
    assert typed.value == pytest.approx(2 * metres, rel=1e-12)
    assert typed.uncertainty == pytest.approx(0.03 * metres, rel=1e-12)


def test_a_made_up_unit_is_carried_as_such() -> None:
    assert Dimension(1, -2).unit(length="sled") == "sled/s²"


def test_a_words_worth_of_made_up_unit_is_accepted() -> None:
    check_made_up("sled", field="unit")


@pytest.mark.parametrize(
    ("name", "message"), [("kg", "exists"), ("px", "exists"), ("2 m", "cannot")]
)
def test_a_made_up_unit_may_not_bear_the_name_of_a_known_one(name: str, message: str) -> None:
    with pytest.raises(Refused, match=message):
        check_made_up(name, field="unit")
