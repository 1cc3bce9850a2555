"""The cards of a step: which there are, and their HTML, each made anew only when it could differ.

What a card reads of the state is found in its template (`reads`), so that a card for which this is
the same as when it was made last is not made again.
"""

import hashlib
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from typing import Any

from footing.core.curves import CURVES, Curve
from footing.core.drag import DRAG_SHAPES
from footing.core.formulas.functions import FUNCTIONS
from footing.core.ledgers.energy import SHAPES
from footing.core.quantities import QUANTITIES
from footing.core.units import LENGTH_UNITS, MASS_UNITS, MOMENTUM_UNITS
from footing.core.weather import PRESSURE_UNITS, TEMPERATURE_UNITS
from footing.store import shelf
from footing.studies.model.looks import COLOURS, LOOKS
from footing.studies.shapes.state import SharedShape, StateShape
from footing.studies.steps import Step
from footing.studies.views.ground_view import unit_choices
from footing.studies.views.model_view import TITLES
from footing.web.reads import reads_of, reads_the_same
from footing.web.steps import EVERY_CARD, Card, cards_of, placed_of
from footing.web.templating import templates

_LASTING = {  # what never changes while the program runs
    "quantities": QUANTITIES,
    "curves": CURVES,
    "colours": list(COLOURS),
    "functions": FUNCTIONS.values(),
    "length_units": LENGTH_UNITS,
    "mass_units": MASS_UNITS,
    "momentum_units": MOMENTUM_UNITS,
    "inertia_shapes": SHAPES.values(),
    "looks": LOOKS,
    "laws": TITLES,
    "drag_shapes": DRAG_SHAPES.values(),
    "temperature_units": TEMPERATURE_UNITS,
    "pressure_units": PRESSURE_UNITS,
}


@dataclass(frozen=True)
class Cards:
    """The cards of a step as they are shown.

    step : that they are of
    version : names everything on which they rest
    of : the version of the state that they show
    order : their keys, from the top
    html : of each, and of what stands elsewhere on the page
    besides : what they show that is not in the state, as a digest
    """

    step: Step
    version: str
    of: str
    order: list[str]
    html: dict[str, str]
    besides: str

    @property
    def shown(self) -> dict[str, Any]:
        """What the page gets."""
        return {"order": self.order, "html": self.html}


def cards(
    step: Step,
    view: StateShape,
    besides: dict[str, Any],
    *,
    before: Cards | None = None,
    seen: SharedShape | None = None,
) -> Cards:
    """The cards of a step; the same for all who see the same.

    Parameters
    ----------
    besides : what they show that is not in the state
    before, seen : cards that were made already, and the state that they show, if known
    """
    own = {"rules": view["rules"], "follow": view["follow"], **besides}
    digest = hashlib.sha256(repr(sorted(own.items())).encode()).hexdigest()[:16]
    version = f"{view['version']} {step} {digest}"

    def make() -> Cards:
        context = _context(step, view, besides)
        known = before if before and (before.step, before.besides) == (step, digest) else None
        html: dict[str, str] = {}
        for card in _cards(step, view):
            if known and seen and card.key in known.html and _is_the_same(card, seen, view):
                html[card.key] = known.html[card.key]
            else:
                html[card.key] = _rendered(card, step, view, context)
        order = [card.key for card in cards_of(step, view)]
        return Cards(step, version, view["version"], order, html, digest)

    return shelf.shared(f"cards {version}", make)


def load_ahead() -> None:
    """Compile the templates of all cards, and find what they read, before somebody waits for it."""
    for card in EVERY_CARD:
        templates.get_template(card.template)
        reads_of(card.template)


def _is_the_same(card: Card, seen: SharedShape, view: StateShape) -> bool:
    """Whether a card shows the same of two states."""
    says = card.says
    alike = says is None or (card.there(seen) and says(seen) == says(view))
    return alike and reads_the_same(card.template, seen, view)


def _rendered(card: Card, step: Step, view: StateShape, context: dict[str, Any]) -> str:
    state = card.says(view) if card.says else None
    folds = state is not None and (state.done or card.open_at not in {None, step})
    of_card = {"card": card.key, "state": state, "folds": folds}
    return templates.get_template(card.template).render(context | of_card)


def cards_before(study_id: int, version: str | None) -> Cards | None:
    """Cards of a study that somebody has, if they are still known."""
    if version is None or not version.startswith(f"{study_id}."):
        return None
    known: Cards | None = shelf.found(f"cards {version}")
    return known


def _cards(step: Step, view: StateShape) -> Iterable[Card]:
    yield from cards_of(step, view)
    yield from placed_of(step, view)


def _context(step: Step, view: StateShape, besides: dict[str, Any]) -> dict[str, Any]:
    own = {
        "view": view,
        "step": step,
        "unit_choices": unit_choices(view["ground"]),
        "families": _families(),
        "usual_curve": _usual_curve(view),
    }
    return _LASTING | own | besides


@cache
def _families() -> dict[str, list[Curve]]:
    """The named curves under the names of their families."""
    found: dict[str, list[Curve]] = {}
    for curve in CURVES.values():
        found.setdefault(curve.family, []).append(curve)
    return found


def _usual_curve(view: StateShape) -> str:
    """The curve that is offered first for what the first graph shows."""
    graph = next(iter(view["graphs"]), None)
    series = graph["series"] if graph else []
    if view["sheet"] or not series:
        return "line"
    quantity = QUANTITIES.get(series[0]["y"])
    if quantity is None or graph is None or graph["x"] != "t":
        return "quadratic" if quantity is not None and quantity.order == 0 else "line"
    return ("quadratic", "line", "level")[min(max(quantity.order, 0), 2)]
