"""A finding as a screen shows it: value ± uncertainty, budget, comparisons."""

from footing.core import findings
from footing.core.dimensions import Unit, read_quantity
from footing.core.units import read_number
from footing.store.rows import Finding
from footing.studies.model.results import NoResult, Result, Results
from footing.studies.shapes.findings import (
    ComparisonShape,
    DifferenceShape,
    FindingHead,
    FindingShape,
    ShareShape,
)
from footing.studies.views.fit_view import interval

_CLOSE = 0.01  # uncertainties, below which the distance of two values is round-off


def finding_view(row: Finding, results: Results) -> FindingShape:
    """A finding as it is shown: value ± uncertainty, budget, comparisons."""
    view: FindingHead = {
        "id": row.id,
        "fit": row.fit_id,
        "model": row.model_id,
        "reading": row.reading,
        "name": row.name,
        "symbol": row.symbol or "",
        "other": row.other_id,
        "formula": row.formula,
        "as_size": row.as_size,
        "highlighted": row.highlighted,
        "accepted": row.accepted or "",
        "accepted_uncertainty": row.accepted_uncertainty or "",
    }
    found = results[row.id]
    if isinstance(found, NoResult):
        return {**view, "reason": found.reason}
    value = found.value
    shares: list[ShareShape] = [
        {
            "source": part.source,
            "text": findings.significant(part.uncertainty, 2),
            "share": round(100 * (part.uncertainty / value.uncertainty) ** 2)
            if value.uncertainty
            else 0,
        }
        for part in value.budget
    ]
    return {
        **view,
        "reason": None,
        "of": found.of,
        "shown_formula": found.formula,
        "text": findings.measured(value.value, value.uncertainty, str(found.unit)),
        "unit": str(found.unit),
        "interval": interval(value.value - value.half_width, value.value + value.half_width),
        "budget": shares,
        "accepted_unit": str(_compared_in(found)),
        "comparison": _comparison(row, found),
        "difference": _difference(found, results[row.other_id]) if row.other_id else None,
    }


def _comparison(row: Finding, found: Result) -> ComparisonShape | None:
    if not row.accepted:
        return None
    ground = found.ground
    if ground is not None and ground.metres is None and ground.length_power(found.unit):
        made_up = f" in metres; here lengths are in {ground.length_unit}."
        rest = made_up if ground.has_unit else "; draw one at Ground."
        return {"needs": f"Comparing with a value in metres needs a known length{rest}"}
    typed, unit = read_quantity(row.accepted, field="accepted")
    said = row.accepted if unit else f"{row.accepted} {_compared_in(found)}".strip()
    unit = unit or _compared_in(found)
    if not unit.converts_to(found.unit):
        other = str(found.unit) or "a plain number"
        return {"needs": f"{row.accepted} and {other} do not go together."}
    u = (
        read_number(row.accepted_uncertainty, field="accepted_uncertainty").value
        if row.accepted_uncertainty
        else 0.0
    )
    in_unit = findings.scaled(found.value, found.unit.factor / unit.factor)
    compared = findings.compare(in_unit, typed.value, accepted_uncertainty=u)
    percent = compared.percent_error
    return {
        "needs": None,
        "percent": _percent(percent, in_unit.value, typed.value),
        "verdict": compared.verdict,
        "distance": _distance(compared.distance),
        "opposite_sign": compared.opposite_sign,
        "accepted": said,
    }


def _percent(percent: float | None, measured: float, accepted: float) -> str | None:
    """Percent error; of two negative values by their size, as one reads them."""
    if percent is None:
        return None
    if measured < 0 and accepted < 0:
        apart = findings.number(abs(percent), 1)
        if float(apart) == 0:
            return "0.0 %"
        return f"{apart} % {'smaller' if percent > 0 else 'larger'} in size"
    return f"{findings.signed(percent, 1)} %"


def _compared_in(found: Result) -> Unit:
    """The unit of an accepted value that was typed without one."""
    return found.unit.in_si if found.ground is not None else found.unit


def _difference(found: Result, other: Result | NoResult) -> DifferenceShape:
    """Percent difference of two measured values: their difference over their mean."""
    if isinstance(other, NoResult):
        return {"needs": f"{other.row.name} has no value."}
    if not other.unit.converts_to(found.unit):
        return {"needs": f"{other.row.name} is in {other.unit or 'no unit'}: no comparison."}
    there = findings.scaled(other.value, other.unit.factor / found.unit.factor)
    # what both share does not tell them apart
    apart = found.effects.plus(other.effects.times(-other.unit.factor / found.unit.factor))
    difference = findings.combine(found.value.value - there.value, apart.budget)
    compared = findings.compare(difference, 0.0)
    mean = (abs(found.value.value) + abs(there.value)) / 2
    percent = 100 * abs(found.value.value - there.value) / mean if mean else None
    return {
        "needs": None,
        "name": other.row.name,
        "percent": None if percent is None else f"{findings.number(percent, 1)} %",
        "verdict": compared.verdict,
        "distance": _distance(compared.distance),
    }


def _distance(distance: float) -> str:
    return findings.significant(distance, 2) if distance >= _CLOSE else "less than 0.01"
