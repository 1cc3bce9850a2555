"""Making labs: what they say, give and ask for; taking them along as files."""

from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import RedirectResponse, Response

from footing.core.errors import NotThere
from footing.core.texts import cleaned
from footing.store import classes, labs, teachers
from footing.store.database import connected, transaction
from footing.store.notices import notify_class
from footing.store.rows import Lab
from footing.studies.lesson import lab_files, lab_library
from footing.studies.school import labs as making
from footing.studies.school.labs import AskedFinding, LabWords
from footing.studies.views.lab_view import CHECKS
from footing.web.arriving import arrived
from footing.web.downloads import file_of
from footing.web.instructions import rendered
from footing.web.routing import DatabaseRoute
from footing.web.security import SeenStudy, SomeTeacher, TaughtClass, TaughtLab
from footing.web.templating import templates

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)

_Text = Annotated[str, Form()]


@router.post("/classes/{class_id}/labs")
def new_lab(school_class: TaughtClass, title: _Text) -> Response:
    """Make a lab."""
    return _editor(making.new_lab(school_class.id, cleaned(title)))


@router.get("/classes/{class_id}/library")
def show_library(request: Request, teacher: SomeTeacher, school_class: TaughtClass) -> Response:
    """Ready labs, each with its clip."""
    ready = [(one, rendered(one.task)) for one in lab_library.ready_labs()]
    context = {"visitor": teacher, "school_class": school_class, "ready": ready}
    return templates.TemplateResponse(request, "library.html", context)


@router.post("/classes/{class_id}/library/{key}")
def take_ready(
    request: Request, teacher: SomeTeacher, school_class: TaughtClass, key: str
) -> Response:
    """Take a ready lab into the class."""
    with transaction():
        lab = lab_library.take_ready(key, school_class.id, teacher, request.app.state.settings)
    return _editor(lab)


@router.post("/classes/{class_id}/labs/file")
async def take_in(request: Request, teacher: SomeTeacher, school_class: TaughtClass) -> Response:
    """Take in a lab that somebody shared: the file is the body of the request."""

    def taken(path: Path) -> Response:
        with connected(), transaction():
            settings = request.app.state.settings
            lab = lab_files.taken_in(path, school_class.id, teacher, settings)
            return _editor(lab)

    async with arrived(request) as path:
        return await run_in_threadpool(taken, path)


@router.get("/labs/{lab_id}")
def show_editor(request: Request, teacher: SomeTeacher, lab: TaughtLab) -> Response:
    """What a lab says, gives and asks for, to be changed."""
    start = labs.start_of(lab)
    context = {
        "visitor": teacher,
        "task": labs.task_of(lab),
        "lab": lab,
        "shown": rendered(lab.instructions),
        "due": lab.due.astimezone().strftime("%Y-%m-%dT%H:%M") if lab.due else "",
        "start": start,
        "classes": classes.classes_of(teacher),
        "school_class": teachers.taught_class(teacher.id, lab.school_class_id),
        "checks": CHECKS,
    }
    return templates.TemplateResponse(request, "lab.html", context)


@router.post("/labs/{lab_id}")
def change(
    lab: TaughtLab,
    title: _Text,
    task: _Text = "",
    instructions: _Text = "",
    due: _Text = "",
    follows: Annotated[bool, Form()] = False,
    tells_meanings: Annotated[bool, Form()] = False,
    tells_verdicts: Annotated[bool, Form()] = False,
    sketch_first: Annotated[bool, Form()] = False,
) -> Response:
    """Change what a lab says."""
    words = LabWords(
        title=title,
        task=task,
        instructions=instructions,
        due=due,
        follows=follows,
        tells_meanings=tells_meanings,
        tells_verdicts=tells_verdicts,
        sketch_first=sketch_first,
    )
    making.change_lab(lab, words)
    return _editor(lab)


@router.post("/labs/{lab_id}/start")
def make_ready(lab: TaughtLab) -> Response:
    """Go to the study that groups start from."""
    with transaction():
        study_id = making.make_ready(lab)
    return RedirectResponse(f"/studies/{study_id}", status_code=303)


@router.post("/labs/{lab_id}/start/remove")
def start_empty(lab: TaughtLab) -> Response:
    """Have groups begin with nothing."""
    with transaction():
        making.start_empty(lab)
    return _editor(lab)


@router.post("/studies/{study_id}/as-start")
def start_from(study: SeenStudy, teacher: SomeTeacher) -> Response:
    """Have the groups of a study's lab start from a copy of it."""
    if study.lab is None:
        raise NotThere("This study belongs to no lab.")
    with transaction():
        making.start_from(study.lab, study.row, teacher)
    return _editor(study.lab)


@router.post("/labs/{lab_id}/findings")
def ask_for(
    lab: TaughtLab,
    name: _Text,
    quantity: _Text = "",
    unit: _Text = "",
    accepted: _Text = "",
    tolerance: _Text = "",
    shown: Annotated[bool, Form()] = False,
) -> Response:
    """Ask for a finding."""
    asked = AskedFinding(
        name=name,
        quantity=quantity,
        unit=unit,
        accepted=accepted,
        tolerance=tolerance,
        shown=shown,
    )
    making.ask_for(lab, asked)
    return _editor(lab)


@router.post("/labs/{lab_id}/questions")
def ask_in_words(lab: TaughtLab, words: _Text) -> Response:
    """Ask a question."""
    making.ask_in_words(lab, cleaned(words))
    return _editor(lab)


@router.post("/labs/{lab_id}/less")
def ask_no_more(
    lab: TaughtLab,
    finding: Annotated[int | None, Form()] = None,
    question: Annotated[int | None, Form()] = None,
) -> Response:
    """Ask no more for something."""
    making.ask_no_more(lab, finding=finding, question=question)
    return _editor(lab)


@router.post("/labs/{lab_id}/duplicate")
def duplicate(teacher: SomeTeacher, lab: TaughtLab, class_id: Annotated[int, Form()]) -> Response:
    """Make a copy of a lab, in this class or another."""
    if teachers.taught_class(teacher.id, class_id) is None:
        raise NotThere("There is no such class here.")
    with transaction():
        made = making.duplicate_lab(lab, teacher, class_id=class_id)
    return _editor(made)


@router.post("/labs/{lab_id}/remove")
def remove(lab: TaughtLab) -> Response:
    """Take a lab out of sight."""
    making.remove_lab(lab)
    _editor(lab)
    return RedirectResponse("/", status_code=303)


@router.get("/labs/{lab_id}/lab.zip")
def take_out(request: Request, lab: TaughtLab) -> Response:
    """A lab as one file, to be shared."""
    content = lab_files.taken_out(lab, request.app.state.settings)
    return file_of(f"{lab.title}.footing-lab.zip", content, "application/zip")


def _editor(lab: Lab) -> Response:
    """Back to the editor of a lab that was changed; open pages of it are told."""
    notify_class(lab.school_class_id, labs=True)
    return RedirectResponse(f"/labs/{lab.id}", status_code=303)
