"""Printing a formula as in a book, as MathML: symbols italic, units and functions upright.

Fractions stand on top of each other, powers are raised, products of symbols are set with a thin
space. The result holds no text that was not escaped.
"""

from collections.abc import Mapping
from xml.etree import ElementTree
from xml.etree.ElementTree import Element, SubElement

from footing.core.dimensions import Unit
from footing.core.formulas.syntax import Call, Formula, Name, Negative, Node, Number, Operation

_BINDS = {"+": 1, "-": 1, "*": 2, "/": 2, "^": 4}
_NEGATIVE = 3
_TIGHTEST = 9
_CHANGE = "Δ"
_WORD = 4  # letters of a symbol that is a word
_SIGNS = {"*": "\N{DOT OPERATOR}", "-": "−", "<=": "≤", ">=": "≥", "!=": "≠"}
_GREEK = {
    **{"alpha": "α", "beta": "β", "gamma": "γ", "delta": "δ", "theta": "θ", "phi": "φ"},
    **{"omega": "ω", "mu": "μ", "rho": "ρ", "tau": "τ", "lambda": "λ", "pi": "π", "Delta": "Δ"},
}


def mathml(formula: Formula) -> str:
    """A ``<math>`` element."""
    return ElementTree.tostring(_math(_row(formula.root)), encoding="unicode")


def equation(symbol: str, formula: Formula) -> str:
    """A ``<math>`` element that says what a symbol is."""
    row = Element("mrow")
    row.extend([symbol_element(symbol), _operator("="), _row(formula.root)])
    return ElementTree.tostring(_math(row), encoding="unicode")


def numbered(symbol: str, formula: Formula, values: Mapping[str, tuple[str, Unit]]) -> str:
    """A ``<math>`` element with numbers, as they are printed, in the place of symbols."""

    return equation(symbol, formula.replaced(lambda name: _as_number(name, values)))


def _as_number(name: Name, values: Mapping[str, tuple[str, Unit]]) -> Node:
    """What is put in for a symbol; the symbol itself where nothing is."""
    if name.symbol not in values:
        return name
    text, unit = values[name.symbol]
    plain = Number(text.lstrip("−"), 0.0, unit if unit.parts else None, name.span)
    return Negative(plain, name.span) if text.startswith("−") else plain


def worked(
    symbol: str, formula: Formula, values: Mapping[str, tuple[str, Unit]], result: str
) -> str:
    """A ``<math>`` element: a symbol, its formula, the same with numbers, and what comes of it.

    result : in print; empty where the numbers are all
    """
    row = Element("mrow")
    row.extend([symbol_element(symbol), _operator("="), _row(formula.root)])
    with_numbers = formula.replaced(lambda name: _as_number(name, values))
    row.extend([_operator("="), _row(with_numbers.root)])
    if result:
        said = Element("mtext")
        said.text = result
        row.extend([_operator("="), said])
    return ElementTree.tostring(_math(row), encoding="unicode")


def symbol_mathml(symbol: str) -> str:
    """A ``<math>`` element of one symbol."""
    return ElementTree.tostring(_math(symbol_element(symbol)), encoding="unicode")


def symbol_element(symbol: str) -> Element:
    """A symbol: what follows its first letter, or an underscore, goes below it."""
    head, below = split_symbol(symbol)
    if not below:
        return _italic(head)
    element = Element("msub")
    element.extend([_italic(head), _italic(below)])
    return element


def split_symbol(symbol: str) -> tuple[str, str]:
    """Letter and subscript of a symbol: ``vx`` and ``v_x`` are v with x below it.

    A word, such as ``frame``, stands as it is; so does the Δ of a change before its letter.
    """
    if symbol.startswith(_CHANGE) and len(symbol) > 1:
        letter, below = split_symbol(symbol.removeprefix(_CHANGE))
        return _CHANGE + letter, below
    head, _, below = symbol.partition("_")
    head = _GREEK.get(head, head)
    if not below and len(head) > 1 and symbol not in _GREEK and not _is_word(symbol):
        head, below = head[0], head[1:]
    return head, below


def _is_word(symbol: str) -> bool:
    return len(symbol) >= _WORD and symbol.isalpha() and symbol.islower()


def _math(content: Element) -> Element:
    math = Element("math")
    math.append(content)
    return math


def _italic(text: str) -> Element:
    element = Element("mi")
    if len(text) > 1:
        element.set("class", "italic")
    element.text = text
    return element


def _operator(text: str) -> Element:
    element = Element("mo")
    element.text = text
    return element


def _row(node: Node) -> Element:
    if isinstance(node, Number):
        return _number(node)
    if isinstance(node, Name):
        return symbol_element(node.symbol)
    if isinstance(node, Negative):
        twice = isinstance(node.of, Negative)
        return _in_row(_operator("−"), _bracketed(node.of, below=_NEGATIVE + twice))
    if isinstance(node, Call):
        return _call(node)
    return _operation(node)


def _number(node: Number) -> Element:
    element = Element("mn")
    element.text = node.text
    if node.unit is None:
        return element
    unit = Element("mtext")
    printed = str(node.unit)
    unit.text = printed if printed in ("°", "%") else f"\N{NO-BREAK SPACE}{printed}"
    return _in_row(element, unit)


def _operation(node: Operation) -> Element:
    if node.sign == "/":
        fraction = Element("mfrac")
        fraction.extend([_row(node.left), _row(node.right)])
        return fraction
    if node.sign == "^":
        power = Element("msup")
        power.extend([_bracketed(node.left, below=_BINDS["^"] + 1), _row(node.right)])
        return power
    if node.sign in ("+", "-") and (positive := _without_sign(node.right)) is not None:
        turned = Operation("-" if node.sign == "+" else "+", node.left, positive, node.span)
        return _operation(turned)
    binds = _BINDS.get(node.sign, 0)
    sign = _operator(_SIGNS.get(node.sign, node.sign))
    return _in_row(
        _bracketed(node.left, below=binds), sign, _bracketed(node.right, below=binds + 1)
    )


def _without_sign(node: Node) -> Node | None:
    """What follows a minus at the very left of a product; None where there is none."""
    if isinstance(node, Negative):
        return node.of
    if isinstance(node, Operation) and node.sign in ("*", "/"):
        left = _without_sign(node.left)
        return None if left is None else Operation(node.sign, left, node.right, node.span)
    return None


def _call(node: Call) -> Element:
    if node.function == "sqrt":
        root = Element("msqrt")
        root.append(_row(node.arguments[0]))
        return root
    if node.function == "abs":
        return _in_row(_operator("|"), _row(node.arguments[0]), _operator("|"))
    row = Element("mrow")
    name = SubElement(row, "mi")
    name.set("mathvariant", "normal")
    name.text = node.function
    row.append(_operator("("))
    for place, argument in enumerate(node.arguments):
        if place:
            row.append(_operator(","))
        row.append(_row(argument))
    row.append(_operator(")"))
    return row


def _bracketed(node: Node, *, below: int) -> Element:
    """A node in brackets, where it binds less than what is around it."""
    if _binding(node) >= below:
        return _row(node)
    return _in_row(_operator("("), _row(node), _operator(")"))


def _binding(node: Node) -> int:
    if isinstance(node, Operation):
        return _BINDS.get(node.sign, 0)
    if isinstance(node, Negative):
        return _NEGATIVE
    has_unit = isinstance(node, Number) and node.unit is not None
    return _NEGATIVE if has_unit else _TIGHTEST


def _in_row(*elements: Element) -> Element:
    row = Element("mrow")
    row.extend(elements)
    return row
