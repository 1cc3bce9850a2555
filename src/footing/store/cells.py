"""The cells of sheets, in blocks that are known by their content and never change.

A column names its blocks; an edit of one cell makes one new block and changes one name, and rows
that come or go open the block they are in and no other. So the history holds names only, undo is
as cheap as the edit, and what was read once stays right.

The name of a block is the hash of its cells, nothing if all are empty, and, where it is not a full
one, ``*`` and how many rows it stands for.
"""

import hashlib
import threading
import zlib
from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator, Sequence
from itertools import accumulate
from math import isfinite
from typing import Any

import numpy as np
from cachetools import LRUCache
from peewee import SQL

from footing.core.arrays import FloatArray
from footing.store.tables import Cells

BLOCK = 1000  # cells at most
_KEPT_NUMBERS = 4096  # blocks whose numbers are kept in memory
_KEPT_WRONG = 200_000  # blocks of which it is kept in memory what is wrong in them, mostly nothing
_ASKED = 5000  # blocks in one question
KEY_LENGTH = 32
_LENGTH = "*"

Wrong = tuple[tuple[int, str], ...]
_lock = threading.Lock()
_known_numbers: LRUCache[str, FloatArray] = LRUCache(_KEPT_NUMBERS)
_known_wrong: LRUCache[str, Wrong] = LRUCache(_KEPT_WRONG)


def put(blocks: Iterable[Sequence[str]]) -> list[str]:
    """Store blocks of at most `BLOCK` cells; give their names. A cell holds no line break."""
    names, rows, wrong = [], {}, {}
    for cells in blocks:
        length = "" if len(cells) == BLOCK else f"{_LENGTH}{len(cells)}"
        if not any(cells):
            names.append(length)
            continue
        text = "\n".join(cells).encode()
        key = hashlib.sha256(text).hexdigest()[:KEY_LENGTH]
        names.append(key + length)
        rows[key] = zlib.compress(text, 1)
        wrong[key] = _wrong(cells)
    if rows:
        stored = [{"key": key, "texts": rows[key], "wrong": wrong[key]} for key in rows]
        Cells.insert_many(stored).on_conflict(
            conflict_target=[Cells.key], update={Cells.made_at: SQL("now()")}
        ).execute()  # wanted anew, so that tidying leaves it
    return names


