"""Running the server: database, migrations, processes that answer, and a worker beside them."""

import contextlib
import fcntl
import gc
import signal
import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import uvicorn
from fastapi import FastAPI

from footing.core.errors import Refused
from footing.demo.seed import seed_demo
from footing.jobs.queue import open_queue, work
from footing.logs import write_log
from footing.settings import Settings
from footing.store.arrivals import not_surveyed
from footing.store.cluster import Cluster
from footing.store.database import bind, connected, unbind
from footing.store.migrations import apply_migrations
from footing.store.shelf import clear_shelf
from footing.watching import watched, web_processes, worker_beside
from footing.web.app import create_app
from footing.web.protocol import ImpatientProtocol

_LOOPBACK = "127.0.0.1"
_EVERYWHERE = "0.0.0.0"
_SOMEWHERE = ("192.0.2.1", 9)  # an address for documentation (RFC 5737); nothing is sent there
_GRACE = 3  # seconds for open connections when the server stops


def run_demo(settings: Settings, *, port: int) -> None:
    """Serve the demo on loopback until interrupted.

    Raises
    ------
    Refused : if the port is taken, or another Footing uses the same data.
    """
    with (
        _stopped_by_signal(),
        _listening(port) as listener,
        _alone(settings.data),
        open_database(settings) as url,
    ):
        with connected():
            seed_demo(settings)
        said = "Sign in there with one click, as the teacher or as a student. Ctrl+C stops it."
        _serve(settings, listener, url, f"http://{_LOOPBACK}:{port}/", said)


def run_server(settings: Settings, *, port: int, lan: bool) -> None:
    """Serve until interrupted: on loopback, or with ``lan`` to the classroom's network too.

    Raises
    ------
    Refused : as for `run_demo`.
    """
    host = _EVERYWHERE if lan else _LOOPBACK
    address = f"http://{_own_address() if lan else _LOOPBACK}:{port}/"
    if lan and settings.public_address is None:
        settings = settings.model_copy(update={"public_address": address})
    with (
        _stopped_by_signal(),
        _listening(port, host=host) as listener,
        _alone(settings.data),
        open_database(settings) as url,
    ):
        said = "Make an account for a teacher with ./footing teacher NAME. Ctrl+C stops it."
        _serve(settings, listener, url, settings.public_address or address, said)


def run_worker(settings: Settings) -> None:
    """Do background work until interrupted.

    Raises
    ------
    Refused : if no Footing runs with this data.
    """
    write_log(settings.data / "log", "worker")
    with joined_database(settings) as url:
        work(url, settings)


def _serve(settings: Settings, listener: socket.socket, url: str, address: str, said: str) -> None:
    write_log(settings.data / "log", "server")
    clear_shelf(settings.shelf_folder)
    with worker_beside(settings, url), web_processes(settings, url, listener):
        _ask_for_surveys(url)
        print(f"Footing is ready at {address}", flush=True)
        print(said, flush=True)
        threading.Event().wait()


def run_web(settings: Settings, *, listener: int, number: int) -> None:
    """Answer requests at a listening socket that was handed over, until interrupted.

    number : which of several such processes it is
    """
    write_log(settings.data / "log", f"web-{number}")
    with _stopped_by_signal(), joined_database(settings), socket.socket(fileno=listener) as handed:
        server = _Announcing(_config(create_app(settings)))
        gc.freeze()  # a million objects of libraries, which no collection need look at again
        server.run(sockets=[handed])


class _Announcing(uvicorn.Server):
    """A server that says a line when it is ready."""

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        print("ready", flush=True)


def _config(app: FastAPI) -> uvicorn.Config:
    return uvicorn.Config(
        app, http=ImpatientProtocol, log_level="warning", timeout_graceful_shutdown=_GRACE
    )


@contextmanager
def _stopped_by_signal() -> Iterator[None]:
    """Have SIGTERM and Ctrl+C unwind all that was opened, and not end the process at once.

    Also where whoever started this has Ctrl+C ignored, as shells have it in the background.
    """

    def stop(*_: object) -> None:
        raise SystemExit(0)

    before = {number: signal.signal(number, stop) for number in (signal.SIGTERM, signal.SIGINT)}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)


def _ask_for_surveys(url: str) -> None:
    """Have every file looked through that nobody has looked through yet."""
    with open_queue(url) as queue, connected():
        queue.ask("tidy_up", once="tidy up")
        for content in not_surveyed():
            queue.ask("look_through", once=content, content=content)


@contextmanager
def running(app: FastAPI, *, port: int = 0) -> Iterator[str]:
    """Serve an application on a port of loopback (0: a free one), in a thread; give its address."""
    with _listening(port) as listener:
        server = uvicorn.Server(_config(app))
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listener]})
        thread.start()
        try:
            yield f"http://{_LOOPBACK}:{listener.getsockname()[1]}"
        finally:
            server.should_exit = True
            thread.join()


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
            stack.enter_context(_alone(settings.data))
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
def _listening(port: int, *, host: str = _LOOPBACK) -> Iterator[socket.socket]:
    """A listening socket, taken before anything else is started."""
    # naming TCP makes asyncio switch off Nagle's delay, which costs 40 ms an answer
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP) as listener:
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((host, port))
            listener.listen()
        except OSError as error:
            raise Refused(
                f"Port {port} is taken ({error.strerror}); stop what uses it or choose another "
                "with --port."
            ) from error
        yield listener


def _own_address() -> str:
    """This machine's address in the classroom's network: the one that leads out of it."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(_SOMEWHERE)
            return str(probe.getsockname()[0])
        except OSError as error:
            raise Refused(
                "This machine has no address in a network; join the classroom's network first."
            ) from error
