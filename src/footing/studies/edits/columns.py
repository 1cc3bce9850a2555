"""Columns of sheets: names, units and digits, formulas, series and practice data."""

from dataclasses import replace
from typing import Annotated, Literal, TypeGuard, overload

from pydantic import Field, StringConstraints

from footing.core import findings
from footing.core.dimensions import read_unit
from footing.core.errors import Refused
from footing.core.formulas.parsing import parse
from footing.core.units import read_number, read_positive
from footing.formats.headings import Heading, unique, usual_symbol
from footing.formats.reading import MOST_COLUMNS, MOST_ROWS
from footing.store import cells
from footing.store.rows import AnyColumn, BodyColumn, Footage, Graph, Sheet, SheetColumn
from footing.studies.edits.base import EditModel, Name, Typed
from footing.studies.edits.converting import convert_cells, converted_uncertainty
from footing.studies.edits.fits import remove_finding, remove_fits_of
from footing.studies.edits.symbols import check_symbol
from footing.studies.model.computed import Problem
from footing.studies.model.sheets import digits_of, key_of, printed, read_stated
from footing.studies.model.sources import Sources
from footing.studies.work import Work

UnitText = Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
FormulaText = Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)]
_LARGEST_SEED = 2**31 - 1


class AddColumn(EditModel):
    """Add a column to a sheet, typed or with a formula; without a symbol it gets a usual one.

    For a footage, the column is computed for every body on it.
    """

    kind: Literal["add_column"] = "add_column"
    sheet: int | None = None
    footage: int | None = None
    name: Name
    symbol: Typed = ""
    unit: UnitText = ""
    formula: FormulaText | None = None

    @property
    def label(self) -> str:
        """In the history."""
        return f"column “{self.name}”"

    def apply(self, work: Work) -> None:
        """Add the column behind the others."""
        source = self._source(work)
        if isinstance(source, Footage) and not self.formula:
            raise Refused("A column beside marks is computed; write its formula.", field="formula")
        symbol = self.symbol or usual_symbol(self.name)
        heading = Heading(self.name, symbol, self.unit)
        if not self.symbol:
            heading = unique(heading, {column.symbol for column in work.rows.columns_of(source)})
        insert_column(work, source, heading, formula=self.formula)

    def _source(self, work: Work) -> Sheet | Footage:
        if (self.sheet is None) == (self.footage is None):
            raise Refused("Name a sheet or a footage for the column.", field="sheet")
        if self.sheet is not None:
            return work.row(Sheet, self.sheet)
        return work.row(Footage, self.footage or 0)


class ChangeColumn(EditModel):
    """Name a column anew, change its unit, digits or uncertainty.

    convert : whether typed numbers are converted to the new unit; if not, they stay as they are
    """

    kind: Literal["change_column"] = "change_column"
    column: int
    name: Name
    symbol: Name
    unit: UnitText = ""
    convert: bool = False
    digits: Annotated[int, Field(ge=0, le=12)] | None = None
    digits_as: Literal["decimals", "significant"] = "decimals"
    uncertainty: Typed = ""

    @property
    def label(self) -> str:
        """In the history."""
        return f"column “{self.name}”"

    def apply(self, work: Work) -> None:
        """Change the column; formulas that name its symbol follow."""
        column = work.column(self.column)
        unit = str(read_unit(self.unit))
        _check_symbol(work, work.rows.source_of_column(column), self.symbol, besides=column)
        stated = self._stated(work, column)
        if _is_typed(column) and self.convert and unit != column.unit:
            convert_cells(work, column, unit)
            if stated == (column.uncertainty or ""):
                stated = converted_uncertainty(stated, column.unit, unit)
        if self.symbol != column.symbol:
            _rename_in_formulas(work, column, self.symbol)
        changed = replace(
            work.column(self.column),  # as it is after what was converted and renamed
            name=self.name,
            symbol=self.symbol,
            unit=unit,
            digits=self.digits,
            digits_as=self.digits_as if self.digits is not None else None,
        )
        if isinstance(changed, SheetColumn):
            changed = replace(changed, uncertainty=stated or None)
        work.changes.update(changed)

    def _stated(self, work: Work, column: SheetColumn | BodyColumn) -> str:
        """What was stated as uncertainty, once checked."""
        if not self.uncertainty:
            return ""
        if isinstance(column, BodyColumn):
            raise Refused(
                "A computed column takes its uncertainty from what its formula names.",
                field="uncertainty",
            )
        symbol = read_stated(self.uncertainty).symbol
        if not symbol:
            return self.uncertainty
        others = work.rows.columns_of(work.rows.sheet_of(column))
        held = next((one for one in others if one.symbol == symbol), None)
        if held is None or held.id == column.id or held.formula is not None:
            raise Refused(
                f"“{symbol}” is no typed column of this sheet. Type a number, a share such as 2 %, "
                "or the symbol of a column with an uncertainty for each row.",
                field="uncertainty",
            )
        if not read_unit(held.unit).converts_to(read_unit(self.unit)):
            raise Refused(
                f"The column {symbol} is in {held.unit or 'no unit'}; it needs a unit of the same "
                "kind as the values.",
                field="uncertainty",
            )
        return symbol


