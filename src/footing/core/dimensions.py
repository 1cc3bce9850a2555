"""Units as people write them, and the arithmetic with them.

A unit is a product of powers of named units, such as ``cm/s²``. It knows its dimension (powers of
the base units of the SI; BIPM, The International System of Units, 9th edition) and its size in
those, both from pint's registry. Angles have no dimension there: a degree is π/180. Words that no
registry knows are made-up units: each has a dimension of its own and converts to nothing.
"""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import cache, cached_property, lru_cache

from footing.core.arrays import FloatArray
from footing.core.errors import Refused
from footing.core.units import Typed, read_number, registry

# Symbols that are understood, with their names in the registry.
KNOWN: dict[str, str] = {
    **{symbol: symbol for symbol in ("m", "cm", "mm", "km", "nm", "in", "ft")},
    **{symbol: symbol for symbol in ("s", "ms", "min", "h", "kg", "g", "mg")},
    **{symbol: symbol for symbol in ("N", "mN", "kN", "J", "mJ", "kJ", "MJ", "eV")},
    **{symbol: symbol for symbol in ("W", "kW", "MW", "Hz", "kHz")},
    **{symbol: symbol for symbol in ("Pa", "hPa", "kPa", "MPa", "bar", "mbar", "mmHg", "atm")},
    **{symbol: symbol for symbol in ("V", "mV", "kV", "A", "mA", "C", "T", "mT", "Wb", "F", "H")},
    **{symbol: symbol for symbol in ("K", "L", "dL", "cL", "mL", "mol", "mmol", "rad", "rpm")},
    **{symbol: symbol for symbol in ("dm", "pm", "yd", "mi", "cN", "MN", "GJ", "keV", "MeV")},
    **{symbol: symbol for symbol in ("cal", "kcal", "Wh", "kWh", "mW", "GW", "MHz", "GHz")},
    **{symbol: symbol for symbol in ("lm", "lx", "cd", "Bq", "kBq", "MBq", "Gy", "Sv", "mSv")},
    **{symbol: symbol for symbol in ("psi", "nC", "pF", "mF", "mH", "kA")},
    **{"µN": "uN", "µJ": "uJ", "µW": "uW", "µV": "uV", "µT": "uT", "µH": "uH", "µg": "ug"},
    **{"µm": "um", "µs": "us", "µA": "uA", "µC": "uC", "nF": "nF", "µF": "uF"},
    **{
        "Ω": "ohm",
        "mΩ": "milliohm",
        "kΩ": "kiloohm",
        "MΩ": "megaohm",
        "°": "degree",
        "°C": "delta_degC",
        "°F": "delta_degF",
    },
    **{"%": "percent", "px": "picture_pixel", "inHg": "inch_Hg"},
}
_OTHER_WRITINGS = {
    **{"um": "µm", "us": "µs", "ohm": "Ω", "kohm": "kΩ", "deg": "°", "degC": "°C", "degF": "°F"},
    **{"μm": "µm", "μs": "µs", "l": "L", "ml": "mL", "sec": "s", "kgs": "kg"},
}
_BASES = {
    **{"meter": "m", "second": "s", "kilogram": "kg", "ampere": "A", "kelvin": "K"},
    **{"candela": "cd", "count": ""},
    **{"mole": "mol", "picture_pixel": "px", "radian": ""},
}
_LARGEST_POWER = 12
_LONGEST = 40
_SUPERSCRIPT = str.maketrans("-0123456789", "⁻⁰¹²³⁴⁵⁶⁷⁸⁹")
_PLAIN = str.maketrans("⁻⁰¹²³⁴⁵⁶⁷⁸⁹", "-0123456789")
LETTERS = r"[^\W\d_⁰¹²³⁴-⁹]+"  # superscripts are letters to Python
_NAME = rf"°C|°F|°|%|{LETTERS}"
_PIECE = re.compile(
    rf"\s*(?:(?P<name>{_NAME})|(?P<one>1)(?=\s*/)|(?P<mark>[/()]|[*·×⋅]))"
    r"(?:\^(?:(?P<power>[-−]?\d+(?:\.\d+)?)|\((?P<share>[-−]?\d+(?:[./]\d+)?)\))|(?P<raised>⁻?[⁰¹²³⁴⁵⁶⁷⁸⁹]+))?"
)

