"""Duplicating a study: every row of it once more, with keys of its own.

Files and blocks of cells are known by their content, so that the copy names the same ones. The
history stays with the first study.
"""

from collections.abc import Callable, Mapping
from dataclasses import replace
from datetime import UTC, datetime
from uuid import uuid4

from footing.store import history, records
from footing.store.access import ClassStudy
from footing.store.changes import Changes
from footing.store.copying import Copied, Keys, copy_content
from footing.store.mapping import CONTENT
from footing.store.reading import read_study
from footing.store.rows import (
    NEW,
    Answer,
    Body,
    BodyColumn,
    Edit,
    EnergyLedger,
    Finding,
    Fit,
    Footage,
    Graph,
    Impact,
    ModelParameter,
    MomentumLedger,
    MotionLeg,
    MotionModel,
    OtherSeries,
    Passage,
    ReportBlock,
    Row,
    Sheet,
    SheetColumn,
    Study,
)
from footing.store.snapshot import StudyRows
from footing.studies.report_keys import BlockKind, Thing, renumbered
from footing.studies.school.people import Person

_NOTHING = 2**31 - 1  # a key that no row has


def duplicate(study: ClassStudy, person: Person) -> int:
    """Make a copy of a study beside it; give its key."""
    copy = replace(
        study.row,
        id=NEW,
        title=f"{study.title[:50]}, copy",
        seq=0,
        made_at=datetime.now(UTC),
        removed_at=None,
        frozen_from_id=None,
    )
    made = records.add(copy)
    fill(read_study(study.id), made.id, person, label=_copy_of(study.row))
    return made.id


def fill_from(source: Study, study_id: int, person: Person) -> None:
    """Copy what is in a study into an empty one; answers in words are everybody's own."""
    rows = read_study(source.id)
    given = [row for kind in CONTENT if kind is not Answer for row in rows.all(kind)]
    copied = StudyRows(rows.study_id, rows.seq, rows.token, given)
    fill(copied, study_id, person, label=_copy_of(source))


def _copy_of(source: Study) -> str:
    return f"a copy of “{source.title}”"


def fill(rows: StudyRows, study_id: int, person: Person, *, label: str) -> Keys:
    """Put copies of rows into an empty study, with keys of its own; give these by the old ones.

    Raises
    ------
    KeyError : if a row refers to one that is not among them.
    """
    copied = copy_content(rows, study_id)
    changes = Changes(copied.rows)
    _renumber(copied, changes)
    changes.write()
    history.append(
        Edit(
            study_id=study_id,
            seq=1,
            teacher_id=person.teacher_id,
            student_id=person.student_id,
            person_name=person.name,
            kind="duplicate",
            label=label,
            payload={},
            changes=[],
            touched=[],
            based_on=0,
            standing=False,  # there is nothing to take back
            token=uuid4().hex,
            made_at=datetime.now(UTC),
        )
    )
    return copied.keys


def _renumber(copied: Copied, changes: Changes) -> None:
    """Keys that stand inside fields: of columns, bodies, sheets and passages."""
    made = copied.keys[SheetColumn] | copied.keys[BodyColumn]
    columns = {f"c{old}": f"c{new}" for old, new in made.items()}
    bodies, sheets = copied.keys[Body], copied.keys[Sheet]
    passages = copied.keys[Passage]

    def column(key: str) -> str:
        return columns.get(key, key)

    def there(keys: list[int]) -> list[int]:
        """The keys that bodies have in the copy."""
        return [bodies[key] for key in keys if key in bodies]

    for footage in copied.rows.all(Footage):
        digits = {column(key): value for key, value in footage.digits.items()}
        highlighted = [column(key) for key in footage.highlighted]
        changes.update(replace(footage, digits=digits, highlighted=highlighted))
    for graph in copied.rows.all(Graph):
        others: list[OtherSeries] = [
            {"sheet": sheets[one["sheet"]], "x": column(one["x"]), "y": column(one["y"])}
            for one in graph.others
            if one["sheet"] in sheets
        ]
        sketch = graph.sketch
        if "x" in sketch and "y" in sketch:
            sketch = sketch | {"x": column(sketch["x"]), "y": column(sketch["y"])}
        changes.update(
            replace(
                graph,
                x=column(graph.x),
                ys=[column(key) for key in graph.ys],
                looks={column(key): value for key, value in graph.looks.items()},
                hidden=there(graph.hidden),
                others=others,
                sketch=sketch,
            )
        )
    for fit in copied.rows.all(Fit):
        kept = [passages[key] for key in fit.passages if key in passages]
        changes.update(replace(fit, x=column(fit.x), y=column(fit.y), passages=kept))
    for model in copied.rows.all(MotionModel):
        changes.update(replace(model, common=_said(model.common, copied.keys[Fit])))
    for leg in copied.rows.all(MotionLeg):
        changes.update(replace(leg, own=_said(leg.own, copied.keys[Fit])))
    _renumber_report(copied, changes, column)
    for energies in copied.rows.all(EnergyLedger):
        changes.update(
            replace(
                energies,
                left_out=there(energies.left_out),
                columns=[made[key] for key in energies.columns if key in made],
            )
        )
    for momenta in copied.rows.all(MomentumLedger):
        entries = {_cell(cell, bodies): typed for cell, typed in momenta.entries.items()}
        changes.update(
            replace(
                momenta,
                entries=entries,
                left_out=there(momenta.left_out),
                resting_before=there(momenta.resting_before),
                resting_after=there(momenta.resting_after),
            )
        )


def _renumber_report(copied: Copied, changes: Changes, column: Callable[[str], str]) -> None:
    """What blocks of the report show; one of something that is gone says so in the copy, too."""
    columns = copied.keys[SheetColumn] | copied.keys[BodyColumn]
    kinds: dict[Thing, type[Row]] = {
        **{"footage": Footage, "sheet": Sheet, "body": Body, "fit": Fit, "finding": Finding},
        **{"model": MotionModel, "impact": Impact, "passage": Passage},
    }

    def new(of: Thing, key: int) -> int:
        known = columns if of == "column" else copied.keys[kinds[of]]
        return known.get(key, _NOTHING)

    for block in copied.rows.all(ReportBlock):
        changes.update(
            replace(
                block,
                about=renumbered(BlockKind(block.kind), block.about, new),
                columns=[column(key) for key in block.columns],
            )
        )


def _said(
    parameters: Mapping[str, ModelParameter], fits: dict[int, int]
) -> dict[str, ModelParameter]:
    """Parameters of a model that are taken from fits are taken from those of the copy."""
    return {
        name: {**said, "fit": fits.get(said["fit"], 0)} if "fit" in said else said
        for name, said in parameters.items()
    }


def _cell(cell: str, bodies: dict[int, int]) -> str:
    """The same cell of a blank ledger, by the key that its body has in the copy."""
    owner, _, rest = cell.partition(".")
    return cell if owner == "total" else f"b{bodies.get(int(owner[1:]), 0)}.{rest}"