class SetFormula(EditModel):
    """Give a computed column its formula, and the size of what is added by chance, if anything.

    Drawing again takes another ``seed``.
    """

    kind: Literal["set_formula"] = "set_formula"
    column: int
    formula: FormulaText
    scatter: Typed = ""
    seed: Annotated[int, Field(ge=0, le=_LARGEST_SEED)] = 0

    @property
    def label(self) -> str:
        """In the history."""
        return "a formula"

    def apply(self, work: Work) -> None:
        """Change the formula. Whether its units go together is told where it is shown."""
        column = work.column(self.column)
        parse(self.formula)
        if self.scatter:
            read_positive(self.scatter, field="scatter", what="A scatter")
        if _is_typed(column) and not cells.are_empty(column.blocks):
            raise Refused(
                f"{column.name} holds typed numbers; add a new column for the formula.",
                field="formula",
            )
        changed = replace(
            column, formula=self.formula, scatter=self.scatter or None, seed=self.seed
        )
        work.changes.update(changed)


class FreezeColumn(EditModel):
    """Make a computed column a typed one: its numbers stay as they are shown now."""

    kind: Literal["freeze_column"] = "freeze_column"
    column: int

    @property
    def label(self) -> str:
        """In the history."""
        return "freezing a column"

    def apply(self, work: Work) -> None:
        """Write the values as typed cells."""
        column = work.column(self.column)
        if isinstance(column, BodyColumn):
            raise Refused("Only a computed column of a sheet can be frozen.", field="column")
        result = Sources(work.rows).sheet(work.rows.sheet_of(column)).table.result(column)
        if result is None or isinstance(result, Problem):
            raise Refused("Only a computed column of a sheet can be frozen.", field="column")
        digits = digits_of(column, result.values, result.uncertainties)
        texts = [printed(value, digits).replace("−", "-") for value in result.values]
        typed = replace(column, formula=None, scatter=None, seed=None, unit=str(result.unit))
        work.changes.update(replace(typed, blocks=cells.put_column(texts)))


class FillColumn(EditModel):
    """Fill a typed column with an even series; the value that would run over the end is left out.

    The series goes from ``first`` in steps to ``last``, or through all rows without one.
    """

    kind: Literal["fill_column"] = "fill_column"
    column: int
    first: Typed
    step: Typed
    last: Typed = ""

    @property
    def label(self) -> str:
        """In the history."""
        return "an even series"

    def apply(self, work: Work) -> None:
        """Write the series."""
        column = work.column(self.column)
        if not _is_typed(column):
            raise Refused("A computed column follows its formula.", field="first")
        sheet = work.rows.sheet_of(column)
        first = read_number(self.first, field="first").value
        step = read_number(self.step, field="step").value
        if self.last:
            last = read_number(self.last, field="last").value
            if step == 0 or (last - first) / step < 0:
                raise Refused(f"Steps of {self.step} do not lead there.", field="step")
            count = int((last - first) / step * (1 + 1e-12) + 1e-9) + 1
        else:
            count = sheet.rows
        if not 0 < count <= MOST_ROWS:
            raise Refused(f"That would be {count} rows; choose another step.", field="step")
        decimals = max(_decimals(self.first), _decimals(self.step))
        texts = [
            findings.number(first + step * n, decimals).replace("−", "-") for n in range(count)
        ]
        texts += [""] * (sheet.rows - count)
        if count > sheet.rows:
            work.changes.update(replace(sheet, rows=count))
        work.changes.update(replace(column, blocks=cells.put_column(texts)))


