"""What one process works out is there for the others, and is worked out once."""

import multiprocessing
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from footing.store.shelf import Shelf, clear_shelf


def _work_out(folder: Path, name: str) -> str:
    """In another process: the name of the process that worked it out."""
    own = str(multiprocessing.current_process().pid)
    return Shelf(folder).shared(name, lambda: own)


def test_processes_share_what_one_of_them_worked_out(tmp_path: Path) -> None:
    with multiprocessing.get_context("spawn").Pool(2) as processes:
        asked = [(tmp_path, name) for name in ("a", "b") for _ in range(6)]
        found = processes.starmap(_work_out, asked, chunksize=1)
    assert len(set(found[:6])) == 1
    assert len(set(found[6:])) == 1


def test_those_who_ask_at_once_wait_for_the_one_who_works_it_out(tmp_path: Path) -> None:
    begun, go_on, twice = threading.Event(), threading.Event(), threading.Event()

    def work_out() -> str:
        begun.set()
        assert go_on.wait(30)
        return "first"

    def work_out_again() -> str:
        twice.set()
        return "second"

    with ThreadPoolExecutor(2) as pool:
        first = pool.submit(Shelf(tmp_path).shared, "x", work_out)
        assert begun.wait(30)
        second = pool.submit(Shelf(tmp_path).shared, "x", work_out_again)
        assert not twice.wait(0.5)  # whoever does not wait is there at once
        go_on.set()
        assert (first.result(), second.result()) == ("first", "first")


def test_types_survive_and_other_names_are_other_results(tmp_path: Path) -> None:
    result = {7: (1.5, None), "text": ["ü"]}
    Shelf(tmp_path).shared("x", lambda: result)
    assert Shelf(tmp_path).shared("x", dict[object, object]) == result
    assert Shelf(tmp_path).shared("y", lambda: None) is None


def test_who_fails_leaves_it_to_the_next(tmp_path: Path) -> None:
    def fail() -> int:
        raise ArithmeticError

    shelf = Shelf(tmp_path)
    with pytest.raises(ArithmeticError):
        shelf.shared("x", fail)
    assert shelf.shared("x", lambda: 2) == 2


def test_what_was_damaged_is_worked_out_again(tmp_path: Path) -> None:
    Shelf(tmp_path).shared("x", lambda: [1, 2, 3])
    (stored,) = tmp_path.glob("*.pickle")
    stored.write_bytes(stored.read_bytes()[:-3])
    assert Shelf(tmp_path).shared("x", lambda: "again") == "again"
    assert Shelf(tmp_path).shared("x", lambda: "no more") == "again"


def test_the_oldest_is_thrown_away(tmp_path: Path) -> None:
    shelf = Shelf(tmp_path)
    for number in range(520):
        shelf.shared(str(number), lambda number=number: number)  # type: ignore[misc]
    assert 400 <= len(list(tmp_path.glob("*.pickle"))) < 450
    assert shelf.shared("519", lambda: None) == 519
    clear_shelf(tmp_path)
    assert Shelf(tmp_path).shared("519", lambda: None) is None


def test_large_results_leave_room_for_each_other(tmp_path: Path) -> None:
    shelf = Shelf(tmp_path, room=100_000)
    for number in range(50):
        shelf.shared(str(number), lambda: bytes(20_000))
    stored = list(tmp_path.glob("*.pickle"))
    assert 0 < sum(file.stat().st_size for file in stored) <= 100_000
    assert shelf.shared("49", lambda: b"gone") == bytes(20_000)
