"""Computed states by their versions, so that nothing is computed twice and changes can be told.

A version names everything on which a state rests. States are kept in memory and on the shelf, where
every process finds them.
"""

import hashlib
from collections.abc import Callable
from threading import Condition

from cachetools import LRUCache, cached

from footing.store import shelf
from footing.studies.shapes.state import SharedShape

_REMEMBERED = 32  # states

_kept: LRUCache[str, SharedShape] = LRUCache(_REMEMBERED)
_made = Condition()  # that a state has come in, for those who wait for it


def version_of(study_id: int, *parts: object) -> str:
    """The version of a state of a study that rests on this."""
    return f"{study_id}.{hashlib.sha256(repr(parts).encode()).hexdigest()[:24]}"


@cached(_kept, key=lambda version, _: version, condition=_made)
def state(version: str, make: Callable[[], SharedShape]) -> SharedShape:
    """What is computed for a version, from memory or from the shelf; the same for all who look.

    One edit is answered, its cards are made, and every other open page asks for it: it is computed
    once by one process, and those who come meanwhile wait for it.
    """
    return shelf.shared(version, make)


def earlier(study_id: int, version: str | None) -> SharedShape | None:
    """A state of a study that somebody has seen, if it is still known."""
    if version is None or not version.startswith(f"{study_id}."):
        return None
    with _made:
        kept = _kept.get(version)
    found: SharedShape | None = shelf.found(version) if kept is None else kept
    return found
