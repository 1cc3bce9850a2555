"""Sheets come and go, and their rows with them."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from footing.core.errors import Refused
from footing.formats import reading
from footing.formats.headings import Heading, read_heading, unique
from footing.store import cells
from footing.store.rows import Footage, RowAside, Sheet, SheetColumn
from footing.studies.edits.base import EditModel, Name
from footing.studies.edits.columns import insert_column, remove_column
from footing.studies.edits.fits import remove_fits_of
from footing.studies.edits.passages import remove_passage
from footing.studies.model.kinds import READ_BY_EYE, TYPED, sheet_kind
from footing.studies.work import Work

MOST_SHEETS = 24
_LONGEST_PASTE = 2_000_000  # characters
Cell = Annotated[str, StringConstraints(strip_whitespace=True, max_length=reading.LONGEST_CELL)]
RowNumber = Annotated[int, Field(ge=1, le=reading.MOST_ROWS)]


class NewColumn(EditModel):
    """A column of a new sheet; ``blocks`` are keys of cells that were stored before."""

    name: Name
    symbol: Name
    unit: Annotated[str, StringConstraints(max_length=40)] = ""
    blocks: tuple[str, ...] = ()


class AddSheet(EditModel):
    """Make a sheet, empty or with the columns of a file that was read."""

    kind: Literal["add_sheet"] = "add_sheet"
    name: Name
    columns: Annotated[tuple[NewColumn, ...], Field(max_length=reading.MOST_COLUMNS)] = ()
    rows: Annotated[int, Field(ge=0, le=reading.MOST_ROWS)] = 0

    @property
    def label(self) -> str:
        """In the history."""
        return f"sheet “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add the sheet with its columns."""
        _check_room(work)
        if not cells.are_there(key for column in self.columns for key in column.blocks):
            raise Refused("Some cells of this sheet were never stored; bring the file in again.")
        sheet = _insert(work, self.name, rows=self.rows)
        for column in self.columns:
            heading = Heading(column.name, column.symbol, column.unit)
            insert_column(work, sheet, heading, blocks=list(column.blocks))


class ReadByEye(EditModel):
    """Make a sheet whose rows are moments of a footage: frames, and what is read in each."""

    kind: Literal["read_by_eye"] = "read_by_eye"
    footage: int
    name: Name
    unit: Annotated[str, StringConstraints(max_length=40)] = ""

    @property
    def label(self) -> str:
        """In the history."""
        return f"reading “{self.name}” by eye"

    def apply(self, work: Work) -> None:
        """Add the sheet with a column for the frames and one for the readings."""
        _check_room(work)
        footage = work.row(Footage, self.footage)
        if not work.kind(footage).has_time:
            raise Refused("A picture has no moments; type its readings into a plain sheet.")
        sheet = _insert(work, self.name, footage=footage)
        insert_column(work, sheet, Heading("frame", "frame", ""))
        heading = unique(Heading(self.name, reading_symbol(self.name), self.unit), {"frame", "t"})
        insert_column(work, sheet, heading)


class AddReading(EditModel):
    """Note what is read in a frame: a row of a sheet read by eye, in the order of the frames."""

    kind: Literal["add_reading"] = "add_reading"
    sheet: int
    frame: int
    text: Cell

    @property
    def label(self) -> str:
        """In the history."""
        return f"reading in frame {self.frame}"

    def apply(self, work: Work) -> None:
        """Put the reading into its row; a frame that was read before is read anew."""
        sheet = work.row(Sheet, self.sheet)
        if not sheet_kind(sheet).of_footage:
            raise Refused("This sheet is not read from a footage.", field="sheet")
        work.check_frame(work.row(Footage, sheet.footage_id or 0), self.frame)
        if not reading.is_number(_plain(self.text)):
            raise Refused(f"“{self.text}” is not a number; type what you read.", field="text")
        frames, readings = work.rows.columns_of(sheet)[:2]
        rows = dict(
            zip(
                cells.texts(frames.blocks, sheet.rows),
                cells.texts(readings.blocks, sheet.rows),
                strict=True,
            )
        )
        rows[str(self.frame)] = _plain(self.text)
        ordered = sorted(rows, key=lambda frame: cells.as_number(frame))
        work.changes.update(replace(sheet, rows=len(rows)))
        _store(work, frames, ordered)
        _store(work, readings, [rows[frame] for frame in ordered])


