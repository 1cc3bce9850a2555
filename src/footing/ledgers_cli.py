"""Ledgers on the command line: momentum of a collision, or energies, from marks in CSV files.

Everything is in SI units. A specification names its files relative to itself.
"""

import json
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Annotated, Literal, TypedDict

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from footing.core.arrays import FloatArray, IntArray
from footing.core.effects import Source
from footing.core.errors import Refused
from footing.core.kinematics import plane_scatter
from footing.core.ledgers.amounts import Account, Amount, Common
from footing.core.ledgers.approach import LEAST_MARKS
from footing.core.ledgers.balance import change_of
from footing.core.ledgers.collision import collision
from footing.core.ledgers.energy import Bearings, EnergyKind, Given, Spring, energies
from footing.core.ledgers.momentum import (
    Instant,
    MomentumLedger,
    Mover,
    Side,
    Stretch,
    TotalMomentum,
    momentum_ledger,
)
from footing.core.motion import Motion
from footing.csv_columns import read_columns
from footing.text_files import read_text

_SAME = 1e-9  # s, by which a time may miss an end and still be meant
_NEEDED = 4  # marks that show how far they scatter

Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
Spread = Annotated[float, Field(ge=0, allow_inf_nan=False)]
Finite = Annotated[float, Field(allow_inf_nan=False)]
Interval = tuple[Finite, Finite]


class _Given(BaseModel):
    model_config = ConfigDict(extra="forbid")


class GivenBody(_Given):
    """A body: its mass in kilograms, and the file with its marks."""

    name: str
    mass: Positive
    mass_stderr: Spread = 0.0
    marks: str


class GivenMomentum(_Given):
    """A collision. before, after : s; impact : s, midway between them if left out"""

    kind: Literal["momentum"]
    bodies: Annotated[list[GivenBody], Field(min_length=1)]
    before: Interval
    after: Interval
    impact: Finite | None = None
    scale_relative_stderr: Spread = 0.0


class GivenSpring(_Given):
    """A spring from a fixed end to each body. constant : N/m; lengths : m"""

    constant: Positive
    constant_stderr: Spread = 0.0
    rest_length: Spread = 0.0
    rest_length_stderr: Spread = 0.0
    fixed_end: tuple[Finite, Finite] = (0.0, 0.0)


class GivenEnergy(_Given):
    """Energies. up : direction in which heights grow; passage : s, all marks if left out"""

    kind: Literal["energy"]
    bodies: Annotated[list[GivenBody], Field(min_length=1)]
    g: Positive = 9.80665
    g_stderr: Spread = 0.0
    up: tuple[Finite, Finite] = (0.0, 1.0)
    zero_height: Finite = 0.0
    spring: GivenSpring | None = None
    passage: Interval | None = None
    scale_relative_stderr: Spread = 0.0


Given_ = Annotated[GivenMomentum | GivenEnergy, Field(discriminator="kind")]
_ADAPTER: TypeAdapter[GivenMomentum | GivenEnergy] = TypeAdapter(Given_)


class ValueShape(TypedDict):
    """A value with its standard uncertainty."""

    value: float
    stderr: float


class VectorShape(TypedDict):
    """Both components of something."""

    px: ValueShape
    py: ValueShape


Printed = Mapping[str, object]


def ledger(file: Path, *, as_json: bool) -> None:
    """Print the ledger that a file asks for."""
    asked = _asked(file)
    if isinstance(asked, GivenMomentum):
        found = _momentum(asked, file.parent)
    else:
        found = _energy(asked, file.parent)
    if as_json:
        print(json.dumps(found))
        return
    print("\n".join(_lines(found)))


def _asked(file: Path) -> GivenMomentum | GivenEnergy:
    text = read_text(file)
    try:
        return _ADAPTER.validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"][1:]) or "the whole"
        said = first["msg"][0].lower() + first["msg"][1:]
        given = "" if isinstance(first["input"], dict | list) else f" (it is {first['input']!r})"
        raise Refused(f"{file}, {place}: {said}{given}.") from error


