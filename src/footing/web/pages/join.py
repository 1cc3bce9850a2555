"""How students come in: code, name, a PIN or four pictures, and a group."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from footing.core.errors import Refused
from footing.core.texts import cleaned
from footing.store.database import transaction
from footing.store.notices import notify_class
from footing.store.rows import SchoolClass
from footing.studies.school import joining
from footing.studies.school.codes import CHOSEN, PICTURES, SecretKind
from footing.web.routing import DatabaseRoute
from footing.web.security import AnyDevice, Patient, SomeStudent, begin_session, keep_device
from footing.web.templating import templates

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)

_Text = Annotated[str, Form()]


@router.get("/join")
def ask_code(request: Request, device: AnyDevice) -> Response:
    """Where the class code is typed."""
    response = templates.TemplateResponse(request, "join.html", {})
    keep_device(request, response, device)
    return response


@router.post("/join", dependencies=[Patient])
def enter_code(request: Request, device: AnyDevice, code: _Text) -> Response:
    """Go to the class of a code."""
    found = joining.enter_code(cleaned(code), device)
    response = RedirectResponse(f"/join/{found.code}", status_code=303)
    keep_device(request, response, device)
    return response


@router.get("/join/{code}", dependencies=[Patient])
def ask_name(request: Request, device: AnyDevice, code: str) -> Response:
    """Where somebody picks or types their name; the address that the projector's picture holds."""
    try:
        found = joining.enter_code(cleaned(code), device)
    except Refused as error:
        context = {"error": str(error), "code": cleaned(code)[:60]}
        response = templates.TemplateResponse(request, "join.html", context, status_code=422)
        keep_device(request, response, device)
        return response
    response = templates.TemplateResponse(request, "join_name.html", _context(found))
    keep_device(request, response, device)
    return response


@router.post("/join/{code}", dependencies=[Patient])
def join(
    request: Request,
    device: AnyDevice,
    code: str,
    name: _Text,
    kind: Annotated[SecretKind, Form()] = "pin",
    secret: _Text = "",
) -> Response:
    """Come into the class under a name, or come back."""
    found = joining.enter_code(cleaned(code), device)
    person = joining.join(found, cleaned(name), kind=kind, secret=cleaned(secret), device=device)
    notify_class(found.id, people=True)
    response = RedirectResponse("/", status_code=303)
    begin_session(request, response, person)
    keep_device(request, response, device, student_id=person.id)
    return response


@router.post("/groups/join")
def join_group(student: SomeStudent, group_id: Annotated[int, Form()]) -> Response:
    """Go into a group."""
    group = joining.join_group(student, group_id)
    notify_class(group.school_class_id, people=True)
    return RedirectResponse("/", status_code=303)


@router.post("/groups")
def make_group(student: SomeStudent, name: _Text) -> Response:
    """Make a group and go into it."""
    with transaction():
        group = joining.make_group(student, cleaned(name))
        notify_class(group.school_class_id, people=True)
    return RedirectResponse("/", status_code=303)


def _context(found: SchoolClass) -> dict[str, object]:
    waiting, joined = joining.names_to_pick(found)
    return {
        "school_class": found,
        "open": joining.is_open(found),
        "waiting": [one.name for one in waiting],
        "joined": [{"name": one.name, "kind": one.secret_kind or "new"} for one in joined],
        "pictures": PICTURES,
        "chosen": CHOSEN,
        "longest": joining.LONGEST_NAME,
    }
