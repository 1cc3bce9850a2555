"""All classes that a base class of the application has."""

from inspect import isabstract
from typing import TypeVar

T = TypeVar("T")


def kinds(of: type[T]) -> set[type[T]]:
    """The concrete classes below a class, and itself if it is one."""
    below = {kind for sub in of.__subclasses__() for kind in kinds(sub)}
    return below if isabstract(of) else below | {of}
