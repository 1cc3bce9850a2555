"""How a number was worked out, as a good student writes it: formula, numbers put in, result."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from footing.core import findings
from footing.core.dimensions import NUMBER, Unit
from footing.core.formulas.parsing import parse
from footing.core.formulas.printing import split_symbol, worked

_NAME = re.compile(r"[^\W\d]\w*")
_SIZE = re.compile(r"abs\(([^()]*(?:\([^()]*\)[^()]*)*)\)")
_SIGNIFICANT = 4
_MOST_DECIMALS = 8


@dataclass(frozen=True)
class Put:
    """A number that is put in, with its unit; ``uncertainty`` says to how many digits.

    guard : how many more, so that the result can be checked; none of what was typed
    """

    value: float
    uncertainty: float = 0.0
    unit: Unit = NUMBER
    guard: int = 1

    @property
    def text(self) -> str:
        """In print, without its unit."""
        if self.uncertainty > 0:
            decimals = findings.uncertainty_decimals(self.uncertainty) + self.guard
            if 0 <= decimals <= _MOST_DECIMALS:
                return findings.number(self.value, decimals)
        return findings.significant(self.value, _SIGNIFICANT)


@dataclass(frozen=True)
class Line:
    """One equation: a symbol, its formula, what is put in, what comes of it.

    said : a sentence before it; formula, result : empty where there is none
    """

    symbol: str = ""
    formula: str = ""
    puts: Mapping[str, Put] = field(default_factory=dict)
    result: str = ""
    said: str = ""

    @property
    def mathml(self) -> str:
        """As a ``<math>`` element; empty where there is no formula."""
        if not self.formula:
            return ""
        values = {name: (put.text, put.unit) for name, put in self.puts.items()}
        return worked(self.symbol, parse(self.formula), values, self.result)

    @property
    def text(self) -> str:
        """As plain text."""
        if not self.formula:
            return self.said
        symbol = "".join(split_symbol(self.symbol))
        said = f"{self.said} " if self.said else ""
        parts = [symbol, _plain(self.formula), self._with_numbers(), self.result]
        return said + " = ".join(part for part in parts if part)

    def _with_numbers(self) -> str:
        def put(match: re.Match[str]) -> str:
            there = self.puts.get(match.group())
            if there is None:
                return match.group()
            unit = f" {there.unit}" if str(there.unit) else ""
            text = f"{there.text}{unit}"
            is_raised = bool(unit) and self.formula[match.end() :].lstrip().startswith("^")
            return f"({text})" if text.startswith("−") or is_raised else text

        return _spaced(_NAME.sub(put, self.formula))


def _plain(formula: str) -> str:
    """A formula in plain letters."""
    return _spaced(_NAME.sub(lambda match: "".join(split_symbol(match.group())), formula))


def _spaced(text: str) -> str:
    spaced = text.replace("*", " · ").replace("^2", "²").replace(" - ", " − ")
    return _SIZE.sub(r"|\1|", spaced)


@dataclass(frozen=True)
class Place:
    """Where a number comes from: a frame, and whose mark."""

    said: str
    frame: int
    body: int | None = None


@dataclass(frozen=True)
class Working:
    """How a number was worked out."""

    title: str
    lines: Sequence[Line]
    places: Sequence[Place] = ()

    @property
    def text(self) -> str:
        """All of it as plain text, to be copied."""
        return "\n".join([self.title, *(line.text for line in self.lines)])

    @property
    def mathml(self) -> str:
        """All its equations, to be copied."""
        return "\n".join(line.mathml for line in self.lines if line.formula)
