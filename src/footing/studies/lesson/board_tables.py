"""The board in words and figures: what it comes to, as a file, and as a sheet of a study."""

from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Literal
from uuid import uuid4

from pydantic import TypeAdapter

from footing.core import findings
from footing.formats import headings, writing
from footing.formats.headings import Heading
from footing.store import cells, classes, records
from footing.store.classes import Listed
from footing.store.reading import read_study
from footing.store.rows import Lab, Student, Study
from footing.studies.door import EditRequest, submit
from footing.studies.lesson.board import Pool, pairs_of
from footing.studies.model.keys import made_key
from footing.studies.school.people import Person

MEDIA_TYPES = {
    "csv": "text/csv; charset=utf-8",
    "ods": "application/vnd.oasis.opendocument.spreadsheet",
}
_EDIT = TypeAdapter(EditRequest)
_IMPROBABLE = 0.01


def summary(pool: Pool) -> list[tuple[str, str]]:
    """What the values come to together: a word and its figures, line by line."""
    pooled, unit = pool.pooled, pool.unit
    if pooled is None:
        return []
    groups = len({one.study_id for one in pool.entries})
    lines = [("findings", f"{pooled.number} of {groups} studies")]
    if pooled.standard_error is None or pooled.standard_deviation is None:
        lines.append(("value", pool.entries[0].text))
        return lines
    lines.append(("mean ± standard error", _measured(pooled.mean, pooled.standard_error, unit)))
    spread = findings.significant(pooled.standard_deviation, 2)
    lines.append(("standard deviation", f"{spread} {unit}".strip()))
    weighted = pooled.weighted
    if weighted is not None:
        lines.append(("weighted mean", _measured(weighted.mean, weighted.uncertainty, unit)))
        chi = findings.significant(weighted.chi_squared, 3)
        lines.append(("χ² of that", f"{chi} for {weighted.dof} degrees of freedom"))
        if weighted.probability < _IMPROBABLE:
            wider = _measured(weighted.mean, weighted.widened, unit)
            lines.append(("", f"the values differ by more than their ±; widened: {wider}"))
    out = [*pool.without, *(one for one in pool.entries if one.stands_out)]
    for one in out:
        said = f"{one.who}: {one.text}, {_about(one.shaky)}"
        lines.append(("left out" if one in pool.without else "stands out", said))
    if pool.accepted is not None:
        value, error = pooled.mean, pooled.standard_error
        within = findings.compare(
            findings.combine(value, (findings.Contribution("scatter", error, pooled.number - 1),)),
            pool.accepted[0],
        )
        percent = within.percent_error
        apart = f", {findings.signed(percent, 1)} %" if percent is not None else ""
        lines.append(("accepted", f"{pool.accepted_text}: the mean {within.verdict}{apart}"))
    return lines


def _measured(value: float, uncertainty: float, unit: str) -> str:
    return findings.measured(value, uncertainty, unit)


def table_file(pool: Pool, other: Pool | None, form: Literal["csv", "ods"]) -> bytes:
    """The points of a board as a table."""
    columns, rows = _columns(pool, other), list(_rows(pool, other))
    if form == "ods":
        return writing.as_ods("board", columns, rows)
    return writing.as_csv(columns, rows)


def _columns(pool: Pool, other: Pool | None) -> list[Heading]:
    found = [Heading("group", "group", "")]
    symbols: set[str] = {"group"}
    for one in (other, pool) if other else (pool,):
        value = headings.unique(
            Heading(one.name, headings.usual_symbol(one.name), one.unit), symbols
        )
        symbols.add(value.symbol)
        error = Heading(f"± of {one.name}", f"u{value.symbol}"[:12], one.unit)
        error = headings.unique(error, symbols)
        symbols.add(error.symbol)
        found += [value, error]
    return [*found, Heading("soundness", "sound", "")]


def _rows(pool: Pool, other: Pool | None) -> Iterator[list[str]]:
    if other is None:
        for one in pool.entries:
            yield [one.who, *_figures(one.value, one.uncertainty), _about(one.shaky)]
        return
    for pair in pairs_of(other, pool):
        x, y = pair.x, pair.y
        shaky = tuple(dict.fromkeys((*x.shaky, *y.shaky)))
        yield [
            y.who,
            *_figures(x.value, x.uncertainty),
            *_figures(y.value, y.uncertainty),
            _about(shaky),
        ]


def _figures(value: float, uncertainty: float) -> list[str]:
    return [f"{value:.10g}", f"{uncertainty:.4g}"]


def _about(shaky: tuple[str, ...]) -> str:
    return ", ".join(shaky) or "sound"


def into_sheet(person: Person, lab: Lab, pool: Pool, other: Pool | None) -> tuple[int, int]:
    """Put the points into a sheet of a study of one's own; give the keys of study and sheet.

    The same board goes into the same sheet again, so that fits there follow the class.
    """
    title = f"Board: {pool.name}" + (f" against {other.name}" if other else "")
    study = _study_called(title[:80], lab, person)
    columns = _columns(pool, other)[1:-1]  # numbers alone
    rows = [row[1:-1] for row in _rows(pool, other)]
    present = next(iter(read_study(study.id).sheets), None)
    if present is None:
        made = [
            {
                "name": heading.name,
                "symbol": heading.symbol,
                "unit": heading.unit,
                "blocks": tuple(cells.put_column([row[place] for row in rows])),
            }
            for place, heading in enumerate(columns)
        ]
        return study.id, _does(
            study.id, person, "add_sheet", name="board", rows=len(rows), columns=made
        )
    first = read_study(study.id).columns_of(present)[0].id
    if rows:
        _does(study.id, person, "set_cells", sheet=present.id, row=1, column=first, cells=rows)
    if 0 < len(rows) < present.rows:
        gone = {"row": len(rows) + 1, "count": present.rows - len(rows)}
        _does(study.id, person, "remove_rows", sheet=present.id, **gone)
    return study.id, present.id


def _study_called(title: str, lab: Lab, person: Person) -> Study:
    """A study with this title that the person keeps boards in, made if there is none."""
    row = records.fetch(Student, person.student_id) if person.student_id else None
    group = row.group_id if row else None
    listed: list[Listed] = classes.listed_studies(lab.school_class_id, person)
    for one in listed:
        study = one.study
        if study.title == title and study.group_id == group and study.removed_at is None:
            return study
    return records.add(
        Study(
            school_class_id=lab.school_class_id,
            group_id=group,
            title=title,
            made_at=datetime.now(UTC),
        )
    )


def _does(study_id: int, person: Person, kind: str, **fields: object) -> int:
    request = _EDIT.validate_python(
        {
            "edit": {"kind": kind, **fields},
            "based_on": classes.latest_edit(study_id),
            "token": uuid4().hex,
        }
    )
    return made_key(submit(study_id, person, request).made) or 0
