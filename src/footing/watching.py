"""What keeps a server whole: its database and its processes are watched, and brought back."""

import logging
import threading
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from multiprocessing.connection import Connection, wait
from multiprocessing.context import ForkServerProcess

import psycopg

from footing.core.errors import FootingError, Refused
from footing.forking import context, forked
from footing.store.cluster import Cluster

log = logging.getLogger("footing.watch")

_LOOK_EVERY = 2.0  # seconds
_ANSWER_WITHIN = 5  # seconds, after which a database counts as frozen
_PATIENCE = 3  # questions without an answer, until it is started again
_SHORT_LIFE = 10.0  # seconds; a process that ends sooner is waited with
_SHORTEST_PAUSE, _LONGEST_PAUSE = 1.0, 60.0  # seconds, before another one starts
_FIRST_ANSWER = 120.0  # seconds, in which a process begins to answer
_LOOK_AFTER = 0.2  # seconds
_LEAVE = 10.0  # seconds that they have to end


@dataclass
class Kept:
    """A process beside this one, which another replaces if it ends.

    what : called in it with the arguments and with what it calls when it is ready
    """

    name: str
    what: Callable[..., None]
    arguments: tuple[object, ...]
    ready: bool = False
    _process: ForkServerProcess | None = None
    _news: Connection | None = None
    _began: float = 0.0
    _again_at: float = 0.0
    _pause: float = _SHORTEST_PAUSE

    def begin_if_due(self) -> None:
        """Start it, unless it runs or has just ended."""
        if self._process is not None or time.monotonic() < self._again_at:
            return
        self._news, sender = context().Pipe(duplex=False)
        self._began = time.monotonic()
        try:
            self._process = forked(self.name, _announced, sender, self.what, self.arguments)
        except (OSError, EOFError):  # what it is forked from has just ended, and begins again
            log.exception("%s does not start", self.name)
            self._again_at = time.monotonic() + self._pause
        finally:
            sender.close()

    @property
    def tells(self) -> list[Connection | int]:
        """What can be waited at until something has happened to it."""
        signs: list[Connection | int] = [] if self._news is None else [self._news]
        return signs if self._process is None else [*signs, self._process.sentinel]

    def look(self) -> None:
        """Take notice of what has happened to it."""
        if self._news is not None and self._news.poll():
            with suppress(EOFError):
                self.ready = self._news.recv() or self.ready
            self._news = None
        if self._process is None or self._process.is_alive():
            return
        lived = time.monotonic() - self._began
        longer = min(2 * self._pause, _LONGEST_PAUSE)
        self._pause = _SHORTEST_PAUSE if lived > _SHORT_LIFE else longer
        code = self._process.exitcode
        log.warning("%s ended (%s); another one starts", self.name, code)
        self._process, self._again_at = None, time.monotonic() + self._pause

    def stop(self) -> None:
        """Tell it to end."""
        if self._process is not None:
            self._process.terminate()

    def end(self, *, until: float) -> None:
        """Wait until it has ended, but no longer than to a time; then end it."""
        if self._process is not None:
            self._process.join(max(until - time.monotonic(), 0.0))
            self._process.kill()
            self._process.join()


def _announced(news: Connection, what: Callable[..., None], arguments: tuple[object, ...]) -> None:
    what(*arguments, lambda: news.send(True))


@contextmanager
def kept_running(processes: Sequence[Kept]) -> Iterator[None]:
    """Processes beside this one, each replaced if it ends.

    Raises
    ------
    Refused : if one does not get ready.
    """
    stopping, ready = threading.Event(), threading.Event()

    def keep() -> None:
        while not stopping.is_set():
            for kept in processes:
                kept.begin_if_due()
            wait([sign for kept in processes for sign in kept.tells], timeout=_LOOK_AFTER)
            for kept in processes:
                kept.look()
            if all(kept.ready for kept in processes):
                ready.set()

    thread = threading.Thread(target=keep, name="processes", daemon=True)
    thread.start()
    try:
        if not ready.wait(_FIRST_ANSWER):
            raise Refused("The processes that answer requests do not start; see the log.")
        yield
    finally:
        stopping.set()
        thread.join()
        for kept in processes:
            kept.stop()
        until = time.monotonic() + _LEAVE
        for kept in processes:
            kept.end(until=until)


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
