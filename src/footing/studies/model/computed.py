"""Computed columns: formulas of a sheet in the order in which they need each other."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray, IntArray
from footing.core.dimensions import Unit, read_unit
from footing.core.errors import FootingError
from footing.core.formulas.checking import check_readings
from footing.core.formulas.computing import Computed, Known, compute
from footing.core.formulas.parsing import parse
from footing.core.formulas.syntax import (
    Call,
    Formula,
    Name,
    Number,
    UnitsDiffer,
    WrongFormula,
    walk,
)
from footing.core.units import read_number
from footing.store.rows import AnyColumn
from footing.store.snapshot import StudyRows
from footing.studies.model.containing import is_readable

Findings = Mapping[str, Callable[[], Known]]  # results of the study, made when asked for
_TIME = "t"  # what rates and integrals go by, without naming it
STANDARD_GRAVITY = 9.80665  # m/s², CGPM 1901


@dataclass(frozen=True)
class Problem:
    """Why a column has no values.

    span : the place in its formula, if it is there
    of_units : whether units do not go together
    """

    text: str
    span: tuple[int, int] | None = None
    of_units: bool = False


def constants_of(rows: StudyRows) -> dict[str, Known]:
    """What every formula of a column can name: the study's quantities, g and π."""
    standard = Known(STANDARD_GRAVITY, read_unit("m/s^2"))
    return {"g": standard} | quantities_of(rows)


def quantities_of(rows: StudyRows) -> dict[str, Known]:
    """The study's own quantities, and π; what else a formula of a fit names is a parameter."""
    found = {"pi": Known(float(np.pi)), "π": Known(float(np.pi))}
    for row in rows.quantities:
        if not is_readable(row.typed):
            continue
        typed = read_number(row.typed, field="typed")
        found[row.symbol] = Known(typed.value, read_unit(row.unit), typed.uncertainty)
    return found


class Scope(Mapping[str, Known]):
    """What symbols stand for; columns are made when a formula first names them.

    Parameters
    ----------
    known : what costs nothing
    columns : makes a column, by its symbol; these go before what is known
    """

    def __init__(
        self, known: Mapping[str, Known], columns: Mapping[str, Callable[[], Known]]
    ) -> None:
        self._known = known
        self._columns = columns
        self._made: dict[str, Known] = {}

    def __getitem__(self, symbol: str) -> Known:
        """What a symbol stands for."""
        if symbol not in self._columns:
            return self._known[symbol]
        if symbol not in self._made:
            self._made[symbol] = self._columns[symbol]()
        return self._made[symbol]

    def __iter__(self) -> Iterator[str]:
        """All symbols, in no order."""
        return iter(self._known.keys() | self._columns.keys())

    def __len__(self) -> int:
        """How many symbols there are."""
        return len(self._known.keys() | self._columns.keys())


