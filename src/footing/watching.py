"""What keeps a server whole: its database and its processes are watched, and brought back."""

import logging
import os
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Iterator, Sequence
from contextlib import ExitStack, contextmanager, suppress

import psycopg

from footing.core.errors import FootingError, Refused
from footing.settings import Settings
from footing.store.cluster import Cluster

log = logging.getLogger("footing.watch")

_LOOK_EVERY = 2.0  # seconds
_ANSWER_WITHIN = 5  # seconds, after which a database counts as frozen
_PATIENCE = 3  # questions without an answer, until it is started again
_SHORT_LIFE = 10.0  # seconds; a process that ends sooner is waited with
_LONGEST_PAUSE = 60.0  # seconds
_FIRST_ANSWER = 120.0  # seconds, in which a process begins to answer


@contextmanager
def worker_beside(settings: Settings, url: str) -> Iterator[None]:
    """A worker in a process of its own; another one takes its place if it ends."""
    with _kept_running("the worker", _command("worker"), _environment(settings, url)):
        yield


@contextmanager
def web_processes(settings: Settings, url: str, listener: socket.socket) -> Iterator[None]:
    """Processes that answer what comes in at a listening socket, each replaced if it ends.

    Raises
    ------
    Refused : if they do not begin to answer.
    """
    count = settings.web_processes or os.cpu_count() or 1
    own = _environment(settings, url) | {
        "FOOTING_DEMO": str(settings.demo),
        "FOOTING_WEB_PROCESSES": str(count),
    }
    if settings.public_address:
        own["FOOTING_PUBLIC_ADDRESS"] = settings.public_address
    socket_number = listener.fileno()
    with ExitStack() as stack:
        ready = []
        for number in range(1, count + 1):
            command = _command("web", "--socket", str(socket_number), "--number", str(number))
            name = f"web process {number}"
            kept = _kept_running(name, command, own, pass_fds=(socket_number,))
            ready.append(stack.enter_context(kept))
        for one in ready:
            if not one.wait(_FIRST_ANSWER):
                raise Refused("The processes that answer requests do not start; see the log.")
        yield


def _command(*words: str) -> list[str]:
    return [sys.executable, "-m", "footing.beside", str(os.getpid()), *words]


def _environment(settings: Settings, url: str) -> dict[str, str]:
    return os.environ | {"FOOTING_DATABASE_URL": url, "FOOTING_DATA": str(settings.data)}


@contextmanager
def _kept_running(
    name: str, command: list[str], environment: dict[str, str], *, pass_fds: Sequence[int] = ()
) -> Iterator[threading.Event]:
    """A process beside this one; another takes its place if it ends.

    Gives what is set when the first one says a line: that it is ready.
    """
    stopping, ready = threading.Event(), threading.Event()
    present: list[subprocess.Popen[bytes]] = []

    def begin() -> subprocess.Popen[bytes]:
        # in a session of its own, so that Ctrl+C is for the process that watches
        return subprocess.Popen(
            command,
            env=environment,
            pass_fds=pass_fds,
            stdout=subprocess.PIPE,
            start_new_session=True,
        )

    def keep() -> None:
        pause = 1.0
        while not stopping.is_set():
            began = time.monotonic()
            present[:] = [begin()]
            threading.Thread(target=hear, args=(present[0],), daemon=True).start()
            while present[0].poll() is None and not stopping.wait(0.2):
                pass
            if stopping.is_set():
                return
            pause = (
                1.0 if time.monotonic() - began > _SHORT_LIFE else min(2 * pause, _LONGEST_PAUSE)
            )
            log.warning("%s ended (%s); another one starts", name, present[0].returncode)
            stopping.wait(pause)

    def hear(process: subprocess.Popen[bytes]) -> None:
        assert process.stdout is not None
        for _ in process.stdout:
            ready.set()

    # it ends with the thread that started it, so this one lives as long as the server
    thread = threading.Thread(target=keep, name=name, daemon=True)
    thread.start()
    try:
        yield ready
    finally:
        stopping.set()
        thread.join()
        for process in present:
            process.terminate()
            try:
                process.wait(timeout=10)
            except subprocess.TimeoutExpired:
                process.kill()


@contextmanager
def watched(cluster: Cluster, url: str) -> Iterator[None]:
    """Ask a private database now and then, and start it again where it does not answer."""
    stopping = threading.Event()

    def watch() -> None:
        silent = 0
        while not stopping.wait(_LOOK_EVERY):
            silent = 0 if answers(url) else silent + 1
            if silent < _PATIENCE:
                continue
            log.warning("the database does not answer; it is started again")
            with suppress(FootingError):
                cluster.bring_back(url)
                silent = 0

    thread = threading.Thread(target=watch, name="database watch", daemon=True)
    thread.start()
    try:
        yield
    finally:
        stopping.set()
        thread.join()


def answers(url: str) -> bool:
    """Whether the database at ``url`` answers in time."""
    found: list[bool] = []

    def ask() -> None:  # a frozen server accepts a connection and never says a word
        with (
            suppress(psycopg.Error),
            psycopg.connect(url, connect_timeout=_ANSWER_WITHIN) as connection,
        ):
            connection.execute("SELECT 1")
            found.append(True)

    thread = threading.Thread(target=ask, daemon=True)
    thread.start()
    thread.join(_ANSWER_WITHIN)
    return bool(found)
