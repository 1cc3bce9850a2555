"""The working of what fits give, of findings by formula, and of a percent error."""

from collections.abc import Sequence

from footing.core import findings
from footing.core.dimensions import read_quantity
from footing.core.effects import Effects
from footing.core.errors import NotThere, Refused
from footing.core.fitting import Fit
from footing.core.formulas.parsing import parse
from footing.core.reading import Reading
from footing.store.rows import Finding
from footing.studies.model.fits import FitResult
from footing.studies.model.results import NoResult, Result, Results
from footing.studies.queries.working_lines import Line, Place, Put, Working
from footing.words.readings import label_of


def of_reading(fit: FitResult, key: str) -> Working:
    """What is read from a fit: the equation with its numbers, and how the reading follows."""
    reading = fit.reading(key)
    if reading is None or not isinstance(fit.outcome, Fit) or fit.points is None:
        raise Refused("This fit comes to nothing; there is no working.", field="of")
    curve = fit.curve
    assert curve is not None
    across, up = fit.points.across.variable, fit.points.up.variable
    named = label_of(reading, across, up) or "".join(
        letter + below for letter, below in reading.formula
    )
    puts = {one.key: _put(one, fit) for one in fit.parameters}
    text = findings.measured(reading.value, _uncertainty(reading, fit), str(reading.unit))
    fitted = f"{curve.title} of {up.name} against {across.name}, {len(fit.points.x)} points"
    lines = [
        Line(
            up.symbol.replace("̄", ""),
            _in_letters(curve.formula.text, across.symbol),
            puts,
            said=f"{fitted}:",
        )
    ]
    formula = _formula_of(reading, fit)
    if formula:
        lines.append(Line(_symbol_for(named, up.symbol), formula, puts, text))
    else:
        lines.append(Line(said=f"{named}: {text}"))
    return Working(f"{named[:1].upper()}{named[1:]} from the {curve.title}", lines, _places(fit))


def of_finding(row: Finding, results: Results, fit: FitResult | None) -> Working:
    """A finding: by formula with its numbers, or as it was read from its fit."""
    found = results[row.id]
    if isinstance(found, NoResult):
        raise Refused(found.reason, field="of")
    if row.formula is None:
        if fit is None:
            value = findings.measured(found.value.value, found.value.uncertainty, str(found.unit))
            return Working(row.name, [Line(said=f"{found.of}: {value}")])
        made = of_reading(fit, row.reading or "")
        lines = [*made.lines]
        if row.as_size and found.value.value != 0:
            lines.append(Line(said=f"Of it the size: {_text(found)}"))
        return Working(row.name, lines, made.places)
    inputs = results.inputs(row)
    names = parse(row.formula).names
    puts = {
        name: Put(float(one.values), float(one.uncertainty), one.unit)
        for name, one in inputs.items()
        if name in names
    }
    line = Line(row.symbol or _symbol_for(row.name, ""), row.formula, puts, _text(found))
    return Working(row.name, [line], _places(fit) if fit else ())


def of_percent_error(row: Finding, results: Results) -> Working:
    """(measured − accepted) ÷ |accepted|."""
    found = results[row.id]
    if isinstance(found, NoResult):
        raise Refused(found.reason, field="of")
    if not row.accepted:
        raise NotThere("Nothing was accepted to compare this with.")
    typed, own = read_quantity(row.accepted, field="accepted")
    unit = own or (found.unit.in_si if found.ground is not None else found.unit)
    if not unit.converts_to(found.unit) or typed.value == 0:
        raise Refused("This has no percent error.", field="of")
    factor = found.unit.factor / unit.factor
    value, u = found.value.value * factor, found.value.uncertainty * factor
    error = 100 * (value - typed.value) / abs(typed.value)
    accepted = Put(typed.value, typed.uncertainty, unit, guard=0)
    puts = {"x": Put(value, u, unit), "x_0": accepted}
    text = f"{findings.signed(error, 1)} %"
    return Working(f"Percent error of {row.name}", [Line("e", "(x - x_0)/abs(x_0)", puts, text)])


def _text(found: Result) -> str:
    return findings.measured(found.value.value, found.value.uncertainty, str(found.unit))


def _put(reading: Reading, fit: FitResult) -> Put:
    return Put(reading.value, _uncertainty(reading, fit), reading.unit)


def _uncertainty(reading: Reading, fit: FitResult) -> float:
    if fit.effects is None:
        return reading.standard_error
    effects: Effects = fit.effects.of_reading(reading)
    return findings.combine(reading.value, effects.budget).uncertainty


def _in_letters(formula: str, across: str) -> str:
    """The formula of a curve with the symbol of what stands across in the place of x."""
    parsed = parse(formula)
    text, moved = formula, 0
    for begin, end in parsed.places_of("x"):
        text = text[: begin + moved] + across + text[end + moved :]
        moved += len(across) - (end - begin)
    return text


def _formula_of(reading: Reading, fit: FitResult) -> str:
    """How a reading follows from the parameters, as a formula; empty where print says it only."""
    assert isinstance(fit.outcome, Fit)
    gradient = reading.estimate.gradient
    names, terms = fit.outcome.curve.names, []
    linear = 0.0
    for name, slope, value in zip(names, gradient, fit.outcome.values, strict=True):
        if slope:
            terms.append(name if slope == 1 else f"{slope:g}*{name}")
            linear += float(slope * value)
    raw = reading.estimate.value
    is_linear = abs(linear - raw) <= 1e-9 * max(abs(raw), 1e-300)
    return " + ".join(terms).replace("+ -", "- ") if is_linear and len(terms) == 1 else ""


def _symbol_for(name: str, of: str) -> str:
    """A letter for something that has a name only, with what it is of below it."""
    letters = {"acceleration": "a", "velocity": "v", "position": "x", "period": "T"}
    letter = next((letter for word, letter in letters.items() if name.startswith(word)), "X")
    below = of.replace("_", "")[-1:]
    return f"{letter}_{below}" if letter in "av" and below.isalpha() else letter


def _places(fit: FitResult) -> Sequence[Place]:
    """The first and the last frame of what was fitted."""
    if fit.points is None or fit.table.owner.kind != "body" or not len(fit.points.numbers):
        return ()
    ends = (int(fit.points.numbers.min()), int(fit.points.numbers.max()))
    return [Place(f"frame {frame}", frame, fit.table.owner.id) for frame in ends]
