"""One part that cannot be computed does not take the whole state with it."""

import logging
from collections.abc import Callable
from typing import TypeVar

from footing.core.errors import FootingError, Refused
from footing.core.units import read_number

log = logging.getLogger("footing.studies")

Part = TypeVar("Part")
_FAILURES = (FootingError, ArithmeticError, ValueError)  # linear algebra fails with ValueErrors


def contained(make: Callable[[], Part], otherwise: Callable[[str], Part]) -> Part:
    """A part of a state; where it cannot be made, what stands there instead, with the reason."""
    try:
        return make()
    except FootingError as error:
        return otherwise(str(error))
    except _FAILURES:
        log.exception("a part of a study could not be computed")
        return otherwise(
            "This cannot be computed from the numbers that it rests on; look at those."
        )


def is_readable(typed: str | None) -> bool:
    """Whether a stored number can still be read: limits may have come after it was typed."""
    try:
        return typed is None or bool(read_number(typed, field="typed"))
    except Refused:
        return False
