"""A fit on the command line: a curve through two columns of a CSV file."""

import json
import math
from pathlib import Path
from typing import TYPE_CHECKING, Any

from footing.core.errors import Refused
from footing.core.units import read_number
from footing.csv_columns import read_columns

if TYPE_CHECKING:  # what computes takes time to load; a bad file is refused before
    from footing.core.curves import Curve
    from footing.core.fitting import Fit, Given, NoFit


def fit(file: Path, x: str, y: str, curve: str, start: str, *, as_json: bool) -> None:
    """Fit a curve to two columns of a CSV file."""
    columns = read_columns(file, (x, y))
    from footing.core.fitting import NoFit, fit_curve

    chosen = _curve(curve)
    given = _starting_values(start, chosen)
    outcome = fit_curve(columns[x], columns[y], chosen, given=given)
    found = _fit_as_json(chosen, curve, len(columns[x]), outcome)
    if as_json:
        print(json.dumps(found))
        return
    if isinstance(outcome, NoFit):
        from footing.words.fitting import no_fit_said

        raise Refused(no_fit_said(outcome))
    for name, parameter in found["parameters"].items():
        print(f"{name} = {parameter['value']:.10g} ± {parameter['stderr']:.3g}")
    print(f"scatter {found['rmse']:.6g}, n = {found['n']}")


def _curve(text: str) -> "Curve":
    """A named curve, or a formula in x."""
    from footing.core.curves import CURVES, own_curve
    from footing.core.formulas.syntax import WrongFormula

    if text in CURVES:
        return CURVES[text]
    try:
        curve = own_curve(text, constants={"pi": math.pi})
    except WrongFormula as error:
        begin, end = error.span
        raise Refused(
            f"“{text}” is neither a named curve ({', '.join(CURVES)}) nor a formula: {error} "
            f"(characters {begin + 1} to {max(end, begin + 1)})"
        ) from error
    if "x" not in curve.formula.names:
        raise Refused(
            f"“{text}” is neither a named curve ({', '.join(CURVES)}) nor a formula in x."
        )
    return curve


def _starting_values(text: str, curve: "Curve") -> "dict[str, Given]":
    from footing.core.fitting import Given

    found = {}
    for part in filter(None, (one.strip() for one in text.split(","))):
        name, sign, value = (one.strip() for one in part.partition("="))
        if not sign or name not in curve.names:
            raise Refused(
                f"“{part}” is no starting value; write name=number for some of "
                f"{', '.join(curve.names)}."
            )
        found[name] = Given(start=read_number(value, field=name).value)
    return found


def _fit_as_json(chosen: "Curve", curve: str, n: int, outcome: "Fit | NoFit") -> dict[str, Any]:
    from footing.core.fitting import NoFit

    names = chosen.names
    if isinstance(outcome, NoFit):
        return {
            "curve": curve,
            "n": n,
            "parameters": {name: {"value": None, "stderr": None} for name in names},
            "rss": None,
            "rmse": None,
            "r_squared": None,
            "converged": False,
        }
    return {
        "curve": curve,
        "n": n,
        "parameters": {
            name: {"value": float(value), "stderr": float(error)}
            for name, value, error in zip(
                names, outcome.values, outcome.standard_errors, strict=True
            )
        },
        "rss": outcome.rss,
        "rmse": outcome.scatter,
        "r_squared": outcome.r_squared,
        "converged": True,
    }
