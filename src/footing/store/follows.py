"""Follows: what was asked to be followed, and how far it is."""

from footing.store import tables
from footing.store.database import database
from footing.store.mapping import table_name
from footing.store.rows import Follow
from footing.store.sql import columns, rows_of

UNDER_WAY = ("waiting", "running")
_LATEST = f"""
    SELECT {columns(Follow)} FROM {table_name(Follow)}
    WHERE footage_id = %(footage)s ORDER BY id DESC LIMIT 1
"""


def unfinished() -> list[int]:
    """Follows that are under way, as far as the database knows; perhaps nobody does them."""
    rows = tables.Follow.select(tables.Follow.id)
    return [row.id for row in rows.where(tables.Follow.state.in_(UNDER_WAY))]


def latest_follow(footage: int) -> Follow | None:
    """The latest follow of a footage, or None."""
    found = rows_of(Follow, _LATEST, footage=footage)
    return found[0] if found else None


def take(follow: int) -> bool:
    """Take it for this process; the database lets go when the connection ends, however it ends."""
    query = "SELECT pg_try_advisory_lock(hashtext('follow'), %s)"
    return bool(database.execute_sql(query, (follow,)).fetchone()[0])


def let_go(follow: int) -> None:
    """Let another process take it."""
    database.execute_sql("SELECT pg_advisory_unlock(hashtext('follow'), %s)", (follow,))