def _momentum(asked: GivenMomentum, folder: Path) -> Printed:
    _check_passages(asked)
    ends = (asked.before[1] + asked.after[0]) / 2
    moment = ends if asked.impact is None else asked.impact
    movers = [_mover(body, asked, folder) for body in asked.bodies]
    for side in ("before", "after"):
        if all(getattr(mover, side) is None for mover in movers):
            raise Refused(f"No body has a mark in “{side}”.")
    made = momentum_ledger(movers, Instant(moment), _common(asked.scale_relative_stderr))
    happened = collision(made)
    return {
        "bodies": [
            {
                "name": body.name,
                "before": _side(body.before),
                "after": _side(body.after),
                "impulse": None
                if body.impulse is None
                else {"x": _value(body.impulse[0]), "y": _value(body.impulse[1])},
            }
            for body in made.bodies
        ],
        "total": {
            "before": _total(made.before),
            "after": _total(made.after),
            "change": _change(made),
        },
        "conserved": made.conserved.value,
        "restitution": _maybe(happened.restitution) if happened else None,
        "kinetic_kept": _maybe(happened.kept) if happened else None,
        "kind": happened.kind.value if happened else None,
    }


def _check_passages(asked: GivenMomentum) -> None:
    for name, (first, last) in (("before", asked.before), ("after", asked.after)):
        if first >= last:
            raise Refused(f"“{name}” would begin at {first:g} s and end at {last:g} s.")
    if asked.before[1] > asked.after[0] + _SAME:
        raise Refused(
            f"“before” ends at {asked.before[1]:g} s, after “after” has begun "
            f"({asked.after[0]:g} s)."
        )
    inside = asked.before[1] - _SAME <= (asked.impact or 0.0) <= asked.after[0] + _SAME
    if asked.impact is not None and not inside:
        raise Refused(
            f"The impact at {asked.impact:g} s does not lie between “before” and “after” "
            f"({asked.before[1]:g} to {asked.after[0]:g} s)."
        )


def _mover(body: GivenBody, asked: GivenMomentum, folder: Path) -> Mover:
    times, positions = _marks(body, folder)

    def inside(name: str, ends: Interval) -> Stretch | None:
        chosen = (times >= ends[0] - _SAME) & (times <= ends[1] + _SAME)
        count = int(chosen.sum())
        if 0 < count < LEAST_MARKS:
            marks = "1 mark" if count == 1 else f"{count} marks"
            raise Refused(f"{body.name} has {marks} in “{name}”; a line needs {LEAST_MARKS}.")
        return Stretch(times[chosen], positions[chosen]) if count else None

    return Mover(
        body.name,
        body.name,
        body.mass,
        body.mass_stderr,
        inside("before", asked.before),
        inside("after", asked.after),
    )


def _marks(body: GivenBody, folder: Path) -> tuple[FloatArray, FloatArray]:
    """Times and positions of a body's marks, in rising time."""
    columns = read_columns(folder / body.marks, ("t", "x", "y"))
    order = np.argsort(columns["t"], kind="stable")
    times = columns["t"][order]
    if np.any(np.diff(times) <= 0):
        twice = float(times[1:][np.diff(times) <= 0][0])
        raise Refused(f"{folder / body.marks} has two marks at {twice:g} s.")
    return times, np.stack([columns["x"], columns["y"]], axis=1)[order]


def _common(relative: float) -> Common:
    return Common({Source("scale", "film"): relative} if relative else {})


def _energy(asked: GivenEnergy, folder: Path) -> Printed:
    size = float(np.hypot(*asked.up))
    if size == 0:
        raise Refused("“up” has no direction; give two numbers, such as [0, 1].")
    up = (asked.up[0] / size, asked.up[1] / size)
    marks = [_marks(body, folder) for body in asked.bodies]
    moments = np.unique(np.concatenate([times for times, _ in marks]))
    accounts = [
        _accounts(asked, body, up, times, positions, np.searchsorted(moments, times))
        for body, (times, positions) in zip(asked.bodies, marks, strict=True)
    ]
    together = accounts[0]
    for other in accounts[1:]:
        together = {kind: account.plus(other[kind]) for kind, account in together.items()}
    whole = together[EnergyKind.TOTAL]
    if not len(whole.frames):
        raise Refused("There is no moment at which all bodies have a velocity.")
    first, last = _ends(asked.passage, moments)
    change = change_of(whole, first, last)
    if change is None:
        raise Refused("The passage holds fewer than two moments with an energy.")
    return {
        "rows": _rows(together, whole, moments),
        "change": _value(change.change),
        "relative_change": _maybe(change.relative),
    }