class Computing:
    """The columns of one table while they are computed, each once and only when asked for.

    Parameters
    ----------
    own : what is there without computing, by symbol
    columns : the rows of computed columns
    rows : how many rows the table has
    breaks : rows behind which something hits
    """

    def __init__(
        self,
        own: Mapping[str, Known],
        columns: Sequence[AnyColumn],
        *,
        rows: int,
        breaks: IntArray | None = None,
    ) -> None:
        self.rows = rows
        self._breaks = breaks
        self._own = own
        self._columns = {column.symbol: column for column in columns if column.formula is not None}
        self._under_way: list[str] = []
        self._results: dict[str, Computed | Problem] = {}

    def result(self, symbol: str) -> Computed | Problem:
        """A computed column, or why there is none."""
        if symbol not in self._results:
            self._results[symbol] = self._compute(symbol)
        return self._results[symbol]

    def common(self, found: Computed | Known, unit: Unit) -> dict[str, FloatArray]:
        """How the rows of a column change with what all of them have in common, in its unit.

        By source ``(rows,)``: with one standard uncertainty of a mass or a quantity of the study;
        with the whole of all lengths and all times, whose uncertainty the ground knows.
        """
        changes = {}
        for source, slope in found.slopes.items():
            known = self._own.get(source)
            if known is None or np.ndim(known.values) or sparse.issparse(slope):
                continue
            size = float(known.uncertainty) * known.unit.factor / unit.factor
            changes[source] = np.broadcast_to(np.asarray(slope) * size, (self.rows,))
        return changes

    def trial(self, text: str, *, unit: Unit | None, symbol: str = "") -> Computed:
        """A formula that is being typed, as it would be computed for the column of this symbol.

        Raises
        ------
        WrongFormula : with the place where it cannot be used.
        """
        formula = parse(text)
        check_readings(formula, self._is_quantity)
        self._under_way.append(symbol)
        try:
            self._need(formula)
        finally:
            self._under_way.pop()
        named = {*formula.names, _TIME} - {symbol}
        scope = {name: known for name in named if (known := self._known(name)) is not None}
        rests_on = {source for known in scope.values() for source in known.slopes}
        sources = {source: self._own[source] for source in rests_on}
        return compute(formula, sources | scope, rows=self.rows, unit=unit, breaks=self._breaks)

    def _is_quantity(self, symbol: str) -> bool:
        """Whether a symbol is something that somebody typed or made, and not measured by marks."""
        known = self._own.get(symbol)
        return symbol in self._columns or (
            known is not None and (np.ndim(known.values) == 0 or not known.slopes)
        )

    def _known(self, symbol: str) -> Known | None:
        found = self._results.get(symbol)
        if isinstance(found, Computed):
            return Known(found.values, found.unit, found.uncertainties, found.slopes)
        return None if symbol in self._columns else self._own.get(symbol)

    def _compute(self, symbol: str) -> Computed | Problem:
        column = self._columns[symbol]
        unit = read_unit(column.unit) if column.unit else None
        try:
            if column.scatter:
                return self._practice(column, unit)
            found = self.trial(column.formula or "", unit=unit, symbol=symbol)
        except WrongFormula as error:
            return Problem(str(error), error.span, isinstance(error, UnitsDiffer))
        except FootingError as error:
            return Problem(str(error))
        return found

    def _practice(self, column: AnyColumn, unit: Unit | None) -> Computed:
        """Practice data: as an instrument gives them, rounded with the errors in them."""
        text, decimals = _inside_rounding(parse(column.formula or ""))
        found = _scattered(self.trial(text, unit=unit, symbol=column.symbol), column)
        if decimals is None:
            return found
        return replace(found, values=np.round(found.values, decimals))

    def _need(self, formula: Formula) -> None:
        """Compute what a formula names, and refuse a circle."""
        for node in walk(formula.root):
            if not isinstance(node, Name) or node.symbol not in self._columns:
                continue
            name = node.symbol
            if name in self._under_way:
                circle = [*self._under_way[self._under_way.index(name) :], name]
                raise WrongFormula(f"This goes round in a circle: {' → '.join(circle)}.", node.span)
            if isinstance(self.result(name), Problem):
                raise WrongFormula(f"The column {name} has a problem of its own.", node.span)


def _inside_rounding(formula: Formula) -> tuple[str, int | None]:
    """What a formula rounds as the last thing, and to how many decimals; None if it does not."""
    root = formula.root
    if not isinstance(root, Call) or root.function != "round":
        return formula.text, None
    decimals = root.arguments[1] if len(root.arguments) > 1 else None
    if decimals is not None and not isinstance(decimals, Number):
        return formula.text, None
    begin, end = root.arguments[0].span
    return formula.text[begin:end], 0 if decimals is None else int(decimals.value)


def _scattered(found: Computed, column: AnyColumn) -> Computed:
    """Practice data: with errors added by chance, the same ones until they are drawn again."""
    size = read_number(column.scatter or "0", field="scatter").value
    drawn = np.random.default_rng(column.seed or 0).normal(scale=size, size=len(found.values))
    return Computed(
        found.values + drawn,
        found.unit,
        np.hypot(found.uncertainties, size),
        {},
        found.notes,
    )
