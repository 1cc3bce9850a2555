"""Curves that can be fitted: the named ones, by families, and any formula in one variable.

- `curve`: what a curve is; `guessing`: what guesses of starting values share
- `level`, `straight`, `arcs`, `powers`, `growth`, `swings`, `shapes`: the families. A named curve
  is an entry in one of them, with its guess, what a fit of it says, and which curves are it with
  more freedom.
"""

from footing.core.curves import arcs, growth, level, powers, shapes, straight, swings
from footing.core.curves.curve import MOST_PARAMETERS, Curve, own_curve

FAMILIES = (level, straight, arcs, powers, growth, swings, shapes)
CURVES: dict[str, Curve] = {curve.key: curve for family in FAMILIES for curve in family.CURVES}

__all__ = ["CURVES", "FAMILIES", "MOST_PARAMETERS", "Curve", "own_curve"]
