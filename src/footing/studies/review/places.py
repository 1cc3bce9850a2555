"""Places that a comment can be about, in the report or in the frozen study.

``block/7`` of the report; of the study ``frame/3/41`` (footage, frame), ``mark/5/41`` and
``point/5/41`` (body or ``s2`` for a sheet, frame or row), ``fit/3``, ``finding/4`` and
``cell/b5/41/vx``. Empty for the whole.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass

from footing.core.errors import Refused
from footing.store.rows import (
    Body,
    BodyColumn,
    Finding,
    Fit,
    Footage,
    Row,
    Sheet,
    SheetColumn,
)
from footing.store.snapshot import StudyRows

_PLACES = {
    "block": r"block/(\d{1,9})",
    "frame": r"frame/(\d{1,9})/(\d{1,9})",
    "mark": r"mark/(\d{1,9})/(\d{1,9})",
    "point": r"point/(s?\d{1,9})/(\d{1,9})",
    "fit": r"fit/(\d{1,9})",
    "finding": r"finding/(\d{1,9})",
    "cell": r"cell/([bs]\d{1,9})/(\d{1,9})/([a-z]{1,8}\d{0,9})",
}


@dataclass(frozen=True)
class CommentPlace:
    """A place in words, and where to go to see it.

    step, frame, body, source : in the workbench; None where it is in the report
    block : of the report
    """

    said: str
    block: int | None = None
    step: str | None = None
    source: str | None = None
    frame: int | None = None
    body: int | None = None


def place_of(about: str, rows: StudyRows, numbers: dict[int, str]) -> CommentPlace:
    """What a place is.

    Parameters
    ----------
    rows : of the frozen study
    numbers : by block of the report, what it is called

    Raises
    ------
    Refused : if there is no such place.
    """
    if not about:
        return CommentPlace("the whole")
    kind = about.partition("/")[0]
    found = re.fullmatch(_PLACES.get(kind, "(?!)"), about)
    place = found and _found(kind, found.groups(), rows, numbers)
    if not place:
        raise Refused("There is no such place in what was handed in.", field="about")
    return place


def renumbered(about: str, keys: Mapping[type[Row], Mapping[int, int]]) -> str:
    """The same place in a copy; ``keys`` are those that rows have there, by the old ones."""
    kind, *parts = about.split("/")
    if kind in ("frame", "fit", "finding"):
        of = {"frame": Footage, "fit": Fit, "finding": Finding}[kind]
        parts[0] = str(keys[of].get(int(parts[0]), 0))
    elif kind in ("mark", "point", "cell"):
        letter = parts[0][:1] if parts[0][:1].isalpha() else ""
        owner = keys[Sheet if letter == "s" else Body]
        parts[0] = f"{letter}{owner.get(int(parts[0].removeprefix(letter)), 0)}"
    if kind == "cell" and parts[2].startswith("c") and parts[2][1:].isdecimal():
        columns = {**keys[SheetColumn], **keys[BodyColumn]}
        parts[2] = f"c{columns.get(int(parts[2][1:]), 0)}"
    return "/".join((kind, *parts))


def _found(
    kind: str, keys: tuple[str, ...], rows: StudyRows, numbers: dict[int, str]
) -> CommentPlace | None:
    if kind == "block":
        said = numbers.get(int(keys[0]))
        return None if said is None else CommentPlace(said, block=int(keys[0]))
    if kind == "frame":
        footage = rows.get(Footage, int(keys[0]))
        if footage is None:
            return None
        said = f"frame {keys[1]} of {footage.name}"
        return CommentPlace(said, step="mark", source=keys[0], frame=int(keys[1]))
    if kind == "fit":
        return _of_fit(rows.get(Fit, int(keys[0])), rows)
    if kind == "finding":
        finding = rows.get(Finding, int(keys[0]))
        if finding is None:
            return None
        return CommentPlace(f"the finding {finding.name}", step="graph")
    return _of_row(kind, keys, rows)


def _of_fit(fit: Fit | None, rows: StudyRows) -> CommentPlace | None:
    if fit is None:
        return None
    if fit.sheet_id is not None:
        source = f"s{fit.sheet_id}"
    else:
        body = rows.find(Body, fit.body_id or 0)
        source = str(rows.footage_of(body).id)
    return CommentPlace(f"the fit {fit.label or fit.curve}", step="graph", source=source)


def _of_row(kind: str, keys: tuple[str, ...], rows: StudyRows) -> CommentPlace | None:
    """A mark, a point or a cell, of a body or a sheet."""
    number = int(keys[1])
    column = f", {keys[2]}" if kind == "cell" else ""
    step = "graph" if kind == "point" else "mark"
    if keys[0].startswith("s"):
        sheet = rows.get(Sheet, int(keys[0][1:]))
        if sheet is None:
            return None
        said = f"row {number} of {sheet.name}{column}"
        return CommentPlace(said, step=step, source=f"s{sheet.id}")
    body = rows.get(Body, int(keys[0].removeprefix("b")))
    if body is None:
        return None
    said = f"{kind} of {body.name} in frame {number}{column}"
    source = str(rows.footage_of(body).id)
    return CommentPlace(said, step=step, source=source, frame=number, body=body.id)
