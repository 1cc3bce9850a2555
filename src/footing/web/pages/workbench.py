"""The workbench: one page for a study, and the cards of its steps."""

from urllib.parse import urlencode

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from footing.core.curves import CURVES
from footing.store import hand_ins
from footing.store.pupils import note_members
from footing.studies.queries.working import working
from footing.studies.school.places import left_off
from footing.studies.steps import Step
from footing.studies.views.ground_view import unit_choices
from footing.studies.views.shown import AT_FIRST, AT_GRAPH, AT_LEDGER, AT_MODEL, Shown
from footing.studies.views.view import study_view
from footing.web.news import step_cards
from footing.web.routing import DatabaseRoute
from footing.web.security import SeenStudy, Visitor
from footing.web.steps import RAIL, keys_at, rail_step
from footing.web.templating import templates

# what a page shows of the bodies at first, at some steps
_SHOWN: dict[Step, Shown] = {
    Step.GRAPH: AT_GRAPH,
    Step.MODEL: AT_MODEL,
    Step.LEDGER: AT_LEDGER,
}

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)


@router.get("/studies/{study_id}")
def open_study(study: SeenStudy, visitor: Visitor, looking: bool = False) -> Response:
    """Go where the person left off, or to the step at which the study stands.

    looking : whether nothing is to be changed
    """
    place = left_off(study, visitor)
    looks = {"looking": "1"} if looking or not study.mine else {}
    if place is not None:
        seen = urlencode(looks | ({"source": place.source} if place.source else {}))
        return RedirectResponse(f"/studies/{study.id}/{place.step}?{seen}".rstrip("?"), 303)
    steps = study_view(study, visitor, shown=AT_FIRST).get("steps", {})
    # models, ledgers and the report are for who wants them: nobody is sent there
    wanted = (step for step in Step if step not in (Step.MODEL, Step.LEDGER, Step.REPORT))
    under_way = (step for step in wanted if steps.get(step, "done") != "done")
    step = next(under_way, Step.GRAPH if steps else Step.SOURCES)
    return RedirectResponse(f"/studies/{study.id}/{step}?{urlencode(looks)}".rstrip("?"), 303)


@router.get("/studies/{study_id}/working")
def show_working(
    request: Request, study: SeenStudy, visitor: Visitor, of: str, source: str | None = None
) -> Response:
    """How a number was worked out, as a part of the page."""
    context = {"working": working(study, visitor, of, source), "of": of, "source": source or "0"}
    return templates.TemplateResponse(request, "_working.html", context)


@router.get("/studies/{study_id}/{step}")
def workbench(
    request: Request,
    study: SeenStudy,
    visitor: Visitor,
    step: Step,
    source: str | None = None,
    looking: bool = False,
) -> Response:
    """The workbench at a step. Changing the step later needs no new page."""
    looks = looking or not study.mine
    if visitor.student_id is not None and study.mine:
        note_members(study.id, [visitor.student_id])
    view = study_view(study, visitor, source=source, shown=_SHOWN.get(step, AT_FIRST))
    place = left_off(study, visitor)
    context = {
        "study": study,
        "visitor": visitor,
        "looking": looks,
        "view": view,
        "step": step,
        "rail": RAIL,
        "room": rail_step(step).room,
        "keys_at": keys_at,
        "cards": step_cards(request, study, view, step, visitor),
        "place": place.model_dump() if place else None,
        "hand_in": hand_ins.of_copy(study.id) if study.is_frozen else None,
        "unit_choices": unit_choices(view["ground"]),
        "curves": CURVES,
    }
    return templates.TemplateResponse(request, "workbench.html", context)
