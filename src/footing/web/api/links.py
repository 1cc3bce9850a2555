"""Links by which a study can be looked at: made and closed by those who work on it."""

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse

from footing.studies.school import looking
from footing.web.link_address import look_address
from footing.web.routing import DatabaseRoute
from footing.web.security import OwnStudy, Visitor

router = APIRouter(route_class=DatabaseRoute, tags=["studies"])


@router.post("/studies/{study_id}/look-link")
def open_look_link(request: Request, study: OwnStudy, visitor: Visitor) -> JSONResponse:
    """Open a link by which whoever has it looks at the study; the one that is open stays so."""
    link = looking.make_link(study.id, visitor)
    return JSONResponse({"address": look_address(request, link)})


@router.delete("/studies/{study_id}/look-link")
def close_look_link(study: OwnStudy) -> JSONResponse:
    """Close all such links of the study."""
    looking.close_links(study.id)
    return JSONResponse({"closed": True})
