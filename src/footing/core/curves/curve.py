"""A curve that can be fitted: a named one, or any formula in one variable.

A curve is a formula of the variable with parameters; its value and its slopes by the parameters
come from computing that formula. Polynomials are marked as such, because they are solved directly.
"""

from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass, field
from fractions import Fraction
from functools import lru_cache

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.dimensions import NUMBER, Unit
from footing.core.formulas.checking import Checked, check
from footing.core.formulas.functions import OF_A_CURVE
from footing.core.formulas.parsing import parse
from footing.core.formulas.syntax import Call, Formula, Number, WrongFormula, walk
from footing.core.formulas.terms import Term
from footing.core.formulas.walking import Walker
from footing.core.reading import Fitted, Reading, Symbol, Variable

Guess = Callable[[FloatArray, FloatArray], list[FloatArray]]
MOST_PARAMETERS = 12
_PRINTED = {"w": "ω", "p": "φ"}
_X, _Y = "\N{SUBSCRIPT PLUS SIGN}x", "\N{SUBSCRIPT PLUS SIGN}y"  # stand for the units of x and y


@dataclass(frozen=True, eq=False)
class Curve:
    """y as a formula of one variable.

    family : under which it is offered
    names : of the parameters, as the command line reports them
    symbols : the same as they are printed
    degree : of a polynomial, whose parameters are its coefficients, highest power first
    constants : other symbols in the formula, in base units
    guess : starting values ``(p,)`` from points, the best first, where it has to be searched for
    readings : what a fit of it says, besides its parameters, with x and y on the axes
    within : keys of the curves that are this one with more freedom
    swings : whether it goes up and down, so that its frequency is searched for and it is drawn with
        many points
    asks_for_zero : whether its last parameter is y where x is 0, which may have to be zero
    any_power : whether a parameter is an exponent of x, so that its factor has the unit of y
    """

    key: str
    title: str
    family: str
    formula: Formula
    names: tuple[str, ...]
    symbols: tuple[Symbol, ...]
    degree: int | None = None
    variable: str = "x"
    constants: Mapping[str, float] = field(default_factory=dict)
    checked: Checked = field(default_factory=lambda: Checked(NUMBER, {}, {}, ()))
    guess: Guess | None = None
    readings: Callable[[Fitted, Variable, Variable], list[Reading]] | None = None
    within: tuple[str, ...] = ()
    swings: bool = False
    asks_for_zero: bool = False
    any_power: bool = False

    @property
    def has_units(self) -> bool:
        """Whether it holds quantities with units, so that it is computed in base units."""
        return bool(self.constants) or _has_units(self.formula)

    def values(self, x: FloatArray, parameters: FloatArray) -> FloatArray:
        """The curve ``(n,)`` at ``x``."""
        if self.degree is not None:
            return np.asarray(np.polyval(parameters, x), dtype=float)
        terms = {name: Term(value) for name, value in self._all(x, parameters)}
        return self._full(Walker(terms, self.checked, rows=len(x)).of(self.formula.root).values, x)

    def slopes(self, x: FloatArray, parameters: FloatArray) -> tuple[FloatArray, FloatArray]:
        """The curve ``(n,)`` and its slopes ``(n, p)`` by the parameters."""
        terms = {
            name: Term(value, {name: 1.0} if name in self.names else {})
            for name, value in self._all(x, parameters)
        }
        found = Walker(terms, self.checked, rows=len(x)).of(self.formula.root)
        by = [self._full(found.slopes.get(name, 0.0), x) for name in self.names]
        return self._full(found.values, x), np.stack(by, axis=1) if by else np.empty((len(x), 0))

    def units(self, x: Unit, y: Unit) -> tuple[tuple[Unit, ...], str | None]:
        """The unit of each parameter, and why they have none where units do not go together."""
        return _units_of(self, x, y)

    def _find_units(self, x: Unit, y: Unit) -> tuple[tuple[Unit, ...], str | None]:
        if self.any_power:  # a is y where x is 1 of its unit, so that n can be any number
            return (y, NUMBER), None
        if not self.has_units:  # whatever x and y are measured in, their units stay as they are
            with suppress(WrongFormula):
                named = {self.variable: Unit(((_X, Fraction(1)),))}
                found = self._units(named, Unit(((_Y, Fraction(1)),)))
                return tuple(_with(unit, x, y) for unit in found), None
        try:
            return self._units({self.variable: x}, y), None
        except WrongFormula as error:
            return (NUMBER,) * len(self.names), str(error)

    def _units(self, units: Mapping[str, Unit], result: Unit) -> tuple[Unit, ...]:
        parameters = frozenset(self.names)
        known = check(self.formula, units, parameters=parameters, result=result).parameters
        return tuple(known[name] for name in self.names)

    def _all(self, x: FloatArray, parameters: FloatArray) -> list[tuple[str, FloatArray | float]]:
        return [
            (self.variable, x),
            *zip(self.names, (float(value) for value in parameters), strict=True),
            *self.constants.items(),
        ]

    @staticmethod
    def _full(values: FloatArray | float, x: FloatArray) -> FloatArray:
        array = np.asarray(values, dtype=float)
        return array if array.shape == x.shape else np.broadcast_to(array, x.shape)


