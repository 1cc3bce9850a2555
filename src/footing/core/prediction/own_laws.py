"""Laws in formulas of one's own: the acceleration, or the place, as people write it down.

An acceleration is a formula of t, x, y, vx, vy; a place is one of t. What else is named is a
quantity that is known, or a parameter of the leg. Everything is in base units.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass

import numpy as np

from footing.core.arrays import FloatArray
from footing.core.dimensions import NUMBER, Unit, read_unit
from footing.core.errors import Refused
from footing.core.formulas.checking import Checked, check, constant
from footing.core.formulas.functions import OF_A_CURVE
from footing.core.formulas.parsing import parse
from footing.core.formulas.syntax import Call, Formula, WrongFormula, walk
from footing.core.formulas.terms import Term
from footing.core.formulas.walking import Walker
from footing.core.prediction.integrating import Motion, MotionStopped, Stop, integrated
from footing.core.prediction.laws import Begin
from footing.core.prediction.parameters import START

ACCELERATION, PATH = "formula", "formula of time"
_MOVES = ("x", "y", "vx", "vy")
_UNITS = {"t": "s", "x": "m", "y": "m", "vx": "m/s", "vy": "m/s"}
_FIELDS = {ACCELERATION: ("ax", "ay"), PATH: ("x", "y")}
_VARIABLES = {ACCELERATION: ("t", *_MOVES), PATH: ("t",)}
_RESULT = {ACCELERATION: "m/s^2", PATH: "m"}
MOST_PARAMETERS = 8


@dataclass(frozen=True)
class _Component:
    formula: Formula
    checked: Checked

    def at(self, terms: Mapping[str, Term], rows: int) -> Term:
        return Walker(terms, self.checked, rows=rows).of(self.formula.root)


@dataclass(frozen=True)
class OwnLaw:
    """A law in formulas; see `footing.core.prediction.laws.Law`.

    constants : known quantities in base units; units : of its parameters, by their names
    """

    key: str
    title: str
    along_x: _Component
    along_y: _Component
    needs: tuple[str, ...]
    constants: Mapping[str, float]
    units: Mapping[str, Unit]
    may: tuple[str, ...] = ()

    @property
    def starts(self) -> tuple[str, ...]:
        """What it takes of a start: a path says itself where it is."""
        return () if self.key == PATH else START

    def motion(self, begin: Begin) -> Motion:
        """How it moves."""
        return self._by_path(begin) if self.key == PATH else self._by_acceleration(begin)

    def _by_acceleration(self, begin: Begin) -> Motion:
        k = len(begin.state)
        known = self._known(begin)

        def slopes(after: FloatArray, y: FloatArray) -> FloatArray:
            terms = dict(known)
            terms["t"] = Term(begin.began + after)
            terms |= {name: Term(y[:, place]) for place, name in enumerate(_MOVES)}
            found = [one.at(terms, k).values for one in (self.along_x, self.along_y)]
            pulls = [np.broadcast_to(np.asarray(values, dtype=float), (k,)) for values in found]
            return np.concatenate([y[:, 2:], np.stack(pulls, axis=1)], axis=1)

        return integrated(slopes, begin.state, begin.lasts)

    def _by_path(self, begin: Begin) -> Motion:
        known = self._known(begin)

        def at(after: FloatArray) -> FloatArray:
            rows = after.size
            spread = {
                name: Term(np.broadcast_to(np.reshape(one.values, (-1, 1)), after.shape).ravel())
                for name, one in known.items()
            }
            moments = (begin.began[:, None] + after).ravel()
            spread["t"] = Term(moments, {"t": 1.0})
            found = [one.at(spread, rows) for one in (self.along_x, self.along_y)]
            parts = [*(one.values for one in found), *(one.slopes.get("t", 0.0) for one in found)]
            full = [np.broadcast_to(np.asarray(part, dtype=float), (rows,)) for part in parts]
            states = np.stack(full, axis=-1)
            wrong = ~np.isfinite(states).all(axis=1)
            if wrong.any():
                raise MotionStopped(Stop.UNDEFINED, float(after.ravel()[wrong].min()))
            return states.reshape(*after.shape, 4)

        return at

    def _known(self, begin: Begin) -> dict[str, Term]:
        known = {name: Term(np.asarray(value)) for name, value in self.constants.items()}
        return known | {name: Term(begin.given[name]) for name in self.needs}


def own_law(
    key: str,
    along_x: str,
    along_y: str,
    *,
    constants: Mapping[str, float] | None = None,
    units: Mapping[str, Unit] | None = None,
) -> OwnLaw:
    """A law from two formulas.

    Parameters
    ----------
    key : `ACCELERATION` or `PATH`
    constants : known quantities in base units
    units : theirs; then the formulas are checked for units. Without, everything is a bare number
        in SI units

    Raises
    ------
    Refused : if a formula cannot be read, its units do not go together, or it names too much; its
        field is ``ax`` or ``ay`` (``x`` or ``y`` of a path).
    """
    known = dict(constants or {})
    fields, variables = _FIELDS[key], _VARIABLES[key]
    formulas = _formulas(key, along_x, along_y)
    needs = _parameters(key, formulas, known)
    names = {name for formula in formulas for name in formula.names}
    solved: dict[str, Unit] = {}
    checked = []
    for formula, field in zip(formulas, fields, strict=True):
        try:
            checked.append(_checked(formula, key, variables, units, solved))
        except WrongFormula as error:
            raise Refused(f"{field} = {formula.text}: {error}", field=field) from error
    one, other = (_Component(*pair) for pair in zip(formulas, checked, strict=True))
    used = {name: value for name, value in known.items() if name in names}
    title = "own formulas" if key == ACCELERATION else "x and y as formulas of the time"
    return OwnLaw(key, title, one, other, needs, used, solved)


def parameters_of(key: str, along_x: str, along_y: str, known: Collection[str]) -> tuple[str, ...]:
    """What two formulas name besides time, place, velocity and what is known.

    Raises
    ------
    Refused : if a formula cannot be read, or names too much.
    """
    return _parameters(key, _formulas(key, along_x, along_y), known)


def _formulas(key: str, along_x: str, along_y: str) -> list[Formula]:
    return [_read(text, name) for text, name in zip((along_x, along_y), _FIELDS[key], strict=True)]


def _parameters(key: str, formulas: list[Formula], known: Collection[str]) -> tuple[str, ...]:
    names = dict.fromkeys(name for formula in formulas for name in formula.names)
    needs = tuple(name for name in names if name not in _VARIABLES[key] and name not in known)
    for name in set(needs) & set(_MOVES):
        text = f"A place that follows from the time cannot rest on {name}."
        raise Refused(text, field=_FIELDS[key][0])
    if len(needs) > MOST_PARAMETERS:
        raise Refused(
            f"Formulas have at most {MOST_PARAMETERS} parameters; here are {len(needs)}: "
            f"{', '.join(needs)}.",
            field=_FIELDS[key][0],
        )
    return needs


def _read(text: str, field: str) -> Formula:
    try:
        formula = parse(text)
    except WrongFormula as error:
        raise Refused(f"{field} = {text}: {error}", field=field) from error
    for node in walk(formula.root):
        if isinstance(node, Call) and node.function not in OF_A_CURVE:
            raise Refused(f"{node.function}() cannot be part of a motion.", field=field)
    return formula


def _checked(
    formula: Formula,
    key: str,
    variables: tuple[str, ...],
    units: Mapping[str, Unit] | None,
    solved: dict[str, Unit],
) -> Checked:
    """Check the units of one component; parameters that it settles are added to ``solved``."""
    if units is None:
        bare = dict.fromkeys(formula.names, NUMBER)
        return check(formula, bare)
    if constant(formula.root) == 0:  # nothing is nothing in every unit
        return check(formula, {})
    known = {name: read_unit(_UNITS[name]) for name in variables} | dict(units) | solved
    named = {name: known[name] for name in formula.names if name in known}
    parameters = frozenset(name for name in formula.names if name not in known)
    found = check(formula, named, parameters=parameters, result=read_unit(_RESULT[key]))
    solved |= found.parameters
    return found