_NUMBER_FIRST = re.compile(
    r"\s*(?P<number>[-+−]?[\d.,]+(?:[eE][-+−]?\d+)?(?:\s*(?:±|\+/?-)\s*[\d.,]+)?)\s*(?P<unit>.*?)\s*"
)

Powers = tuple[tuple[str, Fraction], ...]
_REMEMBERED = 2000  # products of units; every reading of every fit has some


_OFFSETS: dict[Powers, float] = {  # K
    (("°C", Fraction(1)),): 273.15,
    (("°F", Fraction(1)),): 273.15 - 32 * 5 / 9,
}


@dataclass(frozen=True)
class Dimension:
    """Powers of length, time, mass and angle: acceleration is ``Dimension(1, -2)``.

    The unit of length is the study's, the pixel before a known length is set, or a made-up one.
    """

    length: int = 0
    time: int = 0
    mass: int = 0
    angle: int = 0

    def in_units(self, length: str = "m") -> "Unit":
        """The unit, with lengths in this one."""
        powers = (("kg", self.mass), (length, self.length), ("rad", self.angle), ("s", self.time))
        return Unit(tuple((name, Fraction(power)) for name, power in powers if power))

    def unit(self, *, length: str = "m") -> str:
        """The unit in print: ``m/s²``, ``px/s``, or an empty text for a pure number."""
        return str(self.in_units(length))


@dataclass(frozen=True)
class Unit:
    """A product of powers of named units, in the order in which it is written; () is a number."""

    parts: Powers = ()

    @cached_property
    def dimension(self) -> Powers:
        """Powers of the base units, sorted; () where it has no dimension."""
        return merged(
            (base, power * each)
            for name, power in self.parts
            for base, each in _named(name).dimension
        )

    @cached_property
    def factor(self) -> float:
        """Its size in base units: 0.01 for a centimetre."""
        size = 1.0
        for name, power in self.parts:
            size *= _named(name).factor ** float(power)
        return size

    @property
    def offset(self) -> float:
        """What is added in kelvin: a temperature in °C or °F does not begin at zero."""
        return _OFFSETS.get(self.parts, 0.0)

    @property
    def in_si(self) -> "Unit":
        """The same in units of the SI, with its radians; itself where it is one."""
        return self if self.factor == 1.0 else in_base_units(self.dimension)

    def to_base(self, values: FloatArray | float) -> FloatArray | float:
        """Numbers in this unit, in base units."""
        return values * self.factor + self.offset

    def from_base(self, values: FloatArray | float) -> FloatArray | float:
        """Numbers in base units, in this unit."""
        return (values - self.offset) / self.factor

    def converts_to(self, other: "Unit") -> bool:
        """Whether both measure the same kind of quantity."""
        return self.dimension == other.dimension

    def power_of(self, name: str) -> Fraction:
        """The power of a base unit or a made-up one, 0 where it does not occur."""
        return dict(self.dimension).get(name, Fraction(0))

    def __mul__(self, other: "Unit") -> "Unit":
        """Unit of a product."""
        return _multiplied(self, other)

    def __truediv__(self, other: "Unit") -> "Unit":
        """Unit of a quotient."""
        return self * other ** Fraction(-1)

    def __pow__(self, power: Fraction | int) -> "Unit":
        """Unit of a power."""
        return _raised(self, power)

    def __str__(self) -> str:
        """As it is printed: ``kg·m/s²``, or an empty text for a number."""
        return self._text

    @cached_property
    def _text(self) -> str:
        above = [_printed(name, power) for name, power in self.parts if power > 0]
        below = [_printed(name, -power) for name, power in self.parts if power < 0]
        if not below:
            return "·".join(above)
        under = below[0] if len(below) == 1 else f"({'·'.join(below)})"
        return f"{'·'.join(above) or '1'}/{under}"


