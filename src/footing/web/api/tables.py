"""Tables: sheets come in, tables go out, formulas are tried, graphs are read off."""

from collections.abc import Callable
from dataclasses import asdict
from datetime import UTC, datetime
from typing import Annotated, Any

from fastapi import APIRouter, Depends, Query, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import FileResponse, Response
from starlette.background import BackgroundTask

from footing.core.errors import NotThere, Refused
from footing.devices import station
from footing.store.access import ClassStudy
from footing.store.database import connected
from footing.studies import class_rules
from footing.studies.edits.parameters import SetParameter
from footing.studies.model.keys import SourceKey, made_key
from footing.studies.queries import (
    fit_trial,
    model_trial,
    models_out,
    straight_page,
    stretch,
    tables_out,
)
from footing.studies.queries.stretch import Plot
from footing.studies.queries.table_parts import Wanted
from footing.studies.school.people import Person
from footing.studies.views import graph_file, ledger_file
from footing.studies.views.shown import LEDGER, NO_PARTS, ModelGraph, Shown
from footing.studies.views.view import study_view
from footing.web.answers import StateResponse
from footing.web.downloads import file_of, saved_as
from footing.web.routing import DatabaseRoute
from footing.web.security import OwnStudy, SeenStudy, Visitor
from footing.web.workshop import Workshop

router = APIRouter(route_class=DatabaseRoute, tags=["tables"])

_LARGEST = 200_000_000  # bytes of a file with a table
Drawing = tuple[dict[str, Any], str]  # the specification of a graph, and its title


@router.post("/studies/{study_id}/tables")
async def take_table(
    request: Request, study: OwnStudy, visitor: Visitor, name: str = "table"
) -> StateResponse:
    """Make a sheet of a file (CSV, TSV, ODS, XLSX) or of pasted text: the body of the request."""
    announced = int(request.headers.get("content-length") or 0)
    if announced > _LARGEST:
        raise Refused(f"A table may have {_LARGEST // 1_000_000} MB at most.")
    data = await request.body()
    return StateResponse(await run_in_threadpool(_taken, study, visitor, data, name))


def _taken(study: ClassStudy, visitor: Person, data: bytes, name: str) -> dict[str, Any]:
    with connected():
        accepted = tables_out.take_table(study, visitor, data, name)
        source = SourceKey("sheet", made_key(accepted.made) or 0)
        view = study_view(study, visitor, source=str(source))
        return {"made": accepted.made, "source": str(source), "view": view}


@router.get("/studies/{study_id}/sheets/{sheet}/cells")
def read_cells(
    study: SeenStudy,
    sheet: int,
    first: Annotated[int, Query(ge=0)] = 0,
    count: Annotated[int, Query(ge=1)] = 200,
    columns: Annotated[list[int] | None, Query()] = None,
) -> StateResponse:
    """Some rows of some columns, as they are shown."""
    return StateResponse(tables_out.window(study, sheet, first, count, columns or []))


@router.get("/studies/{study_id}/tables/{owner}.{form}")
async def read_table(
    request: Request,
    study: SeenStudy,
    owner: str,
    form: tables_out.Form,
    columns: Annotated[list[str] | None, Query(max_length=100)] = None,
    first: Annotated[int | None, Query(ge=1)] = None,
    last: Annotated[int | None, Query(ge=1)] = None,
    every: Annotated[int, Query(ge=1)] = 1,
    plain: bool = False,
) -> Response:
    """A table, or chosen rows and columns of it, sent from the disk.

    With units in its header as CSV, tab-separated text, ODS or XLSX, as it is shown; as JSON with
    all digits. ``plain`` text is for programs: keys above the columns, and all digits.
    """
    workshop: Workshop = request.app.state.workshop
    folder = request.app.state.settings.made_folder
    wanted = Wanted(tuple(columns or ()), first, last, every, plain)
    name, path = await workshop.make(tables_out.table_file, study.id, owner, form, folder, wanted)
    return FileResponse(
        path,
        headers=saved_as(name),
        media_type=tables_out.MEDIA_TYPES[form],
        background=BackgroundTask(path.unlink, missing_ok=True),
    )


@router.post("/studies/{study_id}/formulas/trial")
def try_formula(study: SeenStudy, trial: tables_out.Trial) -> StateResponse:
    """What a formula would give: in print, its unit and first values, or where it is wrong."""
    return StateResponse(tables_out.try_formula(study, trial))


@router.post("/studies/{study_id}/fits/trial")
def try_fit(study: SeenStudy, wanted: fit_trial.TryFit) -> StateResponse:
    """What a fit would come to, without keeping it."""
    return StateResponse(fit_trial.try_fit(study, wanted))


@router.get("/studies/{study_id}/graphs/{place}.{form}")
async def read_graph(
    request: Request,
    study: SeenStudy,
    visitor: Visitor,
    place: int,
    form: graph_file.Form,
    source: str | None = None,
    width: int = graph_file.WIDTH,
    scale: Annotated[float, Query(allow_inf_nan=False)] = 2.0,
    boxes: bool = False,
    large: bool = False,
) -> Response:
    """A graph of a source as SVG or PNG; ``scale`` is pixels of a PNG for each of its width.

    With ``boxes`` the results of its fits stand on it, in large print if ``large``.
    """
    said = graph_file.Boxes(boxes, large)

    def specified() -> Drawing:
        with connected():
            view = study_view(study, visitor, source=source, shown=NO_PARTS)
        spec = graph_file.specified(view, place, width=width, scale=scale, boxes=said)
        return spec, view["graphs"][place]["title"]

    return await _drawn(request, specified, form, scale)


