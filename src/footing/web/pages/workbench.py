"""The workbench: one page for a study, and the cards of its steps."""

from enum import StrEnum

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from footing.core.curves import CURVES
from footing.core.quantities import QUANTITIES
from footing.core.units import LENGTH_UNITS, MASS_UNITS
from footing.studies.view import study_view
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
    """Go to the step at which the study stands."""
    steps = study_view(study, visitor).get("steps", {})
    under_way = (step for step in Step if steps.get(step, "untouched") != "done")
    step = next(under_way, Step.GRAPH)
    return RedirectResponse(f"/studies/{study.id}/{step}", status_code=303)


@router.get("/studies/{study_id}/{step}")
def workbench(request: Request, study: SeenStudy, visitor: Visitor, step: Step) -> Response:
    """The workbench at a step. Changing the step later needs no new page."""
    view = study_view(study, visitor)
    return templates.TemplateResponse(
        request,
        "workbench.html",
        _context(view, step) | {"study": study, "visitor": visitor, "Step": Step},
    )


@router.get("/studies/{study_id}/cards/{step}")
def cards(request: Request, study: SeenStudy, visitor: Visitor, step: Step) -> Response:
    """The cards of a step, as a fragment."""
    view = study_view(study, visitor)
    return templates.TemplateResponse(request, "_cards.html", _context(view, step))


def _context(view: dict[str, object], step: Step) -> dict[str, object]:
    return {
        "view": view,
        "step": step,
        "quantities": QUANTITIES,
        "curves": CURVES,
        "length_units": LENGTH_UNITS,
        "mass_units": MASS_UNITS,
    }
