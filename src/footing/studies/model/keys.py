"""How the page names things: what owns a table, what is on the stage, what an edit made.

Each key has one way to be written and one reader. ``b7`` is a body's table and ``s3`` a sheet's; on
the stage a sheet is ``s3`` as well, and a footage its plain number.
"""

from dataclasses import dataclass
from typing import Literal

from footing.core.errors import NotThere

_LETTERS: dict[str, Literal["body", "sheet"]] = {"b": "body", "s": "sheet"}


@dataclass(frozen=True)
class OwnerKey:
    """What a table belongs to."""

    kind: Literal["body", "sheet"]
    id: int

    def __str__(self) -> str:
        """``b7`` or ``s3``."""
        return f"{self.kind[0]}{self.id}"

    @property
    def fields(self) -> dict[str, int]:
        """As an edit names it: ``{"body": 7}``."""
        return {self.kind: self.id}

    @classmethod
    def read(cls, text: str) -> "OwnerKey":
        """The key that is written so.

        Raises
        ------
        NotThere : if nothing can be named like this.
        """
        kind, number = _LETTERS.get(text[:1]), text[1:]
        if kind is None or not _is_number(number):
            raise NotThere("The study has no such table.")
        return cls(kind, int(number))


@dataclass(frozen=True)
class SourceKey:
    """What is on the stage."""

    kind: Literal["footage", "sheet"]
    id: int

    def __str__(self) -> str:
        """``7`` or ``s3``."""
        return f"s{self.id}" if self.kind == "sheet" else str(self.id)

    @classmethod
    def read(cls, text: str | int | None) -> "SourceKey | None":
        """The key that is written so; None if nothing can be named like this."""
        written = str(text or "")
        number = written.removeprefix("s")
        if not _is_number(number):
            return None
        return cls("sheet" if written != number else "footage", int(number))


def made_key(made: str | None) -> int | None:
    """The key of the one row that an edit made, by what was accepted: 7 of ``body:7``.

    None if it made none, or several (``mark:7/3``).
    """
    number = (made or "").partition(":")[2]
    return int(number) if _is_number(number) else None


def _is_number(text: str) -> bool:
    return text.isascii() and text.isdecimal()
