"""Cells in blocks: what is written over others, and what is no number in them."""

import numpy as np
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


EDITS = st.tuples(
    st.sampled_from(("over", "between", "without")), st.integers(0, 3000), st.integers(1, 1200)
)


@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(edits=st.lists(EDITS, min_size=1, max_size=6))
def test_rows_that_come_and_go_leave_the_others_in_their_order(
    empty_database: str, edits: list[tuple[str, int, int]]
) -> None:
    wanted = list(COLUMN)
    names = cells.put_column(wanted)
    for serial, (kind, first, count) in enumerate(edits):
        first = min(first, len(wanted))
        if kind == "over":
            new = [f"{serial}.{n}" for n in range(count)]
            names = cells.put_over(names, first, new)
            wanted[first : first + count] = new
        elif kind == "between":
            names = cells.put_between(names, first, count)
            wanted[first:first] = [""] * count
        else:
            names = cells.without(names, first, min(first + count, len(wanted)))
            del wanted[first : first + count]
    rows = len(wanted)
    assert cells.texts(names, rows) == wanted
    assert cells.texts_between(names, rows // 3, rows) == wanted[rows // 3 :]
    wanted_numbers = np.array([cells.as_number(text) for text in wanted])
    np.testing.assert_array_equal(cells.numbers(names, rows), wanted_numbers)


def test_a_row_that_comes_or_goes_opens_one_block(empty_database: str) -> None:
    before = cells.put_column(COLUMN)
    assert set(before) - set(cells.put_between(before, 1200, 1)) == {before[1]}
    assert set(before) - set(cells.without(before, 1200, 1201)) == {before[1]}


def test_what_is_no_number_moves_with_its_row(empty_database: str) -> None:
    names = cells.put_over(cells.put_column(COLUMN), 1998, ["two"])
    assert cells.wrong(cells.put_between(names, 10, 700)) == [(2698, "two")]
    assert cells.wrong(cells.without(names, 10, 1500)) == [(508, "two")]


def test_one_cell_leaves_the_other_blocks_as_they_are(empty_database: str) -> None:
    before = cells.put_column(COLUMN)
    after = cells.put_over(before, 1200, ["x"])
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
    assert Cells.get().wrong == [[1, "from before"]]