def _accounts(
    asked: GivenEnergy,
    body: GivenBody,
    up: tuple[float, float],
    times: FloatArray,
    positions: FloatArray,
    frames: IntArray,
) -> dict[EnergyKind, Account]:
    """The energies of one body; no derivative crosses an end of the passage."""
    breaks = np.empty(0, dtype=np.int64)
    if asked.passage is not None:
        first, last = asked.passage
        if first >= last:
            raise Refused(f"The passage would begin at {first:g} s and end at {last:g} s.")
        edges = np.searchsorted(times, [first - _SAME, last + _SAME]) - 1
        breaks = np.unique(edges[(edges >= 0) & (edges < len(times) - 1)])
    variance, dof = plane_scatter(times, positions, breaks)
    if not dof:
        raise Refused(
            f"{body.name} has {len(times)} marks; {_NEEDED} beside each other show their scatter."
        )
    motion = Motion(
        times,
        positions,
        heights=positions @ np.array(up) - asked.zero_height,
        up=up,
        position_uncertainty=float(np.sqrt(variance)),
        breaks=breaks,
    )
    spring = None
    if asked.spring is not None:
        one = asked.spring
        spring = Spring(
            Given(one.constant, one.constant_stderr, Source("spring constant")),
            Given(one.rest_length, one.rest_length_stderr, Source("rest length")),
            np.array(one.fixed_end),
        )
    return energies(
        motion,
        frames,
        body.name,
        mass=Given(body.mass, body.mass_stderr, Source("mass", body.name)),
        bearings=Bearings(
            Given(asked.g, asked.g_stderr, Source("g")),
            common=_common(asked.scale_relative_stderr),
        ),
        spring=spring,
    )


def _ends(passage: Interval | None, moments: FloatArray) -> tuple[int, int]:
    if passage is None:
        return 0, len(moments) - 1
    inside = np.flatnonzero((moments >= passage[0] - _SAME) & (moments <= passage[1] + _SAME))
    if not len(inside):
        raise Refused(f"There is no mark from {passage[0]:g} to {passage[1]:g} s.")
    return int(inside[0]), int(inside[-1])


def _rows(
    together: Mapping[EnergyKind, Account], whole: Account, moments: FloatArray
) -> list[Printed]:
    """Each moment at which all kinds have a value."""
    chosen = {
        kind: account.chosen(np.flatnonzero(np.isin(account.frames, whole.frames)))
        for kind, account in together.items()
    }
    return [
        {"t": float(moments[frame])}
        | {
            str(kind): {
                "value": float(account.values[row]),
                "stderr": float(account.uncertainties[row]),
            }
            for kind, account in chosen.items()
        }
        for row, frame in enumerate(whole.frames)
    ]


def _value(amount: Amount) -> ValueShape:
    return {"value": amount.value, "stderr": amount.uncertainty}


def _maybe(amount: Amount | None) -> ValueShape | None:
    return None if amount is None else _value(amount)


def _side(side: Side | None) -> Printed | None:
    if side is None:
        return None
    return {
        "vx": _value(side.velocity[0]),
        "vy": _value(side.velocity[1]),
        "px": _value(side.momentum[0]),
        "py": _value(side.momentum[1]),
    }


def _total(of: TotalMomentum | None) -> VectorShape | None:
    return None if of is None else {"px": _value(of.momentum[0]), "py": _value(of.momentum[1])}


def _change(made: MomentumLedger) -> VectorShape | None:
    if made.change is None:
        return None
    return {"px": _value(made.change[0]), "py": _value(made.change[1])}


def _lines(found: Printed, before: str = "") -> Sequence[str]:
    """The same to be read: a line for each number."""
    from footing.core.findings import measured

    lines: list[str] = []
    for name, part in found.items():
        place = f"{before}{name}"
        if isinstance(part, dict) and set(part) == {"value", "stderr"}:
            lines.append(f"{place}  {measured(float(part['value']), float(part['stderr']))}")
        elif isinstance(part, dict):
            lines += _lines(part, f"{place} ")
        elif isinstance(part, list):
            for one in part:
                of = one.get("name", one.get("t"))
                rest = {key: value for key, value in one.items() if key not in ("name", "t")}
                lines += _lines(rest, f"{of} ")
        else:
            lines.append(f"{place}  {'–' if part is None else part}")
    return lines