@lru_cache(maxsize=512)
def _units_of(curve: Curve, x: Unit, y: Unit) -> tuple[tuple[Unit, ...], str | None]:
    """Kept, because everything that is read from a fit asks for them again."""
    return curve._find_units(x, y)


def own_curve(
    text: str,
    *,
    variable: str = "x",
    constants: Mapping[str, float] | None = None,
    checked: Checked | None = None,
) -> Curve:
    """A curve from a formula of ``variable``; every other symbol is a parameter.

    Raises
    ------
    WrongFormula : if it cannot be read, holds no parameter or functions of whole columns.
    """
    formula = parse(text)
    for node in walk(formula.root):
        if isinstance(node, Call) and node.function not in OF_A_CURVE:
            raise WrongFormula(f"{node.function}() cannot be part of a curve.", node.span)
    known = constants or {}
    names = tuple(name for name in formula.names if name != variable and name not in known)
    if not names:
        raise WrongFormula(
            "There is no parameter to be found; write letters for them, such as a*x + b.",
            formula.root.span,
        )
    if len(names) > MOST_PARAMETERS:
        raise WrongFormula(
            f"A curve has at most {MOST_PARAMETERS} parameters; here are {len(names)}.",
            formula.root.span,
        )
    return Curve(
        key="own",
        title=text,
        family="own formula",
        swings=True,
        formula=formula,
        names=names,
        symbols=tuple((name, "") for name in names),
        variable=variable,
        constants={name: value for name, value in known.items() if name in formula.names},
        checked=checked or Checked(NUMBER, {}, {}, ()),
    )


def _with(unit: Unit, x: Unit, y: Unit) -> Unit:
    """A unit made of those that stood for the units of x and y."""
    powers = dict(unit.parts)
    return y ** powers.get(_Y, Fraction(0)) * x ** powers.get(_X, Fraction(0))


def _has_units(formula: Formula) -> bool:
    """Whether numbers with units are written in a formula."""
    return any(isinstance(node, Number) and node.unit is not None for node in walk(formula.root))


def named(
    key: str,
    title: str,
    family: str,
    text: str,
    names: str,
    *,
    degree: int | None = None,
    guess: Guess | None = None,
    readings: Callable[[Fitted, Variable, Variable], list[Reading]] | None = None,
    within: tuple[str, ...] = (),
    swings: bool = False,
    asks_for_zero: bool = False,
    any_power: bool = False,
) -> Curve:
    """A curve by its formula of x and its parameters, as letters with blanks between."""
    letters = tuple(names.split())
    printed = ((_PRINTED.get(name[0], name[0]), name[1:]) for name in letters)
    symbols: tuple[Symbol, ...] = tuple(printed)
    if degree is not None and degree > 1:
        symbols = tuple(("c", str(power)) for power in range(degree, -1, -1))
    return Curve(
        key,
        title,
        family,
        parse(text),
        letters,
        symbols,
        degree,
        guess=guess,
        readings=readings,
        within=within,
        swings=swings,
        asks_for_zero=asks_for_zero,
        any_power=any_power,
    )
