"""The application."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from fastapi import FastAPI
from fastapi.responses import FileResponse, Response

from footing import __version__
from footing.core.errors import NotThere
from footing.jobs.queue import open_queue
from footing.media.cache import FrameCache
from footing.media.service import FrameService
from footing.settings import Settings
from footing.store.database import bound_url
from footing.web import errors, security
from footing.web.api import bodies, edits, events, footage, phone, tables, uploads
from footing.web.guarding import Guard
from footing.web.live import Live, listening
from footing.web.pages import home, workbench
from footing.web.pages import phone as phone_page
from footing.web.templating import STATIC, static_version


def create_app(settings: Settings) -> FastAPI:
    """Make the application; the database must be bound already."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        cache = FrameCache(settings.cache_folder, limit=settings.cache_megabytes * 2**20)
        app.state.frames = FrameService(cache, seconds=settings.decode_seconds)
        app.state.live = Live(asyncio.get_running_loop())
        with open_queue(bound_url()) as app.state.jobs, listening(bound_url(), app.state.live):
            yield
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
    app.state.throttle = security.Throttle()
    app.add_middleware(Guard)
    errors.install(app)
    for part in (edits, footage, bodies, tables, uploads, phone, events):
        app.include_router(part.router, prefix="/api")
    app.include_router(home.router)
    app.include_router(phone_page.router)
    if settings.demo:
        app.include_router(home.demo_router)
    app.include_router(workbench.router)
    app.add_api_route("/static/{version}/{path:path}", _static, include_in_schema=False)
    return app


def _static(version: str, path: str) -> Response:
    """A static file; its address changes with its content."""
    file = (STATIC / path).resolve()
    if not file.is_relative_to(STATIC) or not file.is_file():
        raise NotThere("There is no such file.")
    fresh = version == static_version()
    keep = "public, max-age=31536000, immutable" if fresh else "no-cache"
    return FileResponse(file, headers={"Cache-Control": keep})
