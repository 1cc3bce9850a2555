"""What all edits have in common."""

from typing import TYPE_CHECKING, Annotated

from pydantic import Field, StringConstraints

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
