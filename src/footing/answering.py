"""A process that answers requests, at a socket that it was handed or at one of its own."""

import gc
import socket
import threading
from collections.abc import Callable, Iterator
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
from footing.web.static_files import static_files

_GRACE = 3  # seconds for open connections when the server stops
_KEEPS_OPEN = 75  # seconds; a new connection for each mark would cost a turn of messages more


def run_web(
    settings: Settings, listener: socket.socket, number: int, ready: Callable[[], None]
) -> None:
    """Answer requests at a listening socket until interrupted.

    number : which of several such processes it is; ready : called when it begins to answer
    """
    write_log(settings.data / "log", f"web-{number}")
    with stopped_by_signal(), joined_database(settings), listener:
        server = _Announcing(_config(create_app(settings)), ready)
        gc.freeze()  # a million objects of libraries, which no collection need look at again
        server.run(sockets=[listener])


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


def load_ahead() -> None:
    """What is made when it is first wanted: units, cards, scripts and styles.

    Seconds of work in all, for which the first people of a lesson would wait one after the other.
    """
    registry()
    cards.load_ahead()
    static_files()


class _Announcing(uvicorn.Server):
    """A server that says when it is ready."""

    def __init__(self, config: uvicorn.Config, ready: Callable[[], None]) -> None:
        super().__init__(config)
        self._ready = ready

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        self._ready()


def _config(app: FastAPI) -> uvicorn.Config:
    return uvicorn.Config(
        app,
        http=ImpatientProtocol,
        log_level="warning",
        timeout_graceful_shutdown=_GRACE,
        timeout_keep_alive=_KEEPS_OPEN,
    )
