"""What all edits have in common."""

from collections.abc import Callable
from typing import TYPE_CHECKING, Annotated

from pydantic import Field, StringConstraints

from footing.core.dimensions import parted
from footing.studies.received import Received
from footing.studies.work import Work

Pixel = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]
Typed = Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]


class EditModel(Received):
    """Base of all edits. Subclasses have a ``kind`` by which a request names them."""

    if TYPE_CHECKING:

        @property
        def kind(self) -> str:
            """By which a request names it."""

    @property
    def label(self) -> str:
        """How the history and the undo button name it."""
        raise NotImplementedError

    def apply(self, work: Work) -> None:
        """Change the rows. Raises `Refused` or `Stale` where that cannot be."""
        raise NotImplementedError


def unit_behind(number: str, unit: str, *, of: tuple[str, ...]) -> Callable[[object], object]:
    """What lets a unit be typed behind a number, as in "1.50 m", though it is a field of its own.

    It counts then, whatever the other field says; what is none of these units is left where it is.

    Parameters
    ----------
    number, unit : names of the fields
    of : the units that may be meant
    """

    def parts(received: object) -> object:
        if not isinstance(received, dict) or not isinstance(received.get(number), str):
            return received
        value, behind = parted(received[number])
        return received | {number: value, unit: behind} if behind in of else received

    return parts