class RenameSheet(EditModel):
    """Name a sheet."""

    kind: Literal["rename_sheet"] = "rename_sheet"
    sheet: int
    name: Name

    @property
    def label(self) -> str:
        """In the history."""
        return f"sheet “{self.name}”"

    def apply(self, work: Work) -> None:
        """Change the name."""
        work.changes.update(replace(work.row(Sheet, self.sheet), name=self.name))


class RemoveSheet(EditModel):
    """Remove a sheet with its columns, graphs, fits and passages."""

    kind: Literal["remove_sheet"] = "remove_sheet"
    sheet: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a sheet"

    def apply(self, work: Work) -> None:
        """Remove what rests on it first."""
        remove_sheet(work, work.row(Sheet, self.sheet))


class SetCells(EditModel):
    """Type cells: a block of texts from a row and a column on; the sheet grows where needed."""

    kind: Literal["set_cells"] = "set_cells"
    sheet: int
    row: RowNumber
    column: int
    cells: Annotated[list[list[Cell]], Field(min_length=1, max_length=10_000)]

    @property
    def label(self) -> str:
        """In the history."""
        return "cells" if len(self.cells) > 1 or len(self.cells[0]) > 1 else "a cell"

    def apply(self, work: Work) -> None:
        """Write the cells."""
        texts = [[_plain(cell) for cell in row] for row in self.cells]
        write_cells(work, work.row(Sheet, self.sheet), self.row, self.column, texts)


class PasteCells(EditModel):
    """Paste text as a spreadsheet copies it, with whatever separators and decimal signs."""

    kind: Literal["paste_cells"] = "paste_cells"
    sheet: int
    row: RowNumber
    column: int
    text: Annotated[str, StringConstraints(min_length=1, max_length=_LONGEST_PASTE)]

    @property
    def label(self) -> str:
        """In the history."""
        return "pasted cells"

    def apply(self, work: Work) -> None:
        """Write the cells; columns that are missing are made."""
        texts = list(reading.text_rows(self.text))
        width = max((len(row) for row in texts), default=0)
        if not width:
            raise Refused("There is nothing to paste.", field="text")
        evened = [row + [""] * (width - len(row)) for row in texts]
        write_cells(work, work.row(Sheet, self.sheet), self.row, self.column, evened)


class InsertRows(EditModel):
    """Put empty rows before a row."""

    kind: Literal["insert_rows"] = "insert_rows"
    sheet: int
    row: RowNumber
    count: Annotated[int, Field(ge=1, le=10_000)] = 1

    @property
    def label(self) -> str:
        """In the history."""
        return "new rows"

    def apply(self, work: Work) -> None:
        """Move the cells below down."""
        sheet = work.row(Sheet, self.sheet)
        at = min(self.row - 1, sheet.rows)
        _check_rows(sheet.rows + self.count)
        for column in _typed_columns(work, sheet):
            moved = cells.put_between(column.blocks, at, self.count)
            work.changes.update(replace(column, blocks=moved))
        _move_asides(work, sheet, lambda row: row + self.count if row > at else row)
        work.changes.update(replace(sheet, rows=sheet.rows + self.count))


class RemoveRows(EditModel):
    """Remove rows of a typed sheet."""

    kind: Literal["remove_rows"] = "remove_rows"
    sheet: int
    row: RowNumber
    count: Annotated[int, Field(ge=1, le=reading.MOST_ROWS)] = 1

    @property
    def label(self) -> str:
        """In the history."""
        return "removing rows"

    def apply(self, work: Work) -> None:
        """Move the cells below up."""
        sheet = work.row(Sheet, self.sheet)
        first, after = self.row - 1, min(self.row - 1 + self.count, sheet.rows)
        if first >= sheet.rows:
            raise Refused(f"There is no row {self.row}; the last one is {sheet.rows}.", field="row")
        for column in _typed_columns(work, sheet):
            left = cells.without(column.blocks, first, after)
            work.changes.update(replace(column, blocks=left))

        def moved(row: int) -> int | None:
            if row <= first:
                return row
            return row - (after - first) if row > after else None

        _move_asides(work, sheet, moved)
        work.changes.update(replace(sheet, rows=sheet.rows - (after - first)))


