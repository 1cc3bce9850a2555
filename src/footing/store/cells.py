"""The cells of sheets, in blocks that are known by their content and never change.

A column names its blocks; an edit of one cell makes one new block and changes one name. So the
history holds names only, undo is as cheap as the edit, and what was read once stays right.
"""

import hashlib
import threading
import zlib
from collections.abc import Iterable, Sequence

import numpy as np

from footing.core.arrays import FloatArray
from footing.store.tables import Cells

BLOCK = 1000  # cells
_KEPT = 4096  # blocks whose numbers are kept in memory
_KEY_LENGTH = 32
EMPTY = ""  # key of a block without any cell


def put(blocks: Iterable[Sequence[str]]) -> list[str]:
    """Store blocks of at most `BLOCK` cells; give their keys. A cell holds no line break."""
    keys, rows = [], {}
    for cells in blocks:
        if not any(cells):
            keys.append(EMPTY)
            continue
        text = "\n".join(cells).encode()
        key = hashlib.sha256(text).hexdigest()[:_KEY_LENGTH]
        keys.append(key)
        rows[key] = zlib.compress(text, 1)
    if rows:
        stored = [{"key": key, "texts": texts} for key, texts in rows.items()]
        Cells.insert_many(stored).on_conflict_ignore().execute()
    return keys


def put_column(texts: Sequence[str]) -> list[str]:
    """Store the cells of a whole column; give the keys of its blocks."""
    return put(texts[start : start + BLOCK] for start in range(0, len(texts), BLOCK))


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
    blocks = {key: _known.get(key) for key in keys if key != EMPTY}
    for key, text in _stored(key for key, block in blocks.items() if block is None).items():
        blocks[key] = _known.put(key, _as_numbers(text.split("\n")))
    column = np.full(max(rows, len(keys) * BLOCK), np.nan)
    for place, key in enumerate(keys):
        block = blocks.get(key)
        if block is not None:
            column[place * BLOCK : place * BLOCK + len(block)] = block
    return column[:rows]


def as_number(cell: str) -> float:
    """A cell as a number; NaN where it is none."""
    try:
        return float(cell.replace("−", "-")) if cell and "_" not in cell else float("nan")
    except ValueError:
        return float("nan")


def _as_numbers(cells: Sequence[str]) -> FloatArray:
    return np.array([as_number(cell) for cell in cells], dtype=float)


def _stored(keys: Iterable[str]) -> dict[str, str]:
    wanted = {key for key in keys if key != EMPTY}
    if not wanted:
        return {}
    rows = Cells.select().where(Cells.key.in_(list(wanted)))
    return {row.key: zlib.decompress(bytes(row.texts)).decode() for row in rows}


class _Known:
    """Numbers of blocks that were read, for all threads; the longest unused go first."""

    def __init__(self) -> None:
        self._blocks: dict[str, FloatArray] = {}
        self._lock = threading.Lock()

    def get(self, key: str) -> FloatArray | None:
        with self._lock:
            block = self._blocks.pop(key, None)
            if block is not None:
                self._blocks[key] = block
            return block

    def put(self, key: str, block: FloatArray) -> FloatArray:
        block.flags.writeable = False
        with self._lock:
            self._blocks[key] = block
            while len(self._blocks) > _KEPT:
                self._blocks.pop(next(iter(self._blocks)))
        return block


_known = _Known()
