"""A fit as a screen shows it: numbers with all their uncertainty, equation, residuals."""

from math import floor, isfinite, log10

import numpy as np

from footing.core import findings
from footing.core.arrays import FloatArray
from footing.core.choosing import choose
from footing.core.findings import Contribution
from footing.core.fitting import Fit
from footing.core.formulas.printing import equation, numbered
from footing.core.meaning import intercept
from footing.core.reading import Reading
from footing.studies.model.columns import Series
from footing.studies.model.fits import FitResult, NotFitted
from footing.studies.model.kept import Kept
from footing.studies.model.looks import COLOURS
from footing.studies.shapes.fits import ChoiceShape, FitHead, FitShape, ReadingShape
from footing.studies.views.checks import doubt_of
from footing.words.choices import reason_of
from footing.words.readings import intercept_sentence, label_of

_SHOWN_RESIDUALS = 4000
_MORE = 1.05  # times what the fit alone says, from which both are shown


def fit_view(result: FitResult, *, meanings: bool = True) -> FitShape:
    """A fit as it is shown; without ``meanings`` students say themselves what numbers mean."""
    if not result.row.id:  # one that is only tried
        return _fit_view(result, meanings=meanings)
    of = (result, meanings)
    return _views.get(result.row.id, of, lambda: _fit_view(result, meanings=meanings))


_views: Kept[FitShape] = Kept(200)


def _fit_view(result: FitResult, *, meanings: bool) -> FitShape:
    row, table = result.row, result.table
    view: FitHead = {
        "id": row.id,
        "owner": table.owner.key,
        "owner_name": table.owner.name,
        "of": table.owner.named.fields,
        "body": table.owner.id if table.owner.kind == "body" else None,
        "passages": list(row.passages),
        "points": row.points,
        "x": row.x,
        "y": row.y,
        "curve": row.curve,
        "formula": row.formula or "",
        "given": row.given,
        "weights": row.weights,
        "digits": row.digits,
        "may_weigh": result.points is not None and result.points.stated_errors is not None,
        "label_text": row.label or "",
        "dashed": row.dashed,
        "colour_name": row.colour or "",
        "colour": COLOURS[row.colour or "ink"],
        "box": row.box,
        "title": result.curve.title if result.curve else row.formula,
        "names": list(result.curve.names) if result.curve else [],
        "symbols": [list(one) for one in result.curve.symbols] if result.curve else [],
        "n": len(result.points.x) if result.points else 0,
        "series": f"{result.points.up.variable.name} against {result.points.across.variable.name}"
        if result.points
        else "",
    }
    outcome = result.outcome
    if isinstance(outcome, NotFitted) or result.points is None or result.curve is None:
        return {**view, "reason": outcome.reason if isinstance(outcome, NotFitted) else ""}
    x, y = result.drawn or (np.empty(0), np.empty(0))
    return {
        **view,
        "reason": None,
        "equations": _equations(result, outcome),
        "plain_equation": _plain_equation(result),
        "over": result.over,
        "parameters": [_shown(one, result) for one in result.parameters],
        "readings": [_shown(one, result) for one in result.readings] if meanings else [],
        "sense": _sense(result, outcome) if meanings else None,
        "at_bound": list(outcome.at_bound),
        "rival": _rival(outcome),
        "problem": result.problem,
        "doubt": doubt_of(result) if row.id else None,
        "weighed": _weighed(outcome),
        "scatter": f"{findings.significant(outcome.scatter, 2)} "
        f"{result.points.up.variable.unit}".strip(),
        "sum_of_squares": findings.significant(outcome.rss, 4),
        "r": _r(outcome, result.points),
        "r_squared": None if outcome.r_squared is None else _r_squared(outcome.r_squared),
        "correlations": _correlations(outcome),
        "line": _pairs(x, y),
        "residuals": _residuals(result, outcome),
    }


def _sense(result: FitResult, outcome: Fit) -> str | None:
    """Whether the intercept makes sense, where there is one to ask about."""
    at_zero = intercept(outcome, **result.ends)
    return intercept_sentence(at_zero) if at_zero else None


