"""What is checked of the work as data."""

from typing import TypedDict


class CheckShape(TypedDict):
    """A soundness check; ``step`` is where to go, ``number`` of a mark or a row."""

    key: str
    sound: bool
    title: str
    reason: str
    step: str
    number: int | None
