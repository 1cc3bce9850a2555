"""Frames are made ready in another thread, in their order, and no farther ahead than is wanted."""

import threading
from collections.abc import Iterator

import pytest

from footing.core.following.ahead import ahead


def test_items_come_in_their_order_from_another_thread() -> None:
    makers: list[threading.Thread] = []

    def make() -> Iterator[int]:
        for number in range(50):
            makers.append(threading.current_thread())
            yield number

    assert list(ahead(make(), most=4)) == list(range(50))
    assert threading.current_thread() not in makers


def test_what_goes_wrong_is_raised_after_what_was_made_before() -> None:
    def make() -> Iterator[int]:
        yield 1
        yield 2
        raise MemoryError("no room for a third")

    coming = ahead(make(), most=8)
    assert [next(coming), next(coming)] == [1, 2]
    with pytest.raises(MemoryError, match="no room for a third"):
        next(coming)


def test_no_more_are_made_than_may_wait() -> None:
    made: list[int] = []
    one_more, full = threading.Event(), threading.Event()

    def make() -> Iterator[int]:
        for number in range(100):
            made.append(number)
            if len(made) == 6:  # one was taken, three wait, one is held, and this one
                full.set()
            if len(made) == 5:
                one_more.set()
            yield number

    coming = ahead(make(), most=3)
    assert next(coming) == 0
    assert one_more.wait(30)
    assert not full.wait(0.5)
    coming.close()  # type: ignore[attr-defined]


def test_who_asks_no_more_ends_the_making() -> None:
    ended = threading.Event()

    def make() -> Iterator[int]:
        try:
            while True:
                yield 1
        finally:
            ended.set()

    coming = ahead(make(), most=2)
    next(coming)
    before = threading.active_count()
    coming.close()  # type: ignore[attr-defined]
    assert threading.active_count() == before - 1
    del coming
    assert ended.wait(30)
