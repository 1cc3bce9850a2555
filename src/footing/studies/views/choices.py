"""What a page lets somebody choose: passages, quantities, and series of other sheets."""

from footing.core import findings
from footing.core.quantities import QUANTITIES, TURNING
from footing.core.timing import frame_position
from footing.store.rows import Passage
from footing.store.snapshot import StudyRows
from footing.studies.model.energies import COLUMNS
from footing.studies.model.grounds import Grounded
from footing.studies.model.sheets import key_of
from footing.studies.model.sources import FootageSource
from footing.studies.shapes.graphs import OtherSeriesShape
from footing.studies.shapes.sources import PassageShape
from footing.studies.shapes.tables import QuantityShape


def other_series(rows: StudyRows) -> list[OtherSeriesShape]:
    """What other sheets could show with a graph: each column against the first one."""
    return [
        {
            "sheet": sheet.id,
            "x": key_of(columns[0]),
            "y": key_of(column),
            "name": column.name,
            "sheet_name": sheet.name,
        }
        for sheet in rows.sheets
        if (columns := rows.columns_of(sheet))
        for column in columns[1:]
    ]


def passage_view(row: Passage, ground: Grounded) -> PassageShape:
    """A passage of a footage, in seconds."""
    decimals = ground.time_decimals
    moments = [frame_position(ground.times, frame) for frame in (row.first, row.last)]
    return {
        "id": row.id,
        "name": row.name,
        "first": row.first,
        "last": row.last,
        "text": " … ".join(findings.number(moment, decimals) for moment in moments) + " s",
    }


def rows_view(row: Passage) -> PassageShape:
    """A passage of a sheet, in rows."""
    return {
        "id": row.id,
        "name": row.name,
        "first": row.first,
        "last": row.last,
        "text": f"rows {row.first:g} … {row.last:g}",
    }


def footage_quantities(source: FootageSource) -> list[QuantityShape]:
    """What a graph of this source can show; angles where a second spot shows them."""
    keys = source.ground.kind.columns
    if not any(body.motion.turning for _, body in source.bodies):
        keys = tuple(key for key in keys if key not in TURNING)
    measured: list[QuantityShape] = [
        {
            "key": key,
            "name": QUANTITIES[key].name,
            "symbol": QUANTITIES[key].symbol + QUANTITIES[key].subscript,
        }
        for key in keys
    ]
    there = {key for table in source.every_table.values() for key in table.energy_keys}
    measured += [
        {"key": key, "name": one.name, "symbol": one.symbol + one.subscript}
        for key, one in COLUMNS.items()
        if key in there
    ]
    computed: list[QuantityShape] = [
        {"key": f"c{column.id}", "name": column.name, "symbol": column.symbol}
        for column in source.columns
    ]
    return measured + computed
