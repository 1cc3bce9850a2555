"""The application."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from anyio import CapacityLimiter
from anyio.to_thread import current_default_thread_limiter
from fastapi import FastAPI, Request
from fastapi.middleware.gzip import GZipMiddleware
from fastapi.responses import Response
from starlette.middleware.gzip import DEFAULT_EXCLUDED_CONTENT_TYPES

from footing import __version__
from footing.core.errors import NotThere
from footing.formats import document_odt
from footing.jobs.queue import open_queue
from footing.media.cache import FrameCache
from footing.media.service import FrameService
from footing.settings import Settings
from footing.store.database import bind, bound_url, most_connections
from footing.store.shelf import open_shelf
from footing.studies.queries.tables_out import MEDIA_TYPES
from footing.web import errors, health
from footing.web.api import (
    bodies,
    edits,
    events,
    footage,
    links,
    phone,
    reports,
    tables,
    together,
    uploads,
)
from footing.web.guarding import Guard
from footing.web.live import Live, listening
from footing.web.pages import (
    archives,
    classes,
    home,
    join,
    labs,
    lesson,
    review,
    teachers,
    workbench,
)
from footing.web.pages import phone as phone_page
from footing.web.static_files import static_files, static_version
from footing.web.workshop import Workshop

_WAITING_FOR_FRAMES = 60  # threads that only wait
_WORTH_SHRINKING = 1_000  # bytes; less fits into one packet anyway
_SHRUNK_ALREADY = (
    "application/pdf",
    document_odt.MEDIA_TYPE,
    MEDIA_TYPES["ods"],
    MEDIA_TYPES["xlsx"],
)
_SPARE_CONNECTIONS = 2  # for what runs beside requests
_SHRINKING = 4  # of 9: less than half the work of the highest, for a tenth more bytes


def create_app(settings: Settings, *, workshop: Workshop | None = None) -> FastAPI:
    """Make the application; the database must be bound already.

    workshop : of whoever makes it, who closes it; otherwise it has one of its own
    """

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        settings: Settings = app.state.settings
        # whoever waits waits for a thread, where the first to come is the first to go: among those
        # who wait for a connection the unlucky ones wait until they are refused
        threads = current_default_thread_limiter()
        threads.total_tokens = min(threads.total_tokens, most_connections() - _SPARE_CONNECTIONS)
        await asyncio.to_thread(static_files)  # before anybody waits for one
        cache = FrameCache(settings.cache_folder, limit=settings.cache_megabytes * 2**20)
        app.state.frames = FrameService(cache, seconds=settings.decode_seconds)
        open_shelf(settings.shelf_folder)
        app.state.live = Live(asyncio.get_running_loop())
        app.state.decoding = CapacityLimiter(_WAITING_FOR_FRAMES)
        app.state.workshop = workshop or Workshop(bind, bound_url())
        with open_queue(bound_url()) as app.state.jobs, listening(bound_url(), app.state.live):
            yield
        if workshop is None:
            app.state.workshop.close()
        app.state.frames.close()

    app = FastAPI(
        title="Footing",
        version=__version__,
        description="From a phone video to a number the class can defend.",
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    app.state.settings = settings
    app.add_middleware(
        GZipMiddleware,
        minimum_size=_WORTH_SHRINKING,
        compresslevel=_SHRINKING,
        exclude_content_types=(*DEFAULT_EXCLUDED_CONTENT_TYPES, *_SHRUNK_ALREADY),
    )
    app.add_middleware(Guard)
    errors.install(app)
    for part in (edits, footage, bodies, tables, reports, links, uploads, phone, events, together):
        app.include_router(part.router, prefix="/api")
    app.include_router(health.router)
    app.include_router(home.router)
    app.include_router(home.plain_router)
    app.include_router(phone_page.router)
    for pages in (join, teachers, archives, classes, labs, lesson, review):
        app.include_router(pages.router)
    if settings.demo:
        app.include_router(home.demo_router)
    app.include_router(workbench.router)
    app.add_api_route("/static/{version}/{path:path}", _static, include_in_schema=False)
    return app


async def _static(request: Request, version: str, path: str) -> Response:
    """A static file; its address changes with its content.

    From memory, so that it is there whatever the threads and the database are busy with.
    """
    found = static_files().get(path)
    if found is None:
        raise NotThere("There is no such file.")
    fresh = version == static_version()
    keep = "public, max-age=31536000, immutable" if fresh else "no-cache"
    headers = {"Cache-Control": keep, "Vary": "Accept-Encoding"}
    if found.gzipped is None or "gzip" not in request.headers.get("accept-encoding", ""):
        return Response(found.content, media_type=found.media_type, headers=headers)
    headers["Content-Encoding"] = "gzip"
    return Response(found.gzipped, media_type=found.media_type, headers=headers)
