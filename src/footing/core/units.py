"""Units: reading typed lengths and masses, and naming the units of derived quantities.

Conversions and names come from pint's registry (SI brochure, 9th edition; the international inch
and foot of 1959).
"""

import re
from dataclasses import dataclass
from functools import cache
from typing import TYPE_CHECKING, Literal, get_args

from footing.core.errors import Refused


@cache
def registry() -> "pint.UnitRegistry[float]":
    """The registry of units; made when a unit is first asked for, because that takes a while."""
    import pint

    made: pint.UnitRegistry[float] = pint.UnitRegistry(cache_folder=None)
    made.define("picture_pixel = [picture_length] = px")
    return made


if TYPE_CHECKING:
    import pint

LengthUnit = Literal["m", "cm", "mm", "in", "ft"]
MassUnit = Literal["kg", "g"]
LENGTH_UNITS: tuple[str, ...] = get_args(LengthUnit)
MASS_UNITS: tuple[str, ...] = get_args(MassUnit)
MomentumUnit = Literal["kg*m/s", "g*cm/s", "kg*cm/s", "g*m/s", "N*s"]
MOMENTUM_UNITS: tuple[str, ...] = get_args(MomentumUnit)

_MADE_UP = re.compile(r"[^\W\d_]+([ -][^\W\d_]+)*")
_LONGEST_NAME = 16
_NUMBER = re.compile(r"[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?")
_PLUS_MINUS = re.compile(r"\+/?[-−]")
_LARGEST_EXPONENT = 30  # of ten, up to which a number can be meant
_LAST_DIGIT_SHARE = 0.3  # u of a typed value, in units of its last digit: about 1/√12


@dataclass(frozen=True)
class Typed:
    """A number as somebody typed it, with the uncertainty that its last digit implies."""

    value: float
    uncertainty: float


def read_number(text: str, *, field: str) -> Typed:
    """Read a decimal number with a point or a comma, and its uncertainty if it was typed.

    "1.50 ± 0.02" says it; without it the uncertainty is 0.3 of the last typed digit, so "1.50" is
    1.50 ± 0.003.

    Raises
    ------
    Refused : if the text is not one number.
    """
    number, stated, spread = _PLUS_MINUS.sub("±", text).partition("±")
    if stated:
        own = _plain_number(spread, field=field).value
        if own < 0:
            raise Refused(f"An uncertainty of {spread.strip()} cannot be.", field=field)
        return Typed(_plain_number(number, field=field).value, own)
    return _plain_number(text, field=field)


def _plain_number(text: str, *, field: str) -> Typed:
    """A number without an uncertainty of its own: that of its last digit."""
    cleaned = text.strip().replace("−", "-")
    match = _NUMBER.fullmatch(cleaned)
    if match is None:
        shown = f"“{text.strip()}” is not a number" if cleaned else "Nothing was typed"
        raise Refused(f"{shown}; type a number such as 1.50.", field=field)
    value = float(cleaned.replace(",", "."))
    nothing = not re.search("[1-9]", cleaned.lower().partition("e")[0])  # and not just too small
    limit = 10.0**_LARGEST_EXPONENT
    if abs(value) > limit or (abs(value) < 1 / limit and not nothing):
        raise Refused(
            f"“{text.strip()}” is beyond what can be computed with; numbers go from "
            f"1e-{_LARGEST_EXPONENT} to 1e{_LARGEST_EXPONENT}.",
            field=field,
        )
    mantissa, _, exponent = cleaned.lower().replace(",", ".").partition("e")
    decimals = len(mantissa.partition(".")[2])
    exponent_of_last = min(max(int(exponent or 0), -99), 99) - decimals
    return Typed(value, _LAST_DIGIT_SHARE * 10.0**exponent_of_last)


@dataclass(frozen=True)
class Limits:
    """From where to where a number can be, both included, with its unit for the message."""

    least: float
    most: float
    unit: str = ""


LENGTHS = Limits(1e-6, 1e6)
MASSES = Limits(1e-6, 1e9)
PIXELS = Limits(0.001, 100.0, "px")
RATES = Limits(0.01, 1e6, "frames/s")
SECONDS = Limits(1e-6, 1e6, "s")
MILLISECONDS = Limits(0.001, 1000.0, "ms")
ANYTHING = Limits(1e-15, 1e15)


def read_positive(text: str, *, field: str, what: str, limits: Limits = ANYTHING) -> Typed:
    """Read a number that must be larger than 0, such as a length or a mass.

    Raises
    ------
    Refused : if the text is not a number, or it is 0, negative, or beyond the limits.
    """
    typed = read_number(text, field=field)
    shown = text.strip()
    if typed.value <= 0:
        raise Refused(f"{what} of {shown} cannot be; it must be larger than 0.", field=field)
    if not limits.least <= typed.value <= limits.most:
        ends = f"{limits.least:g} to {limits.most:g} {limits.unit}".strip()
        raise Refused(f"{what} of {shown} cannot be; it can be from {ends}.", field=field)
    if typed.uncertainty > limits.most:
        raise Refused(f"{what} of {shown} is too uncertain to be used.", field=field)
    return typed


def check_made_up(name: str, *, field: str) -> None:
    """Check the name of a made-up unit of length, such as "sled".

    Raises
    ------
    Refused : if it is no word, or the name of a unit that exists.
    """
    letters = name.replace(" ", "").replace("-", "")
    if not _MADE_UP.fullmatch(name) or not letters.isalpha() or len(name) > _LONGEST_NAME:
        raise Refused(
            f"“{name}” cannot be a unit; use {', '.join(LENGTH_UNITS)}, or a short word of your "
            "own such as sled.",
            field=field,
        )
    if name == "px" or _is_a_unit(name):
        raise Refused(
            f"“{name}” is the name of a unit that exists; use {', '.join(LENGTH_UNITS)}, or a word "
            "of your own.",
            field=field,
        )


def _is_a_unit(name: str) -> bool:
    try:
        return name in registry()
    except Exception:  # it reads what is no name at all as an expression, and fails as it likes
        return True


def metres_in(unit: str) -> float:
    """Length of a unit of `LENGTH_UNITS` in metres."""
    return to_si(Typed(1.0, 0.0), unit).value


@cache
def _in_si(unit: str) -> float:
    return float(registry().Quantity(1.0, unit).to_base_units().magnitude)


def to_si(typed: Typed, unit: str) -> Typed:
    """Convert from a unit of `LENGTH_UNITS` or `MASS_UNITS` to metres or kilograms."""
    factor = _in_si(unit)
    return Typed(typed.value * factor, typed.uncertainty * factor)
