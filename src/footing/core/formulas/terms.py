"""Arithmetic of values that carry their slopes by each source of uncertainty.

Forward differentiation: A. Griewank and A. Walther, Evaluating Derivatives, 2nd ed., 3.1.
"""

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.formulas import slopes as slope
from footing.core.formulas.slopes import Slopes
from footing.core.formulas.syntax import COMPARISONS

Values = FloatArray | float


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


def _sum(left: Term, right: Term) -> Term:
    return Term(left.values + right.values, slope.added(left.slopes, right.slopes))


def _difference(left: Term, right: Term) -> Term:
    other = slope.scaled(right.slopes, -1.0)
    return Term(left.values - right.values, slope.added(left.slopes, other))


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


def chosen_by(condition: Term, then: Term, otherwise: Term) -> Term:
    """One of two, where the condition is 1, and else the other; NaN where it is undefined."""
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


OPERATIONS: dict[str, Callable[[Term, Term], Term]] = {
    "+": _sum,
    "-": _difference,
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


PLAIN: dict[str, Callable[[Term], Term]] = {
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
