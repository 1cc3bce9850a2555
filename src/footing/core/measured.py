"""The measured columns of a body as formulas take them.

Each rests on the coordinates of the marks (and the angles there), which are columns, too; sizes
rest on errors across them besides. So a formula knows what x, vx and the speed of a body have in
common, and a fit of its results how they share marks.
"""

from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np
from scipy import sparse

from footing.core.arrays import FloatArray, IntArray
from footing.core.dimensions import Unit
from footing.core.formulas.computing import Computed, Known
from footing.core.motion import MARK_ERRORS, Motion
from footing.core.paths import Column
from footing.core.quantities import QUANTITIES, QuantityKey
from footing.core.units import LENGTH_UNITS

_ACROSS = {"v": ("across v", 1), "s": ("across v", 1), "a": ("across a", 2)}
_SOURCES = ("x", "y", "th", *MARK_ERRORS, "across v", "across a")  # of a mark of its own alone
LENGTHS, TIMES = "all lengths", "all times"  # sources by which all of them are wrong alike
_COORDINATES = ("x", "y", "h")  # each rests on its own mark
_COMMON = Known(1.0, uncertainty=1.0, common=True)
_NOISY = ("v", "vx", "vy")  # what noise makes the squares of too large


class MeasuredSymbols(Mapping[str, Known]):
    """What the symbols of a body's measured columns stand for, made when asked for.

    All marks have a row; it is NaN where a column has no value.

    Parameters
    ----------
    keys : the columns that there are
    length : name of the unit of length
    """

    def __init__(self, motion: Motion, keys: tuple[str, ...], *, length: str) -> None:
        self._motion = motion
        errors = () if motion.error_shapes is None else MARK_ERRORS
        across = (name for name, _ in _ACROSS.values())
        self._keys = (*keys, *errors, *across, LENGTHS, TIMES)
        self._sources = tuple(one for one in _SOURCES if not (errors and one in ("x", "y")))
        self._length = length
        self._made: dict[str, Known] = {}

    def __getitem__(self, symbol: str) -> Known:
        """A column, or what sizes rest on besides."""
        if symbol not in self._keys:
            raise KeyError(symbol)
        if symbol not in self._made:
            if symbol in (LENGTHS, TIMES):
                self._made[symbol] = _COMMON
            elif symbol in QUANTITIES:
                self._made[symbol] = self._column(symbol)
            else:
                self._made[symbol] = self._errors_of_marks()
        return self._made[symbol]

    def __iter__(self) -> Iterator[str]:
        """All symbols."""
        return iter(dict.fromkeys(self._keys))

    def __len__(self) -> int:
        """How many there are."""
        return len(set(self._keys))

    def in_common(self, key: str) -> dict[str, FloatArray]:
        """How the values ``(m,)`` of a measured column change with all lengths and all times.

        By the whole of them, in the unit of the column.
        """
        values, unit = self._motion.column(QUANTITIES[key].key).values, self._unit(key)
        return {of: values * power for of, power in self._powers(unit).items()}

    def by_marks(self, found: Computed | Known) -> dict[str, Any]:
        """How values rest on marks: by source sparse ``(n, n)``, for errors of variance 1."""
        n = len(self._motion.times)
        parts: dict[str, Any] = {}
        for name, slope in found.slopes.items():
            if name not in self._sources:
                continue
            source = self[name]
            errors = np.broadcast_to(source.uncertainty, (n,)) * source.unit.factor
            by: Any = slope
            if not sparse.issparse(slope):
                by = sparse.diags_array(np.broadcast_to(slope, (n,)))
            parts[name] = sparse.csr_array(by @ sparse.diags_array(errors))
        return parts

    def shared(self, found: Computed) -> Any:
        """The same in one ``(n, k)``; None where each value rests on a mark of its own."""
        if not any(sparse.issparse(found.slopes.get(name)) for name in self._sources):
            return None
        return sparse.hstack(list(self.by_marks(found).values()), format="csr")

    def _unit(self, key: str) -> Unit:
        return QUANTITIES[key].dimension.in_units(self._length)

    def _column(self, symbol: str) -> Known:
        key: QuantityKey = QUANTITIES[symbol].key
        motion, unit, n = self._motion, self._unit(symbol), len(self._motion.times)
        column = motion.column(key)
        slopes: dict[str, Any] = {}
        if symbol not in self._sources:
            for source, weights in motion.errors(key).items():
                of = self._unit("th" if source == "th" else "x")
                by = weights * (unit.factor / of.factor)
                slopes[source] = (
                    by.diagonal()
                    if key in _COORDINATES
                    else _spread_rows(by, column.index, np.arange(n), n)
                )
        if symbol in _ACROSS and (across := motion.across(key)) is not None:
            name, order = _ACROSS[symbol]
            by = across * (unit.factor / self._unit("x").factor)
            slopes[name] = _spread_rows(by, column.index, motion.of_order(order), n)
        in_base = np.nan_to_num(_spread(column, n)) * unit.factor
        slopes |= {source: in_base * power for source, power in self._powers(unit).items()}
        if symbol in self._sources:
            slopes[symbol] = np.ones(n)
        noise = np.zeros(n)
        if symbol in _NOISY:
            noise[column.index] = motion.noise(key)
        errors = np.zeros(n)
        errors[column.index] = column.uncertainties
        return Known(_spread(column, n), unit, errors, slopes, noise)

    def _powers(self, unit: Unit) -> dict[str, float]:
        """In which power a column goes with all lengths and all times, where it does."""
        length = "m" if self._length in LENGTH_UNITS else self._length
        powers = {LENGTHS: float(unit.power_of(length)), TIMES: float(unit.power_of("s"))}
        return {of: power for of, power in powers.items() if power}

    def _errors_of_marks(self) -> Known:
        """Errors one at each mark, or across its velocity or acceleration, 0 on average."""
        zeros = np.zeros(len(self._motion.times))
        return Known(zeros, self._unit("x"), self._motion.position_uncertainty)


def _spread_rows(
    weights: sparse.csr_array, rows: IntArray, columns: IntArray, n: int
) -> sparse.csr_array:
    """Weights of some marks by some marks as a matrix ``(n, n)`` of all."""
    entries = weights.tocoo()
    at = (rows[entries.row], columns[entries.col])
    return sparse.csr_array((entries.data, at), shape=(n, n))


def _spread(column: Column, n: int) -> FloatArray:
    """The values of a column at all n marks; NaN where it has none."""
    values = np.full(n, np.nan)
    values[column.index] = column.values
    return values
