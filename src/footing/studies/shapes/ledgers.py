"""The ledgers of a state as data."""

from typing import TypedDict


class ImpactShape(TypedDict):
    """A moment that no derivative crosses. of : what it is; said : where it lies, in words"""

    id: int
    at: float
    body: int | None
    body_name: str
    of: str
    name: str
    said: str


class OfferedImpactShape(TypedDict):
    """Where the velocity of a body breaks."""

    body: int
    at: float
    said: str


class EnergyBodyShape(TypedDict):
    """A body in the account of energies. needs, asks : what is missing, or doubtful, in words"""

    id: int
    name: str
    colour: str
    path: str
    counts: bool
    mass: str
    mass_unit: str
    needs: str
    asks: str
    turns: bool
    inertia_shape: str
    inertia: str


class BarShape(TypedDict):
    """An energy at each of the frames of the bars. total : that of all"""

    key: str
    name: str
    symbol: str
    colour: str
    hollow: bool
    total: bool
    values: list[float]
    texts: list[str]


class BarsShape(TypedDict):
    """Energies that move with the time cursor, on one fixed scale."""

    frames: list[int]
    low: float
    high: float
    unit: str
    bars: list[BarShape]


class EnergyRowShape(TypedDict):
    """A kind of energy at the start and the end of a passage, and what changed."""

    key: str
    name: str
    total: bool
    start: str
    end: str
    change: str
    percent: str


class EnergyChangeShape(TypedDict):
    """A passage in the account of energies. of : names what its working is asked by"""

    name: str
    text: str
    passage: int
    rows: list[EnergyRowShape]
    said: str
    force: str
    power: str
    decides: str
    advice: str


class MomentShape(TypedDict):
    """A moment whose energies are compared with others; ``chosen`` if somebody did."""

    key: str
    name: str
    frame: int
    chosen: bool
    text: str
    texts: list[str]


class SpringShape(TypedDict):
    """A spring; fixed : its fixed end in pixels, where there is one."""

    body: int | None
    constant: str
    unit: str
    rest_length: str
    rest_unit: str
    fixed: list[float] | None


class MomentumSideShape(TypedDict):
    """A body before or after: components as printed."""

    vx: str
    vy: str
    px: str
    py: str
    size: str
    rests: bool
    bent: bool


class MomentumRowShape(TypedDict):
    """A body in the account of momenta."""

    id: int
    key: str
    name: str
    colour: str
    path: str
    mass: str
    counts: bool
    needs: str
    before: MomentumSideShape | None
    after: MomentumSideShape | None
    impulse_x: str
    impulse_y: str
    rests_before: bool
    rests_after: bool


class TotalShape(TypedDict):
    """The total on a side, and the velocity of the centre of mass."""

    x: str
    y: str
    size: str
    centre_x: str
    centre_y: str


class ArrowShape(TypedDict):
    """A momentum over the frame: from and to in pixels. side : before or after"""

    name: str
    start: list[float]
    end: list[float]
    colour: str
    side: str
    total: bool


class CellShape(TypedDict):
    """An entry of a blank account. right : None before it was filled in"""

    typed: str
    right: bool | None
    said: str


class MomentumShape(TypedDict):
    """The account of momenta around an impact."""

    impact: int
    title: str
    before: int | None
    after: int | None
    before_text: str
    after_text: str
    before_choices: list[tuple[int, str]]
    after_choices: list[tuple[int, str]]
    unit: str
    unit_text: str
    problem: str
    step: str
    rows: list[MomentumRowShape]
    total_before: TotalShape | None
    total_after: TotalShape | None
    change_x: str
    change_y: str
    percent: str
    conserved: str
    said: str
    decides: str
    restitution: str
    kept: str
    happened: str
    arrows: list[ArrowShape]
    blank: bool
    cells: dict[str, CellShape]
    words: str


class EnergyShape(TypedDict):
    """The account of the energies of a footage, but for its graph. step : where to put it right"""

    problem: str
    step: str
    bodies: list[EnergyBodyShape]
    against: str
    from_above: bool
    bars: BarsShape | None
    changes: list[EnergyChangeShape]
    moments: list[MomentShape]
    columns: list[int]
    joules: list[tuple[int, str]]
    spring: SpringShape
    gravity: str
    level: list[float]
    unit: str
    window: int
    words: str
