"""Tables that come in: pasted text, CSV and TSV, ODS and XLSX.

Separators, decimal commas and a heading are found out from the first rows; what is no number stays
as it is and is named later, beside the column, so that nothing is lost.
"""

import csv
import io
import re
import zipfile
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import chain, islice
from typing import Any

from odf import opendocument, table, teletype

from footing.core.errors import Unreadable
from footing.formats.headings import Heading, read_heading, unique

LONGEST_CELL = 60
MOST_SPREADSHEET_CELLS = 300_000
_LARGEST_INFLATED = 50_000_000  # bytes, of which the readers make about ten times as many
FORMULA_SIGNS = ("=", "+", "-", "−", "@")  # with which a formula begins in a spreadsheet
MOST_COLUMNS = 400
MOST_ROWS = 200_000
_LOOKED_AT = 200  # rows by which separators and decimals are told
_NUMBER = re.compile(r"[-+−]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+−]?\d+)?")
_COMMA_NUMBER = re.compile(r"[-+−]?\d+(?:[.\s]\d{3})*,\d+(?:[eE][-+−]?\d+)?")
_XLSX = "xl/workbook.xml"

Row = list[str]


@dataclass(frozen=True)
class ReadTable:
    """A table that came in: the headings, and the rows that follow, each of as many cells."""

    headings: list[Heading]
    rows: Iterator[Row]


