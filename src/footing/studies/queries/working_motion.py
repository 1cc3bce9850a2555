"""The working of what marks give: velocities, between two marks or at one, and energies."""

from math import sqrt
from typing import Literal

import numpy as np

from footing.core import findings
from footing.core.dimensions import Unit, read_unit
from footing.core.errors import Refused
from footing.core.ledgers.amounts import Account
from footing.core.ledgers.energy import EnergyKind
from footing.core.quantities import QUANTITIES, Quantity, QuantityKey
from footing.store.rows import Body
from footing.studies.model.energies import (
    COLUMNS,
    KEY_OF,
    gravity_of,
    inertia_given,
    mass_of,
    resolved,
)
from footing.studies.model.motions import BodyMotion
from footing.studies.model.sources import FootageSource
from footing.studies.queries.working_lines import Line, Place, Put, Working

_METRE, _SECOND, _JOULE = read_unit("m"), read_unit("s"), read_unit("J")
_KILOGRAM, _SPEED = read_unit("kg"), read_unit("m/s")
_SQUARE = "Noise makes squares too large; what it adds was taken off."
_MENTIONED = 0.05  # of the value, from which that is said
_COMPONENTS: tuple[QuantityKey, ...] = ("vx", "vy", "ax", "ay", "mx", "my")
_SIZES: dict[str, tuple[QuantityKey, QuantityKey, QuantityKey]] = {
    "v": ("v", "vx", "vy"),
    "a": ("a", "ax", "ay"),
}


def _of_marks(quantity: Quantity, *, at_end: bool) -> str:
    """How a component follows from the marks around it."""
    if quantity.since_start:
        return "From the first mark, or the first one behind an impact, to this one."
    what = "slope" if quantity.order == 1 else "second derivative"
    if at_end:
        return f"One-sided: the {what} of the parabola through these marks, at its end."
    return f"The {what} of the parabola through these marks, at the middle one."