def put_column(texts: Sequence[str]) -> list[str]:
    """Store the cells of a whole column; give the names of its blocks, which are even in length."""
    if not texts:
        return []
    count = -(-len(texts) // BLOCK)
    size = -(-len(texts) // count)
    return put(texts[start : start + size] for start in range(0, len(texts), size))


def put_over(names: Sequence[str], first: int, texts: Sequence[str]) -> list[str]:
    """Write cells over those of a column from row ``first`` (from 0) on; give all its blocks."""
    gap = first - _length(names)
    names = [*names, *put_column([""] * gap)] if gap > 0 else names
    begin, end, touched, start = _opened(names, first, first + len(texts))
    touched[first - start : first - start + len(texts)] = texts
    return [*names[:begin], *put_column(touched), *names[end:]]


def put_between(names: Sequence[str], first: int, count: int) -> list[str]:
    """Move the cells from row ``first`` (from 0) on down by ``count`` rows; give all blocks."""
    if first >= _length(names):
        return list(names)
    begin, end, touched, start = _opened(names, first, first + 1)
    touched[first - start : first - start] = [""] * count
    return [*names[:begin], *put_column(touched), *names[end:]]


def without(names: Sequence[str], first: int, last: int) -> list[str]:
    """Take out the cells from row ``first`` up to, not including, ``last``; give what is left."""
    begin, end, touched, start = _opened(names, first, last)
    del touched[first - start : last - start]
    return [*names[:begin], *put_column(touched), *names[end:]]


def are_there(names: Iterable[str]) -> bool:
    """Whether all of these blocks are stored."""
    wanted = _keys(names)
    return Cells.select().where(Cells.key.in_(list(wanted))).count() == len(wanted)


def are_empty(names: Iterable[str]) -> bool:
    """Whether there is no cell in these blocks."""
    return not _keys(names)


def texts(names: Sequence[str], rows: int) -> list[str]:
    """All cells of a column with ``rows`` rows."""
    found: list[str] = []
    stored = _stored(_keys(names))
    for key, length in map(_parts, names):
        cells = stored[key].split("\n") if key else []
        found += cells + [""] * (length - len(cells))
    return (found + [""] * (rows - len(found)))[:rows]


def texts_between(names: Sequence[str], first: int, last: int) -> list[str]:
    """The cells from row ``first`` up to, not including, ``last``; rows count from 0."""
    _, _, some, start = _opened(names, first, last)
    some += [""] * (last - start - len(some))
    return some[first - start : last - start]


def _parts(name: str) -> tuple[str, int]:
    """The key of a block, empty for one without any cell, and how many rows it stands for."""
    key, _, length = name.partition(_LENGTH)
    return key, int(length) if length else BLOCK


def _keys(names: Iterable[str]) -> set[str]:
    return {key for key, _ in map(_parts, names) if key}


def _length(names: Iterable[str]) -> int:
    return sum(length for _, length in map(_parts, names))


def _placed(names: Iterable[str]) -> Iterator[tuple[int, str]]:
    """Each block that has cells: the row it begins at, and its key."""
    place = 0
    for key, length in map(_parts, names):
        if key:
            yield place, key
        place += length


def _opened(names: Sequence[str], first: int, last: int) -> tuple[int, int, list[str], int]:
    """The blocks that hold the rows ``first`` to ``last``: which, their cells, where they begin."""
    ends = list(accumulate(length for _, length in map(_parts, names)))
    begin = bisect_right(ends, first)
    end = min(bisect_left(ends, last) + 1, len(names))
    start = ends[begin - 1] if begin else 0
    touched = names[begin:end]
    return begin, end, texts(touched, _length(touched)), start


def numbers(names: Sequence[str], rows: int) -> FloatArray:
    """A column as numbers ``(rows,)``; NaN where a cell is empty or is no number."""
    with _lock:
        known = {key: _known_numbers.get(key) for key in _keys(names)}
    blocks = {key: block for key, block in known.items() if block is not None}
    stored = _stored(known.keys() - blocks.keys())
    read = {key: _as_numbers(text.split("\n")) for key, text in stored.items()}
    blocks |= read
    with _lock:
        _known_numbers.update(read)
    column = np.full(max(rows, _length(names)), np.nan)
    for place, key in _placed(names):
        block = blocks[key]
        column[place : place + len(block)] = block
    return column[:rows]


def wrong(names: Sequence[str]) -> list[tuple[int, str]]:
    """Row (from 0) and text of the cells of a column that are no numbers, in their order."""
    with _lock:
        known = {key: _known_wrong.get(key) for key in _keys(names)}
    missing = [key for key, found in known.items() if found is None]
    for start in range(0, len(missing), _ASKED):
        looked_through = _looked_through(missing[start : start + _ASKED])
        known |= looked_through
        with _lock:
            _known_wrong.update(looked_through)
    return [
        (start + place, text) for start, key in _placed(names) for place, text in known[key] or ()
    ]


def _looked_through(keys: Sequence[str]) -> dict[str, Wrong]:
    """What is wrong in blocks; where nobody looked yet, this does and keeps it."""
    rows = Cells.select(Cells.key, Cells.wrong).where(Cells.key.in_(keys))
    found: dict[str, Any] = {row.key: row.wrong for row in rows}
    for key, text in _stored({key for key in keys if found.get(key) is None}).items():
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


def _stored(keys: set[str]) -> dict[str, str]:
    if not keys:
        return {}
    rows = Cells.select().where(Cells.key.in_(list(keys)))
    return {row.key: zlib.decompress(bytes(row.texts)).decode() for row in rows}
