"""Follows: what was asked to be followed, and how far it is."""

from typing import Any

from footing.store import tables
from footing.store.database import database
from footing.store.records import as_row
from footing.store.rows import Follow

UNDER_WAY = ("waiting", "running")


def unfinished() -> list[int]:
    """Follows that are under way, as far as the database knows; perhaps nobody does them."""
    rows = tables.Follow.select(tables.Follow.id)
    return [row.id for row in rows.where(tables.Follow.state.in_(UNDER_WAY))]


def latest_follow(footage: int) -> Follow | None:
    """The latest follow of a footage, or None."""
    rows = tables.Follow.select().where(tables.Follow.footage_id == footage)
    found: Any = rows.order_by(tables.Follow.id.desc()).first()
    return None if found is None else as_row(Follow, found)


def take(follow: int) -> bool:
    """Take it for this process; the database lets go when the connection ends, however it ends."""
    query = "SELECT pg_try_advisory_lock(hashtext('follow'), %s)"
    return bool(database.execute_sql(query, (follow,)).fetchone()[0])


def let_go(follow: int) -> None:
    """Let another process take it."""
    database.execute_sql("SELECT pg_advisory_unlock(hashtext('follow'), %s)", (follow,))