def _shown(reading: Reading, result: FitResult) -> ReadingShape:
    """A reading with all its uncertainty, and beside it what the fit alone would say."""
    assert isinstance(result.outcome, Fit)
    assert result.points is not None
    parts = [Contribution("fit", reading.standard_error, result.outcome.dof)]
    if result.effects is not None:
        shared = result.effects.shared_in(reading)
        parts += [Contribution(of.name, abs(size)) for of, size in shared.items()]
    measured = findings.combine(reading.value, tuple(parts))
    half = measured.half_width
    ends = (reading.value - half, reading.value + half)
    more = measured.uncertainty > _MORE * reading.standard_error
    alone = findings.stated(reading.value, reading.standard_error)
    unit, digits = str(reading.unit), result.row.digits
    text = (
        findings.measured(reading.value, measured.uncertainty, unit)
        if digits is None
        else findings.measured_to(reading.value, measured.uncertainty, digits, unit)
    )
    return {
        "key": reading.key,
        "label": label_of(reading, result.points.across.variable, result.points.up.variable),
        "formula": [list(piece) for piece in reading.formula],
        "text": text,
        "unit": unit,
        "alone": alone if more else "",
        "besides": _listed_names(parts[1:]) if more else "",
        "rests_on": _rests_on(parts),
        "interval": interval(*ends) if half > 0 else "",
        "outside": reading.outside,
        "held": half == 0,
        "plain": f"{reading.value:.10g}",
    }


def _weighed(outcome: Fit) -> str:
    """How well the points keep to the uncertainties by which they were weighed."""
    if outcome.chi_squared is None:
        return ""
    freedom = outcome.white_count - int(np.count_nonzero(outcome.standard_errors))
    share = findings.significant(outcome.chi_squared / freedom, 2)
    said = f"Weighed by the ± of the points: χ² per degree of freedom {share} ({freedom})."
    if outcome.widened > 1:
        said += (
            " The points scatter more than their ± explain, so the ± of the results follow the "
            "scatter."
        )
    return said


def _rival(outcome: Fit) -> str:
    """Other values of the parameters that describe the points as well, if there are."""
    if outcome.rival is None:
        return ""
    letters = ("".join(symbol) for symbol in outcome.curve.symbols)
    values = (findings.significant(float(value), 3) for value in outcome.rival)
    return ", ".join(f"{one} = {value}" for one, value in zip(letters, values, strict=True))


def _rests_on(parts: list[Contribution]) -> str:
    """What is in the ±, the largest first; that it is the scatter alone is said."""
    named = _listed_names(parts)
    *others, last = named.split(", ")
    return f"± holds {', '.join(others)} and {last}" if others else "± of the fit alone"


def _listed_names(parts: list[Contribution]) -> str:
    """What adds to the uncertainty, the largest first."""
    ordered = sorted((part for part in parts if part.uncertainty), key=lambda p: -p.uncertainty)
    return ", ".join(dict.fromkeys(part.source for part in ordered))


def _equations(result: FitResult, outcome: Fit) -> list[str]:
    """The curve in the symbols of its columns, with letters and with numbers."""
    assert result.curve is not None
    assert result.points is not None
    across, up = result.points.across.variable, result.points.up.variable
    letters = {
        name: symbol[0] + ("_" + symbol[1] if symbol[1] else "")
        for name, symbol in zip(result.curve.names, result.curve.symbols, strict=True)
    }
    letters[result.curve.variable] = across.symbol
    values = {
        one.key: (
            findings.measured(one.value, one.standard_error).partition(" ±")[0].lstrip("("),
            one.unit,
        )
        for one in result.parameters
        if "×10" not in findings.measured(one.value, one.standard_error)
    }
    with_letters = result.curve.formula.renamed(letters)
    shown = [equation(up.symbol, with_letters)]
    if len(values) == len(outcome.values):
        plain = result.curve.formula.renamed({result.curve.variable: across.symbol})
        shown.append(numbered(up.symbol, plain, values))
    return shown


