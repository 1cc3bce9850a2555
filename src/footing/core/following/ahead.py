"""Frames that are made ready in another thread before they are asked for.

Decoding, and what OpenCV does with whole frames, run beside Python code of other threads; so two
cores share the work of following.
"""

import queue
import threading
from collections.abc import Iterator
from typing import TypeVar

_LOOK_UP = 0.2  # seconds

T = TypeVar("T")


def ahead(items: Iterator[T], *, most: int) -> Iterator[T]:
    """The same items, made in another thread; up to ``most`` of them wait to be asked for.

    What making them raises is raised here, after those that were made before.
    """
    ready: queue.Queue[tuple[T] | None] = queue.Queue(most)
    stopping = threading.Event()
    wrong: list[Exception] = []

    def hand_on(item: tuple[T] | None) -> None:
        while not stopping.is_set():
            try:
                ready.put(item, timeout=_LOOK_UP)
            except queue.Full:
                continue
            return

    def make() -> None:
        try:
            for item in items:
                hand_on((item,))
                if stopping.is_set():
                    break
        except Exception as error:  # whatever it is, it belongs to who asks
            wrong.append(error)
        hand_on(None)

    # a daemon, so that no program waits at its end for frames that nobody asks for any more
    worker = threading.Thread(target=make, name="ahead", daemon=True)
    worker.start()
    try:
        while (item := ready.get()) is not None:
            yield item[0]
        for error in wrong:
            raise error
    finally:
        stopping.set()
        worker.join()
