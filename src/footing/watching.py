"""What keeps a server whole: its database and its worker are watched, and brought back."""

import logging
import os
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress

import psycopg

from footing.core.errors import FootingError
from footing.settings import Settings
from footing.store.cluster import Cluster

log = logging.getLogger("footing.watch")

_LOOK_EVERY = 2.0  # seconds
_ANSWER_WITHIN = 5  # seconds, after which a database counts as frozen
_PATIENCE = 3  # questions without an answer, until it is started again
_SHORT_LIFE = 10.0  # seconds; a worker that ends sooner is waited with
_LONGEST_PAUSE = 60.0  # seconds


@contextmanager
def worker_beside(settings: Settings, url: str) -> Iterator[None]:
    """A worker in a process of its own; another one takes its place if it ends."""
    own = {"FOOTING_DATABASE_URL": url, "FOOTING_DATA": str(settings.data)}
    command = [sys.executable, "-m", "footing", "worker", "--beside", str(os.getpid())]
    stopping = threading.Event()
    present: list[subprocess.Popen[bytes]] = []

    def keep() -> None:
        pause = 1.0
        while not stopping.is_set():
            began = time.monotonic()
            present[:] = [subprocess.Popen(command, env=os.environ | own)]
            while present[0].poll() is None and not stopping.wait(0.2):
                pass
            if stopping.is_set():
                return
            pause = (
                1.0 if time.monotonic() - began > _SHORT_LIFE else min(2 * pause, _LONGEST_PAUSE)
            )
            log.warning("the worker ended (%s); another one starts", present[0].returncode)
            stopping.wait(pause)

    # it ends with the thread that started it, so this one lives as long as the server
    thread = threading.Thread(target=keep, name="worker beside", daemon=True)
    thread.start()
    try:
        yield
    finally:
        stopping.set()
        thread.join()
        for worker in present:
            worker.terminate()
            try:
                worker.wait(timeout=10)
            except subprocess.TimeoutExpired:
                worker.kill()


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
