"""A process that answers requests, at a socket that it was handed or at one of its own."""

import gc
import importlib
import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager

import uvicorn
from fastapi import FastAPI

from footing.core.units import registry
from footing.databases import joined_database
from footing.logs import write_log
from footing.settings import Settings
from footing.sockets import LOOPBACK, listening, stopped_by_signal
from footing.web import cards
from footing.web.app import create_app
from footing.web.protocol import ImpatientProtocol

_GRACE = 3  # seconds for open connections when the server stops
_KEEPS_OPEN = 75  # seconds; a new connection for each mark would cost a turn of messages more


def run_web(settings: Settings, *, listener: int, number: int) -> None:
    """Answer requests at a listening socket that was handed over, until interrupted.

    number : which of several such processes it is
    """
    write_log(settings.data / "log", f"web-{number}")
    with stopped_by_signal(), joined_database(settings), socket.socket(fileno=listener) as handed:
        server = _Announcing(_config(create_app(settings)))
        gc.freeze()  # a million objects of libraries, which no collection need look at again
        server.run(sockets=[handed])


@contextmanager
def running(app: FastAPI, *, port: int = 0) -> Iterator[str]:
    """Serve an application on a port of loopback (0: a free one), in a thread; give its address."""
    with listening(port) as listener:
        server = uvicorn.Server(_config(app))
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listener]})
        thread.start()
        try:
            yield f"http://{LOOPBACK}:{listener.getsockname()[1]}"
        finally:
            server.should_exit = True
            thread.join()


class _Announcing(uvicorn.Server):
    """A server that says a line when it is ready, and then loads what is wanted soon."""

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        print("ready", flush=True)
        threading.Thread(target=_load_ahead, daemon=True).start()


def _load_ahead() -> None:
    """What loads when it is first wanted: units, cards, optimisation.

    Seconds of work in all, for which the first people of a lesson would wait one after the other.
    """
    registry()
    cards.load_ahead()
    for name in ("scipy.optimize", "scipy.integrate"):
        importlib.import_module(name)


def _config(app: FastAPI) -> uvicorn.Config:
    return uvicorn.Config(
        app,
        http=ImpatientProtocol,
        log_level="warning",
        timeout_graceful_shutdown=_GRACE,
        timeout_keep_alive=_KEEPS_OPEN,
    )