@router.get("/studies/{study_id}/ledger/energies.{form}")
async def read_energies(
    request: Request,
    study: SeenStudy,
    visitor: Visitor,
    form: graph_file.Form,
    source: str | None = None,
    width: int = graph_file.WIDTH,
    scale: Annotated[float, Query(allow_inf_nan=False)] = 2.0,
) -> Response:
    """The graph of the energies of a footage as SVG or PNG."""

    def specified() -> Drawing:
        graph_file.check_size(width, scale)
        with connected():
            view = study_view(study, visitor, source=source, shown=LEDGER)
        graph = view["ledger"]["graph"] if view["ledger"] else None
        if graph is None:
            raise NotThere("There are no energies to be drawn.")
        return graph_file.filled(graph, [], width=width), "Energies"

    return await _drawn(request, specified, form, scale)


@router.get("/studies/{study_id}/ledger/accounts.csv")
def read_accounts(study: SeenStudy, visitor: Visitor, source: str | None = None) -> Response:
    """What the ledgers of a footage show, as CSV."""
    view = study_view(study, visitor, source=source, shown=LEDGER)
    if view["ledger"] is None:
        raise NotThere("There are no ledgers of this source.")
    return file_of("Ledgers.csv", ledger_file.as_csv(view["ledger"]), tables_out.MEDIA_TYPES["csv"])


@router.post("/studies/{study_id}/models/trial")
def try_model(study: SeenStudy, wanted: SetParameter, quantity: ModelGraph = "y") -> StateResponse:
    """What a model would be with a parameter, without keeping it."""
    return StateResponse(model_trial.try_parameter(study, wanted, quantity))


@router.get("/studies/{study_id}/models/graph.{form}")
async def read_models_graph(
    request: Request,
    study: SeenStudy,
    visitor: Visitor,
    form: graph_file.Form,
    source: str | None = None,
    quantity: ModelGraph = "y",
    width: int = graph_file.WIDTH,
    scale: Annotated[float, Query(allow_inf_nan=False)] = 2.0,
) -> Response:
    """The graph of the models over a source as SVG or PNG."""

    def specified() -> Drawing:
        graph_file.check_size(width, scale)
        with connected():
            shown = Shown((f"models:{quantity}",))
            view = study_view(study, visitor, source=source, shown=shown)
        graph = view["models"]["graph"] if view["models"] else None
        if graph is None:
            raise NotThere("There is no model to be drawn.")
        return graph_file.filled(graph, [], width=width), graph["title"]

    return await _drawn(request, specified, form, scale)


@router.get("/studies/{study_id}/models/table.csv")
def read_models(study: SeenStudy, source: str | None = None) -> Response:
    """Where the models over a source are at each moment, as CSV."""
    content = models_out.as_csv(study, source)
    return file_of("Models.csv", content, tables_out.MEDIA_TYPES["csv"])


@router.get("/weather-station")
def read_weather_station(_visitor: Visitor) -> StateResponse:
    """What the weather station of the school says now, as it is typed into a form."""
    return StateResponse(asdict(station.reading(datetime.now(UTC))))


async def _drawn(
    request: Request,
    specified: Callable[[], Drawing],
    form: graph_file.Form,
    scale: float,
) -> Response:
    """A picture of a graph as a file; its specification and its title are made in a thread."""
    spec, title = await run_in_threadpool(specified)
    workshop: Workshop = request.app.state.workshop
    picture = await workshop.make(graph_file.draw, spec, form, scale)
    return file_of(f"{title}.{form}", picture, graph_file.MEDIA_TYPES[form])


@router.post("/studies/{study_id}/rules")
def change_rules(study: OwnStudy, visitor: Visitor, rules: class_rules.Rules) -> StateResponse:
    """Lay down how the class draws points, or whether fits of the lab say what they mean."""
    class_rules.change_rules(study, visitor, rules)
    return StateResponse(study_view(study, visitor))


def _plot(owner: str, x: str, y: str) -> Plot:
    return Plot(owner, x, y)


SomePlot = Annotated[Plot, Depends(_plot)]


@router.get("/studies/{study_id}/stretch")
def read_stretch(study: SeenStudy, plot: SomePlot, low: float, high: float) -> StateResponse:
    """Statistics and area of the points of a series between two values of x."""
    return StateResponse(stretch.stretch(study, plot, low, high))


@router.get("/studies/{study_id}/straight-forms")
def read_straight_forms(study: SeenStudy, plot: SomePlot) -> StateResponse:
    """The likely straight forms of a series, the straightest first."""
    return StateResponse(straight_page.straight_page(study, plot))


@router.get("/studies/{study_id}/tangent")
def read_tangent(study: SeenStudy, plot: SomePlot, number: int) -> StateResponse:
    """The slope of a series at one of its points (its frame or row)."""
    return StateResponse(stretch.tangent(study, plot, number))
