"""A unit may be typed behind its number, though it is a field of its own."""

from typing import Any

from tests.studies.conftest import Measured
from tests.studies.steps import all_rows

# the edit, the key of the study that it is about, what is typed, and what is kept
TYPED: list[tuple[str, dict[str, str], dict[str, str], dict[str, str]]] = [
    (
        "type_known_length",
        {"known_length": "length"},
        {"length": "1.50 m", "unit": "cm"},
        {"typed": "1.50", "unit": "m"},
    ),
    (
        "type_known_length",
        {"known_length": "length"},
        {"length": "150,0cm", "unit": "m"},
        {"typed": "150,0", "unit": "cm"},
    ),
    ("weigh_body", {"body": "body"}, {"mass": "160 g"}, {"mass": "160", "mass_unit": "g"}),
    (
        "change_body",
        {"body": "body"},
        {"name": "cone", "mass": "0.2 ± 0.01 kg", "size": "5mm", "mass_unit": "g"},
        {"mass": "0.2 ± 0.01", "mass_unit": "kg", "size": "5", "size_unit": "mm"},
    ),
    (
        "set_spring",
        {"footage": "footage", "body": "body"},
        {"constant": "20", "rest_length": "12 cm"},
        {"rest_length": "12", "rest_unit": "cm"},
    ),
    (
        "set_weather",
        {},
        {"temperature": "68 °F", "pressure": "101.3 kPa", "damp": "50"},
        {"temperature_unit": "°F", "pressure": "101.3", "pressure_unit": "kPa"},
    ),
]


def test_it_counts_and_the_number_stays_as_it_was_typed(measured: Measured) -> None:
    for kind, about, typed, kept in TYPED:
        keys: dict[str, Any] = {field: getattr(measured, key) for field, key in about.items()}
        measured.tab.does(kind, **keys, **typed)
        rows = [row for table in all_rows(measured.tab.study_id).values() for row in table]
        assert any(kept.items() <= row.items() for row in rows), (kind, typed)
