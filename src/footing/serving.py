"""Running the server: database, migrations, application."""

import fcntl
import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import uvicorn
from fastapi import FastAPI

from footing.core.errors import Refused
from footing.demo.seed import seed_demo
from footing.settings import Settings
from footing.store.cluster import Cluster
from footing.store.database import bind, connected, unbind
from footing.store.migrations import apply_migrations
from footing.web.app import create_app

_LOOPBACK = "127.0.0.1"


def run_demo(settings: Settings, *, port: int) -> None:
    """Serve the demo on loopback until interrupted.

    Raises
    ------
    Refused : if the port is taken, or another Footing uses the same data.
    """
    with _listening(port) as listener, _alone(settings.data), open_database(settings):
        with connected():
            seed_demo(settings)
        address = f"http://{_LOOPBACK}:{port}/"
        print(f"Footing is ready at {address}", flush=True)
        print(
            "Sign in there with one click, as the teacher or as a student. Ctrl+C stops it.",
            flush=True,
        )
        server = uvicorn.Server(
            uvicorn.Config(create_app(settings), log_level="warning", timeout_graceful_shutdown=3)
        )
        server.run(sockets=[listener])


@contextmanager
def running(app: FastAPI) -> Iterator[str]:
    """Serve an application on a free port of loopback, in a thread; give its address."""
    with _listening(0) as listener:
        server = uvicorn.Server(uvicorn.Config(app, log_level="warning"))
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listener]})
        thread.start()
        try:
            yield f"http://{_LOOPBACK}:{listener.getsockname()[1]}"
        finally:
            server.should_exit = True
            thread.join()


@contextmanager
def open_database(settings: Settings) -> Iterator[None]:
    """Bind the configured database, or a private one that runs as long as this block."""
    if settings.database_url:
        with _bound(settings.database_url):
            yield
        return
    with Cluster(settings.data / "postgres") as url, _bound(url):
        yield


@contextmanager
def _bound(url: str) -> Iterator[None]:
    bind(url)
    try:
        apply_migrations()
        yield
    finally:
        unbind()


@contextmanager
def _alone(data: Path) -> Iterator[None]:
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


@contextmanager
def _listening(port: int) -> Iterator[socket.socket]:
    """A listening socket, taken before anything else is started."""
    # naming TCP makes asyncio switch off Nagle's delay, which costs 40 ms an answer
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP) as listener:
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((_LOOPBACK, port))
            listener.listen()
        except OSError as error:
            raise Refused(
                f"Port {port} is taken ({error.strerror}); stop what uses it or choose another "
                "with --port."
            ) from error
        yield listener
