"""The account of energies as a screen shows it: what counts, graph, bars, what changed."""

import numpy as np

from footing.core import findings
from footing.core.dimensions import read_unit
from footing.core.ledgers.amounts import Account, Amount
from footing.core.ledgers.energy import EnergyKind
from footing.core.units import read_number, to_si
from footing.store.rows import NEW, Body, Graph, SeriesRule
from footing.studies.model.columns import DataTable
from footing.studies.model.containing import is_readable
from footing.studies.model.energies import COLUMNS, KEY_OF, fixed_end, gravity_of, mass_of
from footing.studies.model.energy_ledger import EnergyAccount, OverPassage, TogetherTable
from footing.studies.model.looks import COLOURS, LOOKS
from footing.studies.model.sheets import key_of
from footing.studies.shapes.graphs import GraphShape
from footing.studies.shapes.ledgers import (
    BarShape,
    BarsShape,
    EnergyBodyShape,
    EnergyChangeShape,
    EnergyRowShape,
    EnergyShape,
    MomentShape,
    SpringShape,
)
from footing.studies.steps import Step
from footing.studies.views.graph import graph_view, say_what_is_what
from footing.words.ledgers import advice_on, change_said, decides_said, percent

_INK = COLOURS["ink"]
_JOULE = read_unit("J")
_STANDS_OUT, _PLAIN = 130, 30  # square pixels of points
_SOLID = (5.0, 25_000.0)  # kg/m³, between which the density of anything in a lesson lies
_HEAVY, _LIGHT = 10.0, 5e-4  # kg, from which a mass without a size is asked about
_ONE_AND_TOTAL = 2  # kinds of energy
_MOMENTS = {"start": "start", "top": "highest", "finish": "end"}


def energy_view(account: EnergyAccount) -> EnergyShape:
    """The account, JSON-ready."""
    ground, row = account.source.ground, account.row
    problem, step = _problem(account)
    whole = account.together.get(EnergyKind.TOTAL)
    passages = [None, *account.source.passages.values()]
    over = [found for one in passages if (found := account.over(one)) is not None]
    gravity = gravity_of(account.source.rows)
    return {
        "problem": problem,
        "step": step,
        "bodies": [_body(one, account) for one in account.bodies],
        "against": row.against,
        "from_above": row.from_above,
        "bars": _bars(account) if whole is not None else None,
        "changes": [_change(one, account) for one in over],
        "moments": _moments(account),
        "columns": list(row.columns),
        "joules": [
            (column.id, column.name)
            for column in account.source.columns
            if _is_energy(account, key_of(column))
        ],
        "spring": _spring(account),
        "gravity": findings.measured(gravity.value, gravity.uncertainty, "m/s²"),
        "level": list(ground.height_zero),
        "unit": str(account.unit),
        "window": ground.ground.velocity_window,
        "words": row.verdict or "",
    }


def _problem(account: EnergyAccount) -> tuple[str, str]:
    """What has to be done before there are energies, and where."""
    ground = account.source.ground
    if not account.bodies:
        return "Energies are of bodies; mark one first.", Step.MARK
    if not ground.has_unit:
        return "Energies need metres, not pixels: draw a known length.", Step.GROUND
    if ground.metres is None:
        return f"Energies need metres; here lengths are in {ground.length_unit}.", Step.GROUND
    if not account.counting:
        weighed = [one for one in account.bodies if mass_of(one) is not None]
        if not weighed:
            return "Energies need a mass; type it under What counts, beside the body.", ""
        return "A body needs three marks beside each other for a velocity.", Step.MARK
    return "", ""


def _body(row: Body, account: EnergyAccount) -> EnergyBodyShape:
    look, mass = LOOKS[row.look], mass_of(row)
    motion = next(body for one, body in account.source.bodies if one.id == row.id)
    return {
        "id": row.id,
        "name": row.name,
        "colour": look.colour,
        "path": look.path,
        "counts": row.id not in account.row.left_out,
        "mass": row.mass or "",
        "mass_unit": row.mass_unit or "kg",
        "needs": "" if mass is not None else f"The mass of {row.name} is missing.",
        "asks": "" if mass is None else _doubt(row, mass.value),
        "turns": motion.motion.turning is not None,
        "inertia_shape": row.inertia_shape or "",
        "inertia": row.inertia or "",
    }


