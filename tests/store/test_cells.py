"""Cells in blocks: what is written over others, and what is no number in them."""

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from footing.store import cells
from footing.store.tables import Cells

COLUMN = [str(n) for n in range(2500)]


@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(first=st.integers(0, 4000), count=st.integers(1, 1500))
def test_cells_written_over_others_are_where_they_were_meant(
    empty_database: str, first: int, count: int
) -> None:
    new = [f"-{n}" for n in range(count)]
    keys = cells.put_over(cells.put_column(COLUMN), first, new)
    rows = max(len(COLUMN), first + count)
    wanted = COLUMN + [""] * (rows - len(COLUMN))
    wanted[first : first + count] = new
    assert cells.texts(keys, rows) == wanted


def test_one_cell_leaves_the_other_blocks_as_they_are(empty_database: str) -> None:
    before = cells.put_column(COLUMN)
    after = cells.put_over(before, 1700, ["x"])
    assert [old == new for old, new in zip(before, after, strict=True)] == [True, False, True]


def test_what_is_no_number_is_named_by_its_row(empty_database: str) -> None:
    keys = cells.put_over(cells.put_column(COLUMN), 1998, ["two", "", "nan", "1_0"])
    assert cells.wrong(keys) == [(1998, "two"), (2000, "nan"), (2001, "1_0")]


def test_blocks_that_nobody_looked_through_are_when_they_are_asked_for(
    empty_database: str,
) -> None:
    keys = cells.put_column(["1", "from before"])
    Cells.update(wrong=None).execute()
    assert cells.wrong(keys) == [(1, "from before")]
    assert Cells.get_by_id(keys[0]).wrong == [[1, "from before"]]
