"""Duplicating a study: every row of it once more, with keys of its own.

Files and blocks of cells are known by their content, so that the copy names the same ones. The
history stays with the first study.
"""

from typing import Any
from uuid import uuid4

from footing.store.copying import Keys, copy_content
from footing.store.tables import (
    Body,
    Edit,
    Fit,
    Footage,
    Graph,
    Passage,
    Sheet,
    SheetColumn,
    Study,
)
from footing.studies.people import Person


def duplicate(study: Any, person: Person) -> int:
    """Make a copy of a study beside it; give its key."""
    made: Any = Study.create(
        school_class=study.school_class_id,
        lab=study.lab_id,
        group=study.group_id,
        title=f"{study.title[:50]}, copy",
        seq=1,
    )
    _renumber(made.id, copy_content(study.id, made.id))
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


def _renumber(study: int, keys: Keys) -> None:
    """Keys that stand inside fields: of columns, bodies, sheets and passages."""
    columns = {f"c{old}": f"c{new}" for old, new in keys[SheetColumn].items()}
    bodies, sheets = keys[Body], keys[Sheet]
    passages = keys[Passage]

    def column(key: str) -> str:
        return columns.get(key, key)

    for footage in Footage.select().where(Footage.study == study):
        footage.digits = {column(key): value for key, value in footage.digits.items()}
        footage.highlighted = [column(key) for key in footage.highlighted]
        footage.save()
    for graph in Graph.select().where(Graph.study == study):
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
    for fit in Fit.select().where(Fit.study == study):
        fit.x, fit.y = column(fit.x), column(fit.y)
        fit.passages = [passages[key] for key in fit.passages if key in passages]
        fit.save()