def _doubt(row: Body, kilograms: float) -> str:
    """Whether a mass may have been typed in the wrong unit."""
    typed, unit = row.mass or "", row.mass_unit or "kg"
    other = "g" if unit == "kg" else "kg"
    size = _metres(row)
    if size:
        density = kilograms / (np.pi / 6 * size**3)
        if _SOLID[0] <= density <= _SOLID[1]:
            return ""
        heavy = "denser than any metal" if density > _SOLID[1] else "lighter than foam"
        return f"{typed} {unit} in this size would be {heavy}. Is it {typed} {other}?"
    if unit == "kg" and kilograms >= _HEAVY:
        return f"{typed} kg is a lot. Is it {typed} g? Its size at Mark settles it."
    if unit == "g" and kilograms < _LIGHT:
        return f"{typed} g is very little. Is it {typed} kg?"
    return ""


def _metres(row: Body) -> float | None:
    """The size of a body in metres, where it was typed."""
    if not row.size or not is_readable(row.size):
        return None
    return to_si(read_number(row.size, field="size"), row.size_unit or "cm").value


def _is_energy(account: EnergyAccount, key: str) -> bool:
    tables = account.source.every_table.values()
    column = next((found for table in tables if (found := table.column(key)) is not None), None)
    return column is not None and column.variable.unit.converts_to(_JOULE)


def energy_graph(account: EnergyAccount) -> GraphShape | None:
    """All energies on the same axes; the total stands out."""
    if not account.counting:
        return None
    kinds = [kind for kind in EnergyKind if kind in account.together]
    tables: list[DataTable] = [account.source.every_table[key] for key in account.counting]
    against = account.row.against
    if len(tables) > 1 and against == "t":
        whole = account.together[EnergyKind.TOTAL]
        tables.append(TogetherTable(whole, [*tables], account.source, account.unit, 0))
    ys = [KEY_OF[kind] for kind in kinds] + [f"c{key}" for key in account.row.columns]
    row = Graph(
        study_id=NEW,
        x=against,
        ys=ys,
        looks={y: SeriesRule(joined="both", size=1) for y in ys},
        title="Energies against " + ("height" if against == "h" else "time"),
        y_title=f"energy ({account.unit})",
    )
    made = graph_view(row, tables, [])
    alone = len(account.counting) == 1
    if len(kinds) == _ONE_AND_TOTAL and not alone:  # a body's total is that one kind
        made["series"] = [
            one
            for one in made["series"]
            if one["y"] != KEY_OF[EnergyKind.TOTAL] or one["owner_id"] not in account.counting
        ]
    for series in made["series"]:
        total = series["y"] == KEY_OF[EnergyKind.TOTAL]
        of_all = series["owner_id"] not in account.counting
        series["band"] = against == "t"  # against height there is no one way along
        series["hollow"] = series["y"] == KEY_OF[EnergyKind.POTENTIAL]
        stands_out = total and (alone or of_all)
        series["size"] = _STANDS_OUT if stands_out else _PLAIN
        if stands_out:
            series["colour"] = _INK
        if of_all:
            series["name"] = "total of all bodies"
    say_what_is_what(made)
    return made


def _bars(account: EnergyAccount) -> BarsShape:
    """Bars of each kind, at every frame with a total; the scale holds all of them."""
    factor = account.unit.factor
    whole = account.together[EnergyKind.TOTAL]
    bars = [_bar(kind, one, whole, factor) for kind, one in account.together.items()]
    values = np.concatenate([bar["values"] for bar in bars])
    return {
        "frames": [int(frame) for frame in whole.frames],
        "low": float(min(values.min(), 0.0)),
        "high": float(max(values.max(), 0.0)),
        "unit": str(account.unit),
        "bars": bars,
    }


