"""The steps of the workbench, each with its cards.

A step is one entry here; the rail, the routes and the tests follow from it. A card is a template
`_card_<key>.html`.
"""

from collections.abc import Callable
from dataclasses import dataclass

from footing.studies.shapes import SharedShape
from footing.studies.steps import Step


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


def _has_findings(view: SharedShape) -> bool:
    return bool(view["findings"])


def _has_no_findings(view: SharedShape) -> bool:
    return not view["findings"]


def _read_by_eye(view: SharedShape) -> bool:
    return bool(view["read_by_eye"])


@dataclass(frozen=True)
class Card:
    """A card, and what the state must be like for it to be there."""

    key: str
    there: Callable[[SharedShape], bool] = _always

    @property
    def template(self) -> str:
        """Its template."""
        return f"_card_{self.key}.html"


_NO_SOURCE = Card("no_source", _has_none)

CARDS: dict[Step, tuple[Card, ...]] = {
    Step.SOURCES: (
        Card("sources"),
        Card("footage", _is_footage),
        Card("span", _is_film),
        Card("phone", lambda view: not view["sheet"]),
        Card("sheet_in"),
        Card("guide"),
    ),
    Step.GROUND: (
        _NO_SOURCE,
        Card("no_ground", _is_sheet),
        Card("lengths", _is_footage),
        Card("axes", _is_footage),
        Card("clock", _is_film),
        Card("sense", _is_footage),
        Card("up", _is_footage),
        Card("plane", _is_footage),
        Card("steady", _is_film),
        Card("fine", _is_footage),
    ),
    Step.MARK: (
        _NO_SOURCE,
        Card("columns", _is_sheet),
        Card("rows", _is_sheet),
        Card("bodies", _is_footage),
        Card("eye", _read_by_eye),
        Card("follow", _both(_is_film, _has_bodies)),
        Card("showing", _both(_is_film, _has_bodies)),
    ),
    Step.GRAPH: (
        _NO_SOURCE,
        # a result is what people look for, once there is one
        Card("findings", _both(_has_source, _has_findings)),
        Card("graph", _has_source),
        Card("fits", _has_source),
        Card("findings", _both(_has_source, _has_no_findings)),
        Card("passages", lambda view: _is_sheet(view) or _is_film(view)),
        Card("columns", _is_footage),
    ),
}


def cards_of(step: Step, view: SharedShape) -> list[Card]:
    """The cards of a step, from the top."""
    return [card for card in CARDS[step] if card.there(view)]
