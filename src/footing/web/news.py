"""What a page is told: the state, or how that which it has becomes the present one; and cards."""

from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import Depends, Request

from footing.store import hand_ins
from footing.store.access import ClassStudy
from footing.studies.films import phones
from footing.studies.report.report import report_of
from footing.studies.school import looking
from footing.studies.school.lists import own_formulas
from footing.studies.school.people import Person
from footing.studies.shapes.state import SharedShape, StateShape
from footing.studies.steps import Step
from footing.studies.views.difference import difference
from footing.studies.views.shown import EVERYTHING, Shown
from footing.studies.views.states import earlier
from footing.web.cards import Cards, cards, cards_before
from footing.web.link_address import look_address
from footing.web.phone_code import phone_code
from footing.web.report_view import HandInShape, hand_in_view, report_view


@dataclass(frozen=True)
class Seen:
    """What a page shows when it asks.

    source : that is on its stage
    since : the version of the state that it has
    step : whose cards it wants to have, too
    cards : the version of those that it has
    shown : what it shows of the bodies
    """

    source: str | None = None
    since: str | None = None
    step: Step | None = None
    cards: str | None = None
    shown: Shown = EVERYTHING


def _seen(
    source: str | None = None,
    since: str | None = None,
    step: Step | None = None,
    cards: str | None = None,
    shown: str | None = None,
) -> Seen:
    return Seen(source, since, step, cards, Shown.read(shown))


ByPage = Annotated[Seen, Depends(_seen)]


def news(
    request: Request, study: ClassStudy, view: StateShape, seen: Seen, visitor: Person
) -> dict[str, Any]:
    """The state, or what is new in it; with the cards of a step, if they are wanted."""
    before = earlier(view["id"], seen.since)
    found: dict[str, Any] = {"seq": view["seq"]}
    if before is None:
        found["view"] = view
    else:
        # what is a person's own, and not known of the page, is told every time
        found |= {"since": seen.since, "changes": difference(before, view) or {}}
    if seen.step is not None:
        found["cards"] = _news_of_cards(request, study, view, seen.step, seen, visitor, before)
    return found


def _news_of_cards(
    request: Request,
    study: ClassStudy,
    view: StateShape,
    step: Step,
    seen: Seen,
    visitor: Person,
    state: SharedShape | None,
) -> dict[str, Any]:
    known = cards_before(view["id"], seen.cards)
    shown = known if known and state is not None and known.of == seen.since else None
    made = step_cards(request, study, view, step, visitor, before=shown, seen=state)
    since = {} if known is None else {"since": known.version}
    changes = difference(known.shown, made.shown) if known else {"to": made.shown}
    return {"version": made.version, "step": step, "changes": changes or {}, **since}


def step_cards(
    request: Request,
    study: ClassStudy,
    view: StateShape,
    step: Step,
    visitor: Person,
    *,
    before: Cards | None = None,
    seen: SharedShape | None = None,
) -> Cards:
    """The cards of a step as somebody sees them; see `cards`."""
    at_report = step == Step.REPORT
    # what belongs to those who work on it is not shown to who only looks
    own_report = at_report and study.mine
    phone = phones.open_link(view["id"], visitor) if step == Step.SOURCES and study.mine else None
    look = looking.open_link(view["id"]) if own_report else None
    besides = {
        "phone": phone_code(request, phone) if phone else None,
        "own_formulas": own_formulas(visitor) if step == Step.GRAPH else [],
        "report": report_view(report_of(study, visitor)) if at_report else None,
        "hand_ins": _hand_ins(study) if own_report else [],
        "look_link": look_address(request, look) if look else "",
        "mine": study.mine,
    }
    return cards(step, view, besides, before=before, seen=seen)


def _hand_ins(study: ClassStudy) -> list[HandInShape]:
    return [hand_in_view(one) for one in hand_ins.of_study(study.id)]
