"""Copying all rows of a study, each with a key of its own."""

from dataclasses import dataclass, replace
from typing import Any

from footing.store.changes import Changes
from footing.store.mapping import CONTENT, references, values
from footing.store.rows import NEW, Row, key_of_row
from footing.store.snapshot import Draft, StudyRows

Keys = dict[type[Row], dict[int, int]]  # by kind, the new key of each old one


@dataclass(frozen=True)
class Copied:
    """The rows of a copy, and which key each of the copied ones has in it."""

    rows: Draft
    keys: Keys


def copy_content(rows: StudyRows, study_id: int) -> Copied:
    """Copy all that edits have made in a study into an empty one; references lead to the copies."""
    copy = StudyRows(study_id, 0, None, ()).draft()
    changes, keys = Changes(copy), Keys()
    for kind in CONTENT:
        known = keys.setdefault(kind, {})
        within: list[tuple[Row, str, int]] = []  # references within the kind, once all are there
        for row in rows.all(kind):
            moved, later = _moved(row, study_id, keys)
            made = changes.insert(moved)
            old, new = key_of_row(row), key_of_row(made)
            if isinstance(old, int) and isinstance(new, int):
                known[old] = new
            within += [(made, field, other) for field, other in later.items()]
        for made, field, other in within:
            changes.update(replace(made, **{field: known[other]}))
    changes.write()
    return Copied(copy, keys)


def _moved(row: Row, study_id: int, keys: Keys) -> tuple[Row, dict[str, int]]:
    """A row for the copy, and those of its references that must wait for rows of its kind."""
    kind, fields = type(row), values(row)
    changed: dict[str, Any] = {"study_id": study_id}
    later: dict[str, int] = {}
    for field, of in references(kind).items():
        if fields[field] is None:
            continue
        if of is kind:
            changed[field] = None
            later[field] = fields[field]
        else:
            changed[field] = keys[of][fields[field]]
    if kind.KEY == ("id",):
        changed["id"] = NEW
    return replace(row, **changed), later
