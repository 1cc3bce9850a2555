"""The application."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from fastapi import FastAPI
from fastapi.responses import FileResponse, Response

from footing import __version__
from footing.core.errors import NotThere
from footing.media.cache import FrameCache
from footing.media.service import FrameService
from footing.settings import Settings
from footing.web import errors, security
from footing.web.api import edits, footage
from footing.web.pages import home, workbench
from footing.web.templating import STATIC, static_version


def create_app(settings: Settings) -> FastAPI:
    """Make the application; the database must be bound already."""

    @asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        cache = FrameCache(settings.cache_folder, limit=settings.cache_megabytes * 2**20)
        app.state.frames = FrameService(cache, seconds=settings.decode_seconds)
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
    app.middleware("http")(security.guard)
    errors.install(app)
    app.include_router(edits.router, prefix="/api")
    app.include_router(footage.router, prefix="/api")
    app.include_router(home.router)
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
