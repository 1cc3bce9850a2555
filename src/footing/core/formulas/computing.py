"""Computing a formula for all rows at once, with the uncertainty that carries over.

Everything is computed in base units, and with it its slope by each source of uncertainty (forward
differentiation: A. Griewank and A. Walther, Evaluating Derivatives, 2nd ed., 3.1). The variance of
a value is Σ (slope · u)² (JCGM 100:2008, 5.1.2). Where a value is undefined (a division by zero,
the root of a negative number) it is NaN; whoever shows it leaves the row empty.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray, IntArray
from footing.core.dimensions import NUMBER, Unit
from footing.core.formulas import slopes as slope
from footing.core.formulas.checking import Checked, check
from footing.core.formulas.functions import BY_TIME, FUNCTIONS
from footing.core.formulas.rows import SUMMARIES, UNBROKEN, WEIGHTS, NotRising
from footing.core.formulas.slopes import Slopes
from footing.core.formulas.syntax import (
    COMPARISONS,
    Call,
    Formula,
    Name,
    Negative,
    Node,
    Number,
    Operation,
    WrongFormula,
)

Values = FloatArray | float
NOISE_TAKEN_OFF = "Noise makes squares of velocities too large; what it adds was taken off."
_MENTIONED = 0.2  # of the uncertainty, from which it is said that noise was taken off
_SMOOTH = frozenset({"mean", "sum", "integral", "diff", "rate"})  # linear in what they are given


@dataclass(frozen=True)
class Known:
    """What a symbol stands for: numbers in their unit, one for each row or one for all.

    uncertainty : standard uncertainty in the unit, of one shape with the values or one for all
    slopes : of a computed column, by the sources that it was computed from, in base units; empty
        for a source of its own
    noise : of a velocity, by how much it scatters, in the unit: what its square is too large by
    common : whether it is a source that all values have in common, and that is no part of their ±
    """

    values: Values
    unit: Unit = NUMBER
    uncertainty: Values = 0.0
    slopes: Slopes = field(default_factory=dict)
    noise: Values = 0.0
    common: bool = False


@dataclass(frozen=True)
class Computed:
    """The result for each row, in ``unit``; NaN where it is undefined.

    uncertainties : (n,) standard uncertainties in the unit
    slopes : by each source, in base units
    """

    values: FloatArray
    unit: Unit
    uncertainties: FloatArray
    slopes: Slopes
    notes: tuple[str, ...]


@dataclass(frozen=True)
class Term:
    """A part of a formula: its values in base units and their slopes."""

    values: Values
    slopes: Slopes = field(default_factory=dict)

    def through(self, values: Values, derivative: Values) -> "Term":
        """A function of this term."""
        return Term(values, slope.scaled(self.slopes, derivative) if self.slopes else {})

    def times(self, factor: float) -> "Term":
        """So many times this term."""
        return self.through(self.values * factor, factor)


def compute(
    formula: Formula,
    scope: Mapping[str, Known],
    *,
    rows: int,
    unit: Unit | None = None,
    breaks: IntArray | None = None,
) -> Computed:
    """Compute a formula for ``rows`` rows.

    Parameters
    ----------
    scope : what its symbols stand for
    unit : in which the result is wanted; the one that follows if None
    breaks : k where something hits between rows k and k + 1, which no difference crosses

    Raises
    ------
    WrongFormula : if a symbol is not known, or units do not go together.
    """
    named = [name for name in (*formula.names, "t") if name in scope]
    checked = check(formula, {name: scope[name].unit for name in named}, result=unit)
    shown = unit or checked.unit
    needed = {*formula.names, *({"t"} & set(scope) if formula.functions & BY_TIME else ())}
    terms = {name: _term(name, scope[name]) for name in needed}
    shared = frozenset(
        source
        for term in terms.values()
        for source in term.slopes
        if np.ndim(scope[source].values) == 0
    )
    result = Walker(terms, checked, rows=rows, shared=shared, breaks=breaks).of(formula.root)
    slopes = _with_limits(result, terms, checked, formula, scope, rows=rows)
    variance = np.zeros(rows)
    for source, by in slopes.items():
        known = scope[source]
        if known.common:
            continue
        spread = np.asarray(known.uncertainty) * known.unit.factor
        variance += slope.variance(by, spread, rows)
    uncertainties = np.sqrt(variance) / shown.factor
    plain = np.broadcast_to(np.asarray(result.values, dtype=float), (rows,))
    values, notes = plain, checked.notes
    if formula.functions <= _SMOOTH and any(np.any(scope[name].noise) for name in needed):
        values = plain - _too_large(formula, terms, checked, scope, rows=rows)
        if np.any(np.abs(plain - values) / shown.factor > _MENTIONED * uncertainties):
            notes = (*notes, NOISE_TAKEN_OFF)
    if not (formula.names or np.isfinite(values).all()):
        raise WrongFormula("This is too large or undefined.", formula.root.span)
    with np.errstate(all="ignore"):
        values = np.asarray(shown.from_base(values), dtype=float)
    return Computed(
        np.where(np.isfinite(values), values, np.nan),
        shown,
        uncertainties,
        slopes,
        notes,
    )


def _with_limits(
    result: "Term",
    terms: Mapping[str, "Term"],
    checked: Checked,
    formula: Formula,
    scope: Mapping[str, Known],
    *,
    rows: int,
) -> dict[str, slope.Slope]:
    """The slopes, where they have no limit (a root at 0) those of one uncertainty's width.

    There the value changes by f(x + u) − f(x) with an uncertainty u, and not by f'(x) u.
    """
    found: dict[str, slope.Slope] = {}
    for source, by in result.slopes.items():
        if slope.is_finite(by):
            found[source] = by
        elif sparse.issparse(by) or np.ndim(by) == 0 or source not in terms:
            found[source] = slope.without_infinities(by)
        else:
            width = np.asarray(scope[source].uncertainty) * scope[source].unit.factor
            ends = []
            for moved in (width, -width):
                at = {name: Term(term.values) for name, term in terms.items()}
                at[source] = Term(terms[source].values + moved)
                there = Walker(at, checked, rows=rows).of(formula.root).values
                ends.append(np.abs(np.asarray(there, dtype=float) - result.values))
            wide = np.fmax(ends[0], ends[1]) / np.where(width > 0, width, 1.0)
            wide = np.broadcast_to(np.nan_to_num(wide, posinf=0.0), (rows,))
            full = np.broadcast_to(np.asarray(by, dtype=float), (rows,))
            found[source] = np.where(np.isfinite(full), full, wide)
    return found


def _too_large(
    formula: Formula,
    terms: Mapping[str, "Term"],
    checked: Checked,
    scope: Mapping[str, Known],
    *,
    rows: int,
) -> FloatArray:
    """By how much noise makes the results too large ``(rows,)``, in base units: ½ Σ f'' σ².

    Of each noisy symbol by itself, from the values at one σ to both sides, which is exact for
    squares; values that would fall below 0 by it are left at 0.
    """
    plain = Walker({name: Term(term.values) for name, term in terms.items()}, checked, rows=rows)
    middle = np.broadcast_to(np.asarray(plain.of(formula.root).values, dtype=float), (rows,))
    excess = np.zeros(rows)
    for name in terms:
        if not np.any(scope[name].noise):
            continue
        noise = np.asarray(scope[name].noise) * scope[name].unit.factor
        for moved in (noise, -noise):
            at = plain.terms | {name: Term(terms[name].values + moved)}
            there = Walker(at, checked, rows=rows).of(formula.root).values
            excess = excess + (np.asarray(there, dtype=float) - middle) / 2
    excess = np.where(np.isfinite(excess), excess, 0.0)
    return np.where((middle >= 0) & (excess > middle), middle, excess)


def _term(name: str, known: Known) -> Term:
    values = known.unit.to_base(np.asarray(known.values, dtype=float))
    if known.slopes:
        return Term(values, known.slopes)
    return Term(values, {name: np.ones_like(values)} if np.any(known.uncertainty) else {})


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
            return _OPERATIONS[node.sign](self._of(node.left), self._of(node.right))
        return self._of_call(node)

    def _of_call(self, node: Call) -> Term:
        arguments = [self._of(argument) for argument in node.arguments]
        kind = FUNCTIONS[node.function].kind
        if kind == "choice":
            return _chosen(*arguments)
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
        return _PLAIN[node.function](first)

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


def _sum(left: Term, right: Term, sign: float = 1.0) -> Term:
    other = slope.scaled(right.slopes, sign)
    return Term(left.values + sign * right.values, slope.added(left.slopes, other))


def _product(left: Term, right: Term) -> Term:
    return Term(
        left.values * right.values,
        slope.added(
            slope.scaled(left.slopes, right.values), slope.scaled(right.slopes, left.values)
        ),
    )


def _quotient(left: Term, right: Term) -> Term:
    value = np.divide(left.values, right.values)
    return Term(
        value,
        slope.added(
            slope.scaled(left.slopes, np.divide(1.0, right.values)),
            slope.scaled(right.slopes, -np.divide(value, right.values)),
        ),
    )


def _power(base: Term, exponent: Term) -> Term:
    below = np.asarray(base.values, dtype=float)
    value = np.power(below, exponent.values)
    if not (base.slopes or exponent.slopes):
        return Term(value)
    by_base = exponent.values * np.power(below, exponent.values - 1)
    found = slope.scaled(base.slopes, by_base)
    if exponent.slopes:
        logarithm = np.where(value == 0, 0.0, np.log(below))
        found = slope.added(found, slope.scaled(exponent.slopes, value * logarithm))
    return Term(value, found)


def _compared(by: Callable[[Values, Values], Values]) -> Callable[[Term, Term], Term]:
    def compared(left: Term, right: Term) -> Term:
        undefined = np.isnan(left.values) | np.isnan(right.values)
        return Term(np.where(undefined, np.nan, by(left.values, right.values)))

    return compared


def _chosen(condition: Term, then: Term, otherwise: Term) -> Term:
    is_so = condition.values == 1
    chosen = np.where(is_so, then.values, otherwise.values)
    values = np.where(np.isnan(condition.values), np.nan, chosen)
    return Term(
        values,
        slope.added(
            slope.scaled(then.slopes, np.where(is_so, 1.0, 0.0)),
            slope.scaled(otherwise.slopes, np.where(is_so, 0.0, 1.0)),
        ),
    )


_OPERATIONS: dict[str, Callable[[Term, Term], Term]] = {
    "+": _sum,
    "-": lambda left, right: _sum(left, right, -1.0),
    "*": _product,
    "/": _quotient,
    "^": _power,
    **{
        sign: _compared(by)
        for sign, by in zip(
            COMPARISONS,
            (np.less, np.less_equal, np.greater, np.greater_equal, np.equal, np.not_equal),
            strict=True,
        )
    },
}


def _plain(
    value: Callable[[Values], Values], derivative: Callable[[Values], Values]
) -> Callable[[Term], Term]:
    return lambda of: of.through(value(of.values), derivative(of.values) if of.slopes else 0.0)


_PLAIN: dict[str, Callable[[Term], Term]] = {
    "sqrt": _plain(np.sqrt, lambda x: 0.5 / np.sqrt(x)),
    "abs": _plain(np.abs, lambda x: np.where(x < 0, -1.0, 1.0)),
    "exp": _plain(np.exp, np.exp),
    "ln": _plain(np.log, lambda x: np.divide(1.0, x)),
    "log10": _plain(np.log10, lambda x: np.divide(1.0, x * np.log(10.0))),
    "sin": _plain(np.sin, np.cos),
    "cos": _plain(np.cos, lambda x: -np.sin(x)),
    "tan": _plain(np.tan, lambda x: 1 + np.tan(x) ** 2),
    "asin": _plain(np.arcsin, lambda x: 1 / np.sqrt(1 - x**2)),
    "acos": _plain(np.arccos, lambda x: -1 / np.sqrt(1 - x**2)),
    "atan": _plain(np.arctan, lambda x: 1 / (1 + x**2)),
    "cosh": _plain(np.cosh, np.sinh),
    "tanh": _plain(np.tanh, lambda x: 1 - np.tanh(x) ** 2),
}
