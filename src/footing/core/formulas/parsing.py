"""Reading a formula: standard maths, as on paper.

``^`` is a power and binds to the right, ``-x^2`` is −(x²), comparisons bind loosest. A number may
have a unit: after a space, or a ° or % right behind it. The unit ends at a space, an operator, a
bracket or a comma; only ``/`` and ``·`` with a further unit right behind them belong to it, so
``9.81 m/s^2`` is one number and ``5 m*x`` a product. Read by recursive descent; hostile input is
refused by its length and depth before anything is computed.
"""

import re
from dataclasses import dataclass
from math import isfinite

from footing.core.dimensions import LETTERS, is_known, read_unit
from footing.core.errors import Refused
from footing.core.formulas.functions import FUNCTIONS
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
    WrongFormula,
)

LONGEST = 400
DEEPEST = 40

_SAME = {
    **{"×": "*", "·": "*", "⋅": "*", "÷": "/", "−": "-", "–": "-", "**": "^", "==": "="},
    **{"≤": "<=", "≥": ">=", "≠": "!=", ";": ",", "[": "(", "]": ")"},
}
_TOKEN = re.compile(
    r"\s*(?:(?P<number>(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)"
    r"|(?P<name>[^\W\d⁰¹²³⁴-⁹][^\W⁰¹²³⁴-⁹]*'*)"
    r"|(?P<sign>\*\*|==|<=|>=|!=|[-+*/^(),<>=×·⋅÷−–≤≥≠;\[\]])"
    r"|(?P<raised>[⁰¹²³⁴⁵⁶⁷⁸⁹]+))"
)
_UNIT_NAME = rf"(?:°C|°|%|{LETTERS})(?:\^(?:-?\d+|\(-?\d+(?:/\d+)?\))|⁻?[⁰¹²³⁴⁵⁶⁷⁸⁹]+)?"
_UNIT_AFTER_SPACE = re.compile(rf"(?: +({_UNIT_NAME})|(°C|°|%))")
_UNIT_GOES_ON = re.compile(rf"[/·]({_UNIT_NAME})")
_WORD = re.compile(rf"°C|°|%|{LETTERS}")
_RAISED = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹", "0123456789")


@dataclass(frozen=True)
class _Token:
    kind: str  # number, name, sign, raised or end
    text: str
    span: Span
    unit: str = ""


def parse(text: str) -> Formula:
    """Read a formula.

    Raises
    ------
    WrongFormula : with the place where it cannot be read.
    """
    if len(text) > LONGEST:
        raise WrongFormula(f"A formula has at most {LONGEST} characters.", (LONGEST, len(text)))
    return _Parser(text).formula()


