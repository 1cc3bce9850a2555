"""Archives of studies and classes, out and in; what comes in is the body of the request."""

from pathlib import Path
from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import RedirectResponse, Response

from footing.core.errors import NotThere
from footing.store import teachers
from footing.store.database import connected, transaction
from footing.store.notices import notify_class
from footing.studies.archives import class_reading, class_writing, study_archive
from footing.web.api.reports import archive_file
from footing.web.arriving import arrived
from footing.web.routing import DatabaseRoute
from footing.web.security import SomeTeacher, TaughtClass
from footing.web.workshop import Workshop

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)


@router.get("/classes/{class_id}/class.zip")
async def take_out_class(request: Request, school_class: TaughtClass) -> Response:
    """The class as one archive: labs, groups, studies with their films, what was handed in."""
    workshop: Workshop = request.app.state.workshop
    settings = request.app.state.settings
    name, path = await workshop.make(class_writing.write_class, school_class.id, settings)
    return archive_file(name, path)


@router.post("/classes/file")
async def take_in_class(request: Request, teacher: SomeTeacher) -> Response:
    """Make a class of an archive."""

    def taken(path: Path) -> Response:
        with connected(), transaction():
            settings = request.app.state.settings
            school_class = class_reading.read_in(path, teacher, settings)
        return RedirectResponse(f"/classes/{school_class.id}", status_code=303)

    async with arrived(request) as path:
        return await run_in_threadpool(taken, path)


@router.post("/classes/{class_id}/studies/file")
async def take_in_study(
    request: Request,
    teacher: SomeTeacher,
    school_class: TaughtClass,
    lab_id: Annotated[int | None, Query()] = None,
) -> Response:
    """Make a study of an archive, in a lab of the class if wanted."""

    def taken(path: Path) -> Response:
        with connected(), transaction():
            lab = teachers.taught_lab(teacher.id, lab_id) if lab_id is not None else None
            if lab_id is not None and (lab is None or lab.school_class_id != school_class.id):
                raise NotThere("There is no such lab here.")
            settings = request.app.state.settings
            made = study_archive.read_in(path, school_class.id, teacher, settings, lab_id=lab_id)
            notify_class(school_class.id, studies=True)
        return RedirectResponse(f"/studies/{made}", status_code=303)

    async with arrived(request) as path:
        return await run_in_threadpool(taken, path)
