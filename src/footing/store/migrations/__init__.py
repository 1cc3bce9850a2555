"""How the database came to have its tables: numbered SQL files, applied once each, in order."""

from importlib import resources

from footing.store.database import connected, database, transaction
from footing.store.reading import forget


def apply_migrations() -> list[str]:
    """Apply what is pending, each file in one transaction with its record; give their names."""
    applied = []
    with connected():
        with transaction():
            # two processes that start at once must not both apply
            database.execute_sql("SELECT pg_advisory_lock(hashtext('footing migrations'))")
            database.execute_sql(
                "CREATE TABLE IF NOT EXISTS migration"
                " (name text PRIMARY KEY, applied_at timestamptz NOT NULL DEFAULT now())"
            )
        try:
            for name, statements in pending():
                with transaction():
                    database.execute_sql(statements)
                    database.execute_sql("INSERT INTO migration (name) VALUES (%s)", (name,))
                applied.append(name)
        finally:
            database.execute_sql("SELECT pg_advisory_unlock(hashtext('footing migrations'))")
    if applied:
        forget()
    return applied


def pending() -> list[tuple[str, str]]:
    """Names and statements of the migrations that the database does not have yet."""
    done = {name for (name,) in database.execute_sql("SELECT name FROM migration")}
    here = resources.files(__name__)
    return [(name, (here / name).read_text()) for name in known_migrations() if name not in done]


def known_migrations() -> list[str]:
    """The names of all migrations, in their order."""
    here = resources.files(__name__)
    return sorted(file.name for file in here.iterdir() if file.name.endswith(".sql"))