class MoveColumn(EditModel):
    """Move a column to another place in its sheet, from 0 on."""

    kind: Literal["move_column"] = "move_column"
    column: int
    place: Annotated[int, Field(ge=0)]

    @property
    def label(self) -> str:
        """In the history."""
        return "the order of columns"

    def apply(self, work: Work) -> None:
        """Number the columns anew."""
        column = work.column(self.column)
        columns = work.rows.columns_of(work.rows.source_of_column(column))
        others = [one for one in columns if one.id != column.id]
        others.insert(min(self.place, len(others)), column)
        for place, one in enumerate(others):
            work.changes.update(replace(one, place=place))


class RemoveColumn(EditModel):
    """Remove a column with the fits that use it."""

    kind: Literal["remove_column"] = "remove_column"
    column: int

    @property
    def label(self) -> str:
        """In the history."""
        return "removing a column"

    def apply(self, work: Work) -> None:
        """Remove what rests on it first."""
        remove_column(work, work.column(self.column))


@overload
def insert_column(
    work: Work,
    source: Sheet,
    heading: Heading,
    *,
    formula: str | None = ...,
    blocks: list[str] | None = ...,
) -> SheetColumn: ...


@overload
def insert_column(
    work: Work, source: Sheet | Footage, heading: Heading, *, formula: str | None
) -> AnyColumn: ...


def insert_column(
    work: Work,
    source: Sheet | Footage,
    heading: Heading,
    *,
    formula: str | None = None,
    blocks: list[str] | None = None,
) -> AnyColumn:
    """Add a column behind the others of a sheet, or of all bodies of a footage."""
    present = work.rows.columns_of(source)
    if len(present) >= MOST_COLUMNS:
        raise Refused(f"A sheet has room for {MOST_COLUMNS} columns.", field="name")
    _check_symbol(work, source, heading.symbol)
    if formula is not None:
        parse(formula)
    place = max((one.place for one in present), default=-1) + 1
    unit = str(read_unit(heading.unit))
    if isinstance(source, Footage):
        of_bodies = BodyColumn(
            study_id=work.study_id,
            footage_id=source.id,
            place=place,
            name=heading.name,
            symbol=heading.symbol,
            unit=unit,
            formula=formula,
        )
        return work.changes.insert(of_bodies)
    of_sheet = SheetColumn(
        study_id=work.study_id,
        sheet_id=source.id,
        place=place,
        name=heading.name,
        symbol=heading.symbol,
        unit=unit,
        formula=formula,
        blocks=blocks or [],
    )
    return work.changes.insert(of_sheet)


def remove_column(work: Work, column: SheetColumn | BodyColumn) -> None:
    """Remove the findings and fits that use a column, take it off graphs, then remove it."""
    key = key_of(column)
    if isinstance(column, SheetColumn):
        for finding in work.rows.means_of(column):
            remove_finding(work, finding)
        for other in work.rows.columns_of(work.rows.sheet_of(column)):
            if other.uncertainty == column.symbol:
                work.changes.update(replace(other, uncertainty=None))
    remove_fits_of(work, column=key)
    for graph in work.rows.all(Graph):
        left = [y for y in graph.ys if y != key]
        others = [one for one in graph.others if key not in (one["x"], one["y"])]
        if graph.x == key or not left:
            work.changes.delete(graph)
        else:
            work.changes.update(replace(graph, ys=left, others=others))
    work.changes.delete(column)


def _is_typed(column: AnyColumn) -> TypeGuard[SheetColumn]:
    return isinstance(column, SheetColumn) and column.formula is None


def _check_symbol(
    work: Work, source: Sheet | Footage, symbol: str, *, besides: AnyColumn | None = None
) -> None:
    check_symbol(symbol)
    for other in work.rows.columns_of(source):
        if other.symbol == symbol and (besides is None or other.id != besides.id):
            raise Refused(
                f"The column {other.name} has the symbol {symbol} already.", field="symbol"
            )


def _rename_in_formulas(work: Work, column: SheetColumn | BodyColumn, symbol: str) -> None:
    """Put the new symbol into the formulas that name the column."""
    for present in work.rows.columns_of(work.rows.source_of_column(column)):
        other = present
        if isinstance(other, SheetColumn) and other.uncertainty == column.symbol:
            other = work.changes.update(replace(other, uncertainty=symbol))
        if other.formula is None:
            continue
        formula = parse(other.formula)
        spans = formula.places_of(column.symbol)
        text = other.formula
        for begin, end in reversed(spans):
            text = text[:begin] + symbol + text[end:]
        work.changes.update(replace(other, formula=text))


def _decimals(text: str) -> int:
    return len(text.replace(",", ".").partition(".")[2])
