"""The steps of the workbench, each with its name, its room, its cards and its keys.

A step is one entry here and one module of the page, `static/js/steps/<step>.js`. The rail, the
routes and the key help follow from the entry; tests hold docs/keys.md and the modules against it. A
card is a template `_card_<key>.html`.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from footing.studies.shapes.state import SharedShape
from footing.studies.steps import Step
from footing.web import card_states
from footing.web.card_states import CardState


def _always(_view: SharedShape) -> bool:
    return True


def _is_film(view: SharedShape) -> bool:
    return bool(view["footage"] and view["footage"]["has_time"])


def _is_sheet(view: SharedShape) -> bool:
    return bool(view["sheet"])


def _is_footage(view: SharedShape) -> bool:
    return bool(view["footage"])


def _has_source(view: SharedShape) -> bool:
    return bool(view["footage"] or view["sheet"])


def _has_none(view: SharedShape) -> bool:
    return not _has_source(view)


def _both(*conditions: Callable[[SharedShape], bool]) -> Callable[[SharedShape], bool]:
    return lambda view: all(condition(view) for condition in conditions)


def _has_bodies(view: SharedShape) -> bool:
    return bool(view["bodies"])


def _may_follow(view: SharedShape) -> bool:
    return view["lab"] is None or view["lab"]["follows"]


def _has_passages(view: SharedShape) -> bool:
    return _is_sheet(view) or _is_film(view)


def _has_findings(view: SharedShape) -> bool:
    return bool(view["findings"])


def _has_no_findings(view: SharedShape) -> bool:
    return not view["findings"]


def _has_ledger(view: SharedShape) -> bool:
    return bool(view["ledger"])


def _has_models(view: SharedShape) -> bool:
    return bool(view["models"])


def _has_a_model(view: SharedShape) -> bool:
    return bool(view["models"] and view["models"]["models"])


def _asks_what_moves(view: SharedShape) -> bool:
    """Whether a law rests on what moves: its mass, its size, the air around it."""
    models = view["models"]["models"] if view["models"] else ()
    return any(model["common"] or model["air"] or model["doubt"] for model in models)


def _gives_something(view: SharedShape) -> bool:
    models = view["models"]
    return models is not None and any(model["results"] for model in models["models"])


def _has_impacts(view: SharedShape) -> bool:
    return bool(view["ledger"] and view["ledger"]["momenta"])


def _read_by_eye(view: SharedShape) -> bool:
    return bool(view["read_by_eye"])


@dataclass(frozen=True)
class Card:
    """A card.

    there : whether it is there, as the state is
    says : what its heading says when it is folded; None for a card that does not fold
    open_at : the only step at which it may be open at first; None for any
    """

    key: str
    there: Callable[[SharedShape], bool] = _always
    says: Callable[[SharedShape], CardState] | None = None
    open_at: Step | None = None

    @property
    def template(self) -> str:
        """Its template."""
        return f"_card_{self.key}.html"


@dataclass(frozen=True)
class Key:
    """A key or several of a kind, as they are printed on the keyboard, and what they do.

    caps : beside each other; + joins what is held down together
    """

    caps: tuple[str, ...]
    does: str


@dataclass(frozen=True)
class RailStep:
    """A step of the rail.

    name, sheet_name : beside footage, and beside a sheet; None where a sheet has no such step
    room : which part of the page is large: the stage, the score's graph below it, the graph, a
        model's graph, the ledger, or the report
    placed : what comes with the cards, and stands elsewhere on the page
    keys : of its own, before those of every step; the module of the page has the same
    """

    step: Step
    name: str
    sheet_name: str | None
    room: Literal["stage", "marks", "graph", "model", "ledger", "report"]
    cards: tuple[Card, ...]
    keys: tuple[Key, ...] = ()
    placed: tuple[Card, ...] = ()


def _has_lab(view: SharedShape) -> bool:
    return bool(view["lab"])


# what the lab asks for stands first at every step: all of it where the work begins, and then what
# it asks for there
TASK = Card("task", _has_lab, card_states.task, open_at=Step.SOURCES)
_NO_SOURCE = Card("no_source", _has_none)


def _findings(there: Callable[[SharedShape], bool]) -> Card:
    """What was found: at Graph in full, elsewhere in a line."""
    return Card("findings", there, card_states.findings, open_at=Step.GRAPH)


# what stands above the graph comes with the cards of Graph, and belongs elsewhere on the page
FIT_LINE = Card("line")

RAIL: tuple[RailStep, ...] = (
    RailStep(
        Step.SOURCES,
        "Sources",
        "Sources",
        "stage",
        (
            Card("sources"),
            Card("footage", _is_footage, card_states.footage),
            Card("span", _is_film, card_states.span),
            Card("phone", lambda view: not view["sheet"]),
            Card("sheet_in", says=card_states.sheet_in),
            Card("guide", says=card_states.guide),
        ),
    ),
    RailStep(
        Step.GROUND,
        "Ground",
        None,
        "stage",
        (
            _NO_SOURCE,
            Card("no_ground", _is_sheet),
            Card("lengths", _is_footage, card_states.lengths),
            Card("axes", _is_footage, card_states.axes),
            Card("clock", _is_film, card_states.clock),
            Card("sense", _is_footage),
            Card("up", _is_footage, card_states.up),
            Card("plane", _is_footage, card_states.plane),
            Card("steady", _is_film, card_states.steady),
            Card("fine", _is_footage, card_states.fine),
        ),
    ),
    RailStep(
        Step.MARK,
        "Mark",
        "Sheet",
        "marks",
        (
            _NO_SOURCE,
            Card("columns", _is_sheet, card_states.columns),
            Card("quantities", _is_sheet, card_states.quantities),
            Card("rows", _is_sheet),
            Card("bodies", _is_footage),
            Card("eye", _read_by_eye),
            Card("follow", _both(_is_film, _has_bodies, _may_follow)),
            Card("showing", _both(_is_film, _has_bodies)),
        ),
        (
            Key(
                ("S",),
                "mark where the pointer is, and go on to the next frame; without a pointer, where "
                "the body was last, for the arrow keys",
            ),
            Key(("E",), "remove the mark in this frame"),
            Key(("X",), "set a doubtful mark aside, or take it back in"),
            Key(("H",), "the body is hidden in this frame"),
            Key(("C",), "right as following proposed it, in all frames of the stretch"),
            Key(("R",), "go on where marking stopped"),
            Key(("Y",), "type what you read by eye in this frame; Enter notes it and goes on"),
        ),
    ),
    RailStep(
        Step.GRAPH,
        "Graph",
        "Graph",
        "graph",
        (
            _NO_SOURCE,
            # a result is what people look for, once there is one
            _findings(_both(_has_source, _has_findings)),
            Card("graph", _has_source, card_states.graph),
            Card("fits", _has_source, card_states.fits),
            _findings(_both(_has_source, _has_no_findings)),
            Card("passages", _has_passages, card_states.passages),
            Card("columns", _is_footage, card_states.columns),
            Card("quantities", _is_footage, card_states.quantities),
        ),
        (
            Key(("Q",), "slope at a point"),
            Key(("C",), "choose a stretch"),
            Key(("V",), "drag a point and watch the fit"),
            Key(("B",), "sketch what you expect"),
            Key(("W",), "all points"),
        ),
        placed=(FIT_LINE,),
    ),
    RailStep(
        Step.MODEL,
        "Model",
        "Model",
        "model",
        (
            Card("models", _has_models),
            Card("predicted", _gives_something),
            Card("legs", _has_a_model),
            Card("moves", _asks_what_moves),
            Card("air", _has_a_model, card_states.air),
            _findings(_has_findings),
            Card("passages", _is_film, card_states.passages),
            Card("quantities", _has_models, card_states.quantities),
        ),
        (
            Key(("V",), "the film large, or the graph"),
            Key(("N",), "the next quantity in the graph"),
            Key(("B",), "the next model"),
        ),
        placed=(Card("matched", _has_models),),
    ),
    RailStep(
        Step.LEDGER,
        "Ledger",
        None,
        "ledger",
        (
            _NO_SOURCE,
            Card("no_ground", _is_sheet),
            Card("impacts", _is_film, card_states.impacts),
            Card("accounted", _has_ledger, card_states.accounted),
            Card("momenta", _has_impacts, card_states.momenta),
            Card("spring", _has_ledger, card_states.spring),
            Card("compared", _has_ledger, card_states.compared),
            Card("verdict", _has_ledger, card_states.verdict),
        ),
        (
            Key(("I",), "something hits between this frame and the next"),
            Key(("N",), "energies, or momenta"),
            Key(("V",), "the film large, or the numbers"),
            Key(("B",), "uncertainties as bands, or not"),
        ),
        placed=(Card("ledger_energy", _has_ledger), Card("ledger_momentum", _has_ledger)),
    ),
    RailStep(
        Step.REPORT,
        "Report",
        "Report",
        "report",
        (Card("hand_in"), Card("report_out"), Card("report_put_in")),
        (
            Key(("N",), "the next block"),
            Key(("B",), "the block before"),
            Key(("R",), "the block in hand up"),
            Key(("V",), "the block in hand down"),
            Key(("Y",), "write in the block in hand; Esc lays the pen down"),
        ),
        placed=(Card("report"),),
    ),
)

KEYS_EVERYWHERE = (
    Key(("D", "F"), "back, forward by the stride; with Shift by one frame"),
    Key(("A", "G"), "first, last frame of the motion"),
    Key(("Space",), "play, pause"),
    Key(("T",), "mark the next body"),
    Key(("1 … 9",), "mark the first … ninth body"),
    Key(
        ("←", "→", "↑", "↓"),
        "nudge the mark in this frame, or what was touched last, by 1 px; with Shift by 0.1 px",
    ),
    Key(("W",), "whole picture"),
    Key(("Z",), "undo (so that the left hand can)"),
    Key(("Ctrl + Z",), "undo; with Shift redo"),
    Key(("?",), "show or hide this"),
    Key(("Esc",), "lay a tool down, close what is open"),
)

EVERY_CARD: tuple[Card, ...] = (
    TASK,
    *(card for step in RAIL for card in (*step.cards, *step.placed)),
)


def rail_step(step: Step) -> RailStep:
    """What a step is."""
    return next(one for one in RAIL if one.step == step)


def keys_at(step: RailStep) -> list[Key]:
    """The keys of a step, its own first; where it has one of its own, the other is not named."""
    own = {cap for key in step.keys for cap in key.caps}
    return [*step.keys, *(key for key in KEYS_EVERYWHERE if not own & set(key.caps))]


def cards_of(step: Step, view: SharedShape) -> list[Card]:
    """The cards of a step, from the top."""
    return [card for card in (TASK, *rail_step(step).cards) if card.there(view)]


def placed_of(step: Step, view: SharedShape) -> list[Card]:
    """What comes with the cards of a step, and stands elsewhere on the page."""
    return [card for card in rail_step(step).placed if card.there(view)]
