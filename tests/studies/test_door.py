"""Sequence numbers, stale edits, repeated requests, and whose undo takes back what."""

import pytest

from footing.core.errors import Refused, Stale
from footing.store.tables import Edit
from footing.studies.door import submit
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.studies.steps import Tab, all_rows


@pytest.fixture
def other(world: World, measured: Measured) -> Tab:
    """The teacher's tab on the same study."""
    return Tab(world.study, world.teacher)


def test_edits_are_numbered_and_say_who_made_them(measured: Measured) -> None:
    rows = list(Edit.select().order_by(Edit.seq))
    assert [row.seq for row in rows] == list(range(1, len(rows) + 1))
    assert {row.person_name for row in rows} == {"Ottilie"}


def test_the_same_token_is_not_a_second_edit(measured: Measured, token: str) -> None:
    tab = measured.tab
    request = tab.request("add_body", token=token, footage=measured.footage, name="lantern")
    first = submit(tab.study_id, tab.person, request)
    again = submit(tab.study_id, tab.person, request)
    assert first.seq == again.seq
    assert [body["name"] for body in tab.view()["bodies"]].count("lantern") == 1


def test_stale_edit_of_the_same_thing_is_refused_with_who_and_what(
    measured: Measured, other: Tab
) -> None:
    measured.tab.does("set_zero", footage=measured.footage, x=1, y=1)
    before = all_rows(other.study_id)
    with pytest.raises(Stale, match=r"Ottilie has changed the same thing meanwhile \(zero\)"):
        other.does("set_zero", footage=measured.footage, x=9, y=9)
    assert all_rows(other.study_id) == before


def test_stale_edit_of_something_else_applies(measured: Measured, other: Tab) -> None:
    measured.tab.does("set_zero", footage=measured.footage, x=1, y=1)
    other.does("place_mark", body=measured.body, frame=30, x=9, y=9)
    view = other.view()
    assert view["ground"]["zero"] == [1, 1]
    assert [30, 9, 9] in view["bodies"][0]["marks"]


def test_marking_on_a_body_that_was_removed_is_refused(measured: Measured, other: Tab) -> None:
    measured.tab.does("remove_body", body=measured.body)
    with pytest.raises(Stale, match="body is not there any more"):
        other.does("place_mark", body=measured.body, frame=30, x=9, y=9)


def test_removing_a_body_that_was_marked_meanwhile_is_refused(
    measured: Measured, other: Tab
) -> None:
    measured.tab.does("place_mark", body=measured.body, frame=30, x=9, y=9)
    with pytest.raises(Stale):
        other.does("remove_body", body=measured.body)


def test_undo_takes_back_ones_own_edit_only(measured: Measured, other: Tab) -> None:
    other.does("set_zero_frame", footage=measured.footage, frame=7)
    measured.tab.does("undo")  # the finding, not the zero frame
    view = measured.tab.view()
    assert view["findings"] == []
    assert view["ground"]["zero_frame"] == 7


def test_undo_is_refused_where_somebody_changed_the_same_thing_since(
    measured: Measured, other: Tab
) -> None:
    measured.tab.does("place_mark", body=measured.body, frame=30, x=9, y=9)
    other.seq = measured.tab.seq
    other.does("place_mark", body=measured.body, frame=30, x=10, y=10)
    with pytest.raises(Stale, match="Ms Tarnwick has changed the same thing since"):
        measured.tab.does("undo")


def test_undo_of_adding_a_body_is_refused_once_another_marked_on_it(
    measured: Measured, other: Tab
) -> None:
    body = measured.tab.makes("add_body", footage=measured.footage, name="lantern")
    other.seq = measured.tab.seq
    other.does("place_mark", body=body, frame=1, x=9, y=9)
    with pytest.raises(Stale, match="mark in frame 1"):
        measured.tab.does("undo")


def test_an_edit_that_was_itself_undone_does_not_stand_in_the_way(
    measured: Measured, other: Tab
) -> None:
    measured.tab.does("place_mark", body=measured.body, frame=30, x=9, y=9)
    other.seq = measured.tab.seq
    other.does("place_mark", body=measured.body, frame=30, x=10, y=10)
    other.does("undo")
    measured.tab.does("undo")
    assert all(mark[0] != 30 for mark in measured.tab.view()["bodies"][0]["marks"])


def test_a_new_edit_empties_the_redo_list(measured: Measured) -> None:
    tab = measured.tab
    tab.does("undo")
    assert tab.view()["redo"] == "finding “a”"
    tab.does("set_zero", footage=measured.footage, x=3, y=3)
    assert tab.view()["redo"] is None
    with pytest.raises(Refused, match="nothing to redo"):
        tab.does("redo")


def test_nothing_to_undo_is_said(tab: Tab) -> None:
    with pytest.raises(Refused, match="nothing to undo"):
        tab.does("undo")


def test_an_edit_without_effect_is_not_kept(measured: Measured) -> None:
    tab = measured.tab
    before = tab.seq
    tab.does("set_zero", footage=measured.footage, x=0, y=0)
    assert tab.seq == before
