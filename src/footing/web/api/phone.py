"""The link for a phone: made and closed on the laptop."""

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse

from footing.studies.films import phones
from footing.web.phone_code import phone_code
from footing.web.routing import DatabaseRoute
from footing.web.security import OwnStudy, Visitor

router = APIRouter(route_class=DatabaseRoute, tags=["uploads"])


@router.post("/studies/{study_id}/phone-link")
def open_phone_link(request: Request, study: OwnStudy, visitor: Visitor) -> JSONResponse:
    """Open a link by which a phone can send files, in the name of who asks; it expires."""
    settings = request.app.state.settings
    link = phones.make_link(study.id, visitor, hours=settings.phone_hours)
    return JSONResponse(phone_code(request, link))


@router.delete("/studies/{study_id}/phone-link")
def close_phone_link(study: OwnStudy) -> JSONResponse:
    """Close all phone links of the study."""
    phones.revoke_links(study.id)
    return JSONResponse({"closed": True})
