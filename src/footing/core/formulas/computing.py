"""Computing a formula for all rows at once, with the uncertainty that carries over.

Everything is computed in base units, and with it its slope by each source of uncertainty (forward
differentiation: A. Griewank and A. Walther, Evaluating Derivatives, 2nd ed., 3.1). The variance of
a value is Σ (slope · u)² (JCGM 100:2008, 5.1.2). Where a value is undefined (a division by zero,
the root of a negative number) it is NaN; whoever shows it leaves the row empty.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray, IntArray
from footing.core.dimensions import NUMBER, Unit
from footing.core.formulas import slopes as slope
from footing.core.formulas.checking import Checked, check
from footing.core.formulas.functions import BY_TIME
from footing.core.formulas.notes import NoiseTakenOff, Note
from footing.core.formulas.slopes import Slopes
from footing.core.formulas.syntax import Formula, WrongFormula
from footing.core.formulas.terms import Term, Values
from footing.core.formulas.walking import Walker

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
    notes: tuple[Note, ...]


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
            notes = (*notes, NoiseTakenOff())
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
    result: Term,
    terms: Mapping[str, Term],
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
    terms: Mapping[str, Term],
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
