"""Walking through a checked formula: the values of its nodes for all rows, with their slopes."""

from collections.abc import Mapping

import numpy as np

from footing.core.arrays import IntArray
from footing.core.dimensions import NUMBER
from footing.core.formulas import slopes as slope
from footing.core.formulas.checking import Checked
from footing.core.formulas.functions import BY_TIME, FUNCTIONS
from footing.core.formulas.rows import SUMMARIES, UNBROKEN, WEIGHTS, NotRising
from footing.core.formulas.syntax import Call, Name, Negative, Node, Number, Operation, WrongFormula
from footing.core.formulas.terms import OPERATIONS, PLAIN, Term, chosen_by


class Walker:
    """Computes the nodes of a checked formula.

    Parameters
    ----------
    terms : what the symbols stand for, in base units
    rows : how many rows there are
    shared : the sources that are one value for all rows
    breaks : rows behind which something hits
    """

    def __init__(
        self,
        terms: Mapping[str, Term],
        checked: Checked,
        *,
        rows: int,
        shared: frozenset[str] = frozenset(),
        breaks: IntArray | None = None,
    ) -> None:
        self.terms = dict(terms)
        self.scales = checked.scales
        self.rows = rows
        self.shared = shared
        self.breaks = np.empty(0, dtype=np.int64) if breaks is None else breaks

    def of(self, node: Node) -> Term:
        """Value and slopes of a node."""
        with np.errstate(all="ignore"):
            return self._of(node)

    def _of(self, node: Node) -> Term:
        if isinstance(node, Number):
            return Term((node.unit or NUMBER).to_base(node.value))
        if isinstance(node, Name):
            return self.terms[node.symbol]
        if isinstance(node, Negative):
            return self._of(node.of).times(-1.0)
        if isinstance(node, Operation):
            return OPERATIONS[node.sign](self._of(node.left), self._of(node.right))
        return self._of_call(node)

    def _of_call(self, node: Call) -> Term:
        arguments = [self._of(argument) for argument in node.arguments]
        kind = FUNCTIONS[node.function].kind
        if kind == "choice":
            return chosen_by(*arguments)
        if kind == "column":
            return self._of_column(node, arguments)
        first = arguments[0]
        unit = self.scales.get(node.arguments[0].span)
        if node.function == "round":
            decimals = (
                int(np.clip(float(np.min(arguments[1].values)), -12, 12)) if arguments[1:] else 0
            )
            size = unit.factor if unit else 1.0
            return first.through(np.round(first.values / size, decimals) * size, 1.0)
        if kind == "summary":
            return self._of_summary(node, first)
        if unit is not None:
            first = Term(unit.from_base(first.values), slope.scaled(first.slopes, 1 / unit.factor))
        return PLAIN[node.function](first)

    def _of_column(self, node: Call, arguments: list[Term]) -> Term:
        """A function that looks at other rows: linear in its first argument."""
        by_time = node.function in BY_TIME and len(arguments) == 1
        terms = [*arguments, self.terms["t"]] if by_time else arguments
        full = [np.broadcast_to(np.asarray(term.values, float), (self.rows,)) for term in terms]
        good = np.flatnonzero(np.all(np.isfinite(full), axis=0))
        try:
            arguments_there = (values[good] for values in full[1:])
            weights = WEIGHTS[node.function](
                len(good), *arguments_there, breaks=self._breaks_among(good)
            )
        except NotRising as error:
            row = int(good[error.row]) + 1
            raise WrongFormula(
                f"{node.function}() needs values that always rise; row {row} does not.", node.span
            ) from error
        result = np.full(self.rows, np.nan)
        result[good[weights.index]] = weights.apply(full[0][good])
        of = arguments[0].slopes
        if not of or weights.matrix is None:
            return Term(result)
        carried = slope.through(weights.spread(good, self.rows), of, shared=self.shared)
        return Term(result, carried)

    def _breaks_among(self, good: IntArray) -> IntArray:
        """The breaks as places among some of the rows."""
        places = np.unique(np.searchsorted(good, self.breaks, side="right") - 1)
        return np.asarray(places[(places >= 0) & (places < len(good) - 1)], dtype=np.int64)

    def _of_summary(self, node: Call, of: Term) -> Term:
        """One value for all rows between impacts, from those that have one."""
        values = np.broadcast_to(np.asarray(of.values, dtype=float), (self.rows,))
        breaks = self.breaks + 1 if node.function in UNBROKEN else self.breaks[:0]
        result = np.full(self.rows, np.nan)
        matrices = []
        for rows in np.split(np.arange(self.rows), np.sort(breaks)):
            good = rows[np.isfinite(values[rows])]
            if len(good):
                summary = SUMMARIES[node.function](values[good])
                result[rows] = summary.value
                matrices.append(summary.spread(good, self.rows, rows) if of.slopes else None)
        weights = [matrix for matrix in matrices if matrix is not None]
        if not weights or len(weights) < len(matrices):
            return Term(result)
        return Term(result, slope.through(sum(weights), of.slopes, shared=self.shared))