class SetRowAside(EditModel):
    """Set a row aside with a reason, so that it does not count, or take it back in."""

    kind: Literal["set_row_aside"] = "set_row_aside"
    sheet: int
    row: RowNumber
    aside: bool
    reason: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] = ""

    @property
    def label(self) -> str:
        """In the history."""
        return f"row {self.row} {'set aside' if self.aside else 'taken back in'}"

    def apply(self, work: Work) -> None:
        """Note it, or forget it."""
        sheet = work.row(Sheet, self.sheet)
        if self.row > sheet.rows:
            raise Refused(f"There is no row {self.row}; the last one is {sheet.rows}.", field="row")
        present = work.rows.get(RowAside, (sheet.id, self.row))
        if self.aside and present is None:
            work.changes.insert(
                RowAside(
                    sheet_id=sheet.id, row=self.row, study_id=work.study_id, reason=self.reason
                )
            )
        elif present is None:
            return
        elif self.aside:
            work.changes.update(replace(present, reason=self.reason))
        else:
            work.changes.delete(present)


def reading_symbol(name: str) -> str:
    """The symbol of what is read by eye."""
    return read_heading(name).symbol


def write_cells(work: Work, sheet: Sheet, row: int, column: int, texts: list[list[str]]) -> None:
    """Write a block of cells from a row (from 1) and a column on; the sheet grows where needed."""
    columns = [*work.rows.columns_of(sheet)]
    place = next((n for n, one in enumerate(columns) if one.id == column), None)
    if place is None:
        raise Refused("This column is not there any more.", field="column")
    width = len(texts[0])
    if any(len(cells_of_row) != width for cells_of_row in texts):
        raise Refused("The rows of a block are of one length.", field="cells")
    while len(columns) < place + width:
        taken = {one.symbol for one in columns}
        name = f"column {len(columns) + 1}"
        heading = unique(Heading(name, "c", ""), taken)
        columns.append(insert_column(work, sheet, heading))
    last = row - 1 + len(texts)
    _check_rows(last)
    if last > sheet.rows:
        work.changes.update(replace(sheet, rows=last))
    for offset in range(width):
        target = columns[place + offset]
        if target.formula is not None:
            raise Refused(
                f"The column {target.name} is computed; change its formula, or make it a typed "
                "one first.",
                field="cells",
            )
        new = [cells_of_row[offset] for cells_of_row in texts]
        blocks = cells.put_over(target.blocks, row - 1, new)
        work.changes.update(replace(target, blocks=blocks))


def remove_sheet(work: Work, sheet: Sheet) -> None:
    """Remove what rests on a sheet, then it."""
    for passage in work.rows.passages_of(sheet):
        remove_passage(work, passage)
    remove_fits_of(work, sheet=sheet)
    for graph in work.rows.graphs_of(sheet):
        work.changes.delete(graph)
    for column in work.rows.columns_of(sheet):
        remove_column(work, column)
    for row in work.rows.asides_of(sheet):
        work.changes.delete(row)
    work.changes.delete(sheet)


def _plain(text: str) -> str:
    """A typed cell with a decimal point and a plain minus where it is a number."""
    point = text.replace("−", "-")
    with_point = point.replace(",", ".")
    return with_point if reading.is_number(with_point) else text


def _insert(work: Work, name: str, *, rows: int = 0, footage: Footage | None = None) -> Sheet:
    """A new sheet: read by eye from a footage, or typed."""
    return work.changes.insert(
        Sheet(
            study_id=work.study_id,
            footage_id=footage.id if footage else None,
            kind=(READ_BY_EYE if footage else TYPED).key,
            name=work.unique_sheet_name(name),
            rows=rows,
        )
    )


def _check_room(work: Work) -> None:
    if len(work.rows.all(Sheet)) >= MOST_SHEETS:
        raise Refused(f"A study has room for {MOST_SHEETS} sheets; remove one first.")


def _check_rows(rows: int) -> None:
    if rows > reading.MOST_ROWS:
        raise Refused(f"A sheet has room for {reading.MOST_ROWS} rows.", field="row")


def _typed_columns(work: Work, sheet: Sheet) -> list[SheetColumn]:
    return [column for column in work.rows.columns_of(sheet) if column.formula is None]


def _store(work: Work, column: SheetColumn, texts: Sequence[str]) -> None:
    """Give a column its cells; blocks that did not change keep their keys."""
    work.changes.update(replace(column, blocks=cells.put_column(texts)))


def _move_asides(work: Work, sheet: Sheet, moved: Callable[[int], int | None]) -> None:
    asides = work.rows.asides_of(sheet)
    for row in asides:
        work.changes.delete(row)
    for row in asides:
        new = moved(row.row)
        if new is not None:
            work.changes.insert(replace(row, row=new))
