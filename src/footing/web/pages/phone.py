"""The phone's page: one big button to film or choose, without a sign-in."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from footing.studies.films import phones
from footing.web.routing import DatabaseRoute
from footing.web.security import Phone
from footing.web.templating import templates

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)


@router.get("/phone/{token}")
def phone_page(request: Request, sender: Phone, token: str) -> Response:
    """Send a video or a picture into the study of the link."""
    context = {"study": phones.study_of(sender), "token": token}
    return templates.TemplateResponse(request, "phone.html", context)
