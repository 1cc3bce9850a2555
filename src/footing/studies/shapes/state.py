"""The state of a study as data: all that a page or a program gets of it."""

from typing import TypedDict

from footing.studies.shapes.bodies import BodyShape
from footing.studies.shapes.checks import CheckShape
from footing.studies.shapes.findings import FindingShape
from footing.studies.shapes.fits import ChoiceShape, FitShape
from footing.studies.shapes.graphs import GraphShape, OtherSeriesShape
from footing.studies.shapes.ground import GroundShape
from footing.studies.shapes.lab import LabShape, RulesShape
from footing.studies.shapes.ledgers import (
    EnergyShape,
    ImpactShape,
    MomentumShape,
    OfferedImpactShape,
)
from footing.studies.shapes.models import ModelShape, ModelTableShape, WeatherShape
from footing.studies.shapes.sources import (
    FollowShape,
    FootageShape,
    NamedKey,
    PassageShape,
    SheetShape,
    SourceLine,
)
from footing.studies.shapes.tables import (
    ColumnShape,
    QuantityShape,
    StudyQuantityShape,
    TableColumnShape,
)


class GraphsShape(TypedDict):
    """The graphs of a source with their fits."""

    graphs: list[GraphShape]
    fits: list[FitShape]
    choices: list[ChoiceShape]


class LedgerShape(TypedDict):
    """The ledgers of a footage. tells : whether they say what their numbers mean"""

    tells: bool
    offers: list[OfferedImpactShape]
    energy: EnergyShape
    graph: GraphShape | None
    momenta: list[MomentumShape]


class ModelsShape(TypedDict):
    """The predicted motions over a source.

    compared : which does better, in words; density : of the air; by_weather : whether the weather
    says it; tells : whether words are said
    """

    models: list[ModelShape]
    graph: GraphShape | None
    compared: list[str]
    weather: WeatherShape | None
    density: str
    by_weather: bool
    table: ModelTableShape | None
    tells: bool


class TriedModelShape(TypedDict):
    """A model as it would be with what is tried, and the graph with it."""

    model: ModelShape
    graph: GraphShape | None


class SharedShape(GraphsShape):
    """What is the same for all who look at a source.

    shown : the names of the parts of bodies that were asked for; None for all
    measured : what stands above the measured columns
    ledger, models : only where they are shown, because they rest on everything
    """

    shown: list[str] | None
    sources: list[SourceLine]
    footage: FootageShape | None
    sheet: SheetShape | None
    ground: GroundShape | None
    bodies: list[BodyShape]
    measured: list[TableColumnShape]
    passages: list[PassageShape]
    findings: list[FindingShape]
    checks: list[CheckShape]
    columns: list[ColumnShape]
    quantities: list[QuantityShape]
    study_quantities: list[StudyQuantityShape]
    other_series: list[OtherSeriesShape]
    read_by_eye: list[NamedKey]
    impacts: list[ImpactShape]
    ledger: LedgerShape | None
    models: ModelsShape | None
    lab: LabShape | None
    steps: dict[str, str]


class StateShape(SharedShape):
    """The state of a study as one person sees it from one of its sources."""

    format: int
    version: str
    id: int
    seq: int
    undo: str | None
    redo: str | None
    rules: RulesShape
    follow: FollowShape | None
