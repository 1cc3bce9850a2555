"""The connection to PostgreSQL."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from peewee import DatabaseProxy
from playhouse.db_url import connect

database: Any = DatabaseProxy()

_CONNECTIONS = 32
_bound: list[str] = []


def bind(url: str) -> None:
    """Use the database at ``url`` from now on."""
    pooled = url.replace("postgresql://", "postgresql+pool://", 1)
    database.initialize(connect(pooled, max_connections=_CONNECTIONS))
    _bound[:] = [url]


def bound_url() -> str:
    """The address of the database in use, for what needs a connection of its own."""
    return _bound[0]


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