def _bar(kind: EnergyKind, account: Account, whole: Account, factor: float) -> BarShape:
    column = COLUMNS[KEY_OF[kind]]
    there = account.chosen(np.flatnonzero(np.isin(account.frames, whole.frames)))
    total = kind == EnergyKind.TOTAL
    values, errors = there.values / factor, there.uncertainties / factor
    return {
        "key": column.key,
        "name": column.name,
        "symbol": column.symbol + column.subscript,
        "colour": _INK if total else LOOKS[list(EnergyKind).index(kind)].colour,
        "hollow": kind == EnergyKind.POTENTIAL,
        "total": total,
        "values": [float(f"{value:.5g}") for value in values.tolist()],
        "texts": [
            findings.aligned(value, error)
            for value, error in zip(values.tolist(), errors.tolist(), strict=True)
        ],
    }


def _change(over: OverPassage, account: EnergyAccount) -> EnergyChangeShape:
    times, decimals = account.source.ground.times, account.source.ground.time_decimals
    ends = (findings.number(float(times[frame]), decimals) for frame in (over.first, over.last))
    gone = over.missing
    return {
        "name": over.passage.name if over.passage else "all marks",
        "text": " … ".join(ends) + " s",
        "passage": over.passage.id if over.passage else 0,
        "rows": [_row(kind, over, account) for kind in over.changes],
        "said": change_said(over.total, _size_of(over.total.change, account)),
        "force": _said(gone.force, "N", "mN") if gone and gone.force else "",
        "power": _said(gone.power, "W", "mW") if gone else "",
        "decides": decides_said(_decides(over)),
        "advice": advice_on(_decides(over)),
    }


def _size_of(amount: Amount, account: EnergyAccount) -> str:
    factor = account.unit.factor
    return findings.measured(
        abs(amount.value) / factor, amount.uncertainty / factor, str(account.unit)
    )


def _decides(over: OverPassage) -> str | None:
    """The source that contributes most to the uncertainty of the change of the total."""
    budget = over.total.change.measured.budget
    return max(budget, key=lambda part: part.uncertainty).source if budget else None


def _row(kind: EnergyKind, over: OverPassage, account: EnergyAccount) -> EnergyRowShape:
    change, factor = over.changes[kind], account.unit.factor

    def said(amount: Amount) -> str:
        return findings.aligned(amount.value / factor, amount.uncertainty / factor)

    relative = over.changes[kind].relative
    total = kind == EnergyKind.TOTAL
    return {
        "key": KEY_OF[kind],
        "name": COLUMNS[KEY_OF[kind]].name,
        "total": total,
        "start": said(change.start),
        "end": said(change.end),
        "change": said(change.change),
        "percent": percent(relative) if total and relative is not None else "",
    }


def _said(amount: Amount, unit: str, small: str) -> str:
    """In its unit, or in thousandths of it where it is small."""
    if abs(amount.value) < 0.1:
        return findings.measured(1000 * amount.value, 1000 * amount.uncertainty, small)
    return findings.measured(amount.value, amount.uncertainty, unit)


def _moments(account: EnergyAccount) -> list[MomentShape]:
    """Start, highest point and end beside each other."""
    times, decimals = account.source.ground.times, account.source.ground.time_decimals
    chosen = {"start": account.row.start, "top": account.row.top, "finish": account.row.finish}
    return [
        {
            "key": key,
            "name": _MOMENTS[key],
            "frame": frame,
            "chosen": chosen[key] is not None,
            "text": f"{findings.number(float(times[frame]), decimals)} s",
            "texts": [_at(one, frame, account.unit.factor) for one in account.together.values()],
        }
        for key, frame in account.moments.items()
    ]


def _at(account: Account, frame: int, factor: float) -> str:
    row = account.row_of(frame)
    if row is None:
        return "–"
    return findings.aligned(
        float(account.values[row]) / factor, float(account.uncertainties[row]) / factor
    )


def _spring(account: EnergyAccount) -> SpringShape:
    row = account.row
    there = row.spring_body_id is not None
    return {
        "body": row.spring_body_id,
        "constant": row.spring_constant or "",
        "unit": row.spring_unit,
        "rest_length": row.rest_length or "",
        "rest_unit": row.rest_unit,
        "fixed": list(fixed_end(account.source.ground, row)) if there else None,
    }
