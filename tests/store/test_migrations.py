from footing.store import tables
from footing.store.database import connected, database
from footing.store.migrations import apply_migrations, pending


def test_migrations_are_applied_once(migrated: str) -> None:
    with connected():
        assert pending() == []
    assert apply_migrations() == []


def test_tables_of_the_database_are_those_of_the_code(migrated: str) -> None:
    with connected():
        rows = database.execute_sql(
            "SELECT table_name, column_name, is_nullable FROM information_schema.columns"
            " WHERE table_schema = 'public' AND table_name <> 'migration'"
        ).fetchall()
    stored = {(table, column, nullable == "YES") for table, column, nullable in rows}
    declared = {
        (tables.table_name(table), field.column_name, field.null)
        for table in tables.ALL
        for field in table._meta.sorted_fields  # type: ignore[attr-defined]
    }
    assert stored == declared