@lru_cache(_REMEMBERED)
def _multiplied(one: Unit, other: Unit) -> Unit:
    return Unit(_product((*one.parts, *other.parts)))


@lru_cache(_REMEMBERED)
def _raised(unit: Unit, power: Fraction | int) -> Unit:
    return Unit(_product((name, each * power) for name, each in unit.parts))


NUMBER = Unit()
METRE, SECOND = (Unit(((name, Fraction(1)),)) for name in ("m", "s"))


@dataclass(frozen=True)
class _Named:
    """What a named unit is: powers of base units and size in them."""

    dimension: Powers
    factor: float


@cache
def _named(name: str) -> _Named:
    if name not in KNOWN:
        return _Named(((name, Fraction(1)),), 1.0)
    quantity = registry().Quantity(1.0, KNOWN[name]).to_base_units()
    dimension = (
        (_BASES[str(base)], Fraction(power).limit_denominator(100))
        for base, power in quantity.unit_items()
    )
    return _Named(merged((base, power) for base, power in dimension if base), quantity.magnitude)


def merged(powers: Iterable[tuple[str, Fraction]]) -> Powers:
    """Powers of the same name added, sorted by name, without zeros."""
    return tuple(sorted(_product(powers)))


def _product(powers: Iterable[tuple[str, Fraction]]) -> Powers:
    added: dict[str, Fraction] = {}
    for name, power in powers:
        added[name] = added.get(name, Fraction(0)) + power
    return tuple((name, power) for name, power in added.items() if power)


def in_base_units(dimension: Powers) -> Unit:
    """The unit of a dimension made of base units, what is multiplied before what is divided by."""
    return Unit(tuple(sorted(dimension, key=lambda part: (part[1] < 0, part[0] == "s", part[0]))))


@cache
def _with_own_name() -> dict[Powers, Unit]:
    """Dimensions of the derived units that have a name of their own at school."""
    return {
        unit.dimension: unit
        for unit in (Unit(((name, Fraction(1)),)) for name in ("N", "J", "W", "Pa", "V", "Ω", "C"))
    }


def natural(dimension: Powers, used: Iterable[Unit]) -> Unit:
    """The unit in which a result of this dimension is best said.

    Where only one unit was used for each base (all lengths in cm) that one is kept; else, and
    where a unit has a name of its own (J, N), that of the SI.
    """
    own = _with_own_name().get(dimension)
    if own is not None:
        return own
    of_base: dict[str, set[str]] = {}
    for unit in used:
        for name, _ in unit.parts:
            found = _named(name).dimension
            if len(found) == 1 and found[0][1] == 1:
                of_base.setdefault(found[0][0], set()).add(name)
            elif len(found) > 1:
                return in_base_units(dimension)
    bases = in_base_units(dimension).parts
    if any(len(of_base.get(base, ())) > 1 for base, _ in bases):
        return in_base_units(dimension)
    return Unit(tuple((next(iter(of_base.get(base, {base}))), power) for base, power in bases))


