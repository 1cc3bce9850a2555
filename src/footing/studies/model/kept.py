"""What was worked out for one state and holds for the next one, where nothing it rests on changed.

Each thing (the motion of a body, a fit) has a name, and rests on a few objects: rows, and other
things of this kind. What an edit did not touch is the same object before and after (see
`store/snapshot.py`), so whether a thing still holds is told by looking at these.
"""

from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

from cachetools import LRUCache

Thing = TypeVar("Thing")


class Kept(Generic[Thing]):
    """The latest thing of each name, for so many names."""

    def __init__(self, names: int) -> None:
        self._latest: LRUCache[Hashable, tuple[tuple[object, ...], Thing]] = LRUCache(names)
        self._lock = Lock()

    def get(self, name: Hashable, of: tuple[object, ...], make: Callable[[], Thing]) -> Thing:
        """The thing, made anew where something in ``of`` has changed.

        of : everything that it rests on: rows, groups of rows, and things that are kept themselves
        """
        with self._lock:
            latest = self._latest.get(name)
        if latest is not None and latest[0] == of:  # the same objects, for which this is quick
            return latest[1]
        made = make()
        with self._lock:
            self._latest[name] = (of, made)
        return made
