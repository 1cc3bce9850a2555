"""The page of straight forms of a series: small graphs, and how straight each is."""

from typing import Any

import numpy as np

from footing.core import findings
from footing.core.errors import Refused
from footing.core.reading import Variable
from footing.core.straightening import StraightForm, straight_forms
from footing.store.access import ClassStudy
from footing.studies.queries.stretch import Plot, points_of
from footing.words.straight_forms import stands_for

_SHOWN = 80  # points of a small graph


def straight_page(study: ClassStudy, plot: Plot) -> list[dict[str, Any]]:
    """The forms of a series, the straightest first.

    Raises
    ------
    Refused : if there are too few points to tell.
    """
    points = points_of(study, plot)
    across, up = points.across.variable, points.up.variable
    found = straight_forms(points.x, points.y)
    if not found:
        raise Refused("There are too few points to tell which form is straight; take five or more.")
    return [_form_view(form, across, up) for form in found]


def _form_view(form: StraightForm, across: Variable, up: Variable) -> dict[str, Any]:
    slope, intercept = stands_for(form.key, across, up)
    every = -(-len(form.x) // _SHOWN)
    ends = np.array([form.x.min(), form.x.max()])
    return {
        "key": form.key,
        "up": _written(form.up.formula.format(up.symbol)),
        "across": _written(form.across.formula.format(across.symbol)),
        "straightness": findings.number(form.straightness, 4),
        "slope": slope,
        "intercept": intercept,
        "left_out": form.left_out,
        "points": [
            [float(a), float(b)] for a, b in zip(form.x[::every], form.y[::every], strict=True)
        ],
        "line": [[float(a), float(b)] for a, b in zip(ends, form.line.predict(ends), strict=True)],
    }


def _written(formula: str) -> str:
    return formula.replace("^2", "²").replace("sqrt", "√")
