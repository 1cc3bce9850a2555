import csv
import io

import openpyxl
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from footing.core.errors import Unreadable
from footing.formats.headings import Heading, read_heading, written
from footing.formats.reading import ReadTable, read_table, read_text
from footing.formats.writing import as_ods, separated


def text_of(headings: list[Heading], rows: list[list[str]], separator: str) -> str:
    file = io.StringIO()
    separated(file, headings, rows, separator)
    return file.getvalue()


def cells(table: ReadTable) -> list[list[str]]:
    return list(table.rows)


@pytest.mark.parametrize(
    ("text", "rows"),
    [
        ("1,5\t2,0\n3,1\t4,0", [["1.5", "2.0"], ["3.1", "4.0"]]),
        ("1.5\t2.0\r\n3.1\t4.0\r\n", [["1.5", "2.0"], ["3.1", "4.0"]]),
        ("1,5;2,0\n3,1;4,0\n", [["1.5", "2.0"], ["3.1", "4.0"]]),
        ("1.5,2.0\n3.1,4.0\n", [["1.5", "2.0"], ["3.1", "4.0"]]),
        ("1.5 2.0\n3.1 4.0\n", [["1.5", "2.0"], ["3.1", "4.0"]]),
        ("1,5 2,0\n3,1 4,0\n", [["1.5", "2.0"], ["3.1", "4.0"]]),
        ("1,5\n3,1\n", [["1.5"], ["3.1"]]),
        ("1.234,5;2\n7,0;1", [["1234.5", "2"], ["7.0", "1"]]),
        ("1;2\n3\n", [["1", "2"], ["3", ""]]),
    ],
)
def test_pasted_text_whatever_its_separators_and_decimals(text: str, rows: list[list[str]]) -> None:
    assert cells(read_text(text)) == rows


@pytest.mark.parametrize(
    ("text", "name", "symbol", "unit"),
    [
        ("stopping distance: d (m)", "stopping distance", "d", "m"),
        ("t (s)", "t", "t", "s"),
        ("v [m/s]", "v", "v", "m/s"),
        ("d / m", "d", "d", "m"),
        ("speed in km/h", "speed", "v", "km/h"),
        ("Temperature (°C)", "Temperature", "T", "°C"),
        ("trial (first half)", "trial (first half)", "t", ""),
        ("acceleration (m/s^2)", "acceleration", "a", "m/s²"),
    ],
)
def test_headings(text: str, name: str, symbol: str, unit: str) -> None:
    assert read_heading(text) == Heading(name, symbol, unit)


def test_a_heading_is_told_from_numbers_and_columns_get_different_symbols() -> None:
    table = read_text("time (s);time (ms)\n1;2")
    assert [one.symbol for one in table.headings] == ["t", "t2"]
    assert cells(table) == [["1", "2"]]
    assert [one.name for one in read_text("1;2\n3;4").headings] == ["column 1", "column 2"]


def test_what_is_no_number_stays() -> None:
    assert cells(read_text("d\tnote\n1.5\tslipped, twice\n")) == [["1.5", "slipped, twice"]]


def test_xlsx() -> None:
    book = openpyxl.Workbook()
    book.active.append(["time (s)", "distance (m)"])
    book.active.append([0.5, 12])
    file = io.BytesIO()
    book.save(file)
    table = read_table(file.getvalue())
    assert [one.unit for one in table.headings] == ["s", "m"]
    assert cells(table) == [["0.5", "12"]]


@pytest.mark.parametrize(
    "data",
    [b"", b"\n\n", b"PK\x03\x04 no sheet", b"\x00\x01\x02\x03", b"\x89PNG\r\n\x1a\n\0"],
)
def test_what_is_no_table_is_refused(data: bytes) -> None:
    with pytest.raises(Unreadable):
        list(read_table(data).rows)


def test_a_row_with_too_many_cells_is_named() -> None:
    rows = "\n".join(["1;2"] * 300 + ["1;2;3"])
    with pytest.raises(Unreadable, match="Row 301 has 3 cells"):
        cells(read_text(rows))


UNITS = ["", "m", "cm", "m/s", "m/s²", "1/s", "kg·m/s", "°", "°C", "J/(kg·K)"]
names = (
    st.text("abcdefghij XYZ", min_size=4, max_size=12)
    .map(lambda n: " ".join(n.split()))
    .filter(lambda n: len(n) > 3)
)
values = st.one_of(
    st.decimals(-1000, 1000, places=3).map(lambda d: f"{d:.3f}"), st.integers(-99, 99).map(str)
)


@settings(max_examples=40)
@given(
    units=st.lists(st.sampled_from(UNITS), min_size=2, max_size=4),
    named=st.data(),
)
def test_what_goes_out_comes_in_again_the_same(units: list[str], named: st.DataObject) -> None:
    headings = [
        Heading(named.draw(names), f"{'abcd'[place]}_{place}", unit)
        for place, unit in enumerate(units)
    ]
    row = st.lists(values, min_size=len(units), max_size=len(units))
    rows = named.draw(st.lists(row, min_size=1, max_size=5))
    for data in (
        text_of(headings, rows, ",").encode(),
        text_of(headings, rows, "\t").encode(),
        as_ods("sheet", headings, rows),
    ):
        table = read_table(data)
        assert table.headings == headings
        assert cells(table) == rows


def test_units_stand_in_the_header_of_a_csv_file() -> None:
    text = text_of([Heading("speed", "v", "m/s")], [["1.50"], ["−2.00"]], ",")
    assert list(csv.reader(io.StringIO(text))) == [["speed: v (m/s)"], ["1.50"], ["-2.00"]]
    assert written(Heading("t", "t", "")) == "t"