def _plain_equation(result: FitResult) -> str:
    """The curve in plain letters, for where nothing else can be set: y = c2*t^2 + c1*t + c0."""
    assert result.curve is not None
    assert result.points is not None
    curve, across = result.curve, result.points.across.variable
    letters = {
        name: "".join(symbol) for name, symbol in zip(curve.names, curve.symbols, strict=True)
    }
    letters[curve.variable] = across.symbol
    places = [
        (begin, end, letters[name])
        for name in letters
        for begin, end in curve.formula.places_of(name)
    ]
    text = curve.formula.text
    for begin, end, letter in sorted(places, reverse=True):
        text = text[:begin] + letter + text[end:]
    return f"{result.points.up.variable.symbol} = {text}"


def _correlations(outcome: Fit) -> list[list[str]]:
    """Pairs of parameters with their correlation."""
    letters = ["".join(symbol) for symbol in outcome.curve.symbols]
    errors, matrix = outcome.standard_errors, outcome.correlations
    return [
        [letters[i], letters[j], findings.number(float(matrix[i, j]), 3)]
        for i in range(len(letters))
        for j in range(i + 1, len(letters))
        if errors[i] > 0 and errors[j] > 0
    ]


def _residuals(result: FitResult, outcome: Fit) -> list[list[float]]:
    assert result.points is not None
    every = -(-len(result.points.x) // _SHOWN_RESIDUALS)
    rounding = findings.ROUND_OFF * float(np.abs(result.points.y).max())
    left = np.where(np.abs(outcome.residuals) <= rounding, 0.0, outcome.residuals)
    columns = (result.points.numbers, result.points.x, left)
    rows = zip(*(column[::every].tolist() for column in columns), strict=True)
    return [list(row) for row in rows]


def _pairs(x: FloatArray, y: FloatArray) -> list[list[float]]:
    there = np.isfinite(y)
    return [list(pair) for pair in zip(x[there].tolist(), y[there].tolist(), strict=True)]


def comparisons(results: list[FitResult]) -> list[ChoiceShape]:
    """Pairs of fits of the same points, and which of the two curves is better."""
    found: list[ChoiceShape] = []
    for place, one in enumerate(results):
        for other in results[place + 1 :]:
            if not (isinstance(one.outcome, Fit) and isinstance(other.outcome, Fit)):
                continue
            if _same_points(one, other) and one.curve is not other.curve:
                choice = choose(one.outcome, other.outcome)
                found.append({"fits": [one.row.id, other.row.id], "said": reason_of(choice)})
    return found


def _same_points(one: FitResult, other: FitResult) -> bool:
    same = one.table.owner == other.table.owner and (one.row.x, one.row.y, one.row.weights) == (
        other.row.x,
        other.row.y,
        other.row.weights,
    )
    return same and bool(
        one.points and other.points and np.array_equal(one.points.numbers, other.points.numbers)
    )


def interval(low: float, high: float) -> str:
    """The ends of an interval with sensible digits; one number where it is mere round-off."""
    half = (high - low) / 2
    if not half > 0 or (isfinite(half) and not findings.is_stated(low, half)):
        return findings.significant((low + high) / 2)
    largest = max(abs(low), abs(high))
    if not isfinite(half):
        return "without limit"
    if not 1e-3 <= largest < 1e5:  # both share a power of ten, and have digits that tell them apart
        power = floor(log10(largest))
        size = 10.0**power
        decimals = max(findings.uncertainty_decimals(half / size), 0)
        ends = (findings.number(end / size, decimals) for end in (low, high))
        return f"({' … '.join(ends)})×10{findings.superscript(power)}"
    decimals = max(findings.uncertainty_decimals(half), 0)
    return f"{findings.number(low, decimals)} … {findings.number(high, decimals)}"


def _r(outcome: Fit, points: Series) -> str:
    """The correlation of the data, where a line is fitted; else an empty text."""
    if outcome.curve.key != "line" or not (np.ptp(points.x) > 0 and np.ptp(points.y) > 0):
        return ""
    return findings.number(float(np.corrcoef(points.x, points.y)[0, 1]), 4)


def _r_squared(value: float) -> str:
    """As many nines as it has, and two digits more; never rounded up to 1."""
    decimals = 4
    while decimals < 12 and value < 1 and round(value, decimals) == 1:
        decimals += 2
    return findings.number(value, decimals)
