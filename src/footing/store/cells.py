"""The cells of sheets, in blocks that are known by their content and never change.

A column names its blocks; an edit of one cell makes one new block and changes one name. So the
history holds names only, undo is as cheap as the edit, and what was read once stays right.
"""

import hashlib
import threading
import zlib
from collections.abc import Iterable, Sequence
from math import isfinite
from typing import Any

import numpy as np
from cachetools import LRUCache

from footing.core.arrays import FloatArray
from footing.store.tables import Cells

BLOCK = 1000  # cells
_KEPT_NUMBERS = 4096  # blocks whose numbers are kept in memory
_KEPT_WRONG = 200_000  # blocks of which it is kept in memory what is wrong in them, mostly nothing
_ASKED = 5000  # blocks in one question
_KEY_LENGTH = 32
EMPTY = ""  # key of a block without any cell

Wrong = tuple[tuple[int, str], ...]
_lock = threading.Lock()
_known_numbers: LRUCache[str, FloatArray] = LRUCache(_KEPT_NUMBERS)
_known_wrong: LRUCache[str, Wrong] = LRUCache(_KEPT_WRONG)


def put(blocks: Iterable[Sequence[str]]) -> list[str]:
    """Store blocks of at most `BLOCK` cells; give their keys. A cell holds no line break."""
    keys, rows, wrong = [], {}, {}
    for cells in blocks:
        if not any(cells):
            keys.append(EMPTY)
            continue
        text = "\n".join(cells).encode()
        key = hashlib.sha256(text).hexdigest()[:_KEY_LENGTH]
        keys.append(key)
        rows[key] = zlib.compress(text, 1)
        wrong[key] = _wrong(cells)
    if rows:
        stored = [{"key": key, "texts": rows[key], "wrong": wrong[key]} for key in rows]
        Cells.insert_many(stored).on_conflict_ignore().execute()
    return keys


def put_column(texts: Sequence[str]) -> list[str]:
    """Store the cells of a whole column; give the keys of its blocks."""
    return put(texts[start : start + BLOCK] for start in range(0, len(texts), BLOCK))


def put_over(keys: Sequence[str], first: int, texts: Sequence[str]) -> list[str]:
    """Write cells over those of a column from row ``first`` (from 0) on; give all its keys."""
    begin, end = first // BLOCK, -(-(first + len(texts)) // BLOCK)
    touched = texts_between(keys, begin * BLOCK, end * BLOCK)
    start = first - begin * BLOCK
    touched[start : start + len(texts)] = texts
    before = [*keys[:begin], *[EMPTY] * (begin - len(keys))]
    return before + put_column(touched) + list(keys[end:])


def are_there(keys: Iterable[str]) -> bool:
    """Whether all of these blocks are stored."""
    wanted = {key for key in keys if key != EMPTY}
    return Cells.select().where(Cells.key.in_(list(wanted))).count() == len(wanted)


def texts(keys: Sequence[str], rows: int) -> list[str]:
    """All cells of a column with ``rows`` rows."""
    found: list[str] = []
    stored = _stored(keys)
    for key in keys:
        cells = stored[key].split("\n") if key != EMPTY else []
        found += cells + [""] * (BLOCK - len(cells))
    return (found + [""] * (rows - len(found)))[:rows]


def texts_between(keys: Sequence[str], first: int, last: int) -> list[str]:
    """The cells from row ``first`` up to, not including, ``last``; rows count from 0."""
    begin, end = first // BLOCK, -(-last // BLOCK)
    some = texts(keys[begin:end], (end - begin) * BLOCK)
    return some[first - begin * BLOCK : last - begin * BLOCK]


def numbers(keys: Sequence[str], rows: int) -> FloatArray:
    """A column as numbers ``(rows,)``; NaN where a cell is empty or is no number."""
    with _lock:
        blocks = {key: _known_numbers.get(key) for key in keys if key != EMPTY}
    read = _stored(key for key, block in blocks.items() if block is None)
    numbers_read = {key: _as_numbers(text.split("\n")) for key, text in read.items()}
    blocks |= numbers_read
    with _lock:
        _known_numbers.update(numbers_read)
    column = np.full(max(rows, len(keys) * BLOCK), np.nan)
    for place, key in enumerate(keys):
        block = blocks.get(key)
        if block is not None:
            column[place * BLOCK : place * BLOCK + len(block)] = block
    return column[:rows]


def wrong(keys: Sequence[str]) -> list[tuple[int, str]]:
    """Row (from 0) and text of the cells of a column that are no numbers, in their order."""
    with _lock:
        known = {key: _known_wrong.get(key) for key in keys if key != EMPTY}
    missing = [key for key, found in known.items() if found is None]
    for start in range(0, len(missing), _ASKED):
        looked_through = _looked_through(missing[start : start + _ASKED])
        known |= looked_through
        with _lock:
            _known_wrong.update(looked_through)
    return [
        (number * BLOCK + place, text)
        for number, key in enumerate(keys)
        for place, text in known.get(key) or ()
    ]


def _looked_through(keys: Sequence[str]) -> dict[str, Wrong]:
    """What is wrong in blocks; where nobody looked yet, this does and keeps it."""
    rows = Cells.select(Cells.key, Cells.wrong).where(Cells.key.in_(keys))
    found: dict[str, Any] = {row.key: row.wrong for row in rows}
    for key, text in _stored(key for key in keys if found.get(key) is None).items():
        found[key] = _wrong(text.split("\n"))
        Cells.update(wrong=found[key]).where(Cells.key == key).execute()
    return {key: tuple((place, text) for place, text in wrong) for key, wrong in found.items()}


def _wrong(cells: Sequence[str]) -> list[tuple[int, str]]:
    return [
        (place, cell) for place, cell in enumerate(cells) if cell and not isfinite(as_number(cell))
    ]


def as_number(cell: str) -> float:
    """A cell as a number; NaN where it is none."""
    try:
        return float(cell.replace("−", "-")) if cell and "_" not in cell else float("nan")
    except ValueError:
        return float("nan")


def _as_numbers(cells: Sequence[str]) -> FloatArray:
    numbers = np.array([as_number(cell) for cell in cells], dtype=float)
    numbers.flags.writeable = False
    return numbers


def _stored(keys: Iterable[str]) -> dict[str, str]:
    wanted = {key for key in keys if key != EMPTY}
    if not wanted:
        return {}
    rows = Cells.select().where(Cells.key.in_(list(wanted)))
    return {row.key: zlib.decompress(bytes(row.texts)).decode() for row in rows}
