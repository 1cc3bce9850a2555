"""The lesson: the overview of a lab, and its board."""

from dataclasses import dataclass
from typing import Annotated, Literal, get_args
from urllib.parse import urlencode

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import RedirectResponse, Response

from footing.core.errors import NotThere
from footing.core.texts import cleaned
from footing.store import classes
from footing.store.database import connected, transaction
from footing.store.rows import Lab, SchoolClass
from footing.studies.lesson import beside, board, board_graph, board_tables
from footing.studies.lesson.overview import STEPS, Overview, overview
from footing.studies.school.people import Person
from footing.studies.views import graph_file
from footing.web.downloads import file_of
from footing.web.routing import DatabaseRoute
from footing.web.security import SeenLab, SomeTeacher, TaughtLab, Visitor
from footing.web.steps import RAIL
from footing.web.templating import templates

router = APIRouter(route_class=DatabaseRoute, include_in_schema=False)

Shape = Literal["dots", "histogram", "table", "pairs"]
Order = Literal["group", "steps", "marks", "soundness", "activity", "hand"]
Each = Literal["trials", "groups"]
Beside = Literal["graphs beside", "graphs over", "films beside", "films over"]


@router.get("/labs/{lab_id}/overview")
def show_overview(
    request: Request, teacher: SomeTeacher, lab: TaughtLab, order: Order = "group"
) -> Response:
    """How far each group is."""
    context = {
        "visitor": teacher,
        "lab": lab,
        "school_class": _class_of(teacher, lab),
        "overview": overview(lab, teacher, order=order),
        "order": order,
        "steps": [(step.step.value, step.name) for step in RAIL if step.step.value in STEPS],
    }
    return templates.TemplateResponse(request, "overview.html", context)


@router.get("/labs/{lab_id}/beside")
def show_beside(
    request: Request,
    teacher: SomeTeacher,
    lab: TaughtLab,
    left: int = 0,
    right: int = 0,
    what: Beside = "graphs beside",
) -> Response:
    """Graphs or films of two groups, beside or over each other."""
    first, second = beside.sides(lab, teacher, [left, right])
    if (first.study_id, second.study_id) != (left, right):
        # the address says whose they are, so that they stay the same when others begin
        whose = {"left": first.study_id, "right": second.study_id, "what": what}
        return RedirectResponse(f"/labs/{lab.id}/beside?{urlencode(whose)}", status_code=303)
    context = {
        "visitor": teacher,
        "lab": lab,
        "school_class": _class_of(teacher, lab),
        "overview": overview(lab, teacher),
        "sides": (first, second),
        "what": what,
        "kinds": get_args(Beside),
        "spec": beside.over_each_other(first, second) if what == "graphs over" else None,
    }
    return templates.TemplateResponse(request, "beside.html", context)


@router.get("/labs/{lab_id}/board")
def show_board(
    request: Request,
    visitor: Visitor,
    lab: SeenLab,
    of: str = "",
    across: str = "",
    shape: Shape = "dots",
    each: Each = "trials",
    names: bool = True,
    outliers: bool = True,
) -> Response:
    """A finding of all groups, pooled; or two of them against each other."""
    school_class = _class_of(visitor, lab)
    seen = overview(lab, visitor)
    there = board.names_on_board(seen)
    hides = school_class.hides_names or not names
    wanted = _wanted(there, cleaned(of))
    against = _wanted(there, cleaned(across), but=wanted) if shape == "pairs" else ""
    how = _How(each, hides, outliers)
    pool = _pool(seen, visitor, wanted, how)
    other = _pool(seen, visitor, against, how)
    spec = None
    if pool is not None and pool.entries and shape != "table":
        spec = board_graph.spec_of(pool, shape, other)
    context = {
        "visitor": visitor,
        "lab": lab,
        "school_class": school_class,
        "there": there,
        "of": wanted,
        "across": against,
        "shape": shape,
        "each": each,
        "names": names,
        "outliers": outliers,
        "hides": hides,
        "pool": pool,
        "other": other,
        "summary": board_tables.summary(pool) if pool else [],
        "spec": spec,
    }
    return templates.TemplateResponse(request, "board.html", context)


@router.get("/labs/{lab_id}/board.{form}")
async def take_board(
    request: Request,
    visitor: Visitor,
    lab: SeenLab,
    form: Literal["svg", "png", "csv", "ods"],
    of: str,
    across: str = "",
    shape: Shape = "dots",
    each: Each = "trials",
    names: bool = True,
    outliers: bool = True,
    width: Annotated[int, Query(ge=200, le=4000)] = 1000,
) -> Response:
    """The board as a picture or a table."""
    with connected():
        hides = _class_of(visitor, lab).hides_names or not names
        seen = overview(lab, visitor)
        how = _How(each, hides, outliers)
        pool = _pool(seen, visitor, cleaned(of), how)
        other = _pool(seen, visitor, cleaned(across) if shape == "pairs" else "", how)
    if pool is None:
        raise NotThere("Say which finding is wanted.")
    workshop = request.app.state.workshop
    if form == "csv" or form == "ods":
        content = await workshop.make(board_tables.table_file, pool, other, form)
        return file_of(f"board.{form}", content, board_tables.MEDIA_TYPES[form])
    spec = board_graph.spec_of(pool, shape, other) | {"width": width}
    picture = await workshop.make(graph_file.draw, spec, form, 2.0)
    return Response(picture, media_type=graph_file.MEDIA_TYPES[form])


@router.post("/labs/{lab_id}/board/sheet")
def as_sheet(
    visitor: Visitor,
    lab: SeenLab,
    of: Annotated[str, Form()],
    across: Annotated[str, Form()] = "",
    each: Annotated[Each, Form()] = "trials",
) -> Response:
    """The board as a sheet in a study, to be fitted and straightened there."""
    school_class = _class_of(visitor, lab)
    hides = school_class.hides_names
    with transaction():
        seen = overview(lab, visitor)
        how = _How(each, hides, outliers=True)
        pool = _pool(seen, visitor, cleaned(of), how)
        if pool is None:
            raise NotThere("Say which finding is wanted.")
        other = _pool(seen, visitor, cleaned(across), how)
        study_id, sheet = board_tables.into_sheet(visitor, lab, pool, other)
    return RedirectResponse(f"/studies/{study_id}/graph?source=s{sheet}", status_code=303)


@dataclass(frozen=True)
class _How:
    """How a board is pooled."""

    each: Each
    hides: bool
    outliers: bool


def _pool(seen: Overview, person: Person, name: str, how: _How) -> board.Pool | None:
    if not name:
        return None
    return board.pool_of(
        seen, person, name, each=how.each, hides_names=how.hides, all_of_them=how.outliers
    )


def _class_of(person: Person, lab: Lab) -> SchoolClass:
    return next(one for one in classes.classes_of(person) if one.id == lab.school_class_id)


def _wanted(there: list[str], typed: str, *, but: str = "") -> str:
    """The name that is meant, or the first that there is."""
    left = [name for name in there if name != but]
    known = {name.casefold(): name for name in left}
    return known.get(typed.strip().casefold(), left[0] if left else "")
