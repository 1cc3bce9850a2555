"""What a page shows of a body when it asks for it: its table, its lanes, its arrows.

Each is kept while the motion and the ground are the same objects.
"""

from functools import partial

import numpy as np

from footing.core import findings
from footing.core.formulas.printing import split_symbol
from footing.core.paths import Column
from footing.core.quantities import QUANTITIES, TURNING, QuantityKey
from footing.store.rows import AnyColumn
from footing.studies.model.body_table import BodyTable
from footing.studies.model.energies import COLUMNS, EnergyColumn
from footing.studies.model.grounds import Grounded
from footing.studies.model.kept import Kept
from footing.studies.model.motions import BodyMotion
from footing.studies.model.sheets import key_of
from footing.studies.shapes.bodies import LaneShape
from footing.studies.shapes.tables import TableColumnShape, TableShape
from footing.studies.views.shown import Arrows, Shown
from footing.words.formulas import note_said

_SHORT = 1e-3  # s, in which a body stays where the view is as it is at its mark
_IN_LANES: tuple[QuantityKey, ...] = ("x", "y", "s", "v", "phi", "th")
_ARROWS: dict[Arrows, tuple[QuantityKey, QuantityKey]] = {"v": ("vx", "vy"), "a": ("ax", "ay")}
_MENTIONED = 0.2  # of the uncertainty, from which it is said that noise was taken off

_tables: Kept[TableShape] = Kept(64)
_lanes: Kept[LaneShape] = Kept(400)
_arrows: Kept[list[list[float]]] = Kept(100)


def table_view(table: BodyTable) -> TableShape:
    """The table of a body; made anew where somebody made columns, since these rest on anything."""
    make = partial(_table, table)
    if table.columns:
        return make()
    return _tables.get(
        table.row.id, (table.body, table.ground, table.energies.accounts, table.energies.unit), make
    )


def measured_columns(ground: Grounded, body: BodyMotion) -> list[TableColumnShape]:
    """What stands above the measured columns of a body."""
    return [_column_view(key, ground) for key in _table_columns(ground, body)]


def lanes_view(table: BodyTable, shown: Shown) -> dict[str, LaneShape]:
    """The quantities that the lanes show."""
    of = (table.body, table.ground)
    return {
        key: _lanes.get((table.row.id, key), of, partial(_lane, table, key))
        for key in _IN_LANES
        if shown.lane(key) and (table.body.motion.turning or key not in TURNING)
    }


def arrows_view(table: BodyTable, shown: Shown) -> dict[str, list[list[float]]]:
    """Velocity and acceleration at the marks, as row and end of an arrow in pixels of the picture.

    The arrow shows what the body covers in a second, or gains in speed in a second squared; the
    page draws a share of it.
    """
    of = (table.body, table.ground)
    return {
        name: _arrows.get((table.row.id, name), of, partial(_arrows_of, table, *components))
        for name, components in _ARROWS.items()
        if shown.arrows(name)
    }


def _table_columns(ground: Grounded, body: BodyMotion) -> tuple[QuantityKey, ...]:
    """The columns of a table: heights where somebody said what they are, angles where they show."""
    row = ground.ground
    own_heights = row.levelled is not None or row.height_x is not None
    without: set[str] = set() if body.motion.turning else set(TURNING)
    if not own_heights:
        without.add("h")
    return tuple(key for key in ground.kind.shown if key not in without)


def _table(table: BodyTable) -> TableShape:
    keys = _table_columns(table.ground, table.body)
    columns = {key: table.body.motion.column(key) for key in keys}
    texts = [table.shown(key) for key in columns]
    ends = [column.index[column.at_end].tolist() for column in columns.values()]
    shown: list[TableColumnShape] = [
        {**_column_view(key, table.ground), "note": _note(key, column, table)}
        for key, column in columns.items()
    ]
    for key in table.energy_keys:
        energy = table.column(key)
        if energy is not None:
            texts.append(table.shown(key))
            ends.append(energy.rows[energy.at_end].tolist())
            shown.append(_energy_view(COLUMNS[key], str(table.energies.unit)))
    for stored in table.columns:
        found = table.column(key_of(stored))
        if found is None:
            continue
        texts.append(table.shown(found.key))
        ends.append([])
        notes = " ".join(note_said(note) for note in table.notes(found.key))
        shown.append({**_computed_view(stored, str(found.variable.unit)), "note": notes})
    return {
        "columns": shown,
        "rows": [list(cells) for cells in zip(*texts, strict=True)],
        "end_rows": [sorted(rows) for rows in ends],
    }


def _note(key: QuantityKey, column: Column, table: BodyTable) -> str:
    """What a reader should know about a measured column: how much noise was taken off."""
    added = table.body.motion.added(key)
    if not np.any(added > _MENTIONED * column.uncertainties):
        return ""
    most = findings.significant(float(added.max()), 2)
    return f"Noise makes sizes too large; up to {most} {table.unit(key)} was taken off."


def _column_view(key: str, ground: Grounded) -> TableColumnShape:
    quantity = QUANTITIES[key]
    chosen = ground.footage.digits.get(key)
    return {
        "key": key,
        "name": quantity.name,
        "symbol": quantity.symbol,
        "subscript": quantity.subscript,
        "unit": quantity.dimension.unit(length=ground.length_unit),
        "digits": int(chosen[0]) if chosen else None,
        "digits_as": str(chosen[1]) if chosen else "decimals",
        "highlighted": key in ground.footage.highlighted,
    }


def _energy_view(column: EnergyColumn, unit: str) -> TableColumnShape:
    return {
        "key": column.key,
        "name": column.name,
        "symbol": column.symbol,
        "subscript": column.subscript,
        "unit": unit,
        "highlighted": False,
        "note": "",
    }


def _computed_view(column: AnyColumn, unit: str) -> TableColumnShape:
    symbol, below = split_symbol(column.symbol)
    return {
        "key": key_of(column),
        "name": column.name,
        "symbol": symbol,
        "subscript": below,
        "unit": unit,
        "computed": True,
        "highlighted": column.highlighted,
    }


def _lane(table: BodyTable, key: QuantityKey) -> LaneShape:
    quantity = QUANTITIES[key]
    column = table.body.motion.column(key)
    rows, texts = column.index.tolist(), table.shown(key)
    return {
        "symbol": quantity.symbol + quantity.subscript,
        "unit": quantity.dimension.unit(length=table.ground.length_unit),
        "rows": rows,
        "values": [float(f"{value:.6g}") for value in column.values.tolist()],
        "texts": [texts[row] for row in rows],
    }


def _arrows_of(table: BodyTable, across: QuantityKey, along: QuantityKey) -> list[list[float]]:
    motion, ground = table.body.motion, table.ground
    x, y = motion.column(across), motion.column(along)
    starts = motion.positions[x.index]
    tips = starts + _SHORT * np.stack([x.values, y.values], axis=1)
    here = ground.axes.to_pixels(starts, ground.flattening)
    ends = (ground.axes.to_pixels(tips, ground.flattening) - here) / _SHORT
    return [
        [row, dx, dy]
        for row, (dx, dy) in zip(x.index.tolist(), ends.round(2).tolist(), strict=True)
    ]
