"""The state of a study as data: all parts that a page or a program gets, with their fields.

The types of the scripts are made of these (`tools/shapes`), so no name is written twice. What is
``None`` or missing is not there; texts are as they are shown.
"""

from collections.abc import Mapping
from typing import TypedDict

from footing.store.rows import GivenParameter, OtherSeries, SeriesRule
from footing.studies.ledger_shapes import (
    ArrowShape,
    BarShape,
    BarsShape,
    CellShape,
    EnergyBodyShape,
    EnergyChangeShape,
    EnergyRowShape,
    EnergyShape,
    ImpactShape,
    MomentShape,
    MomentumRowShape,
    MomentumShape,
    MomentumSideShape,
    OfferedImpactShape,
    SpringShape,
    TotalShape,
)
from footing.studies.model_shapes import (
    GhostShape,
    LegShape,
    LineShape,
    ModelParameterShape,
    ModelResultShape,
    ModelRowShape,
    ModelShape,
    ModelTableShape,
    OfferedReadingShape,
    WeatherShape,
)

__all__ = [  # of ledgers and models; the types of the scripts are made of what stands here
    "ArrowShape",
    "BarShape",
    "BarsShape",
    "CellShape",
    "EnergyBodyShape",
    "EnergyChangeShape",
    "EnergyRowShape",
    "EnergyShape",
    "GhostShape",
    "ImpactShape",
    "LegShape",
    "LineShape",
    "ModelParameterShape",
    "ModelResultShape",
    "ModelRowShape",
    "ModelShape",
    "ModelTableShape",
    "MomentShape",
    "MomentumRowShape",
    "MomentumShape",
    "MomentumSideShape",
    "OfferedImpactShape",
    "OfferedReadingShape",
    "SpringShape",
    "TotalShape",
    "WeatherShape",
]

Place = list[float]  # x and y in pixels
Pieces = list[list[str]]  # a formula as letters with what stands below each


class NamedKey(TypedDict):
    """Something by its key and name."""

    id: int
    name: str


class SourceLine(TypedDict):
    """One source in the list of sources."""

    id: int | str
    name: str
    kind: str
    content: str


class FootageShape(TypedDict):
    """A video or a picture on the stage. times : of each frame, s; has_time : a picture has none"""

    id: int
    kind: str
    has_time: bool
    content: str
    name: str
    width: int
    height: int
    frames: int
    first: int
    last: int
    stride: int
    notes: list[str]
    facts: list[list[str]]
    damaged: list[int]
    surveyed: bool
    moves_from: int | None
    times: list[float]


class SheetShape(TypedDict):
    """A sheet on the stage, without its cells.

    of_footage : its rows are moments of a footage
    """

    id: int
    kind: str
    of_footage: bool
    name: str
    footage: int | None
    rows: int
    asides: dict[str, str]


class KnownLengthShape(TypedDict):
    """A known length: its ends in pixels, and what was typed."""

    id: int
    frame: int
    start: Place
    end: Place
    pixels: str
    placing: str
    typed: str
    unit: str
    own_unit: str
    text: str
    uncertainty: str
    hidden: bool
    nearer: str
    apart: str
    in_plane: str


class PlanePointShape(TypedDict):
    """A corner or another point of an oblique view."""

    id: int
    place: int
    at: Place
    across: str
    along: str
    residual: str


class PlaneShape(TypedDict):
    """An oblique view."""

    frame: int
    across: str
    along: str
    unit: str
    points: list[PlanePointShape]
    problem: str | None
    uncertainty: str | None
    residuals: bool


class ClockShape(TypedDict):
    """Where times come from, and what that does."""

    kind: str
    typed: str
    first: int | None
    last: int | None
    rate: str
    step: str
    likely: str | None
    offer: str
    offer_text: str
    consequence: str
    uncertainty: str


class ScaleShape(TypedDict):
    """The scale, in words."""

    text: str
    relative: str
    disagree: bool


class GroundShape(TypedDict):
    """What is placed at Ground, and what follows. angle, up : rad; levelled : the line's kind"""

    zero: Place
    zero_text: str
    zero_placed: bool
    angle: float
    angle_text: str
    flip_x: bool
    flip_y: bool
    quarter: int
    mirror: bool
    up: float
    up_text: str
    levelled: str | None
    height_zero: Place | None
    zero_frame: float | None
    pixel_uncertainty: str
    length_unit: str
    study_unit: str
    scale: ScaleShape | None
    known_lengths: list[KnownLengthShape]
    plane: PlaneShape | None
    arms: dict[str, list[float]] | None
    sense: list[str]
    clock: ClockShape
    readout: str
    camera_distance: str
    others: list[NamedKey]