def read_table(data: bytes) -> ReadTable:
    """Read a file, whatever of the formats it is.

    Raises
    ------
    Unreadable : if it is none of them, or holds no table.
    """
    if data[:4] == b"PK\x03\x04":
        return _with_headings(_spreadsheet_rows(data))
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        try:
            text = data.decode("utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "cp1252")
        except UnicodeDecodeError as error:
            raise Unreadable("This is no table: neither text nor a spreadsheet.") from error
    if "\0" in text:
        raise Unreadable("This is no table: neither text nor a spreadsheet.")
    return read_text(text)


def read_text(text: str) -> ReadTable:
    """Read pasted text or a CSV or TSV file.

    Raises
    ------
    Unreadable : if there is nothing in it.
    """
    return _with_headings(text_rows(text))


def text_rows(text: str) -> Iterator[Row]:
    """The rows of a text, with decimal points, whatever it was written with."""
    lines = text.strip("\r\n").splitlines()
    sample = [line for line in lines[:_LOOKED_AT] if line.strip()]
    separator = _separator(sample)
    if separator is None:
        rows: Iterable[Row] = (line.split() for line in lines)
    else:
        rows = csv.reader(io.StringIO("\n".join(lines)), delimiter=separator)
    return _with_points(rows, comma_separates=separator == ",")


def _separator(sample: list[str]) -> str | None:
    """What stands between cells; None for blanks."""
    if any("\t" in line for line in sample):
        return "\t"
    if any(";" in line for line in sample):
        return ";"
    with_comma = [line for line in sample if "," in line]
    if with_comma and not all(_is_decimal_comma(line) for line in with_comma):
        return ","
    blanks = [len(line.split()) for line in sample]
    even = blanks and min(blanks) == max(blanks) > 1
    return None if even else "\t"


def _is_decimal_comma(line: str) -> bool:
    """Whether every comma of a line stands in a number such as 1,5 between blanks."""
    return all(_COMMA_NUMBER.fullmatch(cell) or "," not in cell for cell in line.split())


def _with_points(rows: Iterable[Row], *, comma_separates: bool) -> Iterator[Row]:
    begin = iter(rows)
    sample = list(islice(begin, _LOOKED_AT))
    cells = [cell.strip() for row in sample for cell in row]
    commas = not comma_separates and any(_COMMA_NUMBER.fullmatch(cell) for cell in cells)
    for row in chain(sample, begin):
        yield [_cell(cell, commas=commas) for cell in row]


def _cell(text: str, *, commas: bool) -> str:
    cleaned = " ".join(text.split())[:LONGEST_CELL]
    if cleaned.startswith("'") and cleaned[1:].startswith(FORMULA_SIGNS):
        cleaned = cleaned[1:]  # as tables are written that go out
    if commas and _COMMA_NUMBER.fullmatch(cleaned):
        return re.sub(r"[.\s](?=\d{3})", "", cleaned).replace(",", ".")
    return cleaned


def is_number(text: str) -> bool:
    """Whether a cell is a number."""
    return _NUMBER.fullmatch(text) is not None


def _with_headings(rows: Iterator[Row]) -> ReadTable:
    filled = (row for row in rows if any(row))
    sample = list(islice(filled, _LOOKED_AT))
    if not sample:
        raise Unreadable("There is nothing in this table.")
    width = max(len(row) for row in sample)
    if width > MOST_COLUMNS:
        raise Unreadable(f"This table has {width} columns; there is room for {MOST_COLUMNS}.")
    first = sample[0]
    has_heading = not any(is_number(cell) for cell in first) and any(first)
    texts = first + [""] * (width - len(first)) if has_heading else [""] * width
    headings: list[Heading] = []
    for place, text in enumerate(texts):
        heading = read_heading(text or f"column {place + 1}")
        headings.append(unique(heading, {one.symbol for one in headings}))
    body = chain(sample[1:] if has_heading else sample, filled)
    return ReadTable(headings, _evened(body, width))


def _evened(rows: Iterable[Row], width: int) -> Iterator[Row]:
    for count, row in enumerate(rows):
        if count >= MOST_ROWS:
            raise Unreadable(f"This table has more than {MOST_ROWS} rows.")
        if len(row) > width:
            raise Unreadable(f"Row {count + 1} has {len(row)} cells, those before at most {width}.")
        yield row + [""] * (width - len(row))


def _spreadsheet_rows(data: bytes) -> Iterator[Row]:
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
        _check_inflated(archive)
        names = set(archive.namelist())
        read = _xlsx_rows(data) if _XLSX in names else _ods_rows(data)
        rows = list(_limited(read))
    except Unreadable:
        raise
    except (zipfile.BadZipFile, KeyError, ValueError, OSError) as error:
        raise Unreadable("This spreadsheet cannot be read; save it as CSV.") from error
    except Exception as error:  # the readers raise what they like at a damaged file
        raise Unreadable("This spreadsheet is damaged; save it as CSV.") from error
    return _with_points(iter(rows), comma_separates=True)


def _check_inflated(archive: zipfile.ZipFile) -> None:
    """Refuse a spreadsheet that is much larger than its file, before it is unpacked."""
    inflated = sum(entry.file_size for entry in archive.infolist())
    if inflated > _LARGEST_INFLATED:
        raise Unreadable(
            f"Unpacked this spreadsheet has {inflated / 1e6:.0f} MB; at most "
            f"{_LARGEST_INFLATED // 1_000_000} MB are read. Save it as CSV."
        )


def _limited(rows: Iterator[Row]) -> Iterator[Row]:
    """The rows, as long as they are not too many together."""
    count = 0
    for row in rows:
        count += len(row)
        if count > MOST_SPREADSHEET_CELLS:
            raise Unreadable(
                f"This spreadsheet has more than {MOST_SPREADSHEET_CELLS} cells; save it as CSV, "
                "which may have more."
            )
        yield row


def _xlsx_rows(data: bytes) -> Iterator[Row]:
    import openpyxl  # takes long to load, and few tables come from it

    book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
    for row in book.worksheets[0].iter_rows(values_only=True):
        yield ["" if value is None else _number_text(value) for value in row]


def _number_text(value: Any) -> str:
    if isinstance(value, float) and value.is_integer() and abs(value) < 1e15:
        return str(int(value))
    return str(value)


def _ods_rows(data: bytes) -> Iterator[Row]:
    document = opendocument.load(io.BytesIO(data))
    sheets = document.spreadsheet.getElementsByType(table.Table)
    for row in sheets[0].getElementsByType(table.TableRow):
        cells: Row = []
        for cell in row.getElementsByType(table.TableCell):
            text = _ods_text(cell)
            repeated = int(cell.getAttribute("numbercolumnsrepeated") or 1)
            if text and len(cells) + repeated > MOST_COLUMNS:
                raise Unreadable(
                    f"This table has more than {MOST_COLUMNS} columns; there is no room for those."
                )
            cells += [text] * (repeated if repeated <= MOST_COLUMNS else 1)
        while cells and not cells[-1]:
            cells.pop()
        repeated = int(row.getAttribute("numberrowsrepeated") or 1)
        if cells and repeated > MOST_ROWS:
            raise Unreadable(f"This table has more than {MOST_ROWS} rows.")
        for _ in range(repeated if cells else 1):
            yield cells


def _ods_text(cell: Any) -> str:
    """As it is shown, so that 2.0 stays 2.0; its value where that is no plain number."""
    shown = teletype.extractText(cell).strip()
    if cell.getAttribute("valuetype") == "float" and not is_number(shown):
        return str(cell.getAttribute("value"))
    return str(shown)