@cache
def read_unit(text: str, *, field: str = "unit") -> Unit:
    """Read a unit as people write it: ``m/s^2``, ``m/s²``, ``kg·m/s``, ``1/s``, ``J/(kg K)``.

    Raises
    ------
    Refused : if it cannot be read.
    """
    cleaned = text.strip().translate(str.maketrans("−", "-"))
    if cleaned in ("", "1", "–", "-"):
        return NUMBER
    if len(cleaned) > _LONGEST:
        raise Refused("A unit has at most 40 characters.", field=field)
    parts: list[tuple[str, Fraction]] = []
    position, sign, outer, in_brackets, opened = 0, 1, 1, False, 0
    while position < len(cleaned):
        piece = _PIECE.match(cleaned, position)
        if piece is None:
            raise _unreadable(text, cleaned[position:], field)
        position = piece.end()
        mark = piece["mark"]
        has_power = bool(piece["power"] or piece["share"] or piece["raised"])
        if has_power and not (piece["name"] or (mark == ")" and in_brackets)):
            raise _unreadable(text, cleaned[piece.start() :], field)
        if mark == "/":
            sign = -outer
        elif mark == "(" and not in_brackets:
            in_brackets, opened, outer = True, len(parts), sign
        elif mark == ")" and in_brackets:
            power = _power(piece, text, field)
            parts[opened:] = [(name, each * power) for name, each in parts[opened:]]
            in_brackets, sign, outer = False, 1, 1
        elif mark in ("(", ")"):
            raise _unreadable(text, mark, field)
        elif piece["name"]:
            parts.append((_symbol(piece["name"]), sign * _power(piece, text, field)))
            sign = outer
    if in_brackets or not parts or cleaned.endswith("/"):
        raise _unreadable(text, cleaned, field)
    return Unit(_product(parts))


def parted(text: str) -> tuple[str, str]:
    """A typed quantity as the text of its number and that of its unit, which may be empty."""
    found = _NUMBER_FIRST.fullmatch(text)
    return (text, "") if found is None else (found["number"].strip(), found["unit"] or "")


def read_quantity(text: str, *, field: str) -> tuple[Typed, Unit | None]:
    """Read a number as `read_number` does, with a unit behind it if one was typed.

    Raises
    ------
    Refused : if it begins with no number, or what follows is no unit.
    """
    found = _NUMBER_FIRST.fullmatch(text)
    if found is None or not found["unit"]:
        return read_number(text, field=field), None
    return read_number(found["number"], field=field), read_unit(found["unit"], field=field)


def _power(piece: re.Match[str], text: str, field: str) -> Fraction:
    written = piece["power"] or piece["share"] or (piece["raised"] or "1").translate(_PLAIN)
    try:
        power = Fraction(written.replace("−", "-"))
    except ZeroDivisionError as error:
        raise _unreadable(text, written, field) from error
    if abs(power) > _LARGEST_POWER:
        raise Refused(f"A unit to the power of {written} cannot be.", field=field)
    return power


def _unreadable(text: str, rest: str, field: str) -> Refused:
    return Refused(
        f"“{text.strip()}” cannot be read as a unit from “{rest.strip()}” on; write it like m/s^2.",
        field=field,
    )


def _symbol(written: str) -> str:
    return _OTHER_WRITINGS.get(written, written)


def is_known(name: str) -> bool:
    """Whether a word is a unit of the registry."""
    return _symbol(name) in KNOWN


def own_words(text: str) -> str:
    """That a unit holds words that nobody else knows, where it does; else an empty text."""
    try:
        unit = read_unit(text)
    except Refused:
        return ""
    own = [f"“{name}”" for name, _ in unit.parts if name not in KNOWN]
    if not own:
        return ""
    said = "is a unit" if len(own) == 1 else "are units"
    return f"{' and '.join(own)} {said} of your own, with no conversion to others."


def _printed(name: str, power: Fraction) -> str:
    if power == 1:
        return name
    if power.denominator == 1:
        return name + str(power).translate(_SUPERSCRIPT)
    return f"{name}^{float(power):.4g}"


def describe(dimension: Powers) -> str:
    """A dimension in words for a message: its base units, or “a plain number”."""
    return str(in_base_units(dimension)) or "a plain number"


def as_powers(powers: Mapping[str, Fraction]) -> Powers:
    """A mapping of powers in the form that can be compared."""
    return merged(powers.items())
