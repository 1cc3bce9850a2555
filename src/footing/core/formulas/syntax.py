"""What a formula is made of, and the errors that point into it."""

from dataclasses import dataclass

from footing.core.dimensions import Unit
from footing.core.errors import Refused

Span = tuple[int, int]


class WrongFormula(Refused):
    """A formula that cannot be used; ``span`` are the characters that it is about."""

    def __init__(self, text: str, span: Span) -> None:
        super().__init__(text, field="formula")
        self.span = span


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


def parts_of(node: Node) -> tuple[Node, ...]:
    """What a node is made of."""
    if isinstance(node, Negative):
        return (node.of,)
    if isinstance(node, Operation):
        return (node.left, node.right)
    return node.arguments if isinstance(node, Call) else ()
