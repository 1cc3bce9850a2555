"""Tables that go out: CSV, tab-separated text for the clipboard, ODS and XLSX."""

import csv
import io
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import count
from typing import TextIO

from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableCell, TableRow
from odf.text import P
from openpyxl import Workbook
from openpyxl.cell import WriteOnlyCell
from openpyxl.styles import Font

from footing.formats.headings import Heading, written
from footing.formats.reading import FORMULA_SIGNS, is_number

_UTF8_MARK = "\ufeff"
_LONGEST_SHEET_NAME = 31
_NOT_IN_NAMES = re.compile(r"[\[\]:*?/\\']")


def separated(
    file: TextIO, headings: Sequence[Heading], rows: Iterable[Sequence[str]], separator: str
) -> None:
    """Write a table with units in its header, such as a spreadsheet opens or takes by pasting."""
    lines(file, [[written(heading) for heading in headings]], separator)
    lines(file, rows, separator)


def as_csv(headings: Sequence[Heading], rows: Iterable[Sequence[str]]) -> bytes:
    """A table as CSV that spreadsheets read as UTF-8."""
    return lines_as_csv([[written(heading) for heading in headings], *rows])


def lines_as_csv(rows: Iterable[Sequence[str]]) -> bytes:
    """Lines of cells as CSV, marked so that spreadsheets read it as UTF-8."""
    text = io.StringIO()
    lines(text, rows, ",")
    return (_UTF8_MARK + text.getvalue()).encode()


def lines(file: TextIO, rows: Iterable[Sequence[str]], separator: str) -> None:
    """Write lines of cells, none of which a spreadsheet takes for a formula."""
    writer = csv.writer(file, delimiter=separator, lineterminator="\n")
    writer.writerows([_as_text(cell.replace("−", "-")) for cell in cells] for cells in rows)


@dataclass(frozen=True)
class SheetOut:
    """One table of a spreadsheet: its name, headings and rows, as they are shown."""

    name: str
    headings: Sequence[Heading]
    rows: Iterable[Sequence[str]]


def as_ods(name: str, headings: Sequence[Heading], rows: Iterable[Sequence[str]]) -> bytes:
    """A spreadsheet in the open document format; numbers are numbers and keep their digits."""
    return as_ods_book([SheetOut(name, headings, rows)])


def as_ods_book(sheets: Iterable[SheetOut]) -> bytes:
    """A spreadsheet of several tables in the open document format."""
    document = OpenDocumentSpreadsheet()
    taken: set[str] = set()
    for one in sheets:
        sheet = Table(name=sheet_name(one.name, taken))
        document.spreadsheet.addElement(sheet)
        sheet.addElement(_row([written(heading) for heading in one.headings]))
        for cells in one.rows:
            sheet.addElement(_row(cells))
    file = io.BytesIO()
    document.write(file)
    return file.getvalue()


def as_xlsx(name: str, headings: Sequence[Heading], rows: Iterable[Sequence[str]]) -> bytes:
    """A spreadsheet in the format of Office Open XML; numbers are numbers and keep their digits."""
    book = Workbook(write_only=True)
    sheet = book.create_sheet(sheet_name(name, set()))
    sheet.append([_text_cell(sheet, written(heading), bold=True) for heading in headings])
    for cells in rows:
        sheet.append([_cell(sheet, text) for text in cells])
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


def _cell(sheet: object, text: str) -> WriteOnlyCell:
    plain = text.replace("−", "-")
    if not is_number(plain):
        return _text_cell(sheet, text)
    cell = WriteOnlyCell(sheet, value=float(plain))
    decimals = len(plain.partition(".")[2].lower().partition("e")[0])
    exponent = "E+00" if "e" in plain.lower() else ""
    cell.number_format = f"0{'.' if decimals else ''}{'0' * decimals}{exponent}"
    return cell


def _text_cell(sheet: object, text: str, *, bold: bool = False) -> WriteOnlyCell:
    """A text that is no formula, however it begins."""
    cell = WriteOnlyCell(sheet, value=text)
    cell.data_type = "s"
    if bold:
        cell.font = Font(bold=True)
    return cell


def sheet_name(wanted: str, taken: set[str]) -> str:
    """A name that spreadsheets take for a table, and that none of the others has."""
    plain = _NOT_IN_NAMES.sub(" ", wanted).strip()[:_LONGEST_SHEET_NAME] or "table"
    made = plain
    for number in count(2):
        if made.casefold() not in taken:
            break
        made = f"{plain[: _LONGEST_SHEET_NAME - 4]} {number}"
    taken.add(made.casefold())
    return made


def _row(cells: Sequence[str]) -> TableRow:
    row = TableRow()
    for text in cells:
        plain = text.replace("−", "-")
        if is_number(plain):
            cell = TableCell(valuetype="float", value=plain)
        else:
            cell = TableCell(valuetype="string")
        cell.addElement(P(text=text))
        row.addElement(cell)
    return row


def _as_text(cell: str) -> str:
    """A cell that no spreadsheet takes for a formula (OWASP, CSV Injection)."""
    return f"'{cell}" if cell.startswith(FORMULA_SIGNS) and not is_number(cell) else cell
