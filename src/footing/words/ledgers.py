"""What ledgers tell, in words: impacts, whether something stayed, what decides that."""

from math import floor

from footing.core.findings import measured, number, uncertainty_decimals
from footing.core.ledgers.amounts import Amount
from footing.core.ledgers.balance import Change
from footing.core.ledgers.collision import Kind
from footing.core.ledgers.momentum import Conserved, MomentumLedger, Unclear

IMPACTS = {
    "impact": "impact",
    "begins": "free motion begins",
    "ends": "free motion ends",
}
KINDS = {
    Kind.ELASTIC: "elastic: kinetic energy is kept as far as this can tell",
    Kind.PARTLY: "partly elastic: some kinetic energy is lost",
    Kind.INELASTIC: "perfectly inelastic: they go on together",
    Kind.EXPLOSIVE: "explosive: kinetic energy is gained",
}
_SOURCES = {
    "m": "the masses",
    "mass": "the masses",
    "marks": "how the marks scatter",
    "marks of slow bodies": "how the marks of slow bodies scatter",
    "bend of the path": "whether the paths are bent by friction",
    "scale": "the scale",
    "clock": "the clock",
    "g": "g",
}
_ADVICE = {
    "m": "weigh the bodies more finely",
    "mass": "weigh the bodies more finely",
    "marks": "mark more frames before and after, or zoom in while marking",
    "marks of slow bodies": "mark more frames before and after",
    "bend of the path": "mark more frames, so that a bend shows",
    "scale": "draw a longer known length, and type it to its last digit",
    "clock": "check the clock",
}
_UNCLEAR = {
    Unclear.MATTER: "What is seen before and after is not the same: a body is missing on one side. "
    "If it rests there, say so.",
    Unclear.MISSING: "No body with a mass is marked on one side of the impact.",
}


def between(at: float) -> str:
    """Between which frames a moment lies."""
    return f"between {floor(at)} and {floor(at) + 1}"


def hits_said(at: float, body: str) -> str:
    """That a body's velocity breaks."""
    return f"something hits {body} {between(at)}"


def source_said(name: str) -> str:
    """A source of uncertainty, within a sentence."""
    return _SOURCES.get(name, name)


def advice_on(name: str | None) -> str:
    """What would make an uncertainty smaller; empty where nothing is known to."""
    advice = _ADVICE.get(name or "", "")
    return f"To know better, {advice}." if advice else ""


def conserved_said(ledger: MomentumLedger, size: str) -> str:
    """Whether the total stayed, in a sentence; ``size`` is by how much it changed, in print."""
    if ledger.unclear in _UNCLEAR:
        return _UNCLEAR[ledger.unclear]
    said = {
        Conserved.YES: "conserved as far as this can tell",
        Conserved.NO: "not conserved",
        Conserved.CANNOT_TELL: "this cannot tell whether it is conserved",
    }[ledger.conserved]
    if ledger.unclear is Unclear.LARGE:
        said += ", because the uncertainty would hide anything"
    return f"The total changed by {size}: {said}."


def decides_said(name: str | None) -> str:
    """Which uncertainty decides."""
    return f"± mostly from {source_said(name)}." if name else ""


def percent(amount: Amount) -> str:
    """A share with its uncertainty in percent: ``12 ± 3 %``."""
    return f"{measured(100 * amount.value, 100 * amount.uncertainty)} %"


def change_said(change: Change, size: str) -> str:
    """What became of an energy: ``lost 12 ± 3 %``; ``size`` is how much, in print.

    A share says something up to all there was: beyond that the zero of height decides it.
    """
    if change.relative is None or abs(change.relative.value) > 1:
        gained = "gained" if change.change.value > 0 else "lost"
        return f"{gained} {size}" if change.is_seen else "0 within its uncertainty"
    share = Amount(abs(change.relative.value), change.relative.effects, change.relative.slow)
    if not change.is_seen:
        u = 100 * change.relative.uncertainty
        return f"kept within {number(u, max(uncertainty_decimals(u), 0)) if u else 0} %"
    return f"{'lost' if change.change.value < 0 else 'gained'} {percent(share)}"