class _Parser:
    def __init__(self, text: str) -> None:
        self.text = text
        self.tokens = _tokens(text)
        self.place = 0
        self.depth = 0

    @property
    def here(self) -> _Token:
        return self.tokens[self.place]

    def take(self) -> _Token:
        token = self.here
        self.place += 1
        return token

    def formula(self) -> Formula:
        if self.here.kind == "end":
            raise WrongFormula("Nothing was typed; write a formula such as 0.5*m*v^2.", (0, 0))
        root = self.comparison()
        if self.here.kind != "end":
            raise self.unexpected()
        return Formula(self.text, root)

    def comparison(self) -> Node:
        left = self.terms()
        if self.here.text in COMPARISONS:
            sign = self.take().text
            right = self.terms()
            left = Operation(sign, left, right, (left.span[0], right.span[1]))
            if self.here.text in COMPARISONS:
                raise WrongFormula("Compare two values at a time.", self.here.span)
        return left

    def terms(self) -> Node:
        left = self.factors()
        while self.here.text in ("+", "-"):
            sign = self.take().text
            right = self.factors()
            left = Operation(sign, left, right, (left.span[0], right.span[1]))
        return left

    def factors(self) -> Node:
        left = self.signed()
        while self.here.text in ("*", "/"):
            sign = self.take().text
            right = self.signed()
            left = Operation(sign, left, right, (left.span[0], right.span[1]))
        return left

    def signed(self) -> Node:
        """A power with signs before it: they bind less than ^, so −x² is −(x²)."""
        if self.here.text not in ("+", "-"):
            return self.power()
        sign = self.take()
        self.deeper(sign)
        of = self.signed()
        self.depth -= 1
        return of if sign.text == "+" else Negative(of, (sign.span[0], of.span[1]))

    def power(self) -> Node:
        base = self.single()
        if self.here.kind == "raised":
            token = self.take()
            digits = token.text.translate(_RAISED)
            exponent: Node = Number(digits, float(digits), None, token.span)
        elif self.here.text == "^":
            self.deeper(self.take())
            exponent = self.signed()
            self.depth -= 1
        else:
            return base
        return Operation("^", base, exponent, (base.span[0], exponent.span[1]))

    def single(self) -> Node:
        token = self.take()
        if token.kind == "number":
            found: Node = _number(token)
        elif token.kind == "name" and self.here.text == "(":
            found = self.call(token)
        elif token.kind == "name":
            if token.text in FUNCTIONS:
                raise WrongFormula(
                    f"{token.text} is a function; write what it is of in brackets: "
                    f"{token.text}(…).",
                    token.span,
                )
            found = Name(token.text, token.span)
        elif token.text == "(":
            self.deeper(token)
            found = self.comparison()
            self.close(token)
            self.depth -= 1
        else:
            self.place -= 1
            raise self.unexpected()
        if self.here.kind in ("name", "number") or self.here.text == "(":
            raise self.missing_sign(token)
        return found

    def call(self, name: _Token) -> Node:
        function = FUNCTIONS.get(name.text)
        if function is None:
            raise WrongFormula(
                f"There is no function “{name.text}”; to multiply, write {name.text}*(…).",
                name.span,
            )
        bracket = self.take()
        self.deeper(bracket)
        arguments = [self.comparison()]
        while self.here.text == ",":
            self.take()
            arguments.append(self.comparison())
        end = self.close(bracket)
        self.depth -= 1
        span = (name.span[0], end.span[1])
        fewest, most = function.arguments
        if not fewest <= len(arguments) <= most:
            wanted = str(fewest) if fewest == most else f"{fewest} or {most}"
            values = "value" if wanted == "1" else "values"
            raise WrongFormula(
                f"{function.name}() takes {wanted} {values}, here are {len(arguments)}.", span
            )
        return Call(function.name, tuple(arguments), span)

    def close(self, bracket: _Token) -> _Token:
        if self.here.text == ")":
            return self.take()
        if self.here.kind == "end":
            raise WrongFormula("This bracket is never closed.", bracket.span)
        raise self.unexpected()

    def deeper(self, token: _Token) -> None:
        self.depth += 1
        if self.depth > DEEPEST:
            text = "This formula is nested too deeply; use a column between."
            raise WrongFormula(text, token.span)

    def unexpected(self) -> WrongFormula:
        token = self.here
        if token.kind == "end":
            text = "The formula ends too early; something is missing here."
            return WrongFormula(text, token.span)
        if token.text == "," and re.match(r"\d", self.text[token.span[1] :]):
            return WrongFormula("Write decimals with a point, such as 0.5.", token.span)
        return WrongFormula(f"“{token.text}” cannot stand here.", token.span)

    def missing_sign(self, token: _Token) -> WrongFormula:
        follows = self.here
        after = "(…)" if follows.text == "(" else follows.text
        before = token.text if token.kind in ("number", "name") else "(…)"
        return WrongFormula(
            f"A sign is missing; to multiply, write {before}*{after}.",
            (token.span[0], follows.span[1]),
        )


def _number(token: _Token) -> Number:
    value = float(token.text)
    if not isfinite(value):
        raise WrongFormula(f"{token.text} is too large.", token.span)
    try:
        unit = read_unit(token.unit) if token.unit else None
    except Refused as error:
        raise WrongFormula(str(error), token.span) from error
    return Number(token.text, value, unit, token.span)


def _tokens(text: str) -> list[_Token]:
    found: list[_Token] = []
    position = 0
    while text[position:].strip():
        match = _TOKEN.match(text, position)
        if match is None:
            at = position + len(text[position:]) - len(text[position:].lstrip())
            raise WrongFormula(f"“{text[at]}” has no meaning in a formula.", (at, at + 1))
        kind = str(match.lastgroup)
        written = match[kind]
        position = match.end()
        unit = ""
        if kind == "number":
            unit, position = _unit_behind(text, position)
        found.append(_Token(kind, _SAME.get(written, written), (match.start(kind), position), unit))
    found.append(_Token("end", "", (len(text), len(text))))
    return found


def _unit_behind(text: str, position: int) -> tuple[str, int]:
    """The unit that follows a number, and where it ends; "" where none does."""
    first = _UNIT_AFTER_SPACE.match(text, position)
    if first is None or text[first.end() : first.end() + 1] == "(":
        return "", position
    unit = first[1] or first[2]
    _check_unit(text, unit, first)
    end = first.end()
    while (more := _UNIT_GOES_ON.match(text, end)) and _is_unit(more[1]):
        unit += text[end : more.end()]
        end = more.end()
    return unit, end


def _is_unit(written: str) -> bool:
    word = _WORD.match(written)
    return word is not None and is_known(word[0])


def _check_unit(text: str, unit: str, match: re.Match[str]) -> None:
    if _is_unit(unit):
        return
    number = re.search(r"\S+$", text[: match.start()])
    raise WrongFormula(
        f"“{unit}” is no unit; to multiply, write {number[0] if number else ''}*{unit}.",
        (match.start(), match.end()),
    )