class TableColumnShape(TypedDict, total=False):
    """What stands above a column of a body's table; ``computed`` where somebody made it."""

    key: str
    name: str
    symbol: str
    subscript: str
    unit: str
    digits: int | None
    digits_as: str
    highlighted: bool
    computed: bool
    note: str


class TableShape(TypedDict):
    """A body's table: printed cells by rows, and which rows of each column are at an end."""

    columns: list[TableColumnShape]
    rows: list[list[str]]
    end_rows: list[list[int]]


class LaneShape(TypedDict):
    """A quantity over time: rows among the counting marks, values there, also as printed."""

    symbol: str
    unit: str
    rows: list[int]
    values: list[float]
    texts: list[str]


class OddShape(TypedDict):
    """A mark that is odd, and what is odd about it."""

    frame: int
    kind: str
    said: str


class AskedShape(TypedDict):
    """A stretch of frames that following left open; ``shown``: frame, x, y, quality of a few."""

    first: int
    last: int
    count: int
    proposed: int
    shown: list[list[float | None]]


class BodyHead(TypedDict):
    """A body and its marks. marks, ghosts : frame, x, y; doubts : frame, x, y, quality"""

    id: int
    name: str
    background: bool
    kind: str
    second_of: int | None
    members: list[int]
    problem: str | None
    look: int
    colour: str
    shape: str
    path: str
    mass: str
    mass_unit: str
    size: str
    size_unit: str
    spot: str
    first: int | None
    last: int | None
    stride: int | None
    marks: list[list[float]]
    qualities: dict[int, float]
    aside: list[int]
    reasons: dict[int, str]
    hidden: list[int]
    doubts: list[list[float | None]]
    asked: list[AskedShape]
    counting: list[int]
    odd: list[OddShape]
    ghosts: list[list[float]]


class BodyShape(BodyHead):
    """A body with those of its parts that are shown. vectors : row, dx, dy"""

    table: TableShape | None
    lanes: dict[str, LaneShape]
    vectors: dict[str, list[list[float]]]


class FollowShape(TypedDict):
    """How far following is."""

    id: int
    footage: int
    bodies: list[int]
    first: int
    last: int
    at: int | None
    state: str
    said: str
    stop_level: float


class PassageShape(TypedDict):
    """A passage, in frames or rows."""

    id: int
    name: str
    first: float
    last: float
    text: str


class AcrossShape(TypedDict):
    """What stands on the horizontal axis."""

    name: str
    unit: str


class SeriesShape(TypedDict):
    """One series of a graph.

    points : number, x, y, ± of x, ± of y
    hits : numbers of points before which something hits: no line leads to them
    band : whether ± is an area
    """

    key: str
    place: int
    owner: str
    owner_id: int
    owner_name: str
    of: dict[str, int]
    x: str
    y: str
    name: str
    symbol: str
    unit: str
    colour: str
    path: str
    hollow: bool
    size: int
    joined: str
    every: int
    points: list[list[float]]
    hits: list[int]
    guest: bool
    band: bool


class AsidePointShape(TypedDict):
    """A point that is set aside."""

    number: int
    x: float
    y: float


class RangesShape(TypedDict):
    """Where the axes begin and end."""

    x_low: float
    x_high: float
    y_low: float
    y_high: float


class SteadyShape(TypedDict):
    """That the upper quantity hardly changes, what it is shown beside, and its close range."""

    text: str
    beside: str
    ranges: RangesShape


class ReadingShape(TypedDict):
    """A number that a fit gives, with all its uncertainty."""

    key: str
    label: str
    formula: Pieces
    text: str
    alone: str
    besides: str
    rests_on: str
    interval: str
    outside: bool
    held: bool
    plain: str


class FitHead(TypedDict):
    """A fit as it was asked for."""

    id: int
    owner: str
    owner_name: str
    of: dict[str, int]
    body: int | None
    passages: list[int]
    points: list[int] | None
    x: str
    y: str
    curve: str
    formula: str
    given: Mapping[str, GivenParameter]
    weights: str
    digits: int | None
    may_weigh: bool
    label_text: str
    dashed: bool
    colour_name: str
    colour: str
    box: list[float] | None
    title: str | None
    names: list[str]
    symbols: Pieces
    n: int
    series: str


class FitWithout(FitHead):
    """A fit that comes to nothing, and why."""

    reason: str


class FitWith(FitHead):
    """A fit with what it comes to. line : x, y; residuals : number, x, residual"""

    reason: None
    equations: list[str]
    plain_equation: str
    over: str
    parameters: list[ReadingShape]
    readings: list[ReadingShape]
    sense: str | None
    at_bound: list[str]
    rival: str
    problem: str | None
    weighed: str
    scatter: str
    sum_of_squares: str
    r: str
    r_squared: str | None
    correlations: list[list[str]]
    line: list[list[float]]
    residuals: list[list[float]]


FitShape = FitWith | FitWithout


