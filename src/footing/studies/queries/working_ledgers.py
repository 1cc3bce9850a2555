"""The working of ledgers: changes of energies, momenta, what a collision was."""

import numpy as np

from footing.core import findings
from footing.core.dimensions import Unit, read_unit
from footing.core.errors import Refused
from footing.core.ledgers.amounts import Amount
from footing.core.ledgers.energy import EnergyKind
from footing.core.ledgers.momentum import BodyMomentum, MomentumLedger, Side, TotalMomentum
from footing.studies.model.energies import COLUMNS, KEY_OF, mass_of
from footing.studies.model.energy_ledger import EnergyAccount, OverPassage
from footing.studies.model.momenta import MomentumAccount, bodies_by_key
from footing.studies.queries.working_lines import Line, Place, Put, Working

_KILOGRAM, _SPEED = read_unit("kg"), read_unit("m/s")
_NEWTON, _METRE, _SECOND, _JOULE = (read_unit(name) for name in ("N", "m", "s", "J"))


def of_energy(account: EnergyAccount, passage: int, what: str) -> Working:
    """What changed over a passage (0: over all marks), or what that takes."""
    over = account.over(account.source.passages.get(passage) if passage else None)
    if over is None:
        raise Refused("This passage holds too few marks with an energy.", field="of")
    name = over.passage.name if over.passage else "all marks"
    places = [Place(f"frame {frame}", frame) for frame in (over.first, over.last)]
    if what in ("force", "power"):
        return Working(f"What is missing over “{name}”", _missing(account, over, what), places)
    kind = COLUMNS[what].kind if what in COLUMNS else EnergyKind.TOTAL
    if kind not in over.changes:
        raise Refused(f"There is no {kind} energy here.", field="of")
    change, unit = over.changes[kind], account.unit
    symbol = COLUMNS[KEY_OF[kind]].symbol + "_"
    lines = []
    if kind == EnergyKind.TOTAL:
        parts = {
            f"E_{COLUMNS[KEY_OF[one]].subscript}": each
            for one, each in over.changes.items()
            if one != EnergyKind.TOTAL
        }
        for at, whole, amounts in (
            ("start", change.start, {part: each.start for part, each in parts.items()}),
            ("end", change.end, {part: each.end for part, each in parts.items()}),
        ):
            puts = {part: _put(amount, unit) for part, amount in amounts.items()}
            lines.append(
                Line(f"E_{at}", " + ".join(puts), puts, _said(whole, unit), said=f"At the {at}:")
            )
    puts = {f"{symbol}2": _put(change.end, unit), f"{symbol}1": _put(change.start, unit)}
    lines.append(Line("ΔE", f"{symbol}2 - {symbol}1", puts, _said(change.change, unit)))
    if kind == EnergyKind.TOTAL and change.relative is not None:
        shares = {"ΔE": _put(change.change, unit), "E_1": _put(change.start, unit)}
        share = change.relative
        text = findings.measured(100 * share.value, 100 * share.uncertainty, "%")
        lines.append(Line("r", "ΔE/E_1", shares, text))
    title = f"Change of the {COLUMNS[KEY_OF[kind]].name} over “{name}”"
    return Working(title, lines, places)


def _missing(account: EnergyAccount, over: OverPassage, what: str) -> list[Line]:
    gone = over.missing
    change = over.total.change
    if gone is None:
        raise Refused("Nothing is missing here, as far as the uncertainty tells.", field="of")
    if what == "power":
        times = account.source.ground.times
        seconds = float(times[over.last] - times[over.first])
        puts = {"ΔE": _put(change, _JOULE), "Δt": Put(seconds, 0.0, _SECOND)}
        return [Line("P", "-ΔE/Δt", puts, _said(gone.power, read_unit("W")))]
    if gone.force is None:
        raise Refused("Of several bodies nobody knows who lost what.", field="of")
    path = change.value / -gone.force.value
    puts = {"ΔE": _put(change, _JOULE), "s": Put(path, 0.0, _METRE)}
    return [
        Line(said="The way s is the length of the path."),
        Line("F", "-ΔE/s", puts, _said(gone.force, _NEWTON)),
    ]


def of_momentum(account: MomentumAccount, cell: str, unit: Unit) -> Working:
    """A cell of the account around an impact, unless it is to be filled in."""
    made = account.made
    if account.row.blank:
        raise Refused("This account is to be filled in; its numbers are not told.", field="of")
    if made is None:
        raise Refused("There are no momenta around this impact.", field="of")
    if cell in ("restitution", "kept"):
        return _happened(account, made, cell)
    owner, _, rest = cell.partition(".")
    side, _, axis = rest.partition(".")
    if axis not in ("x", "y") or side not in ("before", "after", "change"):
        raise Refused("There is no such cell.", field="of")
    k = "xy".index(axis)
    if owner == "total":
        return _total(account, made, side, k, unit)
    body = next((one for one in made.bodies if one.key == owner), None)
    if body is None:
        raise Refused("This body is not in the account.", field="of")
    if side == "change":
        if body.before is None or body.after is None or body.impulse is None:
            raise Refused(f"{body.name} is seen on one side only.", field="of")
        puts = {
            f"p_{axis}2": _put(body.after.momentum[k], unit),
            f"p_{axis}1": _put(body.before.momentum[k], unit),
        }
        line = Line("J", f"p_{axis}2 - p_{axis}1", puts, _said(body.impulse[k], unit))
        return Working(f"Impulse {axis} on {body.name}", [line], _around(account))
    of = body.before if side == "before" else body.after
    if of is None:
        raise Refused(f"{body.name} is not seen {side} the impact.", field="of")
    return Working(
        f"Momentum {axis} of {body.name} {side} the impact",
        [Line(said=_by(of, side)), _product(account, body, of, k, unit)],
        _around(account),
    )


