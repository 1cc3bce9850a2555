"""The report of a study: as data, its pictures, and as files."""

from pathlib import Path
from typing import Literal

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse, Response
from starlette.background import BackgroundTask

from footing.core.errors import Stale
from footing.formats import document_odt
from footing.store import hand_ins
from footing.store.access import ClassStudy
from footing.store.database import connected
from footing.store.rows import FrozenBlock, HandIn
from footing.studies.archives.study_archive import write_study
from footing.studies.report.report import Report, report_of
from footing.studies.report.tables import tables_as_ods
from footing.studies.review.handing_in import check_may_hand_in, hand_in
from footing.studies.school.people import Person
from footing.web.answers import StateResponse
from footing.web.downloads import saved_as
from footing.web.report_files import (
    PictureForm,
    as_odt,
    frozen,
    html_as_pdf,
    page_of,
    picture,
    wanted,
)
from footing.web.report_view import hand_in_view, report_view
from footing.web.routing import DatabaseRoute
from footing.web.security import OwnStudy, SeenStudy, Visitor
from footing.web.workshop import Workshop

router = APIRouter(route_class=DatabaseRoute, tags=["report"])

Form = Literal["pdf", "odt", "html", "ods"]
MEDIA_TYPES: dict[str, str] = {
    "pdf": "application/pdf",
    "odt": document_odt.MEDIA_TYPE,
    "html": "text/html; charset=utf-8",
    "ods": "application/vnd.oasis.opendocument.spreadsheet",
    "svg": "image/svg+xml",
    "png": "image/png",
}
_TRIES = 4
_KEPT = {"Cache-Control": "private, max-age=86400"}  # the address names what is shown


@router.get("/studies/{study_id}/report")
def read_report(study: SeenStudy, visitor: Visitor) -> StateResponse:
    """The report: its blocks with what they show, what sentences can name, what can be put in."""
    return StateResponse(dict(report_view(report_of(study, visitor))))


@router.get("/studies/{study_id}/report/blocks/{block}.{form}")
async def read_picture(
    request: Request, study: SeenStudy, visitor: Visitor, block: int, form: PictureForm
) -> Response:
    """The picture of a block, as SVG or PNG."""
    report = await run_in_threadpool(_report, study, visitor)
    made = await picture(request, study.id, wanted(report.figure(block)), form)
    return Response(made, media_type=MEDIA_TYPES[form], headers=_KEPT)


@router.get("/studies/{study_id}/report.{form}")
async def read_report_file(
    request: Request, study: SeenStudy, visitor: Visitor, form: Form, inline: bool = False
) -> Response:
    """The report as PDF, as ODT for a word processor, or as one HTML file; its data as ODS.

    inline : whether it is to be looked at instead of saved
    """
    report = await run_in_threadpool(_report, study, visitor)
    content = await _file(request, study, report, form)
    return Response(
        content,
        media_type=MEDIA_TYPES[form],
        headers=saved_as(f"{report.title}.{form}", inline=inline),
    )


@router.post("/studies/{study_id}/hand-ins")
async def hand_in_report(request: Request, study: OwnStudy, visitor: Visitor) -> StateResponse:
    """Hand in the report: the study is frozen as it is, with numbers and pictures.

    Where somebody changes the study while its pictures are drawn, they are drawn again.
    """
    await run_in_threadpool(_check, study)
    for is_last in (*(False,) * _TRIES, True):
        report = await run_in_threadpool(_report, study, visitor)
        blocks = await frozen(request, report)
        try:
            made = await run_in_threadpool(_handed_in, study, visitor, report, blocks)
        except Stale:
            if is_last:
                raise
            continue
        break
    return StateResponse(dict(hand_in_view(made)))


@router.get("/studies/{study_id}/hand-ins")
def read_hand_ins(study: OwnStudy) -> StateResponse:
    """What was handed in of a study, from the first on."""
    return StateResponse({"hand_ins": [hand_in_view(one) for one in hand_ins.of_study(study.id)]})


def _check(study: ClassStudy) -> None:
    with connected():
        check_may_hand_in(study)


def _handed_in(
    study: ClassStudy, visitor: Person, report: Report, blocks: list[FrozenBlock]
) -> HandIn:
    with connected():
        return hand_in(study, visitor, report, blocks)


async def _file(request: Request, study: ClassStudy, report: Report, form: Form) -> bytes:
    if form == "ods":
        workshop: Workshop = request.app.state.workshop
        return await workshop.make(tables_as_ods, study.id)
    if form == "odt":
        return await as_odt(request, report)
    html = page_of(report.title, report.names, await frozen(request, report))
    return html.encode() if form == "html" else await html_as_pdf(request, html)


def _report(study: ClassStudy, visitor: Person) -> Report:
    with connected():
        return report_of(study, visitor)


@router.get("/studies/{study_id}/study.zip")
async def take_out_study(request: Request, study: SeenStudy, visitor: Visitor) -> Response:
    """The study as one open archive: what was made, its numbers, tables and films."""
    workshop: Workshop = request.app.state.workshop
    settings = request.app.state.settings
    name, path = await workshop.make(write_study, study.id, visitor, settings)
    return archive_file(name, path)


def archive_file(name: str, path: Path) -> Response:
    """An archive that was written to a file, which goes when it has been sent."""
    return FileResponse(
        path,
        headers=saved_as(name),
        media_type="application/zip",
        background=BackgroundTask(path.unlink, missing_ok=True),
    )
