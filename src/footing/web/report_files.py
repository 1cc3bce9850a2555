"""A report as files: its pictures, and the whole as PDF, as text for a word processor, as one page.

Pictures are drawn and pages laid out in the workshop; frames come from where all frames come from.
"""

import base64
import re
from collections.abc import Mapping, Sequence
from functools import cache
from typing import Literal

import cv2
import numpy as np
from fastapi import Request
from fastapi.concurrency import run_in_threadpool

from footing.core.errors import NotThere
from footing.formats import document_odt
from footing.formats.document import PictureData
from footing.formats.document_html import one_page, parts_in_one
from footing.formats.document_pdf import as_pdf
from footing.media.service import FrameService
from footing.settings import Settings
from footing.store import shelf
from footing.store.database import connected
from footing.store.reading import read_study
from footing.store.rows import Body, Footage, FrozenBlock
from footing.studies.films import uploads
from footing.studies.queries import strobe
from footing.studies.report.figures import Figure, FrameFigure, GraphFigure, StrobeFigure
from footing.studies.report.frames import as_svg
from footing.studies.report.report import Report
from footing.studies.views import graph_file
from footing.web.static_files import STATIC
from footing.web.workshop import Workshop

PictureForm = Literal["svg", "png"]
_FONTS = STATIC / "fonts"
_STYLES = STATIC / "css" / "paper.css"
_SCALE = 2.0  # pixels of a picture for each of its width, where it is not a drawing
_WIDEST = 1280  # pixels of a frame in a report


async def picture(request: Request, study_id: int, figure: Figure, form: PictureForm) -> bytes:
    """The picture of a figure; what is no drawing is a picture within an SVG."""
    name = f"figure {figure.version} {form}"
    found: bytes | None = await run_in_threadpool(shelf.found, name)
    if found is None:
        found = await _made(request, study_id, figure, form)
        await run_in_threadpool(shelf.put, name, found)
    return found


async def _made(request: Request, study_id: int, figure: Figure, form: PictureForm) -> bytes:
    workshop: Workshop = request.app.state.workshop
    if isinstance(figure, GraphFigure):
        return await workshop.make(graph_file.draw, figure.spec, form, _SCALE)
    state = request.app.state
    jpeg = await run_in_threadpool(_photographed, study_id, figure, state.settings, state.frames)
    if isinstance(figure, FrameFigure):
        drawn = as_svg(figure, _uri(jpeg))
        if form == "svg":
            return drawn.encode()
        scale = min(1.0, _WIDEST / figure.width)
        return await workshop.make(graph_file.svg_to_png, drawn, scale)
    if form == "png":
        return await run_in_threadpool(_as_png, jpeg)
    return _wrapped(jpeg)


def _photographed(
    study_id: int,
    figure: FrameFigure | StrobeFigure,
    settings: Settings,
    frames: FrameService,
) -> bytes:
    """A frame, or a strobe picture, as JPEG."""
    with connected():
        rows = read_study(study_id)
        if isinstance(figure, FrameFigure):
            footage = rows.find(Footage, figure.footage)
        else:
            body = rows.find(Body, figure.body)
            footage = rows.footage_of(body)
        stored = uploads.stored_media(footage, settings)

    def frame(number: int) -> bytes:
        return frames.jpeg(stored, number, "screen")

    if isinstance(figure, FrameFigure):
        return frame(figure.frame)
    return strobe.strobe(rows, body, every=figure.every, picture=frame)


def _as_png(jpeg: bytes) -> bytes:
    decoded = cv2.imdecode(np.frombuffer(jpeg, dtype=np.uint8), cv2.IMREAD_COLOR)
    assert decoded is not None
    return cv2.imencode(".png", decoded)[1].tobytes()


def _wrapped(jpeg: bytes) -> bytes:
    decoded = cv2.imdecode(np.frombuffer(jpeg, dtype=np.uint8), cv2.IMREAD_COLOR)
    assert decoded is not None
    height, width = decoded.shape[:2]
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
        f'viewBox="0 0 {width} {height}" width="{width}" height="{height}">'
        f'<image xlink:href="{_uri(jpeg)}" width="{width}" height="{height}"/></svg>'
    ).encode()


def _uri(jpeg: bytes) -> str:
    return f"data:image/jpeg;base64,{base64.b64encode(jpeg).decode()}"


async def frozen(request: Request, report: Report) -> list[FrozenBlock]:
    """The blocks of a report as they are now, with their pictures in them."""
    drawn = {
        name: await picture(request, report.study_id, figure, "svg")
        for name, figure in report.figures.items()
    }
    return await run_in_threadpool(_with_pictures, report, drawn)


def frozen_here(report: Report, settings: Settings, frames: FrameService) -> list[FrozenBlock]:
    """The same in this process, for where there is no server."""
    drawn = {}
    for name, figure in report.figures.items():
        if isinstance(figure, GraphFigure):
            drawn[name] = graph_file.draw(figure.spec, "svg", _SCALE)
            continue
        jpeg = _photographed(report.study_id, figure, settings, frames)
        if isinstance(figure, FrameFigure):
            drawn[name] = as_svg(figure, _uri(jpeg)).encode()
        else:
            drawn[name] = _wrapped(jpeg)
    return _with_pictures(report, drawn)


def _with_pictures(report: Report, drawn: Mapping[str, bytes]) -> list[FrozenBlock]:
    made = {name: PictureData(b"", "image/svg+xml", svg.decode()) for name, svg in drawn.items()}
    return [
        {
            "block": block.row.id,
            "kind": block.row.kind,
            "number": block.number,
            "html": parts_in_one(block.shows.parts, made),
        }
        for block in report.blocks
    ]


def page_of(title: str, names: Sequence[str], blocks: Sequence[FrozenBlock]) -> str:
    """A report as one HTML file."""
    return one_page(title, names, [block["html"] for block in blocks], styles())


async def as_odt(request: Request, report: Report) -> bytes:
    """A report for a word processor."""
    made = {}
    for name, figure in report.figures.items():
        drawn = await picture(request, report.study_id, figure, "png")
        made[name] = PictureData(drawn, "image/png")
    workshop: Workshop = request.app.state.workshop
    return await workshop.make(document_odt.as_odt, report.document, made)


async def html_as_pdf(request: Request, html: str) -> bytes:
    """Pages of a report that is one HTML file."""
    workshop: Workshop = request.app.state.workshop
    return await workshop.make(as_pdf, html)


def wanted(figure: Figure | None) -> Figure:
    """A figure that somebody asks for.

    Raises
    ------
    NotThere : if there is none.
    """
    if figure is None:
        raise NotThere("The report has no such picture.")
    return figure


@cache
def styles() -> str:
    """How a report looks, on a page of paper as on the screen; with its fonts."""

    def held(found: re.Match[str]) -> str:
        font = (_FONTS / found[1]).read_bytes()
        return f'url("data:font/woff2;base64,{base64.b64encode(font).decode()}")'

    return re.sub(r'url\("\.\./fonts/([\w-]+\.woff2)"\)', held, _STYLES.read_text())
