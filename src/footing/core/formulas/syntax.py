"""What a formula is made of, and the errors that point into it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from footing.core.dimensions import Unit
from footing.core.errors import Refused

Span = tuple[int, int]


class WrongFormula(Refused):
    """A formula that cannot be used; ``span`` are the characters that it is about."""

    def __init__(self, text: str, span: Span) -> None:
        super().__init__(text, field="formula")
        self.span = span


class UnitsDiffer(WrongFormula):
    """A formula whose units do not go together."""


@dataclass(frozen=True)
class Number:
    """A number, with its unit if it has one. ``text`` is how it was written."""

    text: str
    value: float
    unit: Unit | None
    span: Span


@dataclass(frozen=True)
class Name:
    """A symbol that stands for a column, a quantity, a constant or a parameter."""

    symbol: str
    span: Span


@dataclass(frozen=True)
class Negative:
    """−x."""

    of: "Node"
    span: Span


@dataclass(frozen=True)
class Operation:
    """Two operands with ``+ - * / ^`` or a comparison ``< <= > >= = !=`` between them."""

    sign: str
    left: "Node"
    right: "Node"
    span: Span


@dataclass(frozen=True)
class Call:
    """A function of one or more values."""

    function: str
    arguments: tuple["Node", ...]
    span: Span


Node = Number | Name | Negative | Operation | Call

COMPARISONS = ("<", "<=", ">", ">=", "=", "!=")


@dataclass(frozen=True)
class Formula:
    """A formula that was read: its text and what it is made of."""

    text: str
    root: Node

    @property
    def names(self) -> tuple[str, ...]:
        """The symbols in it, in the order in which they first occur."""
        found = (node.symbol for node in walk(self.root) if isinstance(node, Name))
        return tuple(dict.fromkeys(found))

    def renamed(self, names: Mapping[str, str]) -> "Formula":
        """The same formula with other symbols; its text stays that which was typed."""
        return self.replaced(
            lambda name: Name(names[name.symbol], name.span) if name.symbol in names else name
        )

    def replaced(self, by: Callable[[Name], "Node"]) -> "Formula":
        """The same formula with something else in the place of symbols."""
        return Formula(self.text, _replaced(self.root, by))

    def places_of(self, symbol: str) -> list[Span]:
        """Where a symbol stands, from left to right."""
        named = (node for node in walk(self.root) if isinstance(node, Name))
        return sorted(node.span for node in named if node.symbol == symbol)

    @property
    def functions(self) -> frozenset[str]:
        """The functions in it."""
        return frozenset(node.function for node in walk(self.root) if isinstance(node, Call))


def walk(node: Node) -> list[Node]:
    """A node and all below it, from left to right."""
    found, waiting = [], [node]
    while waiting:
        here = waiting.pop()
        found.append(here)
        waiting += reversed(parts_of(here))
    return found


def _replaced(node: Node, by: Callable[[Name], Node]) -> Node:
    if isinstance(node, Name):
        return by(node)
    if isinstance(node, Negative):
        return Negative(_replaced(node.of, by), node.span)
    if isinstance(node, Operation):
        left, right = _replaced(node.left, by), _replaced(node.right, by)
        return Operation(node.sign, left, right, node.span)
    if isinstance(node, Call):
        return Call(node.function, tuple(_replaced(one, by) for one in node.arguments), node.span)
    return node


def parts_of(node: Node) -> tuple[Node, ...]:
    """What a node is made of."""
    if isinstance(node, Negative):
        return (node.of,)
    if isinstance(node, Operation):
        return (node.left, node.right)
    return node.arguments if isinstance(node, Call) else ()
