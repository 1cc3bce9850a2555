"""What a block of a report shows, and how that is named.

A block names what it shows by keys with ``/`` between them: ``7/41`` is frame 41 of footage 7. Each
kind says what its keys are keys of, so that a copy of a study can give them anew.
"""

from collections.abc import Callable
from enum import StrEnum
from typing import Literal

from footing.core.errors import NotThere


class BlockKind(StrEnum):
    """The kinds of blocks."""

    TITLE = "title"
    HEADING = "heading"
    TEXT = "text"
    QUESTION = "question"
    ANSWER = "answer"
    FRAME = "frame"
    STROBE = "strobe"
    GRAPH = "graph"
    ENERGIES = "energies"
    TABLE = "table"
    FIT = "fit"
    CHOICE = "choice"
    FINDING = "finding"
    FINDINGS = "findings"
    BUDGETS = "budgets"
    MODEL = "model"
    ACCOUNTS = "accounts"
    MOMENTA = "momenta"
    WORKING = "working"


Thing = Literal[
    "footage", "sheet", "body", "fit", "finding", "model", "impact", "passage", "column"
]
Renumber = Callable[[Thing, int], int]  # what has a key, and which key it has in a copy

# what each key of a kind is of; "source" is 7 or s3, "owner" b7 or s3, "" is no key of a row
_OF: dict[BlockKind, tuple[str, ...]] = {
    BlockKind.TITLE: (),
    BlockKind.HEADING: (),
    BlockKind.TEXT: (),
    BlockKind.QUESTION: (),
    BlockKind.ANSWER: ("",),
    BlockKind.FRAME: ("footage", ""),
    BlockKind.STROBE: ("body",),
    BlockKind.GRAPH: ("source", ""),
    BlockKind.ENERGIES: ("footage",),
    BlockKind.TABLE: ("owner",),
    BlockKind.FIT: ("fit",),
    BlockKind.CHOICE: ("source",),
    BlockKind.FINDING: ("finding",),
    BlockKind.FINDINGS: (),
    BlockKind.BUDGETS: (),
    BlockKind.MODEL: ("model",),
    BlockKind.ACCOUNTS: ("footage",),
    BlockKind.MOMENTA: ("impact",),
}
# a working is named by the source that it is looked at from, and by the keys of its kind
_WORKINGS: dict[str, tuple[str, ...]] = {
    "between": ("body", "", ""),
    "cell": ("body", "", "column"),
    "fit": ("fit", ""),
    "finding": ("finding",),
    "error": ("finding",),
    "energy": ("passage", ""),
    "momentum": ("impact", "cell"),
}
_LETTERS: dict[str, Thing] = {"b": "body", "s": "sheet", "c": "column"}


def keys_of(kind: BlockKind, about: str) -> list[str]:
    """The keys that name what a block shows.

    Raises
    ------
    NotThere : if nothing of this kind can be named so.
    """
    keys = about.split("/") if about else []
    if len(keys) != len(_things(kind, keys)) or not all(map(_is_key, keys)):
        raise NotThere("A report has no such block.")
    return keys


def renumbered(kind: BlockKind, about: str, renumber: Renumber) -> str:
    """What a block of a copy shows, by the keys that things have there."""
    keys = keys_of(kind, about)
    things = _things(kind, keys)
    return "/".join(_new(of, key, renumber) for of, key in zip(things, keys, strict=True))


def _things(kind: BlockKind, keys: list[str]) -> tuple[str, ...]:
    if kind is BlockKind.WORKING:
        of = _WORKINGS.get(keys[1], ()) if len(keys) > 1 else ()
        return ("source", "", *of)
    return _OF[kind]


def _new(of: str, key: str, renumber: Renumber) -> str:
    letter = _LETTERS.get(key[:1])
    number = key[1:] if letter else key
    if of == "cell":  # b7.before.x
        owner, _, rest = key.partition(".")
        return f"{_new('owner', owner, renumber)}.{rest}" if owner[1:].isdecimal() else key
    if not of or not number.isdecimal() or number == "0":
        return key
    match of:
        case "source":
            return f"s{renumber('sheet', int(number))}" if letter else str(_footage(key, renumber))
        case "owner" | "column":
            return f"{key[0]}{renumber(letter, int(number))}" if letter else key
        case _:
            things: dict[str, Thing] = {
                **{"footage": "footage", "body": "body", "fit": "fit", "finding": "finding"},
                **{"model": "model", "impact": "impact", "passage": "passage"},
            }
            return str(renumber(things[of], int(number)))


def _footage(key: str, renumber: Renumber) -> int:
    return renumber("footage", int(key))


def _is_key(key: str) -> bool:
    return 0 < len(key) <= 60 and all(one.isalnum() or one in "._" for one in key)
