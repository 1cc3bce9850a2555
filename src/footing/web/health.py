"""Whether all is well: for whoever runs Footing, and for what watches it."""

import shutil

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse

from footing.jobs.queue import worker_seen
from footing.settings import Settings
from footing.store.database import DATABASE_AWAY, connected, database

router = APIRouter(tags=["health"])

_SILENT = 60.0  # seconds without a sign of life of a worker


@router.get("/health")
async def health(request: Request) -> JSONResponse:
    """Database, worker and disk, each with what is wrong; 503 if anything is."""
    found = await run_in_threadpool(_found, request.app.state.settings)
    wrong = {name: said for name, said in found.items() if said != "ok"}
    return JSONResponse(found, status_code=503 if wrong else 200)


def _found(settings: Settings) -> dict[str, str]:
    found = {"database": "ok", "worker": "ok", "disk": "ok"}
    try:
        with connected():
            database.execute_sql("SELECT 1")
            silent = worker_seen()
    except DATABASE_AWAY as error:
        found["database"] = f"does not answer: {type(error).__name__}"
        found["worker"] = "unknown, because the database does not answer"
    else:
        if silent is None:
            found["worker"] = "none has started"
        elif silent > _SILENT:
            found["worker"] = f"no sign of life for {silent:.0f} s"
    settings.data.mkdir(parents=True, exist_ok=True)
    free = shutil.disk_usage(settings.data).free // 2**20
    if free < settings.disk_reserve_megabytes:
        found["disk"] = (
            f"{free} MB are free; {settings.disk_reserve_megabytes} MB are kept in reserve"
        )
    return found