def _by(of: Side, side: str) -> str:
    if of.curve is None:
        return "It was said to rest there."
    how = "a line" if of.curve.order == 1 else "a parabola, at the impact,"
    return f"The velocity is that of {how} through {of.marks} marks {side} it."


def _product(account: MomentumAccount, body: BodyMomentum, of: Side, k: int, unit: Unit) -> Line:
    axis = "xy"[k]
    velocity = of.velocity[k]
    mass = mass_of(bodies_by_key(account)[body.key])
    assert mass is not None
    puts = {
        "m": Put(mass.value, mass.uncertainty, _KILOGRAM, guard=0),
        f"v_{axis}": Put(velocity.value, velocity.uncertainty, _SPEED),
    }
    return Line(f"p_{axis}", f"m*v_{axis}", puts, _said(of.momentum[k], unit))


def _total(
    account: MomentumAccount, made: MomentumLedger, side: str, k: int, unit: Unit
) -> Working:
    axis = "xy"[k]
    if side == "change":
        if made.change is None or made.before is None or made.after is None:
            raise Refused("Nothing is seen on one side.", field="of")
        puts = {
            f"p_{axis}2": _put(made.after.momentum[k], unit),
            f"p_{axis}1": _put(made.before.momentum[k], unit),
        }
        line = Line("Δp", f"p_{axis}2 - p_{axis}1", puts, _said(made.change[k], unit))
        return Working(f"Change of the total momentum {axis}", [line], _around(account))
    total: TotalMomentum | None = made.before if side == "before" else made.after
    if total is None:
        raise Refused(f"Nothing is seen {side} the impact.", field="of")
    puts, named = {}, []
    for body in made.bodies:
        of = body.before if side == "before" else body.after
        if of is not None:
            symbol = f"p_{len(puts) + 1}"
            puts[symbol] = _put(of.momentum[k], unit)
            named.append(f"{symbol.replace('_', '')} of {body.name}")
    line = Line(f"p_{axis}", " + ".join(puts), puts, _said(total.momentum[k], unit))
    return Working(
        f"Total momentum {axis} {side} the impact",
        [Line(said=f"{', '.join(named)}."), line],
        _around(account),
    )


def _happened(account: MomentumAccount, made: MomentumLedger, what: str) -> Working:
    happened = account.happened
    if happened is None:
        raise Refused("One side is not seen.", field="of")
    if what == "kept":
        if happened.kept is None:
            raise Refused("There was no kinetic energy before.", field="of")
        puts = {
            "E_k2": _put(happened.kinetic_after, _JOULE),
            "E_k1": _put(happened.kinetic_before, _JOULE),
        }
        text = findings.measured(100 * happened.kept.value, 100 * happened.kept.uncertainty, "%")
        line = Line("r", "E_k2/E_k1", puts, text)
        return Working("Share of the kinetic energy that is kept", [line], _around(account))
    if happened.restitution is None:
        raise Refused("There is no coefficient of restitution here.", field="of")
    lines = _restitution(made, happened.restitution)
    return Working("Coefficient of restitution", lines, _around(account))


def _restitution(made: MomentumLedger, found: Amount) -> list[Line]:
    """Speeds along the line of centres (of one body along its impulse)."""
    text = findings.measured(found.value, found.uncertainty)
    if len(made.bodies) != 2:
        return [Line(said=f"Along the direction of the impulse: e = {text}.")]
    one, other = made.bodies
    if None in (one.before, one.after, other.before, other.after):
        return [Line(said=f"They go on together: e = {text}.")]
    places = []
    for body in (one, other):
        seen = [
            [amount.value for amount in side.place]
            for side in (body.before, body.after)
            if side is not None and side.place is not None
        ]
        places.append(np.mean(np.array(seen), axis=0) if seen else np.zeros(2))
    line = places[1] - places[0]
    line = line / (float(np.hypot(*line)) or 1.0)

    def speed(side: Side | None) -> Put:
        assert side is not None
        along = float(np.array([amount.value for amount in side.velocity]) @ line)
        return Put(along, max(amount.uncertainty for amount in side.velocity), _SPEED)

    puts = {
        "u_1": speed(one.after),
        "u_2": speed(other.after),
        "v_1": speed(one.before),
        "v_2": speed(other.before),
    }
    return [
        Line(said="Velocities along the line of centres, v before and u after:"),
        Line("e", "(u_2 - u_1)/(v_1 - v_2)", puts, text),
    ]


def _around(account: MomentumAccount) -> list[Place]:
    """The frames on both sides of the impact."""
    at = account.impact.at
    return [Place(f"frame {frame}", frame) for frame in (int(at - 0.5), int(at + 0.5))]


def _put(amount: Amount, unit: Unit) -> Put:
    return Put(amount.value / unit.factor, amount.uncertainty / unit.factor, unit)


def _said(amount: Amount, unit: Unit) -> str:
    return findings.measured(
        amount.value / unit.factor, amount.uncertainty / unit.factor, str(unit)
    )
