"""The workbench: one page for a study, and the cards of its steps."""

from enum import StrEnum
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from footing.core.curves import CURVES, Curve
from footing.core.formulas.functions import FUNCTIONS
from footing.core.quantities import QUANTITIES
from footing.core.units import LENGTH_UNITS, MASS_UNITS
from footing.store.reading import read_study
from footing.store.rows import Footage, Sheet
from footing.studies import phones
from footing.studies.ground_view import unit_choices
from footing.studies.lists import own_formulas
from footing.studies.looks import COLOURS, LOOKS
from footing.studies.people import Person
from footing.studies.places import left_off
from footing.studies.view import study_view
from footing.web.phone_code import phone_code
from footing.web.routing import DatabaseRoute
from footing.web.security import SeenStudy, Visitor
from footing.web.templating import templates

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)


class Step(StrEnum):
    """The steps of the rail, in order."""

    SOURCES = "sources"
    GROUND = "ground"
    MARK = "mark"
    GRAPH = "graph"


@router.get("/studies/{study_id}")
def open_study(study: SeenStudy, visitor: Visitor) -> Response:
    """Go where the person left off, or to the step at which the study stands."""
    place = left_off(study, visitor)
    if place is not None:
        seen = f"?source={place.source}" if place.source else ""
        return RedirectResponse(f"/studies/{study.id}/{place.step}{seen}", status_code=303)
    steps = study_view(study, visitor).get("steps", {})
    under_way = (step for step in Step if steps.get(step, "untouched") != "done")
    step = next(under_way, Step.GRAPH)
    if step == Step.GROUND and steps.get("ground") is None:  # a sheet has none
        step = Step.MARK
    return RedirectResponse(f"/studies/{study.id}/{step}", status_code=303)


@router.get("/studies/{study_id}/{step}")
def workbench(
    request: Request,
    study: SeenStudy,
    visitor: Visitor,
    step: Step,
    source: str | None = None,
) -> Response:
    """The workbench at a step. Changing the step later needs no new page."""
    view = study_view(study, visitor, source=source)
    context = _context(request, view, step, visitor)
    place = left_off(study, visitor)
    context |= {"study": study, "visitor": visitor, "Step": Step}
    context["place"] = place.model_dump() if place else None
    return templates.TemplateResponse(request, "workbench.html", context)


@router.get("/studies/{study_id}/cards/{step}")
def cards(
    request: Request,
    study: SeenStudy,
    visitor: Visitor,
    step: Step,
    source: str | None = None,
) -> Response:
    """The cards of a step, as a fragment, with what belongs to the step elsewhere on the page."""
    view = study_view(study, visitor, source=source)
    context = _context(request, view, step, visitor)
    return templates.TemplateResponse(request, "_renewal.html", context)


def _eye_sheets(view: dict[str, Any]) -> tuple[Sheet, ...]:
    """The sheets that are read by eye from the footage on the stage."""
    if not view["footage"]:
        return ()
    rows = read_study(view["id"])
    return rows.eye_sheets(rows.find(Footage, view["footage"]["id"]))


def _families() -> dict[str, list[Curve]]:
    """The named curves under the names of their families."""
    found: dict[str, list[Curve]] = {}
    for curve in CURVES.values():
        found.setdefault(curve.family, []).append(curve)
    return found


def _usual_curve(view: dict[str, Any]) -> str:
    """The curve that is offered first for what the first graph shows."""
    graph = next(iter(view["graphs"]), None)
    series = graph["series"] if graph else []
    if view["sheet"] or not series:
        return "line"
    quantity = QUANTITIES.get(series[0]["y"])
    if quantity is None or graph is None or graph["x"] != "t":
        return "quadratic" if quantity is not None and quantity.order == 0 else "line"
    return ("quadratic", "line", "level")[min(max(quantity.order, 0), 2)]


def _context(
    request: Request, view: dict[str, Any], step: Step, visitor: Person
) -> dict[str, object]:
    link = phones.open_link(view["id"], visitor) if step == Step.SOURCES else None
    return {
        "view": view,
        "phone": phone_code(request, link) if link else None,
        "unit_choices": unit_choices(view["ground"]),
        "step": step,
        "quantities": QUANTITIES,
        "curves": CURVES,
        "eye_sheets": _eye_sheets(view),
        "families": _families(),
        "usual_curve": _usual_curve,
        "own_formulas": own_formulas(visitor) if step == Step.GRAPH else [],
        "colours": list(COLOURS),
        "functions": FUNCTIONS.values(),
        "length_units": LENGTH_UNITS,
        "mass_units": MASS_UNITS,
        "looks": LOOKS,
    }
