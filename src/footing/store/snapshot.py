"""All rows of a study at one moment, in memory.

A `StudyRows` never changes and can be read by any thread; what an edit does to it makes the next
one, which shares all that was not touched. So whoever keeps something computed from rows can tell
by identity whether they are still the same.
"""

from collections.abc import Callable, Iterable
from operator import attrgetter
from typing import Any, Generic, TypeVar, overload

from footing.core.errors import NotThere
from footing.store.rows import (
    AnyColumn,
    Body,
    BodyColumn,
    Doubt,
    EnergyLedger,
    Finding,
    Fit,
    Footage,
    Graph,
    Ground,
    HiddenFrame,
    Impact,
    Key,
    KnownLength,
    Mark,
    Member,
    MomentumLedger,
    MotionLeg,
    MotionModel,
    Passage,
    Plane,
    PlanePoint,
    ReportBlock,
    Row,
    RowAside,
    Sheet,
    SheetColumn,
    StudyQuantity,
    StudyUnit,
    Weather,
    key_of_row,
)

SomeRow = TypeVar("SomeRow", bound=Row)
_WORDS: dict[type[Row], str] = {  # as people say
    ReportBlock: "block of the report",
    Footage: "source",
    SheetColumn: "column",
    BodyColumn: "column",
}


class Group(Generic[SomeRow]):
    """Rows in the order of their keys."""

    __slots__ = ("_by_key", "_ordered")

    def __init__(self, by_key: dict[Key, SomeRow]) -> None:
        self._by_key = by_key
        self._ordered: tuple[SomeRow, ...] | None = None

    def get(self, key: Key) -> SomeRow | None:
        """A row by its key."""
        return self._by_key.get(key)

    @property
    def ordered(self) -> tuple[SomeRow, ...]:
        """All of them; the same object until one changes."""
        if self._ordered is None:
            by_key = self._by_key
            self._ordered = tuple(by_key[key] for key in sorted(by_key))
        return self._ordered

    def copy(self) -> "Group[SomeRow]":
        """A group of its own."""
        return Group(dict(self._by_key))

    def put(self, row: SomeRow) -> None:
        """Add a row, or put it in the place of the one with its key."""
        self._by_key[key_of_row(row)] = row
        self._ordered = None

    def drop(self, row: SomeRow) -> None:
        """Take a row out."""
        del self._by_key[key_of_row(row)]
        self._ordered = None


class _Table(Generic[SomeRow]):
    """The rows of one table: all, and in groups by what they belong to."""

    def __init__(self, every: Group[SomeRow]) -> None:
        self.every = every
        self._groups: dict[str, dict[object, Group[SomeRow]]] = {}
        self._own: set[tuple[str, object]] = set()  # groups that no other table shares

    def copy(self) -> "_Table[SomeRow]":
        """A table of its own that shares the groups until they change."""
        made = _Table(self.every.copy())
        shared = list(self._groups.items())  # at once: another thread may just make one more
        made._groups = {field: dict(groups) for field, groups in shared}
        return made

    def under(self, field: str, value: object) -> tuple[SomeRow, ...]:
        """The rows that have a value in a field."""
        groups = self._groups.get(field)
        if groups is None:
            groups = {}
            of: Callable[[Row], object] = attrgetter(field)
            for row in self.every.ordered:
                groups.setdefault(of(row), Group({})).put(row)
            self._groups[field] = groups
        group = groups.get(value)
        return group.ordered if group else ()

    def put(self, row: SomeRow) -> None:
        before = self.every.get(key_of_row(row))
        if before is not None:
            self.drop(before)
        self.every.put(row)
        for field in self._groups:
            self._group_of(field, row).put(row)

    def drop(self, row: SomeRow) -> None:
        self.every.drop(row)
        for field in self._groups:
            self._group_of(field, row).drop(row)

    def _group_of(self, field: str, row: SomeRow) -> Group[SomeRow]:
        groups, value = self._groups[field], getattr(row, field)
        if (field, value) not in self._own:
            shared = groups.get(value)
            groups[value] = shared.copy() if shared else Group({})
            self._own.add((field, value))
        return groups[value]


