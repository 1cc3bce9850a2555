import shutil
import tempfile
from pathlib import Path

import psycopg2
import pytest

from footing.store.cluster import Cluster


def query(url: str, statement: str) -> list[tuple[object, ...]]:
    connection = psycopg2.connect(url)
    try:
        with connection, connection.cursor() as cursor:
            cursor.execute(statement)
            return cursor.fetchall() if cursor.description else []
    finally:
        connection.close()


def test_cluster_is_not_run_by_root(database_url: str) -> None:
    owner = query(database_url, "SELECT setting FROM pg_settings WHERE name = 'data_directory'")
    folder = Path(str(owner[0][0]))
    assert folder.stat().st_uid != 0


def test_cluster_stops_and_starts_again() -> None:
    folder = Path(tempfile.mkdtemp(prefix="footing-cluster-"))
    folder.chmod(0o755)
    try:
        with Cluster(folder / "pg", durable=False) as url:
            query(url, "CREATE TABLE kept (word text)")
            query(url, "INSERT INTO kept VALUES ('snow')")
        with pytest.raises(psycopg2.OperationalError):
            query(url, "SELECT 1")
        with Cluster(folder / "pg", durable=False) as url:
            assert query(url, "SELECT word FROM kept") == [("snow",)]
            assert Cluster(folder / "pg", durable=False).__enter__() == url  # taken over
    finally:
        shutil.rmtree(folder)


def test_cluster_listens_on_loopback_only(database_url: str) -> None:
    assert query(database_url, "SHOW listen_addresses") == [("127.0.0.1",)]
    assert query(database_url, "SHOW unix_socket_directories") == [("",)]