class GraphShape(TypedDict):
    """A graph: what it shows, its data and ranges; ``spec`` is Vega-Lite without data.

    lines : what models predict of its quantities
    waits : whether its points wait until what is expected was sketched
    """

    id: int | None
    place: int
    x: str
    across: AcrossShape
    ys: list[str]
    include_zero: bool
    own_title: str
    title: str
    error_bars: bool
    hidden: list[int]
    looks: Mapping[str, SeriesRule]
    others: list[OtherSeries]
    typed_ranges: dict[str, list[float]]
    x_title: str
    y_title: str
    own_axis_titles: list[str]
    axis_titles_made: list[str]
    sketch: list[list[float]]
    waits: bool
    legend: bool
    mixed_units: bool
    series: list[SeriesShape]
    lines: list[LineShape]
    asides: list[AsidePointShape]
    ranges: RangesShape
    steady: SteadyShape | None
    notes: list[str]
    spec: dict[str, object]
    residual_spec: dict[str, object]
    drawn_fits: list[int]
    guest_fits: list[FitShape]


class ChoiceShape(TypedDict):
    """Which of two fits of the same points is better."""

    fits: list[int]
    said: str


class ShareShape(TypedDict):
    """A contribution to an uncertainty; ``share`` in percent of its square."""

    source: str
    text: str
    share: int


class ComparisonShape(TypedDict, total=False):
    """A finding beside an accepted value; only ``needs`` where that cannot be."""

    needs: str | None
    percent: str | None
    verdict: str
    distance: str
    opposite_sign: bool
    accepted: str


class DifferenceShape(TypedDict, total=False):
    """A finding beside another one; only ``needs`` where that cannot be."""

    needs: str | None
    name: str
    percent: str | None
    verdict: str
    distance: str


class FindingHead(TypedDict):
    """A finding as it was kept."""

    id: int
    fit: int | None
    model: int | None
    reading: str | None
    name: str
    symbol: str
    other: int | None
    formula: str | None
    as_size: bool
    highlighted: bool
    accepted: str
    accepted_uncertainty: str


class FindingWithout(FindingHead):
    """A finding that has no value, and why."""

    reason: str


class FindingWith(FindingHead):
    """A finding with its value ± uncertainty, budget and comparisons."""

    reason: None
    of: str
    shown_formula: str | None
    text: str
    unit: str
    interval: str
    budget: list[ShareShape]
    accepted_unit: str
    comparison: ComparisonShape | None
    difference: DifferenceShape | None


FindingShape = FindingWith | FindingWithout


class CheckShape(TypedDict):
    """A soundness check; ``step`` is where to go, ``number`` of a mark or a row."""

    key: str
    sound: bool
    title: str
    reason: str
    step: str
    number: int | None


class ColumnHead(TypedDict):
    """A column that somebody made, as it stands."""

    id: int
    key: str
    name: str
    symbol: str
    shown_symbol: str
    unit: str
    formula: str | None
    highlighted: bool
    digits: int | None
    digits_as: str
    uncertainty: str
    scatter: str
    seed: int
    problem: str | None
    units_differ: bool
    notes: list[str]
    echo: str | None
    shown_unit: str
    own_unit: str


class ColumnShape(ColumnHead, total=False):
    """A column; ``span``: where its formula is wrong."""

    span: tuple[int, int] | None


class QuantityShape(TypedDict):
    """What a graph can show."""

    key: str
    name: str
    symbol: str


class StudyQuantityShape(TypedDict):
    """A quantity of the study that formulas can name."""

    id: int
    symbol: str
    shown_symbol: str
    name: str
    typed: str
    unit: str
    own_unit: str


class OtherSeriesShape(TypedDict):
    """What another sheet could show with a graph."""

    sheet: int
    x: str
    y: str
    name: str
    sheet_name: str


class AskedFindingShape(TypedDict):
    """A finding that a lab asks for, and what the study has recorded under its name.

    accepted, tolerance (per cent) : None where the lab does not show them
    """

    name: str
    quantity: str
    unit: str
    accepted: str | None
    tolerance: str | None
    found: list[str]


class AnswerShape(TypedDict):
    """A question of a lab, and what the study answers."""

    id: int
    question: str
    words: str


class LabShape(TypedDict):
    """What the lab asks for.

    given : whether there is something to start from
    checks : what its instructions want of the study, and if it is so
    """

    id: int
    class_id: int
    given: bool
    title: str
    question: str
    instructions: str
    due: str
    checks: dict[str, bool]
    asked: list[AskedFindingShape]
    questions: list[AnswerShape]
    follows: bool
    sketch_first: bool


class RulesShape(TypedDict):
    """What the class laid down, and whether this person may change it."""

    series_look: SeriesRule
    tells_meanings: bool
    tells_verdicts: bool
    has_lab: bool
    may_change: bool


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
