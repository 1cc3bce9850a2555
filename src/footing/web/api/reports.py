"""The report of a study: as data, its pictures, and as files."""

from typing import Literal
from urllib.parse import quote

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import Response

from footing.formats import document_odt
from footing.store.access import ClassStudy
from footing.store.database import connected
from footing.studies.report.report import Report, report_of
from footing.studies.report.tables import tables_as_ods
from footing.studies.school.people import Person
from footing.web.answers import StateResponse
from footing.web.report_files import PictureForm, as_html, as_odt, html_as_pdf, picture, wanted
from footing.web.report_view import report_view
from footing.web.routing import DatabaseRoute
from footing.web.security import SeenStudy, Visitor
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
        content, media_type=MEDIA_TYPES[form], headers=saved(report.title, form, inline)
    )


async def _file(request: Request, study: ClassStudy, report: Report, form: Form) -> bytes:
    if form == "ods":
        workshop: Workshop = request.app.state.workshop
        return await workshop.make(tables_as_ods, study.id)
    if form == "odt":
        return await as_odt(request, study.id, report.document, report.figures)
    html = await as_html(request, study.id, report.document, report.figures)
    return html.encode() if form == "html" else await html_as_pdf(request, html)


def _report(study: ClassStudy, visitor: Person) -> Report:
    with connected():
        return report_of(study, visitor)


def saved(title: str, form: str, inline: bool = False) -> dict[str, str]:
    """Headers of a file to be saved under a title, or to be looked at."""
    how = "inline" if inline else "attachment"
    return {"Content-Disposition": f"{how}; filename*=UTF-8''{quote(f'{title}.{form}', safe='')}"}
