"""Straightening: the computed columns, the graph and the line of a straight form, in one edit."""

from typing import Literal

from footing.core.errors import Refused
from footing.core.straightening import FORMS, MADE, Made
from footing.formats.headings import Heading, unique
from footing.store.rows import Body, Footage, Sheet
from footing.studies.edits.base import EditModel
from footing.studies.edits.columns import insert_column
from footing.studies.edits.fits import AddFit
from footing.studies.edits.graphs import MOST_GRAPHS, ColumnKey, SetGraph
from footing.studies.model.sheets import key_of
from footing.studies.model.sources import Sources
from footing.studies.work import Work


class Straighten(EditModel):
    """Make a relation straight: new columns, a graph of them below the bent one, and a line."""

    kind: Literal["straighten"] = "straighten"
    body: int | None = None
    sheet: int | None = None
    x: ColumnKey
    y: ColumnKey
    form: str

    @property
    def label(self) -> str:
        """In the history."""
        return "a straight form"

    def apply(self, work: Work) -> None:
        """Add what is missing; a column that is there already is used again."""
        if self.form not in FORMS:
            raise Refused(f"There is no form “{self.form}”.", field="form")
        if (self.body is None) == (self.sheet is None):
            raise Refused("Name a body or a sheet.", field="body")
        owner = {"body": self.body} if self.body is not None else {"sheet": self.sheet}
        source: Footage | Sheet
        if self.body is not None:
            source = work.rows.footage_of(work.row(Body, self.body))
        else:
            source = work.row(Sheet, self.sheet or 0)
        of_y, of_x = FORMS[self.form]
        x = self._column(work, source, self.x, MADE[of_x])
        y = self._column(work, source, self.y, MADE[of_y])
        ids = {"footage" if isinstance(source, Footage) else "sheet": source.id}
        present = work.rows.graphs_of(source)
        if not present:
            SetGraph(**ids, x=self.x, ys=[self.y]).apply(work)
            present = work.rows.graphs_of(source)
        place = min(len(present), MOST_GRAPHS - 1)
        same = next((graph.place for graph in present if (graph.x, graph.ys) == (x, [y])), place)
        SetGraph(**ids, place=same, x=x, ys=[y]).apply(work)
        AddFit(**owner, x=x, y=y, curve="line").apply(work)

    def _column(self, work: Work, source: Footage | Sheet, key: str, made: Made) -> str:
        """The key of the column that holds what is made of another."""
        if made.key == "same":
            return key
        name, symbol = self._named(work, source, key)
        formula = made.formula.format(symbol)
        columns = work.rows.columns_of(source)
        there = next((one for one in columns if one.formula == formula), None)
        if there is not None:
            return key_of(there)
        heading = Heading(made.name.format(name)[:60], f"{symbol}_{made.suffix}", "")
        heading = unique(heading, {one.symbol for one in columns})
        return key_of(insert_column(work, source, heading, formula=formula))

    def _named(self, work: Work, source: Footage | Sheet, key: str) -> tuple[str, str]:
        """Name and symbol of a column."""
        known = Sources(work.rows)
        if isinstance(source, Sheet):
            column = known.sheet(source).table.column(key)
        else:
            table = known.footage(source).every_table[self.body or 0]
            column = table.column(key)
            if key in table.measured_keys and column is not None:
                return column.variable.name, key
            if key in table.energy_keys:
                raise Refused("Formulas know no energies; make a column of your own.", field="y")
        if column is None:
            raise Refused("This column is not there any more.", field="x")
        return column.variable.name, column.variable.symbol
