"""Duplicating a study: every row of it once more, with keys of its own.

Files and blocks of cells are known by their content, so that the copy names the same ones. The
history stays with the first study.
"""

from collections.abc import Iterator
from typing import Any
from uuid import uuid4

from peewee import AutoField, ForeignKeyField

from footing.store.tables import (
    CONTENT,
    Body,
    Edit,
    Fit,
    Footage,
    Graph,
    Passage,
    Sheet,
    SheetColumn,
    Study,
    Table,
)
from footing.studies.people import Person

_AT_ONCE = 1000  # rows in a statement


def duplicate(study: Any, person: Person) -> int:
    """Make a copy of a study beside it; give its key."""
    made: Any = Study.create(
        school_class=study.school_class_id,
        lab=study.lab_id,
        group=study.group_id,
        title=f"{study.title[:50]}, copy",
        seq=1,
    )
    _Copy(study.id, made.id).run()
    Edit.create(
        study=made,
        seq=1,
        person_name=person.name,
        kind="duplicate",
        label=f"a copy of “{study.title}”",
        payload={},
        changes=[],
        touched=[],
        based_on=0,
        standing=False,  # there is nothing to take back
        token=uuid4().hex,
        **person.as_columns,
    )
    return int(made.id)


class _Copy:
    """The copying of one study."""

    def __init__(self, old: int, new: int) -> None:
        self._old = old
        self._new = new
        self._keys: dict[type[Table], dict[Any, Any]] = {Study: {old: new}}

    def run(self) -> None:
        for table in CONTENT:
            self._copy(table)
        self._renumber()

    def _copy(self, table: Any) -> None:
        meta = table._meta
        known = self._keys.setdefault(table, {})
        numbered = isinstance(meta.primary_key, AutoField)
        later: list[tuple[str, Any, Any]] = []  # references within the table, once all are there
        waiting: list[dict[str, Any]] = []
        for row in table.select().where(table.study == self._old).order_by(*_key(meta)).dicts():
            fields = {}
            for field in meta.sorted_fields:
                value = row[field.name]
                if isinstance(field, ForeignKeyField) and value is not None:
                    if field.rel_model is table:
                        later.append((field.name, row["id"], value))
                        value = None
                    elif field.rel_model in self._keys:
                        value = self._keys[field.rel_model][value]
                fields[field.name] = value
            if numbered:
                old = fields.pop("id")
                known[old] = table.insert(**fields).execute()
                continue
            if isinstance(meta.primary_key, ForeignKeyField):
                known[row[meta.primary_key.name]] = fields[meta.primary_key.name]
            waiting.append(fields)
        for batch in _batches(waiting):
            table.insert_many(batch).execute()
        for name, old, other in later:
            table.update(**{name: known[other]}).where(table.id == known[old]).execute()

    def _renumber(self) -> None:
        """Keys that stand inside fields: of columns, bodies, sheets and passages."""
        columns = {f"c{old}": f"c{new}" for old, new in self._keys[SheetColumn].items()}
        bodies, sheets = self._keys[Body], self._keys[Sheet]
        passages = self._keys[Passage]

        def column(key: str) -> str:
            return columns.get(key, key)

        for footage in Footage.select().where(Footage.study == self._new):
            footage.digits = {column(key): value for key, value in footage.digits.items()}
            footage.highlighted = [column(key) for key in footage.highlighted]
            footage.save()
        for graph in Graph.select().where(Graph.study == self._new):
            graph.x, graph.ys = column(graph.x), [column(key) for key in graph.ys]
            graph.looks = {column(key): value for key, value in graph.looks.items()}
            graph.hidden = [bodies[key] for key in graph.hidden if key in bodies]
            graph.others = [
                one | {"sheet": sheets[one["sheet"]], "x": column(one["x"]), "y": column(one["y"])}
                for one in graph.others
                if one["sheet"] in sheets
            ]
            if graph.sketch:
                axes = {axis for axis in ("x", "y") if axis in graph.sketch}
                graph.sketch = graph.sketch | {axis: column(graph.sketch[axis]) for axis in axes}
            graph.save()
        for fit in Fit.select().where(Fit.study == self._new):
            fit.x, fit.y = column(fit.x), column(fit.y)
            fit.passages = [passages[key] for key in fit.passages if key in passages]
            fit.save()


def _key(meta: Any) -> list[Any]:
    names = getattr(meta.primary_key, "field_names", None) or [meta.primary_key.name]
    return [meta.fields[name] for name in names]


def _batches(rows: list[dict[str, Any]]) -> Iterator[list[dict[str, Any]]]:
    for first in range(0, len(rows), _AT_ONCE):
        yield rows[first : first + _AT_ONCE]
