"""The queue: asking for work, and the worker that does it.

The queue's tables are in a schema of their own, made by the queue's library.
"""

import asyncio
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import Any

import procrastinate
import psycopg
from procrastinate.exceptions import AlreadyEnqueued
from procrastinate.schema import SchemaManager

from footing.jobs.tasks import TASKS, tidy_up
from footing.settings import Settings
from footing.store.database import connected, database
from footing.store.follows import unfinished

_SCHEMA = "jobs"
_IN_SCHEMA = {"options": f"-c search_path={_SCHEMA}"}
_EVERY_NIGHT = "17 3 * * *"  # and at every start, for a laptop that sleeps then
_AT_ONCE = 2  # pieces of work, so that a long film does not keep a short one waiting
_URGENT = 10  # priority of what somebody watches
_GRACE = 5.0  # seconds for the work under way when a worker is stopped


class JobQueue:
    """Asks for work."""

    def __init__(self, app: procrastinate.App) -> None:
        self._app = app

    def ask(self, task: str, *, once: str | None = None, **arguments: Any) -> None:
        """Ask for a task of `footing.jobs.tasks`.

        What is waiting already under the same ``once`` is not asked for again.
        """
        try:
            self._app.configure_task(task, **_how(task, once)).defer(**arguments)
        except AlreadyEnqueued:
            return


@contextmanager
def open_queue(url: str) -> Iterator[JobQueue]:
    """The queue in the database at ``url``; its tables are made if they are missing."""
    _prepare(url)
    connector = procrastinate.SyncPsycopgConnector(conninfo=url, kwargs=_IN_SCHEMA)
    app = _with_tasks(connector)
    with app.open():
        yield JobQueue(app)


def worker_seen() -> float | None:
    """Seconds since a worker gave a sign of life; None if none ever did."""
    workers = f"{_SCHEMA}.procrastinate_workers"
    seen = database.execute_sql(
        f"SELECT extract(epoch FROM now() - max(last_heartbeat)) FROM {workers}"
    ).fetchone()
    return None if seen is None or seen[0] is None else float(seen[0])


def is_at_rest() -> bool:
    """Whether nothing waits to be done, nor is being done."""
    jobs = f"{_SCHEMA}.procrastinate_jobs"
    under_way = f"SELECT FROM {jobs} WHERE status IN ('todo', 'doing')"
    return not database.execute_sql(under_way).fetchall()


def work(url: str, settings: Settings, *, wait: bool = True) -> None:
    """Do what is in the queue; with ``wait``, go on until interrupted."""
    _prepare(url)
    connector = procrastinate.PsycopgConnector(conninfo=url, kwargs=_IN_SCHEMA)
    app = _with_tasks(connector)

    async def run() -> None:
        async with app.open_async():
            for follow in await asyncio.to_thread(_broken_off):
                with suppress(AlreadyEnqueued):
                    how = _how("follow_bodies", f"follow {follow}")
                    await app.configure_task("follow_bodies", **how).defer_async(follow=follow)
            await app.run_worker_async(
                wait=wait,
                concurrency=_AT_ONCE,
                delete_jobs="successful",
                install_signal_handlers=wait,
                shutdown_graceful_timeout=_GRACE,
                additional_context={"settings": settings},
            )

    asyncio.run(run())


def _how(task: str, once: str | None) -> dict[str, Any]:
    return {"queueing_lock": once, "priority": _URGENT if task == "follow_bodies" else 0}


def _broken_off() -> list[int]:
    """Follows that were under way when a worker ended; one that is being done is left alone."""
    with connected():
        return unfinished()


def _with_tasks(connector: procrastinate.BaseConnector) -> procrastinate.App:
    app = procrastinate.App(connector=connector)
    for function in TASKS:
        task = app.task(name=function.__name__, pass_context=True)(function)
        if function is tidy_up:
            app.periodic(cron=_EVERY_NIGHT)(task)
    return app


def _prepare(url: str) -> None:
    with psycopg.connect(url) as connection:
        connection.execute("SELECT pg_advisory_xact_lock(hashtext('footing jobs'))")
        there = connection.execute(f"SELECT to_regclass('{_SCHEMA}.procrastinate_jobs')").fetchone()
        if there is None or there[0] is None:
            connection.execute(f"CREATE SCHEMA IF NOT EXISTS {_SCHEMA}")
            connection.execute(f"SET LOCAL search_path = {_SCHEMA}")
            connection.execute(SchemaManager.get_schema().encode())
