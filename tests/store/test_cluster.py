import ctypes
import os
import signal
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

import psycopg
import pytest

from footing.core.errors import FootingError
from footing.store.cluster import Cluster

_SET_CHILD_SUBREAPER = 36  # linux/prctl.h


def query(url: str, statement: str) -> list[tuple[object, ...]]:
    with psycopg.connect(url) as connection:
        cursor = connection.execute(statement)
        return cursor.fetchall() if cursor.description else []


def head_of(folder: Path) -> int:
    """The process that heads the server of a cluster."""
    return int((folder / "data" / "postmaster.pid").read_text().splitlines()[0])


def works(process: int) -> bool:
    """Whether a process is there, and not only waits to be taken note of."""
    try:
        status = Path(f"/proc/{process}/stat").read_text()
    except FileNotFoundError:
        return False
    return status.rpartition(")")[2].split()[0] != "Z"


def kills(process: int) -> None:
    """Kill a process, and see it end: it is there for a moment more."""
    os.kill(process, signal.SIGKILL)
    while works(process):
        os.sched_yield()


def loses_its_head(folder: Path, connection: psycopg.Connection) -> int:
    """Kill the head of a server while the process of a connection does not notice; gives that."""
    left = connection.info.backend_pid
    os.kill(left, signal.SIGSTOP)
    kills(head_of(folder))
    return left


def test_cluster_is_not_run_by_root(database_url: str) -> None:
    owner = query(database_url, "SELECT setting FROM pg_settings WHERE name = 'data_directory'")
    folder = Path(str(owner[0][0]))
    assert folder.stat().st_uid != 0


def test_cluster_stops_and_starts_again(folder: Path) -> None:
    with Cluster(folder / "pg", durable=False) as url:
        query(url, "CREATE TABLE kept (word text)")
        query(url, "INSERT INTO kept VALUES ('snow')")
    with pytest.raises(psycopg.OperationalError):
        query(url, "SELECT 1")
    with Cluster(folder / "pg", durable=False) as url:
        assert query(url, "SELECT word FROM kept") == [("snow",)]
        assert Cluster(folder / "pg", durable=False).__enter__() == url  # taken over


_INTERRUPTED = """
import os, signal, sys, threading
from pathlib import Path
from footing.store.cluster import Cluster

folder = Path(sys.argv[1])

def interrupt():
    while not (folder / "data" / "postmaster.pid").exists():
        os.sched_yield()
    os.kill(os.getpid(), signal.SIGINT)

signal.signal(signal.SIGINT, signal.default_int_handler)  # a shell's background ignores it
threading.Thread(target=interrupt, daemon=True).start()
with Cluster(folder, durable=False):
    pass
"""


def test_a_start_that_is_interrupted_leaves_nothing_running(folder: Path) -> None:
    with Cluster(folder / "pg", durable=False) as url:
        query(url, "CREATE TABLE kept (word text)")
    begun = [sys.executable, "-c", _INTERRUPTED, str(folder / "pg")]
    ended = subprocess.run(begun, capture_output=True, text=True, check=False, timeout=60)
    assert "KeyboardInterrupt" in ended.stderr
    assert Cluster(folder / "pg").running_url is None
    with Cluster(folder / "pg", durable=False) as url:
        assert query(url, "SELECT * FROM kept") == []


def test_cluster_listens_on_loopback_only(database_url: str) -> None:
    assert query(database_url, "SHOW listen_addresses") == [("127.0.0.1",)]
    assert query(database_url, "SHOW unix_socket_directories") == [("",)]


@contextmanager
def keeping_orphans() -> Iterator[None]:
    """Processes whose parent has ended become this one's children, and wait to be taken note of."""
    libc = ctypes.CDLL(None, use_errno=True)
    assert libc.prctl(_SET_CHILD_SUBREAPER, 1) == 0
    try:
        yield
    finally:
        libc.prctl(_SET_CHILD_SUBREAPER, 0)


def test_a_killed_server_that_nobody_took_note_of_yet_is_not_taken_over(folder: Path) -> None:
    killed = None
    try:
        with keeping_orphans():
            Cluster(folder / "pg", durable=False).__enter__()
            killed = head_of(folder / "pg")
            kills(killed)
            with Cluster(folder / "pg", durable=False) as url:
                assert query(url, "SELECT 1") == [(1,)]
    finally:
        with suppress(ChildProcessError):
            os.waitpid(killed or -1, 0)


def test_what_a_killed_server_leaves_behind_does_not_work_on_beside_the_next_one(
    folder: Path,
) -> None:
    url = Cluster(folder / "pg", durable=False).__enter__()
    connection = psycopg.connect(url)
    left = loses_its_head(folder / "pg", connection)
    with Cluster(folder / "pg", durable=False) as again:
        assert not works(left)
        assert query(again, "SELECT 1") == [(1,)]
    connection.close()


def test_a_server_that_died_by_itself_is_stopped(folder: Path) -> None:
    with Cluster(folder / "pg", durable=False) as url:
        connection = psycopg.connect(url)
        left = loses_its_head(folder / "pg", connection)
    assert not works(left)
    assert not (folder / "pg" / "data" / "postmaster.pid").exists()
    connection.close()


def test_a_server_that_does_not_stop_is_an_error(
    folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    cluster = Cluster(folder / "pg", durable=False)
    cluster.__enter__()
    frozen = head_of(folder / "pg")
    os.kill(frozen, signal.SIGSTOP)
    try:
        with monkeypatch.context() as hurry:
            hurry.setenv("PGCTLTIMEOUT", "1")
            with pytest.raises(FootingError, match="does not shut down"):
                cluster.__exit__()
    finally:
        os.kill(frozen, signal.SIGCONT)
    cluster.__exit__()
    assert cluster.running_url is None
