"""The account of momenta around an impact as a screen shows it."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from math import hypot

import numpy as np

from footing.core import findings
from footing.core.arrays import FloatArray
from footing.core.dimensions import Unit, read_quantity, read_unit
from footing.core.errors import Refused
from footing.core.ledgers.amounts import Amount, following
from footing.core.ledgers.momentum import BodyMomentum, MomentumLedger, Side, TotalMomentum
from footing.core.timing import frame_position
from footing.store.rows import Body
from footing.studies.model.energies import is_accounted
from footing.studies.model.grounds import Grounded
from footing.studies.model.looks import COLOURS, LOOKS
from footing.studies.model.momenta import MomentumAccount, Span
from footing.studies.model.sources import FootageSource
from footing.studies.shapes.ledgers import (
    ArrowShape,
    CellShape,
    MomentumRowShape,
    MomentumShape,
    MomentumSideShape,
    TotalShape,
)
from footing.studies.steps import Step
from footing.words import ledgers as words

_PICTURE_SHARE = 0.35  # of the picture, that the longest chain of arrows covers
_CLOSE = 0.02  # of a value, within which an entry is right
_NEAR = 3.0  # uncertainties, within which it is right as well
_SLIPS = (1, 2, 3, 5, 6)  # powers of ten by which units are mixed up
_SMALLER = tuple(-power for power in _SLIPS)


def momentum_view(account: MomentumAccount, source: FootageSource) -> MomentumShape:
    """The account, JSON-ready; of one that is to be filled in only what was filled in."""
    ledger, ground = account.row, source.ground
    unit = read_unit(ledger.unit)
    made = None if ledger.blank else account.made
    problem, step = _problem(account, ground)
    said = _Print(unit, ground)
    change = made.change if made else None
    happened = account.happened if made else None
    return {
        "impact": account.impact.id,
        "title": f"impact {words.between(account.impact.at)}",
        "before": ledger.before_id,
        "after": ledger.after_id,
        "before_text": _span(account.before, ground),
        "after_text": _span(account.after, ground),
        "before_choices": [
            (one.id, one.name) for one in source.passages.values() if one.last < account.impact.at
        ],
        "after_choices": [
            (one.id, one.name) for one in source.passages.values() if one.first > account.impact.at
        ],
        "unit": ledger.unit,
        "unit_text": str(unit),
        "problem": problem,
        "step": step,
        "rows": _rows(account, made, source, said),
        "total_before": said.total(made.before) if made and made.before else None,
        "total_after": said.total(made.after) if made and made.after else None,
        "change_x": said.momentum(change[0]) if change else "",
        "change_y": said.momentum(change[1]) if change else "",
        "percent": _percent(made) if made else "",
        "conserved": made.conserved.value if made else "",
        "said": words.conserved_said(made, said.size(change)) if made and change else "",
        "decides": " ".join(
            part
            for part in (words.decides_said(made.decides), words.advice_on(made.decides))
            if part
        )
        if made and change
        else "",
        "restitution": _plain(happened.restitution) if happened and happened.restitution else "",
        "kept": words.percent(happened.kept) if happened and happened.kept else "",
        "happened": words.KINDS[happened.kind] if happened else "",
        "arrows": arrows(made, account, ground) if made else [],
        "blank": ledger.blank,
        "cells": _cells(account, unit) if ledger.blank and account.made else {},
        "words": ledger.verdict or "",
    }


def _problem(account: MomentumAccount, ground: Grounded) -> tuple[str, str]:
    """What has to be done before there are momenta, and where."""
    if not ground.has_unit:
        return "Momenta need metres, not pixels: draw a known length.", Step.GROUND
    if ground.metres is None:
        return f"Momenta need metres; here lengths are in {ground.length_unit}.", Step.GROUND
    if account.without and not account.bodies:
        return "Momenta need masses; type them beside the bodies.", ""
    if account.too_few:
        few = account.too_few[0]
        marks = "1 mark" if few.marks == 1 else f"{few.marks} marks"
        return (
            f"{few.body.name} has {marks} {few.side} the impact; a line needs 3, so it does not "
            "count there.",
            Step.MARK,
        )
    if account.made is None:
        return "No body with a mass is marked around this impact.", Step.MARK
    return "", ""


def _span(span: Span, ground: Grounded) -> str:
    ends = (frame_position(ground.times, frame) for frame in (span.first, span.last))
    text = " … ".join(findings.number(end, ground.time_decimals) for end in ends)
    return f"{text} s"


@dataclass(frozen=True)
class _Print:
    """How the numbers of an account are printed."""

    unit: Unit
    ground: Grounded

    @cached_property
    def speed(self) -> Unit:
        """In which velocities are said: metres a second."""
        return read_unit("m/s")

    def momentum(self, amount: Amount) -> str:
        """A component of a momentum, without its unit."""
        factor = self.unit.factor
        return findings.aligned(amount.value / factor, amount.uncertainty / factor)

    def size(self, vector: tuple[Amount, Amount] | None) -> str:
        """The size of a vector with its uncertainty and unit."""
        if vector is None:
            return ""
        factor = self.unit.factor
        size = _size(vector)
        return findings.measured(size.value / factor, size.uncertainty / factor, str(self.unit))

    def total(self, of: TotalMomentum) -> TotalShape:
        """A total."""
        x, y = of.momentum
        return {
            "x": self.momentum(x),
            "y": self.momentum(y),
            "size": self.size(of.momentum),
            "centre_x": _plain(of.centre[0]),
            "centre_y": _plain(of.centre[1]),
        }

    def side(self, of: Side | None, *, rests: bool) -> MomentumSideShape | None:
        """A body before or after."""
        if of is None:
            return None
        return {
            "vx": _plain(of.velocity[0]),
            "vy": _plain(of.velocity[1]),
            "px": self.momentum(of.momentum[0]),
            "py": self.momentum(of.momentum[1]),
            "size": self.size(of.momentum),
            "rests": rests,
            "bent": of.curve is not None and of.curve.order == 2,
        }


def _size(vector: tuple[Amount, Amount]) -> Amount:
    """Of a vector; of one that is 0 within its uncertainty this is the typical size of that."""
    size = following(lambda values: float(np.hypot(values[0], values[1])), vector)
    if size.value > 2 * max(one.uncertainty for one in vector):
        return size
    x, y = vector
    larger = x if x.uncertainty >= y.uncertainty else y
    return Amount(size.value, larger.effects, larger.slow)


def _plain(amount: Amount) -> str:
    return findings.aligned(amount.value, amount.uncertainty)


def _rows(
    account: MomentumAccount, made: MomentumLedger | None, source: FootageSource, said: _Print
) -> list[MomentumRowShape]:
    """Every body that could count, those that do not count and those without a mass included."""
    shown = {one.key: one for one in made.bodies} if made else {}
    rows = [row for row, _ in source.bodies if is_accounted(row)]
    return [_row(row, account, shown.get(f"b{row.id}"), said) for row in rows]


def _row(
    row: Body, account: MomentumAccount, made: BodyMomentum | None, said: _Print
) -> MomentumRowShape:
    look, ledger = LOOKS[row.look], account.row
    impulse = made.impulse if made else None
    before, after = row.id in ledger.resting_before, row.id in ledger.resting_after
    return {
        "id": row.id,
        "key": f"b{row.id}",
        "name": row.name,
        "colour": look.colour,
        "path": look.path,
        "mass": f"{row.mass} {row.mass_unit or 'kg'}" if row.mass else "",
        "counts": row.id not in ledger.left_out,
        "needs": f"The mass of {row.name} is missing." if row in account.without else "",
        "before": said.side(made.before, rests=before) if made else None,
        "after": said.side(made.after, rests=after) if made else None,
        "impulse_x": said.momentum(impulse[0]) if impulse else "",
        "impulse_y": said.momentum(impulse[1]) if impulse else "",
        "rests_before": before,
        "rests_after": after,
    }


def _percent(made: MomentumLedger) -> str:
    """By how much the total changed, as a share of the total before."""
    if made.change is None or made.before is None:
        return ""
    size, before = _size(made.change), _size(made.before.momentum)
    if before.value <= 2 * before.uncertainty:
        return ""
    return words.percent(size.over(before))


def arrows(made: MomentumLedger, account: MomentumAccount, ground: Grounded) -> list[ArrowShape]:
    """Momenta head to tail over the frame: before and after from one point, and both sums."""
    start = _meeting_place(made, ground)
    sides = (("before", made.before), ("after", made.after))
    longest = max((_length(body, side) for side, _ in sides for body in made.bodies), default=0.0)
    chains = [_length_of(total) for _, total in sides if total] + [longest]
    if start is None or not max(chains):
        return []
    reach = _PICTURE_SHARE * min(ground.index.width, ground.index.height)
    looks = {f"b{row.id}": LOOKS[row.look].colour for row in account.bodies}
    found: list[ArrowShape] = []
    for name, total in sides:
        if total is None:
            continue
        at = np.zeros(2)
        for body in made.bodies:
            side = body.before if name == "before" else body.after
            if side is None:
                continue
            vector = np.array([one.value for one in side.momentum]) / max(chains) * reach
            ends = (at, at + vector)
            found.append(_arrow(body.name, ends, start, ground, looks[body.key], name))
            at = at + vector
        ends = (np.zeros(2), at)
        found.append(_arrow("total", ends, start, ground, COLOURS["ink"], name, total=True))
    return found


def _arrow(
    name: str,
    ends: tuple[FloatArray, FloatArray],
    start: FloatArray,
    ground: Grounded,
    colour: str,
    side: str,
    *,
    total: bool = False,
) -> ArrowShape:
    """An arrow along the axes, laid into the picture from a pixel of it."""
    # directions of the axes in the picture, so that a momentum points the way the body goes
    steps = np.array([[0.0, 0.0], [1e-3, 0.0], [0.0, 1e-3]])
    along = ground.axes.to_pixels(steps, ground.flattening)
    basis = (along[1:] - along[0]).T
    basis = basis / np.linalg.norm(basis, axis=0)
    first, last = (start + basis @ end for end in ends)
    return {
        "name": name,
        "start": [round(float(value), 2) for value in first],
        "end": [round(float(value), 2) for value in last],
        "colour": colour,
        "side": side,
        "total": total,
    }


def _meeting_place(made: MomentumLedger, ground: Grounded) -> FloatArray | None:
    """Where the bodies are at the impact, in pixels."""
    places = [
        [amount.value for amount in side.place]
        for body in made.bodies
        for side in (body.before, body.after)
        if side is not None and side.place is not None
    ]
    if not places:
        return None
    world = np.mean(np.array(places), axis=0) / (ground.metres or 1.0)
    return np.asarray(ground.axes.to_pixels(world[None, :], ground.flattening)[0], dtype=float)


def _length(body: BodyMomentum, side: str) -> float:
    of = body.before if side == "before" else body.after
    return hypot(*(one.value for one in of.momentum)) if of else 0.0


def _length_of(total: TotalMomentum) -> float:
    return hypot(*(one.value for one in total.momentum))


def _cells(account: MomentumAccount, unit: Unit) -> dict[str, CellShape]:
    """The cells of a blank account, and whether what was filled in is right."""
    truth = _truth(account)
    entries = account.row.entries
    return {cell: _checked(entries.get(cell, ""), amount, unit) for cell, amount in truth.items()}


def _truth(account: MomentumAccount) -> Mapping[str, Amount]:
    found: dict[str, Amount] = {}
    made = account.made
    assert made is not None
    for body in made.bodies:
        sides = {
            "before": body.before.momentum if body.before else None,
            "after": body.after.momentum if body.after else None,
            "change": body.impulse,
        }
        _add(found, body.key, sides)
    totals = {
        "before": made.before.momentum if made.before else None,
        "after": made.after.momentum if made.after else None,
        "change": made.change,
    }
    _add(found, "total", totals)
    return found


def _add(
    found: dict[str, Amount], owner: str, sides: Mapping[str, tuple[Amount, Amount] | None]
) -> None:
    for side, vector in sides.items():
        if vector is not None:
            found |= {f"{owner}.{side}.x": vector[0], f"{owner}.{side}.y": vector[1]}


def _checked(typed: str, amount: Amount, unit: Unit) -> CellShape:
    """An entry beside what the marks give: its value, its sign, its unit."""
    if not typed:
        return {"typed": "", "right": None, "said": ""}
    try:
        number, own = read_quantity(typed, field="typed")
    except Refused as error:
        return {"typed": typed, "right": False, "said": str(error)}
    if own is not None and not own.converts_to(unit):
        return {"typed": typed, "right": False, "said": f"{own} is no unit of momentum."}
    size = (own or unit).factor
    value, digits = number.value * size, 2 * number.uncertainty * size
    truth = amount.value
    near = max(_NEAR * amount.uncertainty, _CLOSE * abs(truth))

    def fits(factor: float) -> bool:
        """Whether so many times what was typed is right, within its digits."""
        return abs(value * factor - truth) <= max(near, digits * abs(factor))

    said = ""
    if not fits(1.0):
        said = "Not this value; look at mass and velocity again."
        if fits(-1.0):
            said = "The size is right, the sign is not: which way does it go?"
        elif abs(truth) > near and any(fits(10.0**power) for power in (*_SLIPS, *_SMALLER)):
            said = f"The digits are right, the unit is not: it should be in {unit}."
    return {"typed": typed, "right": not said, "said": said}
