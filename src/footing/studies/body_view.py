"""A body as a screen shows it: its marks, its table, its lane."""

from math import ceil, log10
from typing import Any

from footing.core import findings
from footing.core.quantities import QUANTITIES, QuantityKey
from footing.studies.grounds import Grounded
from footing.studies.looks import LOOKS
from footing.studies.motions import BodyMotion

_ON_FOOTAGE: tuple[QuantityKey, ...] = ("t", "x", "y", "vx", "vy", "v")
_ON_A_PICTURE: tuple[QuantityKey, ...] = ("x", "y")


def table_columns(ground: Grounded) -> tuple[QuantityKey, ...]:
    """The columns of a table; heights where somebody said what they are."""
    row = ground.ground
    columns = _ON_A_PICTURE if ground.is_picture else _ON_FOOTAGE
    own_heights = row.levelled is not None or row.height_x is not None
    after = columns.index("y") + 1
    return (*columns[:after], "h", *columns[after:]) if own_heights else columns


def body_view(row: Any, marks: list[Any], body: BodyMotion, ground: Grounded) -> dict[str, Any]:
    """A body with its marks in pixels and its quantities in numbers as they are shown."""
    look = LOOKS[row.look]
    columns = {key: body.motion.column(key) for key in table_columns(ground)}
    count = len(body.frames)
    texts, ends = [], []
    for key, column in columns.items():
        if key == "t":
            decimals = time_decimals(ground)
        else:
            decimals = findings.column_decimals(column.values, column.uncertainties)
        cells = [""] * count
        for place, value in zip(column.index, column.values, strict=True):
            cells[place] = findings.number(float(value), decimals)
        texts.append(cells)
        ends.append({int(place) for place in column.index[column.at_end]})
    return {
        "id": row.id,
        "name": row.name,
        "background": row.background,
        "colour": look.colour,
        "shape": look.shape,
        "path": look.path,
        "mass": row.mass or "",
        "mass_unit": row.mass_unit or "kg",
        "marks": [[mark.frame, mark.x, mark.y] for mark in marks],
        "counting": [int(frame) for frame in body.frames],
        "table": {
            "columns": [_column_view(key, ground) for key in columns],
            "rows": [list(cells) for cells in zip(*texts, strict=True)],
            "end_rows": sorted(set().union(*ends)),
        },
        "lane": {
            "x": [float(value) for value in columns["x"].values],
            "y": [float(value) for value in columns["y"].values],
        },
    }


def _column_view(key: str, ground: Grounded) -> dict[str, str]:
    quantity = QUANTITIES[key]
    return {
        "key": key,
        "name": quantity.name,
        "symbol": quantity.symbol,
        "subscript": quantity.subscript,
        "unit": quantity.dimension.unit(length=ground.length_unit),
    }


def time_decimals(ground: Grounded) -> int:
    """Decimal places that tell neighbouring frames apart."""
    step = ground.index.cadence.shortest_step * ground.clock.k
    return 3 if step <= 0 else min(max(ceil(-log10(step)) + 1, 3), 6)
