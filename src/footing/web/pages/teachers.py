"""How teachers come in, and their accounts."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from footing.core.errors import Refused
from footing.core.texts import cleaned
from footing.store import teachers
from footing.store.database import transaction
from footing.studies.school import attempts, invitations, people
from footing.studies.school.lists import first_class
from footing.web.routing import DatabaseRoute
from footing.web.security import AnyVisitor, SomeTeacher, begin_session
from footing.web.templating import templates

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)

_Text = Annotated[str, Form()]


@router.post("/first-teacher")
def make_first(request: Request, code: _Text, name: _Text, password: _Text) -> Response:
    """Make the first account, with the code that the start printed."""
    address = request.client.host if request.client else ""
    attempts.check_first_attempts(address)
    try:
        with transaction():
            person = invitations.first_teacher(cleaned(code), cleaned(name), cleaned(password))
            first_class(person, "My class")
    except Refused as error:
        if error.field == "code":
            attempts.note_wrong_first(address)
        raise
    return _signed_in(request, person)


@router.get("/invited/{invitation}")
def show_invitation(request: Request, visitor: AnyVisitor, invitation: str) -> Response:
    """What somebody is invited to."""
    with transaction():
        _, of_class = invitations.invited_to(invitation)
    context = {"invitation": invitation, "of_class": of_class, "visitor": visitor}
    return templates.TemplateResponse(request, "invited.html", context)


@router.post("/invited/{invitation}")
def accept(request: Request, invitation: str, name: _Text, password: _Text) -> Response:
    """Make an account by an invitation."""
    with transaction():
        person = invitations.accept(invitation, cleaned(name), cleaned(password))
    return _signed_in(request, person)


@router.post("/invited/{invitation}/as-myself")
def accept_as_myself(teacher: SomeTeacher, invitation: str) -> Response:
    """Take an invitation to a class with the account that one has."""
    with transaction():
        invitations.accept_as(invitation, teacher)
    return RedirectResponse("/", status_code=303)


@router.get("/account")
def account(request: Request, teacher: SomeTeacher) -> Response:
    """One's account, and inviting others."""
    return templates.TemplateResponse(request, "account.html", {"visitor": teacher})


@router.post("/account/password")
def change_password(request: Request, teacher: SomeTeacher, old: _Text, new: _Text) -> Response:
    """Choose another password; other devices are signed out."""
    people.change_password(teacher, old=cleaned(old), new=cleaned(new))
    response = RedirectResponse("/account", status_code=303)
    begin_session(request, response, teacher)
    return response


@router.post("/invitations")
def invite(
    request: Request, teacher: SomeTeacher, class_id: Annotated[int | None, Form()] = None
) -> Response:
    """Make a link for another teacher, to an account of their own and, if wanted, to a class."""
    of_class = teachers.taught_class(teacher.id, class_id) if class_id is not None else None
    if class_id is not None and of_class is None:
        raise Refused("There is no such class here.")
    with transaction():
        invitation = invitations.invite(teacher, class_id=class_id)
    base = request.app.state.settings.public_address or str(request.base_url)
    context = {
        "visitor": teacher,
        "link": f"{base.rstrip('/')}/invited/{invitation}",
        "of_class": of_class,
    }
    return templates.TemplateResponse(request, "account.html", context)


def _signed_in(request: Request, person: people.Person) -> Response:
    response = RedirectResponse("/", status_code=303)
    begin_session(request, response, person)
    return response
