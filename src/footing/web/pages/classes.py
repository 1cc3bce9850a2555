"""A teacher's class: its register, how it is joined, its groups, and all that is kept of it."""

from typing import Annotated, Literal

import segno
from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from footing.core.texts import cleaned
from footing.store import teachers
from footing.store.database import transaction
from footing.store.notices import notify_class
from footing.store.rows import SchoolClass
from footing.studies.school import joining, kept_data, register
from footing.web.downloads import file_of
from footing.web.routing import DatabaseRoute
from footing.web.security import SomeTeacher, TaughtClass
from footing.web.templating import templates

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)

_Text = Annotated[str, Form()]
_Number = Annotated[int, Form()]
_Ticked = Annotated[bool, Form()]


@router.post("/classes")
def new_class(teacher: SomeTeacher, name: _Text) -> Response:
    """Make a class."""
    return _register(register.new_class(teacher, cleaned(name)))


@router.get("/classes/{class_id}")
def show_register(request: Request, teacher: SomeTeacher, school_class: TaughtClass) -> Response:
    """Who is in the class, in which group, and how others come in."""
    context = {
        "visitor": teacher,
        "school_class": school_class,
        "open": joining.is_open(school_class),
        "register": register.register(school_class.id),
        "teachers": teachers.teachers_of(school_class.id),
        "address": _address(request, school_class),
    }
    return templates.TemplateResponse(request, "register.html", context)


@router.get("/classes/{class_id}/code")
def show_code(request: Request, teacher: SomeTeacher, school_class: TaughtClass) -> Response:
    """The code in large letters, with a picture that phones read."""
    address = _address(request, school_class)
    picture = segno.make(address, error="m", micro=False)
    context = {
        "visitor": teacher,
        "school_class": school_class,
        "open": joining.is_open(school_class),
        "address": address,
        "base": address.split("/join", 1)[0].split("//", 1)[-1],
        "picture": picture.svg_data_uri(border=2, dark="#1E2723", light="#FFFFFF", scale=8),
        "here": register.register(school_class.id),
    }
    return templates.TemplateResponse(request, "class_code.html", context)


@router.post("/classes/{class_id}/name")
def rename(school_class: TaughtClass, name: _Text) -> Response:
    """Give the class another name."""
    register.rename_class(school_class, cleaned(name))
    return _register(school_class)


@router.post("/classes/{class_id}/joining")
def set_joining(
    school_class: TaughtClass,
    joining: Annotated[Literal["open", "lesson", "closed"], Form()],
    minutes: Annotated[int, Form(ge=5, le=600)] = 60,
) -> Response:
    """Open or close the class to newcomers."""
    lesson = minutes if joining == "lesson" else None
    register.set_joining(school_class, minutes=lesson, joining=joining != "closed")
    return _register(school_class)


@router.post("/classes/{class_id}/code")
def renew_code(school_class: TaughtClass) -> Response:
    """Give the class another code."""
    register.renew_code(school_class)
    return _register(school_class)


@router.post("/classes/{class_id}/own-groups")
def set_own_groups(school_class: TaughtClass, own: _Ticked = False) -> Response:
    """Say whether students choose their groups."""
    register.set_own_groups(school_class, own=own)
    return _register(school_class)


@router.post("/classes/{class_id}/hides-names")
def set_hides_names(school_class: TaughtClass, hides: _Ticked = False) -> Response:
    """Say whether the board leaves out who is who."""
    register.set_hides_names(school_class, hides=hides)
    return _register(school_class)


@router.post("/classes/{class_id}/names")
def add_names(school_class: TaughtClass, names: _Text) -> Response:
    """Put names on the list."""
    with transaction():
        register.add_names(school_class.id, cleaned(names))
    return _register(school_class)


@router.post("/classes/{class_id}/groups/random")
def make_groups(school_class: TaughtClass, size: _Number, all_names: _Ticked = False) -> Response:
    """Make groups anew, at random."""
    with transaction():
        register.make_groups(school_class.id, size=size, joined_only=not all_names)
    return _register(school_class)


@router.post("/classes/{class_id}/groups")
def new_group(school_class: TaughtClass) -> Response:
    """Make one more group."""
    with transaction():
        register.new_group(school_class.id)
    return _register(school_class)


@router.post("/classes/{class_id}/groups/{group_id}/name")
def rename_group(school_class: TaughtClass, group_id: int, name: _Text) -> Response:
    """Give a group another name."""
    register.rename_group(register.group_of(school_class.id, group_id), cleaned(name))
    return _register(school_class)


@router.post("/classes/{class_id}/students/{student_id}/name")
def rename_student(school_class: TaughtClass, student_id: int, name: _Text) -> Response:
    """Give a student another name."""
    register.rename(register.pupil(school_class.id, student_id), cleaned(name))
    return _register(school_class)


@router.post("/classes/{class_id}/students/{student_id}/group")
def move_student(school_class: TaughtClass, student_id: int, group_id: _Text = "") -> Response:
    """Put a student into a group, or with an empty ``group_id`` into none."""
    wanted = int(group_id) if group_id.isascii() and group_id.isdigit() else None
    register.put(register.pupil(school_class.id, student_id), wanted)
    return _register(school_class)


@router.post("/classes/{class_id}/students/{student_id}/secret")
def reset_secret(school_class: TaughtClass, student_id: int) -> Response:
    """Have a student choose a new PIN."""
    register.reset_secret(register.pupil(school_class.id, student_id))
    return _register(school_class)


@router.post("/classes/{class_id}/students/{student_id}/remove")
def remove_student(
    school_class: TaughtClass, student_id: int, with_work: _Ticked = False
) -> Response:
    """Remove a student, with what only they worked on or without."""
    with transaction():
        register.remove(register.pupil(school_class.id, student_id), with_work=with_work)
    return _register(school_class)


@router.post("/classes/{class_id}/teachers/{teacher_id}/remove")
def remove_teacher(school_class: TaughtClass, teacher_id: int) -> Response:
    """A teacher who was invited leaves the class."""
    teachers.remove_co_teacher(school_class.id, teacher_id)
    return RedirectResponse("/", status_code=303)


@router.get("/classes/{class_id}/kept")
def show_kept(request: Request, teacher: SomeTeacher, school_class: TaughtClass) -> Response:
    """All that is kept of the class and its students."""
    context = {
        "visitor": teacher,
        "school_class": school_class,
        "kept": kept_data.kept_of(school_class.id),
    }
    return templates.TemplateResponse(request, "kept.html", context)


@router.get("/classes/{class_id}/kept.zip")
def export(school_class: TaughtClass) -> Response:
    """All that is kept of the class, as one file."""
    content = kept_data.exported(school_class)
    return file_of(f"class-{school_class.id}.zip", content, "application/zip")


@router.post("/classes/{class_id}/wipe")
def wipe(school_class: TaughtClass, name: _Text) -> Response:
    """Remove the class with everything that is kept of it; its name is typed to be sure."""
    with transaction():
        kept_data.wipe(school_class, typed=cleaned(name))
    return RedirectResponse("/", status_code=303)


def _register(row: SchoolClass) -> Response:
    notify_class(row.id, people=True)
    return RedirectResponse(f"/classes/{row.id}", status_code=303)


def _address(request: Request, school_class: SchoolClass) -> str:
    base = request.app.state.settings.public_address or str(request.base_url)
    return f"{base.rstrip('/')}/join/{school_class.code}"
