"""The data of a study as one spreadsheet: findings, and a sheet for each body and each sheet."""

from collections.abc import Iterator

from footing.core.errors import Refused
from footing.formats.headings import Heading
from footing.formats.writing import SheetOut, as_ods_book
from footing.store.database import connected
from footing.store.reading import read_study
from footing.store.rows import Body, Sheet
from footing.studies.model.results import NoResult
from footing.studies.model.sources import Sources
from footing.studies.queries.table_parts import chosen
from footing.studies.queries.tables_out import MOST_ODS_CELLS


def tables_as_ods(study_id: int) -> bytes:
    """All tables of a study as a spreadsheet. It takes a connection of its own.

    Raises
    ------
    Refused : if there are too many cells for one.
    """
    with connected():
        return as_ods_book(list(_sheets(study_id)))


def _sheets(study_id: int) -> Iterator[SheetOut]:
    rows = read_study(study_id)
    sources = Sources(rows)
    found = [(row, sources.results[row.id]) for row in rows.findings]
    yield SheetOut(
        "findings",
        [Heading(name, "", "") for name in ("finding", "value", "uncertainty", "unit", "accepted")],
        [
            (
                row.name,
                repr(result.value.value),
                repr(result.value.uncertainty),
                str(result.unit),
                row.accepted or "",
            )
            for row, result in found
            if not isinstance(result, NoResult)
        ],
    )
    cells = 0
    owners: list[Body | Sheet] = [
        one for of in rows.footages for one in rows.bodies_of(of) if rows.marks_of(one)
    ]
    for owner in [*owners, *rows.sheets]:
        table = sources.table(owner)
        cells += len(table.keys) * len(table.numbers)
        if cells > MOST_ODS_CELLS:
            raise Refused(
                f"The tables of this study have more than {MOST_ODS_CELLS} cells, too many for a "
                "spreadsheet. Take them out one by one, as CSV.",
                field="form",
            )
        if len(table.keys):
            headings, shown = chosen(table)
            yield SheetOut(owner.name, headings, list(shown))
