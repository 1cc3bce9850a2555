"""The database of a Footing: opened, or joined where one runs already."""

import contextlib
import fcntl
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from footing.core.errors import Refused
from footing.settings import Settings
from footing.store.cluster import Cluster
from footing.store.database import bind, unbind
from footing.store.migrations import apply_migrations
from footing.watching import watched


@contextmanager
def open_database(settings: Settings) -> Iterator[str]:
    """Bind the configured database, or a private one that runs as long as this block."""
    if settings.database_url:
        with _bound(settings.database_url):
            yield settings.database_url
        return
    cluster = Cluster(settings.data / "postgres")
    with cluster as url, _bound(url), watched(cluster, url):
        yield url


@contextmanager
def joined_database(settings: Settings) -> Iterator[str]:
    """Bind the configured database, or the private one of a Footing that runs already.

    Raises
    ------
    Refused : if none runs.
    """
    url = settings.database_url or Cluster(settings.data / "postgres").running_url
    if url is None:
        raise Refused(f"No Footing runs with the data in {settings.data}; start ./footing serve.")
    with _bound(url, sharers=max(settings.web_processes, 1)):
        yield url


@contextmanager
def any_database(settings: Settings) -> Iterator[str]:
    """Join the database of a Footing that runs, or start it for as long as this block."""
    with contextlib.ExitStack() as stack:
        if settings.database_url or Cluster(settings.data / "postgres").running_url:
            yield stack.enter_context(joined_database(settings))
        else:
            stack.enter_context(alone(settings.data))
            yield stack.enter_context(open_database(settings))


@contextmanager
def _bound(url: str, *, sharers: int = 1) -> Iterator[None]:
    bind(url, sharers=sharers)
    try:
        apply_migrations()
        yield
    finally:
        unbind()


@contextmanager
def alone(data: Path) -> Iterator[None]:
    """Keep a second Footing away from the same data: it would stop this one's database."""
    data.mkdir(parents=True, exist_ok=True)
    with (data / "lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as error:
            raise Refused(
                f"Another Footing uses the data in {data}; stop it, or set FOOTING_DATA to another "
                "folder."
            ) from error
        yield