class BodyWorking:
    """The working of numbers of one body."""

    def __init__(self, source: FootageSource, row: Body, body: BodyMotion) -> None:
        self.source = source
        self.row = row
        self.body = body
        self.motion = body.motion

    def between(self, first: int, last: int) -> Working:
        """Mean velocities between two marks."""
        one, other = sorted((self._row(first), self._row(last)))
        if one == other:
            raise Refused("Choose two different frames.", field="of")
        speed = self._unit("v")
        u = self.motion.position_uncertainty * np.sqrt(2)
        times = self.motion.times
        lines = []
        for axis, name in enumerate("xy"):
            places = self.motion.positions[:, axis]
            value = (places[other] - places[one]) / (times[other] - times[one])
            puts = {
                f"{name}_2": self._length(places[other]),
                f"{name}_1": self._length(places[one]),
                **self._times(one, other),
            }
            result = findings.measured(
                float(value), float(u / (times[other] - times[one])), str(speed)
            )
            formula = f"({name}_2 - {name}_1)/(t_2 - t_1)"
            lines.append(Line(f"v_{name}", formula, puts, result))
        return Working(
            f"Mean velocity of {self.row.name}, frames {self._frame(one)} to {self._frame(other)}",
            lines,
            [self._place(one), self._place(other)],
        )

    def cell(self, frame: int, key: str) -> Working:
        """A cell of the table of the body."""
        row = self._row(frame)
        if key in COLUMNS:
            return self.energy(row, COLUMNS[key].kind)
        found = next((known for known in _COMPONENTS if known == key), None)
        if found is not None:
            return self._component(row, found)
        if key in _SIZES:
            return self._size(row, key)
        named = QUANTITIES[key].name if key in QUANTITIES else key
        raise Refused(f"There is no working of {named} yet.", field="of")

    def _component(self, row: int, key: QuantityKey) -> Working:
        """A component of a velocity or an acceleration: linear in the coordinates of marks."""
        quantity = QUANTITIES[key]
        column = self.motion.column(key)
        place = self._place_in(column.index, row)
        line, members = self._slope(row, place, key)
        text = findings.measured(
            float(column.values[place]), float(column.uncertainties[place]), str(self._unit(key))
        )
        return Working(
            f"{quantity.name.capitalize()} of {self.row.name} in frame {self._frame(row)}",
            [
                Line(said=_of_marks(quantity, at_end=bool(column.at_end[place]))),
                Line(f"{quantity.symbol}_{quantity.component}", line[0], line[1], text),
            ],
            [self._place(member) for member in members],
        )

    def _slope(
        self, row: int, place: int, key: QuantityKey
    ) -> tuple[tuple[str, dict[str, Put]], list[int]]:
        """The formula of a derivative with its numbers, and the marks in it."""
        quantity = QUANTITIES[key]
        name: Literal["x", "y"] = "x" if quantity.component == "x" else "y"
        weights = self.motion.weights(key)[name][[place]].tocoo()
        by = {
            int(member): float(weight)
            for member, weight in sorted(zip(weights.col, weights.data, strict=True))
        }
        members = [*by]
        values = self.motion.positions[:, 0 if name == "x" else 1]
        times = self.motion.times
        first, last = members[0], members[-1]
        ends = 1 / (times[last] - times[first])
        is_of_ends = all(
            abs(by[member] - {first: -ends, last: ends}.get(member, 0.0)) < 1e-9 * ends
            for member in members
        )
        if is_of_ends and (quantity.since_start or first < row < last):
            puts = {
                f"{name}_2": self._length(values[last]),
                f"{name}_1": self._length(values[first]),
                **self._times(first, last),
            }
            return (f"({name}_2 - {name}_1)/(t_2 - t_1)", puts), [first, last]
        terms = [f"w_{k}*{name}_{k}" for k in range(1, len(members) + 1)]
        puts = {}
        for k, member in enumerate(members, start=1):
            puts[f"w_{k}"] = Put(by[member], unit=_SECOND ** -max(quantity.order, 1))
            puts[f"{name}_{k}"] = self._length(values[member])
        return (" + ".join(terms), puts), members

    def _size(self, row: int, key: str) -> Working:
        """The size of a velocity or an acceleration, from its components."""
        size, *components = _SIZES[key]
        parts = {}
        for component in components:
            name = f"{key}_{QUANTITIES[component].component}"
            parts[name] = Put(*self._value(row, component), self._unit(key))
        value, u = self._value(row, size)
        formula = f"sqrt({key}_x^2 + {key}_y^2)"
        lines = [Line(key, formula, parts, findings.measured(value, u, str(self._unit(key))))]
        plain = sqrt(sum(part.value**2 for part in parts.values()))
        if plain - value > _MENTIONED * plain:
            lines.append(Line(said=_SQUARE))
        name = QUANTITIES[size].name.capitalize()
        return Working(
            f"{name} of {self.row.name} in frame {self._frame(row)}", lines, [self._place(row)]
        )

    def energy(self, row: int, kind: EnergyKind) -> Working:
        """An energy at a mark, in joules."""
        accounts = self.source.every_table[self.row.id].energies.accounts
        if kind not in accounts:
            raise Refused(f"{self.row.name} has no {kind} energy.", field="of")
        kinds = [kind] if kind != EnergyKind.TOTAL else [*accounts]
        return Working(
            f"{kind.capitalize()} energy of {self.row.name} in frame {self._frame(row)}",
            [line for one in kinds for line in self._energy_lines(row, one, accounts[one])],
            [self._place(row)],
        )

    def _energy_lines(self, row: int, kind: EnergyKind, account: Account) -> list[Line]:
        frame = self._frame(row)
        at = account.row_of(frame)
        if at is None:
            raise Refused(f"There is no {kind} energy in frame {frame}.", field="of")
        whole = resolved(account, self.source.ground_of(self.row.id))
        value, u = float(whole.values[at]), float(whole.uncertainties[at])
        symbol, formula, puts, plain = self._energy_formula(row, kind)
        lines = [Line(symbol, formula, puts, findings.measured(value, u, "J"))]
        if plain is not None and abs(plain - value) > max(_MENTIONED * abs(plain), 1e-12):
            lines.append(Line(said=_SQUARE))
        return lines

    def _energy_formula(
        self, row: int, kind: EnergyKind
    ) -> tuple[str, str, dict[str, Put], float | None]:
        """Symbol, formula, numbers in SI units, and the value without what noise adds."""
        metre = self.source.ground.metres or 1.0
        mass = mass_of(self.row)
        assert mass is not None
        m = Put(mass.value, mass.uncertainty, _KILOGRAM, guard=0)
        if kind == EnergyKind.KINETIC:
            velocity = [self._value(row, "vx"), self._value(row, "vy")]
            v_x, v_y = (Put(v * metre, u * metre, _SPEED) for v, u in velocity)
            plain = mass.value * (v_x.value**2 + v_y.value**2) / 2
            return "E_k", "m*(v_x^2 + v_y^2)/2", {"m": m, "v_x": v_x, "v_y": v_y}, plain
        if kind == EnergyKind.POTENTIAL:
            gravity = gravity_of(self.source.rows)
            u = self.motion.position_uncertainty * metre
            height = Put(float(self.motion.heights[row]) * metre, u, _METRE)
            g = Put(gravity.value, gravity.uncertainty, read_unit("m/s^2"), guard=0)
            return "E_p", "m*g*h", {"m": m, "g": g, "h": height}, None
        if kind == EnergyKind.ROTATIONAL:
            inertia = inertia_given(self.row, mass)
            assert inertia is not None
            turns = Put(*self._value(row, "om"), _SECOND**-1)
            big = Put(inertia.value, inertia.uncertainty, read_unit("kg*m^2"))
            return "E_r", "I*ω^2/2", {"I": big, "ω": turns}, None
        accounts = self.source.every_table[self.row.id].energies.accounts
        frame = self._frame(row)
        if kind == EnergyKind.ELASTIC:
            return self._elastic(row, metre)
        parts: dict[str, Put] = {}
        for one, account in accounts.items():
            at = account.row_of(frame)
            if one != EnergyKind.TOTAL and at is not None:
                parts[f"E_{COLUMNS[KEY_OF[one]].subscript}"] = Put(
                    float(account.values[at]), 0.0, _JOULE
                )
        return "E", " + ".join(parts), parts, None

    def _elastic(self, row: int, metre: float) -> tuple[str, str, dict[str, Put], float | None]:
        spring = self.source.spring_of(self.row)
        if spring is None:
            raise Refused(f"{self.row.name} is at no spring.", field="of")
        arm = (self.motion.positions[row] - spring.fixed_end) * metre
        u = self.motion.position_uncertainty * metre
        puts = {
            "k": Put(spring.constant.value, spring.constant.uncertainty, read_unit("N/m"), guard=0),
            "l": Put(float(np.hypot(*arm)), u, _METRE),
            "l_0": Put(spring.rest_length.value, spring.rest_length.uncertainty, _METRE),
        }
        return "E_s", "k*(l - l_0)^2/2", puts, None

    def _row(self, frame: int) -> int:
        found = np.flatnonzero(self.body.frames == frame)
        if len(found) == 0:
            raise Refused(f"There is no mark in frame {frame} that counts.", field="of")
        return int(found[0])

    def _value(self, row: int, key: QuantityKey) -> tuple[float, float]:
        """A quantity at a mark, and its uncertainty."""
        column = self.motion.column(key)
        place = self._place_in(column.index, row)
        return float(column.values[place]), float(column.uncertainties[place])

    def _place_in(self, index: np.ndarray, row: int) -> int:
        found = np.flatnonzero(index == row)
        if len(found) == 0:
            raise Refused(
                f"There is no such number in frame {self._frame(row)}; it needs neighbours.",
                field="of",
            )
        return int(found[0])

    def _frame(self, row: int) -> int:
        return int(self.body.frames[row])

    def _place(self, row: int) -> Place:
        frame = self._frame(row)
        return Place(f"frame {frame}", frame, self.row.id)

    def _unit(self, key: str) -> Unit:
        return QUANTITIES[key].dimension.in_units(self.source.ground.length_unit)

    def _length(self, value: float) -> Put:
        return Put(float(value), self.motion.position_uncertainty, self._unit("x"))

    def _times(self, first: int, last: int) -> dict[str, Put]:
        tick = 10.0**-self.source.ground.time_decimals
        times = self.motion.times
        return {
            "t_2": Put(float(times[last]), tick, _SECOND, guard=0),
            "t_1": Put(float(times[first]), tick, _SECOND, guard=0),
        }
