"""Where people come in: signing in, their labs and studies."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from footing.core.errors import NotThere
from footing.core.texts import cleaned
from footing.store.access import study_seen_by
from footing.store.accounts import of_the_demo
from footing.store.database import connected, transaction
from footing.store.notices import notify_class
from footing.studies.films import phones
from footing.studies.school import looking, people
from footing.studies.school.copying import duplicate
from footing.studies.school.invitations import is_first_start
from footing.studies.school.lists import (
    classes_of,
    own_group,
    remove_study,
    rename_study,
    start_study,
    take_back_study,
)
from footing.web.routing import DatabaseRoute
from footing.web.security import (
    AnyDevice,
    AnyVisitor,
    OwnStudy,
    Visitor,
    begin_session,
    end_session,
    keep_device,
)
from footing.web.templating import templates

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)
plain_router = APIRouter(include_in_schema=False)  # holds no connection by itself
demo_router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)


@router.get("/")
def home(request: Request, visitor: AnyVisitor, device: AnyDevice) -> Response:
    """Labs and studies, or the sign-in."""
    if visitor is None:
        response = _sign_in_page(request)
        keep_device(request, response, device)
        return response
    if visitor.link_id is not None:
        return RedirectResponse(f"/studies/{looking.study_of(visitor.link_id)}", status_code=303)
    context = {"visitor": visitor, "classes": classes_of(visitor)}
    if visitor.role == "student":
        context["mine"] = own_group(visitor)
        return templates.TemplateResponse(request, "home_student.html", context)
    return templates.TemplateResponse(request, "home.html", context)


@router.get("/look/{link}")
def look(request: Request, visitor: AnyVisitor, link: str) -> Response:
    """Look at a study by a link: whoever has it sees the study, and can change nothing.

    Somebody who is signed in stays so, and sees it as themselves if they may.
    """
    guest, study_id = looking.looker(link)
    response = RedirectResponse(f"/studies/{study_id}", status_code=303)
    if visitor is None or visitor.link_id is not None:
        begin_session(request, response, guest)
    elif study_seen_by(visitor, study_id) is None:
        raise NotThere(
            f"You are signed in as {visitor.name}, who does not see this study. Open the link in a "
            "private window, or sign out first."
        )
    return response


@plain_router.post("/sign-in")
def sign_in(
    request: Request, name: Annotated[str, Form()], password: Annotated[str, Form()]
) -> Response:
    """Sign a teacher in by name and password."""
    name, address = cleaned(name).strip(), request.client.host if request.client else ""
    with connected():
        too_often = people.guessed_too_often(name, address)
    if too_often:
        return _sign_in_page(request, name, "Too many attempts; wait a minute and try again.")
    person = people.by_password(name, cleaned(password))  # holds no connection while it takes long
    with connected():
        if person is None:
            people.note_failure(name, address)
            return _sign_in_page(request, name, "Name and password do not go together; try again.")
        response = RedirectResponse("/", status_code=303)
        begin_session(request, response, person)
    return response


@router.post("/sign-out")
def sign_out(request: Request) -> Response:
    """End the session."""
    response = RedirectResponse("/", status_code=303)
    end_session(request, response)
    return response


@router.post("/studies")
def new_study(
    visitor: Visitor,
    class_id: Annotated[int, Form()],
    lab_id: Annotated[int | None, Form()] = None,
    own_clip: Annotated[bool, Form()] = False,
) -> Response:
    """Start a study and open it."""
    with transaction():
        study_id = start_study(visitor, class_id, lab_id=lab_id, own_clip=own_clip)
        notify_class(class_id, studies=True)
    return RedirectResponse(f"/studies/{study_id}", status_code=303)


@router.post("/studies/{study_id}/title")
def rename(study: OwnStudy, title: Annotated[str, Form()]) -> Response:
    """Give a study another title."""
    rename_study(study, cleaned(title))
    return _home()


@router.post("/studies/{study_id}/duplicate")
def copy(study: OwnStudy, visitor: Visitor) -> Response:
    """Make a copy of a study beside it."""
    with transaction():
        duplicate(study, visitor)
    return _home()


@router.post("/studies/{study_id}/remove")
def remove(study: OwnStudy) -> Response:
    """Take a study out of sight, also of phones that send into it."""
    remove_study(study)
    phones.revoke_links(study.id)
    return _home()


@router.post("/studies/{study_id}/take-back")
def take_back(study_id: int, visitor: Visitor) -> Response:
    """Bring a removed study back."""
    take_back_study(visitor, study_id)
    return _home()


def _home() -> Response:
    return RedirectResponse("/", status_code=303)


@demo_router.post("/demo/sign-in")
def demo_sign_in(
    request: Request, who: Annotated[str, Form(pattern="^(teacher|student) [0-9]{1,9}$")]
) -> Response:
    """One-click sign-in as somebody of the demo."""
    role, _, key = who.partition(" ")
    there = (one for one, _ in _demo_people() if (one.role, one.id) == (role, int(key)))
    person = next(there, None)
    if person is None:
        raise NotThere("The demo has no such person.")
    response = RedirectResponse("/", status_code=303)
    begin_session(request, response, person)
    return response


def _sign_in_page(request: Request, name: str = "", error: str = "") -> Response:
    demo = _demo_people() if request.app.state.settings.demo else []
    context = {"demo": demo, "name": name, "error": error, "first": not demo and is_first_start()}
    status = 422 if error else 200
    return templates.TemplateResponse(request, "sign_in.html", context, status_code=status)


def _demo_people() -> list[tuple[people.Person, str]]:
    """Who can be tried in the demo, with what they are: two teachers, students of three groups."""
    teachers, students = of_the_demo()
    found = [(people.teacher(row), f"teacher of {name}") for row, name in teachers]
    return found + [(people.student(row), f"student of group {name}") for row, name in students]