class StudyRows:
    """All rows that edits have made in a study.

    seq, token : of the edit after which they are as they are
    """

    def __init__(self, study_id: int, seq: int, token: str | None, rows: Iterable[Row]) -> None:
        self.study_id = study_id
        self.seq = seq
        self.token = token
        by_kind: dict[type[Row], dict[Key, Row]] = {}
        for row in rows:
            by_kind.setdefault(type(row), {})[key_of_row(row)] = row
        self._tables: dict[type[Row], _Table[Any]] = {
            kind: _Table(Group(of_kind)) for kind, of_kind in by_kind.items()
        }

    def get(self, kind: type[SomeRow], key: Key) -> SomeRow | None:
        """A row by its key."""
        table = self._tables.get(kind)
        return table.every.get(key) if table else None

    def all(self, kind: type[SomeRow]) -> tuple[SomeRow, ...]:
        """All rows of a kind, in the order of their keys."""
        table = self._tables.get(kind)
        return table.every.ordered if table else ()

    def _under(self, kind: type[SomeRow], field: str, value: object) -> tuple[SomeRow, ...]:
        table = self._tables.get(kind)
        return table.under(field, value) if table else ()

    def find(self, kind: type[SomeRow], key: Key) -> SomeRow:
        """A row by its key.

        Raises
        ------
        NotThere : if the study has none.
        """
        row = self.get(kind, key)
        if row is None:
            word = _WORDS.get(kind, kind.__name__.lower())
            raise NotThere(f"The study has no such {word}.")
        return row

    @property
    def footages(self) -> tuple[Footage, ...]:
        """Videos and pictures, in the order in which they came."""
        return self.all(Footage)

    @property
    def sheets(self) -> tuple[Sheet, ...]:
        """The sheets, in the order in which they came."""
        return self.all(Sheet)

    def footage_of(self, row: Body | KnownLength | Ground | Plane) -> Footage:
        """The footage that a row belongs to."""
        return self.find(Footage, row.footage_id)

    def sheet_of(self, column: SheetColumn) -> Sheet:
        """The sheet that a column stands in."""
        return self.find(Sheet, column.sheet_id)

    def source_of_column(self, column: SheetColumn | BodyColumn) -> Sheet | Footage:
        """The sheet or footage that a column belongs to."""
        if isinstance(column, BodyColumn):
            return self.find(Footage, column.footage_id)
        return self.find(Sheet, column.sheet_id)

    def ground_of(self, footage: Footage) -> Ground:
        """The ground of a footage."""
        return self.find(Ground, footage.id)

    def plane_of(self, footage: Footage) -> Plane | None:
        """Its oblique view, if any."""
        return self.get(Plane, footage.id)

    def plane_points_of(self, footage: Footage) -> tuple[PlanePoint, ...]:
        """The points of its oblique view, corners first."""
        points = self._under(PlanePoint, "plane_id", footage.id)
        return tuple(sorted(points, key=lambda point: point.place))

    def known_lengths_of(self, footage: Footage) -> tuple[KnownLength, ...]:
        """Its known lengths."""
        return self._under(KnownLength, "footage_id", footage.id)

    def bodies_of(self, footage: Footage) -> tuple[Body, ...]:
        """Its bodies, background spots and derived ones included."""
        return self._under(Body, "footage_id", footage.id)

    def second_spots_of(self, body: Body) -> tuple[Body, ...]:
        """The second spot of a body, if any."""
        return self._under(Body, "second_of_id", body.id)

    def members_of(self, body: Body) -> tuple[Member, ...]:
        """What a derived body is made from, in order."""
        members = self._under(Member, "body_id", body.id)
        return tuple(sorted(members, key=lambda member: member.place))

    def made_from(self, body: Body) -> tuple[Body, ...]:
        """The derived bodies that are made from a body."""
        return tuple(
            self.find(Body, member.body_id) for member in self._under(Member, "other_id", body.id)
        )

    def marks_of(self, body: Body) -> tuple[Mark, ...]:
        """Its marks in rising frames."""
        return self._under(Mark, "body_id", body.id)

    def hidden_of(self, body: Body) -> tuple[HiddenFrame, ...]:
        """The frames in which somebody said that it is hidden."""
        return self._under(HiddenFrame, "body_id", body.id)

    def doubts_of(self, body: Body) -> tuple[Doubt, ...]:
        """The frames that following left open."""
        return self._under(Doubt, "body_id", body.id)

    def impacts_on(self, footage: Footage) -> tuple[Impact, ...]:
        """The impacts of a footage, in time."""
        impacts = self._under(Impact, "footage_id", footage.id)
        return tuple(sorted(impacts, key=lambda impact: (impact.at, impact.id)))

    def impacts_of(self, body: Body) -> tuple[Impact, ...]:
        """The impacts that count for a body, in time."""
        impacts = self.impacts_on(self.footage_of(body))
        return tuple(one for one in impacts if one.body_id in (None, body.id))

    def energy_ledger_of(self, footage: Footage) -> EnergyLedger | None:
        """The account of its energies, if there is one."""
        return self.get(EnergyLedger, footage.id)

    def momentum_ledger_of(self, impact: Impact) -> MomentumLedger | None:
        """The account of the momenta around an impact, if there is one."""
        return self.get(MomentumLedger, impact.id)

    def models_on(self, footage: Footage | None) -> tuple[MotionModel, ...]:
        """The predicted motions over a footage; without one those that need none."""
        return self._under(MotionModel, "footage_id", None if footage is None else footage.id)

    def legs_of(self, model: MotionModel) -> tuple[MotionLeg, ...]:
        """The legs of a predicted motion, in their order."""
        legs = self._under(MotionLeg, "model_id", model.id)
        return tuple(sorted(legs, key=lambda leg: (leg.place, leg.id)))

    @property
    def weather(self) -> Weather | None:
        """The state of the air, if it was said."""
        return self.get(Weather, self.study_id)

    def findings_from(self, model: MotionModel) -> tuple[Finding, ...]:
        """The findings that are read from a predicted motion."""
        return self._under(Finding, "model_id", model.id)

    def sheets_on(self, footage: Footage) -> tuple[Sheet, ...]:
        """The sheets whose rows are moments of a footage."""
        return self._under(Sheet, "footage_id", footage.id)

    @overload
    def columns_of(self, source: Sheet) -> tuple[SheetColumn, ...]: ...

    @overload
    def columns_of(self, source: Footage) -> tuple[BodyColumn, ...]: ...

    def columns_of(self, source: Sheet | Footage) -> tuple[AnyColumn, ...]:
        """The columns of a sheet, or those computed for every body of a footage, in their order."""
        kind = SheetColumn if isinstance(source, Sheet) else BodyColumn
        columns = self._under(kind, _reference_to(source), source.id)
        return tuple(sorted(columns, key=lambda column: (column.place, column.id)))

    def asides_of(self, sheet: Sheet) -> tuple[RowAside, ...]:
        """Its rows that are set aside."""
        return self._under(RowAside, "sheet_id", sheet.id)

    def passages_of(self, source: Footage | Sheet) -> tuple[Passage, ...]:
        """The passages of a source."""
        return self._under(Passage, _reference_to(source), source.id)

    def graphs_of(self, source: Footage | Sheet) -> tuple[Graph, ...]:
        """The graphs of a source, from the top."""
        graphs = self._under(Graph, _reference_to(source), source.id)
        return tuple(sorted(graphs, key=lambda graph: graph.place))

    def source_of(self, row: Passage | Graph) -> Footage | Sheet:
        """The source that a passage or a graph belongs to."""
        if row.footage_id is not None:
            return self.find(Footage, row.footage_id)
        return self.find(Sheet, row.sheet_id or 0)

    def fits_of(self, owner: Body | Sheet) -> tuple[Fit, ...]:
        """The fits of a body's or a sheet's columns."""
        return self._under(Fit, _reference_to(owner), owner.id)

    @property
    def findings(self) -> tuple[Finding, ...]:
        """The findings of the study."""
        return self.all(Finding)

    def findings_of(self, fit: Fit) -> tuple[Finding, ...]:
        """What was read from a fit."""
        return self._under(Finding, "fit_id", fit.id)

    def means_of(self, column: SheetColumn) -> tuple[Finding, ...]:
        """The means of a column."""
        return self._under(Finding, "column_id", column.id)

    def compared_with(self, finding: Finding) -> tuple[Finding, ...]:
        """The findings that are compared with another."""
        return self._under(Finding, "other_id", finding.id)

    @property
    def report(self) -> tuple[ReportBlock, ...]:
        """The blocks of the report, from the top."""
        return tuple(sorted(self.all(ReportBlock), key=lambda row: (row.place, row.id)))

    @property
    def quantities(self) -> tuple[StudyQuantity, ...]:
        """The quantities of the study."""
        return self.all(StudyQuantity)

    @property
    def unit(self) -> str | None:
        """The unit in which the study shows its lengths, if one was chosen."""
        row = self.get(StudyUnit, self.study_id)
        return row.length if row else None

    def draft(self) -> "Draft":
        """A copy that can be changed."""
        return Draft(self)


class Draft(StudyRows):
    """The rows of a study while an edit changes them."""

    def __init__(self, of: StudyRows) -> None:
        super().__init__(of.study_id, of.seq, of.token, ())
        self._tables = dict(of._tables)
        self._own: set[type[Row]] = set()

    def put(self, row: Row) -> None:
        """Add a row, or put it in the place of the one with its key."""
        self._table(type(row)).put(row)

    def drop(self, row: Row) -> None:
        """Take a row out."""
        self._table(type(row)).drop(row)

    def _table(self, kind: type[Row]) -> _Table[Any]:
        if kind not in self._own:
            present = self._tables.get(kind)
            self._tables[kind] = present.copy() if present else _Table(Group({}))
            self._own.add(kind)
        return self._tables[kind]

    def finished(self, seq: int, token: str) -> StudyRows:
        """The rows as they are now, after an edit."""
        made = StudyRows(self.study_id, seq, token, ())
        made._tables = dict(self._tables)
        self._own = set()
        return made


def _reference_to(row: Footage | Body | Sheet) -> str:
    """The field by which others refer to a row."""
    return {Footage: "footage_id", Body: "body_id", Sheet: "sheet_id"}[type(row)]
