"""The units of a formula: what unit its result has, and where they do not go together.

Every node gets a dimension: known powers of base units, and powers of the dimensions of parameters
that are not known yet. Sums and comparisons need equal dimensions, exponents and arguments of
functions need plain numbers; each need is a linear equation in the exponents, solved as soon as it
arises, so that the first one that cannot hold names its place.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from fractions import Fraction

from footing.core.dimensions import (
    NUMBER,
    Powers,
    Unit,
    as_powers,
    describe,
    in_base_units,
    natural,
)
from footing.core.formulas.functions import FUNCTIONS
from footing.core.formulas.notes import InRadians, Note, NumberIn
from footing.core.formulas.syntax import (
    COMPARISONS,
    Call,
    Formula,
    Name,
    Negative,
    Node,
    Number,
    Operation,
    Span,
    UnitsDiffer,
    WrongFormula,
    walk,
)

_LARGEST_POWER = 24
_LOGARITHMS = ("ln", "log10")


@dataclass(frozen=True)
class Checked:
    """What checking a formula tells.

    unit : of the result
    parameters : unit of each parameter whose unit follows; others are plain numbers
    scales : by the span of an argument that is taken as a bare number (of a logarithm), the unit
        in which its number is taken
    notes : what a reader should know, such as that an angle was read in radians
    """

    unit: Unit
    parameters: dict[str, Unit]
    scales: dict[Span, Unit]
    notes: tuple[Note, ...]


@dataclass(frozen=True)
class _Dimension:
    """Powers of base units, and of the dimensions of parameters that are not known yet."""

    known: Powers = ()
    open: Powers = ()

    def times(self, other: "_Dimension", power: Fraction = Fraction(1)) -> "_Dimension":
        return _Dimension(
            _added(self.known, other.known, power), _added(self.open, other.open, power)
        )

    def to(self, power: Fraction) -> "_Dimension":
        return _Dimension().times(self, power)


def _added(one: Powers, other: Powers, share: Fraction) -> Powers:
    powers = dict(one)
    for name, power in other:
        powers[name] = powers.get(name, Fraction(0)) + share * power
    return as_powers(powers)


@dataclass
class _Checker:
    """Walks a formula; ``solved`` holds what the open dimensions were found to be."""

    units: Mapping[str, Unit]
    parameters: frozenset[str]
    solved: dict[str, _Dimension] = field(default_factory=dict)
    used: list[Unit] = field(default_factory=list)
    scales: dict[Span, Unit] = field(default_factory=dict)
    notes: dict[Note, None] = field(default_factory=dict)

    def present(self, dimension: _Dimension) -> _Dimension:
        """A dimension with everything put in that is known by now."""
        while any(name in self.solved for name, _ in dimension.open):
            left = _Dimension(
                dimension.known, tuple(one for one in dimension.open if one[0] not in self.solved)
            )
            for name, power in dimension.open:
                if name in self.solved:
                    left = left.times(self.solved[name], power)
            dimension = left
        return dimension

    def need_number(self, dimension: _Dimension, text: str, span: Span) -> None:
        """Need a plain number here; solves for an open dimension where there is one."""
        dimension = self.present(dimension)
        if dimension.open:
            name, power = dimension.open[0]
            others = _Dimension(dimension.known, dimension.open[1:])
            self.solved[name] = others.to(-1 / power)
        elif dimension.known:
            raise WrongFormula(text.replace("{}", describe(dimension.known)), span)

    def need_same(self, left: _Dimension, right: _Dimension, what: str, span: Span) -> None:
        """Need equal dimensions."""
        one, other = (describe(self.present(side).known) for side in (left, right))
        try:
            self.need_number(left.times(right, Fraction(-1)), "", span)
        except WrongFormula as error:
            text = f"{what}: {one} and {other} do not go together."
            raise UnitsDiffer(text, span) from error

    def dimension(self, node: Node) -> _Dimension:
        """The dimension of a node."""
        if isinstance(node, Number):
            return self.of_unit(node.unit or NUMBER)
        if isinstance(node, Name):
            return self.of_name(node)
        if isinstance(node, Negative):
            return self.dimension(node.of)
        if isinstance(node, Operation):
            return self.of_operation(node)
        return self.of_call(node)

    def of_unit(self, unit: Unit) -> _Dimension:
        self.used.append(in_base_units(unit.dimension) if unit.offset else unit)
        return _Dimension(unit.dimension)

    def of_name(self, node: Name) -> _Dimension:
        if node.symbol in self.parameters:
            return _Dimension((), ((node.symbol, Fraction(1)),))
        if node.symbol not in self.units:
            raise WrongFormula(f"There is no “{node.symbol}” here.", node.span)
        return self.of_unit(self.units[node.symbol])

    def of_operation(self, node: Operation) -> _Dimension:
        left = self.dimension(node.left)
        if node.sign == "^":
            return self.of_power(node, left)
        right = self.dimension(node.right)
        if node.sign in ("*", "/"):
            return left.times(right, Fraction(1 if node.sign == "*" else -1))
        verbs = {"+": "Adding", "-": "Subtracting"}
        self.need_same(left, right, verbs.get(node.sign, "Comparing"), node.span)
        return _Dimension() if node.sign in COMPARISONS else left

    def of_power(self, node: Operation, base: _Dimension) -> _Dimension:
        power = constant(node.right)
        if power is not None and abs(power) <= _LARGEST_POWER:
            return base.to(power)
        exponent = self.dimension(node.right)
        self.need_number(exponent, "An exponent is a plain number, not {}.", node.right.span)
        self.need_number(
            base,
            "What has a unit ({}) can be raised to a number that is written there, up to "
            f"{_LARGEST_POWER}.",
            node.span,
        )
        return _Dimension()

    def of_call(self, node: Call) -> _Dimension:
        kind = FUNCTIONS[node.function].kind
        if kind == "choice":
            return self.of_choice(node)
        first, *others = (self.dimension(argument) for argument in node.arguments)
        if kind == "root":
            return first.to(Fraction(1, 2))
        if kind in ("plain", "angle"):
            self.need_argument(node, first)
            return _Dimension()
        if node.function == "rate":
            return first.times(others[0] if others else self.time(node), Fraction(-1))
        if node.function == "integral":
            return first.times(others[0] if others else self.time(node))
        if node.function == "round" and others:
            self.need_number(others[0], "Decimals are a plain number, not {}.", node.span)
        if node.function == "round" and first.known:
            self.scales[node.arguments[0].span] = natural(self.present(first).known, self.used)
        return first

    def of_choice(self, node: Call) -> _Dimension:
        condition, then, otherwise = node.arguments
        if not (isinstance(condition, Operation) and condition.sign in COMPARISONS):
            raise WrongFormula("if() begins with a comparison, such as x > 0.", condition.span)
        self.dimension(condition)
        result = self.dimension(then)
        self.need_same(result, self.dimension(otherwise), "Choosing between", node.span)
        return result

    def time(self, node: Call) -> _Dimension:
        if "t" not in self.units:
            raise WrongFormula(
                f"There is no time t here; name what it goes by: {node.function}(y, x).", node.span
            )
        return self.of_unit(self.units["t"])

    def need_argument(self, node: Call, dimension: _Dimension) -> None:
        (argument,) = node.arguments
        dimension = self.present(dimension)
        if node.function in _LOGARITHMS and dimension.known and not dimension.open:
            unit = self.own_unit(argument, dimension.known)
            self.scales[argument.span] = unit
            self.notes[NumberIn(node.function, unit)] = None
            return
        takes_angle = FUNCTIONS[node.function].kind == "angle"
        wanted = "an angle or a plain number" if takes_angle else "a plain number"
        self.need_number(dimension, f"{node.function}() takes {wanted}, not {{}}.", argument.span)
        if takes_angle and not any(unit.parts for unit in self.angles(argument)):
            self.notes[InRadians(node.function)] = None

    def own_unit(self, node: Node, dimension: Powers) -> Unit:
        if isinstance(node, Name) and node.symbol in self.units:
            return self.units[node.symbol]
        return natural(dimension, self.used)

    def angles(self, node: Node) -> list[Unit]:
        """The units in an argument."""
        if isinstance(node, Number):
            return [node.unit or NUMBER]
        if isinstance(node, Name):
            return [self.units.get(node.symbol, NUMBER)]
        if isinstance(node, Negative):
            return self.angles(node.of)
        if isinstance(node, Operation):
            return [*self.angles(node.left), *self.angles(node.right)]
        return [Unit((("rad", Fraction(1)),))] if node.function.startswith("a") else [NUMBER]


def check_readings(formula: Formula, is_quantity: Callable[[str], bool]) -> None:
    """Refuse a product such as ``0.5 m*v^2`` where m is a metre and a quantity as well.

    Raises
    ------
    WrongFormula : at the number, with both ways to write it.
    """
    for node in walk(formula.root):
        if not isinstance(node, Operation) or node.sign != "*":
            continue
        left = node.left
        while isinstance(left, Operation) and left.sign == "*":
            left = left.right
        if not isinstance(left, Number) or left.unit is None or len(left.unit.parts) != 1:
            continue
        ((name, power),) = left.unit.parts
        if power == 1 and is_quantity(name):
            number = left.text
            raise WrongFormula(
                f"“{number} {name}” is {number} of the unit {name}, or {number} times the "
                f"quantity {name}; write {number}*{name} for the quantity, or put the number with "
                "its unit last.",
                left.span,
            )


def check(
    formula: Formula,
    units: Mapping[str, Unit],
    *,
    parameters: frozenset[str] = frozenset(),
    result: Unit | None = None,
) -> Checked:
    """Check the units of a formula.

    Parameters
    ----------
    units : unit of each symbol that has one
    parameters : symbols whose units are to be found out
    result : the unit that the result must be of, if that is given

    Raises
    ------
    WrongFormula : at the place where units do not go together, or a symbol is not known.
    """
    checker = _Checker(units, parameters)
    root = checker.dimension(formula.root)
    if isinstance(formula.root, Operation) and formula.root.sign in COMPARISONS:
        raise WrongFormula("A comparison is no value; use it in if(…).", formula.root.span)
    if result is not None:
        checker.need_same(
            root, _Dimension(result.dimension), "The formula and y", formula.root.span
        )
    found = {
        name: natural(checker.present(_Dimension((), ((name, Fraction(1)),))).known, checker.used)
        for name in parameters
    }
    dimension = checker.present(root).known
    unit = formula_unit(formula, units, dimension) or natural(dimension, checker.used)
    return Checked(unit, found, checker.scales, tuple(checker.notes))


def formula_unit(formula: Formula, units: Mapping[str, Unit], dimension: Powers) -> Unit | None:
    """The unit of a formula that merely is a column, or keeps its unit."""
    mine = {units[name] for name in formula.names if name in units}
    if len(mine) != 1:
        return None
    (unit,) = mine
    kept = unit.dimension == dimension
    return unit if kept and (isinstance(formula.root, Name) or not unit.offset) else None


def constant(node: Node) -> Fraction | None:
    """The value of a node that is a plain number as it is written, such as −1/2."""
    if isinstance(node, Number):
        return Fraction(node.text) if node.unit is None and len(node.text) < 12 else None
    if isinstance(node, Negative):
        inner = constant(node.of)
        return None if inner is None else -inner
    if isinstance(node, Operation) and node.sign in "+-*/^":
        left, right = constant(node.left), constant(node.right)
        if left is None or right is None or (node.sign == "/" and right == 0):
            return None
        if node.sign == "^":
            small = right.denominator == 1 and max(abs(left), abs(right)) <= _LARGEST_POWER
            return left ** int(right) if small and (left or right > 0) else None
        return {
            "+": left + right,
            "-": left - right,
            "*": left * right,
            "/": left / (right or 1),
        }[node.sign]
    return None
