"""The connection to PostgreSQL."""

from collections import namedtuple
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from peewee import DatabaseProxy, DataError, InterfaceError, OperationalError
from playhouse.db_url import connect
from playhouse.pool import MaxConnectionsExceeded

database: Any = DatabaseProxy()

DATABASE_AWAY: tuple[type[Exception], ...] = (
    OperationalError,
    InterfaceError,
    MaxConnectionsExceeded,
)
NOT_STORABLE: type[Exception] = DataError

_CONNECTIONS = 64  # of all processes that answer requests
_LEAST = 8  # of each
_WAIT = 10  # seconds for a connection that others hold
_UNUSED = 300  # seconds after which an unused connection is closed
_KNOCK = 5  # seconds in which the database answers a new connection
_bound: list[tuple[str, int]] = []  # the address, and how many connections there are at most


def bind(url: str, *, sharers: int = 1) -> None:
    """Use the database at ``url`` from now on; ``sharers`` processes do so, each with its part."""
    most = max(_CONNECTIONS // sharers, _LEAST)
    pooled = url.replace("postgresql://", "postgresql+pool://", 1)
    database.initialize(
        connect(
            pooled,
            max_connections=most,
            timeout=_WAIT,
            stale_timeout=_UNUSED,
            connect_timeout=_KNOCK,
            prefer_psycopg3=True,  # which prepares on the server what is asked often
        )
    )
    _bound[:] = [(url, most)]


def bound_url() -> str:
    """The address of the database in use, for what needs a connection of its own."""
    return _bound[0][0]


def most_connections() -> int:
    """How many connections this process has at most."""
    return _bound[0][1]


def unbind() -> None:
    """Close all connections."""
    database.close_all()


@contextmanager
def connected() -> Iterator[None]:
    """Hold a connection of this thread; inside another such block it is the same one."""
    if not database.is_closed():
        yield
        return
    with database.connection_context():
        yield


@contextmanager
def transaction() -> Iterator[None]:
    """All or nothing. The connection must be held already."""
    with database.atomic():
        yield


def plain_rows(query: Any) -> list[Any]:
    """The rows of a query by the names of their columns, as the driver gives them.

    For thousands of rows, which models are slow at.
    """
    cursor = database.execute(query)
    row = namedtuple("Row", [column.name for column in cursor.description])  # type: ignore[misc]
    return [row._make(values) for values in cursor.fetchall()]
