"""The ledgers of a footage, its impacts, and where its bodies' velocities break."""

from functools import partial

import numpy as np

from footing.core.impacts import hits
from footing.store.rows import Body, Impact
from footing.studies.model.energies import is_accounted
from footing.studies.model.energy_ledger import EnergyAccount
from footing.studies.model.kept import Kept
from footing.studies.model.momenta import momenta_around
from footing.studies.model.motions import BodyMotion
from footing.studies.model.sources import FootageSource
from footing.studies.shapes.ledgers import ImpactShape, OfferedImpactShape
from footing.studies.shapes.state import LedgerShape
from footing.studies.views.energy_view import energy_graph, energy_view
from footing.studies.views.momentum_view import momentum_view
from footing.words.ledgers import IMPACTS, between, hits_said

_SAME = 2.5  # frames of the stride, within which two bodies were hit at once


def impacts_view(source: FootageSource) -> list[ImpactShape]:
    """The impacts of a footage, in time."""
    names = {row.id: row.name for row, _ in source.bodies}
    return [_impact(one, names) for one in source.rows.impacts_on(source.row)]


def _impact(row: Impact, names: dict[int, str]) -> ImpactShape:
    name = IMPACTS[row.kind]
    of = names.get(row.body_id or 0, "")
    return {
        "id": row.id,
        "at": row.at,
        "body": row.body_id,
        "body_name": of,
        "of": row.kind,
        "name": f"{name} of {of}" if of else name,
        "said": f"{name} {between(row.at)}",
    }


def ledger_view(source: FootageSource, *, tells: bool) -> LedgerShape:
    """The ledgers, JSON-ready. What they tell in words is left out where students say it."""
    account = EnergyAccount(source)
    energy = energy_view(account)
    impacts = [one for one in source.rows.impacts_on(source.row) if one.kind == "impact"]
    momenta = [
        momentum_view(
            momenta_around(one, source.row, source.ground, source.bodies, source.rows), source
        )
        for one in impacts
    ]
    if not tells:
        for change in energy["changes"]:
            change["said"] = change["decides"] = ""
        for one in momenta:
            one["said"] = one["decides"] = one["happened"] = one["conserved"] = ""
    return {
        "tells": tells,
        "offers": offers(source),
        "energy": energy,
        "graph": energy_graph(account),
        "momenta": momenta,
    }


def offers(source: FootageSource) -> list[OfferedImpactShape]:
    """Where the velocity of a body breaks and nobody placed an impact yet, in time."""
    found: list[OfferedImpactShape] = []
    for row, body in source.bodies:
        if is_accounted(row):
            found += _offered.get(row.id, (row, body), partial(_breaks, row, body))
    found.sort(key=lambda one: one["at"])
    stride = source.row.stride
    kept: list[OfferedImpactShape] = []
    for one in found:
        if not kept or one["at"] - kept[-1]["at"] > _SAME * stride:
            kept.append(one)
    return kept


_offered: Kept[list[OfferedImpactShape]] = Kept(200)


def _breaks(row: Body, body: BodyMotion) -> list[OfferedImpactShape]:
    motion = body.motion
    if len(body.frames) == 0:
        return []
    return [
        _offer(row, int(body.frames[hit.after]), int(body.frames[hit.after + 1]))
        for hit in hits(motion.times, motion.positions, motion.breaks)
    ]


def _offer(row: Body, before: int, after: int) -> OfferedImpactShape:
    """In the middle between two marks, which may be several frames apart."""
    at = float(np.floor((before + after) / 2)) + (0.5 if (before + after) % 2 else -0.5)
    return {"body": row.id, "at": at, "said": hits_said(at, row.name)}
