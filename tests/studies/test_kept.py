"""What an edit does not touch is not worked out again, and nothing out of date is ever shown."""

import gc
from functools import cache
from typing import Any

import pytest

from footing.store import shelf
from footing.studies.model.kept import Kept
from footing.studies.report.report import report_of
from footing.studies.steps import Step
from footing.studies.views import states
from footing.web.cards import cards
from footing.web.report_view import report_view
from tests.studies.conftest import Measured
from tests.studies.test_edits import EXAMPLES, filled


def test_a_thing_is_made_anew_only_when_something_it_rests_on_has_changed() -> None:
    kept: Kept[list[int]] = Kept(2)
    first = kept.get("a", (1, "x"), lambda: [1])
    assert kept.get("a", (1, "x"), lambda: [2]) is first
    assert kept.get("a", (1, "y"), lambda: [3]) == [3]
    assert kept.get("a", (1, "x"), lambda: [4]) == [4]  # only the latest is kept


def test_what_an_edit_leaves_alone_is_the_same_object_in_the_next_state(
    measured: Measured,
) -> None:
    forget()  # a test before may have seen the same state
    tab = measured.tab
    before = tab.view(measured.footage)
    tab.does("place_mark", body=measured.rival, frame=3, x=60, y=44)
    after = tab.view(measured.footage)
    bodies = [(one["id"], one) for one in after["bodies"]]
    same = {key for key, one in bodies if any(one is other for other in before["bodies"])}
    assert measured.body in same
    assert measured.rival not in same
    fits = [one for one in before["fits"] if one["body"] == measured.body]
    assert fits
    assert all(any(one is other for other in after["fits"]) for one in fits)


@cache
def every_kept() -> list[Kept[Any]]:
    """All that modules keep; they make it when they load."""
    return [thing for thing in gc.get_objects() if isinstance(thing, Kept)]


def forget() -> None:
    """As in a process that has just begun, and finds nothing that another has worked out."""
    shelf._opened.clear()
    states._kept.clear()
    for kept in every_kept():
        kept._latest.clear()


PARTS = 2  # of the kinds of edits, each tried on one study


@pytest.mark.parametrize("part", range(PARTS))
def test_after_every_edit_what_is_shown_is_what_a_fresh_process_shows(
    part: int, measured: Measured
) -> None:
    tab = measured.tab
    for kind, fields in list(EXAMPLES.items())[part::PARTS]:
        tab.view(measured.footage)
        tab.does(kind, **filled(fields, measured))
        shown = tab.view(measured.footage)
        forget()
        assert tab.view(measured.footage) == shown, kind
        tab.does("undo")


def test_a_body_that_is_hidden_where_it_has_no_mark_moves_otherwise(measured: Measured) -> None:
    tab = measured.tab
    tab.does("remove_mark", body=measured.body, frame=5)
    before = tab.view(measured.footage)
    tab.does("hide_body", body=measured.body, frame=5)  # the marks stay as they are
    shown = tab.view(measured.footage)
    assert shown["bodies"][0]["lanes"] != before["bodies"][0]["lanes"]
    forget()
    assert tab.view(measured.footage) == shown


@pytest.mark.parametrize("part", range(PARTS))
def test_after_every_edit_cards_that_stayed_are_as_if_they_were_made_anew(
    part: int, measured: Measured
) -> None:
    tab = measured.tab

    def besides(step: Step) -> dict[str, Any]:
        at_report = step == Step.REPORT
        report = report_view(report_of(tab.study, tab.person)) if at_report else None
        return {"phone": None, "own_formulas": [], "report": report}

    stayed = dict.fromkeys(Step, 0)
    for kind, fields in list(EXAMPLES.items())[part::PARTS]:
        before = tab.view(measured.footage)
        shown = {step: cards(step, before, besides(step)) for step in Step}
        tab.does(kind, **filled(fields, measured))
        after = tab.view(measured.footage)
        for step, known in shown.items():
            now = besides(step)
            kept = cards(step, after, now, before=known, seen=before)
            assert kept.html == cards(step, after, now).html, (kind, step)
            stayed[step] += sum(text is known.html.get(key) for key, text in kept.html.items())
        tab.does("undo")
    assert all(stayed.values())


def test_a_mark_makes_no_card_anew_that_shows_none(measured: Measured) -> None:
    tab = measured.tab
    before = tab.view(measured.footage)
    known = cards(Step.GRAPH, before, {"own_formulas": []})
    tab.does("place_mark", body=measured.rival, frame=3, x=60, y=44)
    kept = cards(
        Step.GRAPH, tab.view(measured.footage), {"own_formulas": []}, before=known, seen=before
    )
    anew = {key for key, text in kept.html.items() if text is not known.html[key]}
    assert "columns" in kept.html
    assert not {"graph", "columns", "passages"} & anew
