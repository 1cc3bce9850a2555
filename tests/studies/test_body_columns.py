"""Columns that are computed for every body of a footage."""

from typing import Any

import pytest

from footing.core.errors import Refused
from footing.studies.school.copying import duplicate
from footing.studies.school.people import visible_study
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.studies.steps import Tab, all_rows

RATE = {"name": "speed", "symbol": "s", "formula": "rate(y)"}
TWICE = {"name": "twice", "symbol": "w", "formula": "2*s"}


@pytest.fixture
def columns(measured: Measured) -> tuple[int, int]:
    """Two columns of the measured footage; the second names the first."""
    tab, footage = measured.tab, measured.footage
    rate = tab.makes("add_column", footage=footage, **RATE)
    return rate, tab.makes("add_column", footage=footage, **TWICE)


EDITS: list[tuple[str, dict[str, Any]]] = [
    ("change_column", {"name": "pace", "symbol": "p", "unit": "cm/s", "digits": 3}),
    ("set_formula", {"formula": "rate(x)", "scatter": "0.1", "seed": 3}),
    ("move_column", {"place": 1}),
    ("highlight", {"highlighted": True}),
    ("remove_column", {}),
]


@pytest.mark.parametrize(("kind", "fields"), EDITS, ids=[kind for kind, _ in EDITS])
def test_each_edit_of_one_is_taken_back_and_made_again(
    kind: str, fields: dict[str, Any], measured: Measured, columns: tuple[int, int]
) -> None:
    tab, footage, rate = measured.tab, measured.footage, columns[0]
    tab.does("set_graph", footage=footage, x="t", ys=[f"c{rate}"])
    tab.does("add_fit", body=measured.body, x="t", y=f"c{rate}", curve="line")
    before, seen = all_rows(tab.study_id), tab.view()
    tab.does(kind, column=rate, **fields)
    after = all_rows(tab.study_id)
    assert after["BodyColumn"] != before["BodyColumn"]
    tab.does("undo")
    assert all_rows(tab.study_id) == before
    assert tab.view()["columns"] == seen["columns"]
    tab.does("redo")
    assert all_rows(tab.study_id) == after


def test_formulas_follow_a_symbol(measured: Measured, columns: tuple[int, int]) -> None:
    rate, _ = columns
    measured.tab.does("change_column", column=rate, name="pace", symbol="p")
    first, second = measured.tab.view()["columns"]
    assert (first["name"], second["formula"], second["problem"]) == ("pace", "2*p", None)


def test_one_is_taken_off_graphs_and_out_of_fits_with_its_removal(
    measured: Measured, columns: tuple[int, int]
) -> None:
    tab, rate = measured.tab, columns[0]
    tab.does("set_graph", footage=measured.footage, x="t", ys=["y", f"c{rate}"])
    tab.does("add_fit", body=measured.body, x="t", y=f"c{rate}", curve="line")
    tab.does("remove_column", column=rate)
    view = tab.view()
    assert view["graphs"][0]["ys"] == ["y"]
    assert [fit["y"] for fit in view["fits"]] == ["y"]


@pytest.mark.parametrize(
    ("kind", "fields", "field"),
    [
        ("freeze_column", {}, "column"),
        ("fill_column", {"first": "0", "step": "1"}, "first"),
        ("change_column", {"name": "v", "symbol": "v", "uncertainty": "0.1"}, "uncertainty"),
        ("change_column", {"name": "v", "symbol": "w"}, "symbol"),
    ],
)
def test_what_only_typed_columns_have_is_refused(
    kind: str, fields: dict[str, Any], field: str, measured: Measured, columns: tuple[int, int]
) -> None:
    with pytest.raises(Refused) as refusal:
        measured.tab.does(kind, column=columns[0], **fields)
    assert refusal.value.field == field


def test_one_needs_a_formula_and_gives_no_mean(
    measured: Measured, columns: tuple[int, int]
) -> None:
    with pytest.raises(Refused, match="write its formula"):
        measured.tab.does("add_column", footage=measured.footage, name="typed")
    with pytest.raises(Refused, match="one of every body"):
        measured.tab.does("add_finding", column=columns[0], name="mean")


def test_no_column_of_a_study_has_the_key_of_another(
    measured: Measured, columns: tuple[int, int]
) -> None:
    later = measured.tab.makes("add_column", sheet=measured.sheet, name="later")
    rows = all_rows(measured.tab.study_id)
    keys = [row["id"] for table in ("BodyColumn", "SheetColumn") for row in rows[table]]
    assert {*columns, later} <= set(keys)
    assert len(keys) == len(set(keys))


def test_they_go_with_their_footage_and_come_back(
    measured: Measured, columns: tuple[int, int]
) -> None:
    tab = measured.tab
    before = all_rows(tab.study_id)
    tab.does("remove_footage", footage=measured.footage)
    assert all_rows(tab.study_id)["BodyColumn"] == []
    tab.does("undo")
    assert all_rows(tab.study_id) == before


def test_a_copy_of_the_study_has_its_own(
    measured: Measured, columns: tuple[int, int], world: World
) -> None:
    tab, shown = measured.tab, [f"c{key}" for key in columns]
    tab.does("set_graph", footage=measured.footage, x="t", ys=shown)
    copy = duplicate(visible_study(world.heron, tab.study_id), world.heron)
    copied = Tab(visible_study(world.heron, copy), world.heron)
    made = [column["key"] for column in copied.view()["columns"]]
    assert copied.view()["graphs"][0]["ys"] == made
    assert not set(made) & set(shown)
    tables = [one.view()["bodies"][0]["table"]["rows"] for one in (tab, copied)]
    assert tables[0] == tables[1]
    assert len(tables[0][0]) == len(tab.view()["measured"]) + 2
