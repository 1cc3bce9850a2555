"""Notices between processes: a study changed, a file is arriving, a survey is done.

PostgreSQL carries them (NOTIFY), so they reach every process that shares the database; one sent
inside a transaction goes out when it is committed.
"""

import json
import threading
from collections.abc import Callable
from typing import Any

import psycopg

from footing.store.database import database

CHANNEL = "footing"
_LOOK_UP = 0.1  # seconds between looks whether to stop

_FIRST_ANSWER = 10.0  # seconds in which the database should be there

Notice = dict[str, Any]


def notify(study_id: int, **what: Any) -> None:
    """Tell everybody who has the study open."""
    database.execute_sql("SELECT pg_notify(%s, %s)", (CHANNEL, notice(study_id, **what)))


def notify_class(class_id: int, **what: object) -> None:
    """Tell everybody who has a page of the class open, or a study of it."""
    payload = json.dumps({"class": class_id, **what})
    database.execute_sql("SELECT pg_notify(%s, %s)", (CHANNEL, payload))


def notice(study_id: int, **what: Any) -> str:
    """What is told, as it is sent."""
    return json.dumps({"study": study_id, **what})


class Listener:
    """Hands each notice to ``receive``, from a thread of its own; a context manager."""

    def __init__(self, url: str, receive: Callable[[Notice], None]) -> None:
        self._url = url
        self._receive = receive
        self._stopping = threading.Event()
        self.ready = threading.Event()
        self._thread = threading.Thread(target=self._listen, name="notices", daemon=True)

    def __enter__(self) -> "Listener":
        """Begin to listen."""
        self._thread.start()
        self.ready.wait(_FIRST_ANSWER)
        return self

    def __exit__(self, *_: object) -> None:
        """Stop."""
        self._stopping.set()
        self._thread.join()

    def _listen(self) -> None:
        while not self._stopping.is_set():
            try:
                self._listen_once()
            except psycopg.OperationalError:  # the database was away; try again
                self._stopping.wait(_LOOK_UP)

    def _listen_once(self) -> None:
        with psycopg.connect(self._url, autocommit=True) as connection:
            connection.execute(f"LISTEN {CHANNEL}")
            self.ready.set()
            while not self._stopping.is_set():
                for notice in connection.notifies(timeout=_LOOK_UP):
                    self._receive(json.loads(notice.payload))
                    if self._stopping.is_set():
                        return
