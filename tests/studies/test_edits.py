"""Every edit: made, taken back and made again, the study is as it was; bad values are refused."""

from typing import Any, get_args

import pytest
from pydantic import ValidationError

from footing.core.errors import Refused, Stale
from footing.store.tables import Edit
from footing.studies.edits import AnyEdit
from tests.studies.conftest import Measured
from tests.studies.steps import Tab, all_rows

ENDS = {"start_x": 0, "start_y": 0, "end_x": 30, "end_y": 40}

# for each kind, the fields of one edit on the measured study; names stand for its keys
EXAMPLES: dict[str, dict[str, Any]] = {
    "remove_footage": {"footage": "footage"},
    "set_span": {"footage": "footage", "first": 2, "last": 9, "stride": 3},
    "add_known_length": {"footage": "footage", "frame": 1, **ENDS},
    "move_known_length": {"known_length": "length", **ENDS},
    "type_known_length": {"known_length": "length", "length": "40", "unit": "in"},
    "remove_known_length": {"known_length": "length"},
    "set_zero": {"footage": "footage", "x": 5.5, "y": 6.25},
    "turn_axes": {"footage": "footage", "angle": "-12.5", "flip_x": True, "flip_y": False},
    "set_zero_frame": {"footage": "footage", "frame": 4},
    "set_pixel_uncertainty": {"footage": "footage", "pixels": "0.8"},
    "add_body": {"footage": "footage", "name": "lantern"},
    "change_body": {"body": "body", "name": "cone 2", "mass": "35", "mass_unit": "g"},
    "remove_body": {"body": "body"},
    "place_mark": {"body": "body", "frame": 20, "x": 3.25, "y": 4.5},
    "remove_mark": {"body": "body", "frame": 3},
    "add_passage": {"footage": "footage", "name": "end", "first": 5.5, "last": 9},
    "change_passage": {"passage": "passage", "name": "drop", "first": 2, "last": 8},
    "remove_passage": {"passage": "passage"},
    "set_graph": {"x": "x", "y": "vy", "include_zero": True},
    "add_fit": {"body": "body", "x": "t", "y": "vy", "curve": "line"},
    "change_fit": {"fit": "fit", "curve": "cubic"},
    "remove_fit": {"fit": "fit"},
    "add_finding": {"fit": "fit", "reading": "c", "name": "height", "accepted": "0.2"},
    "change_finding": {"finding": "finding", "name": "g", "as_size": True, "accepted": "9.81"},
    "remove_finding": {"finding": "finding"},
}


def filled(fields: dict[str, Any], study: Measured) -> dict[str, Any]:
    keys = ("footage", "length", "body", "passage", "fit", "finding")
    by_name = {name: getattr(study, name) for name in keys}
    own = {"footage", "known_length", "body", "passage", "fit", "finding"}
    return {
        name: by_name[value] if name in own and isinstance(value, str) else value
        for name, value in fields.items()
    }


def test_every_kind_has_an_example() -> None:
    kinds = {edit.model_fields["kind"].default for edit in get_args(get_args(AnyEdit)[0])}
    assert kinds - {"add_footage"} == set(EXAMPLES)


@pytest.mark.parametrize("kind", EXAMPLES)
def test_edit_undo_and_redo(kind: str, measured: Measured) -> None:
    tab = measured.tab
    before = all_rows(tab.study_id)
    tab.does(kind, **filled(EXAMPLES[kind], measured))
    after = all_rows(tab.study_id)
    assert after != before
    tab.does("undo")
    assert all_rows(tab.study_id) == before
    tab.does("redo")
    assert all_rows(tab.study_id) == after
    tab.does("undo")
    assert all_rows(tab.study_id) == before


@pytest.mark.parametrize("kind", EXAMPLES)
def test_edit_that_fails_changes_nothing(
    kind: str, measured: Measured, monkeypatch: pytest.MonkeyPatch
) -> None:
    tab = measured.tab
    before = all_rows(tab.study_id)

    def fail(**_: object) -> None:
        raise RuntimeError

    fields = filled(EXAMPLES[kind], measured)
    with monkeypatch.context() as patch:
        patch.setattr(Edit, "create", fail)
        with pytest.raises(RuntimeError):
            tab.does(kind, **fields)
    assert all_rows(tab.study_id) == before


def test_everything_is_undone_back_to_the_empty_study(measured: Measured) -> None:
    tab = measured.tab
    made = all_rows(tab.study_id)
    steps = 0
    while tab.view()["undo"]:
        tab.does("undo")
        steps += 1
    assert all(rows == [] for rows in all_rows(tab.study_id).values())
    for _ in range(steps):
        tab.does("redo")
    assert all_rows(tab.study_id) == made


@pytest.mark.parametrize(
    ("kind", "fields", "field"),
    [
        ("type_known_length", {"known_length": "length", "length": "0", "unit": "m"}, "length"),
        ("type_known_length", {"known_length": "length", "length": "-2", "unit": "m"}, "length"),
        ("type_known_length", {"known_length": "length", "length": "tall", "unit": "m"}, "length"),
        ("type_known_length", {"known_length": "length", "length": "", "unit": "m"}, "length"),
        (
            "move_known_length",
            {"known_length": "length", "start_x": 5, "start_y": 5, "end_x": 5.4, "end_y": 5},
            "length",
        ),
        ("set_span", {"footage": "footage", "first": 9, "last": 2, "stride": 1}, "first"),
        ("set_span", {"footage": "footage", "first": 0, "last": 40, "stride": 1}, "last"),
        ("set_span", {"footage": "footage", "first": 0, "last": 9, "stride": 0}, "stride"),
        (
            "turn_axes",
            {"footage": "footage", "angle": "steep", "flip_x": False, "flip_y": False},
            "angle",
        ),
        ("set_zero_frame", {"footage": "footage", "frame": -1}, "frame"),
        ("place_mark", {"body": "body", "frame": 99, "x": 1, "y": 1}, "frame"),
        ("place_mark", {"body": "body", "frame": 1, "x": 400, "y": 1}, "mark"),
        ("remove_mark", {"body": "body", "frame": 30}, "mark"),
        ("change_body", {"body": "body", "name": "cone", "mass": "0"}, "mass"),
        ("add_passage", {"footage": "footage", "name": "p", "first": 5, "last": 5}, "first"),
        ("set_graph", {"x": "t", "y": "t"}, "y"),
        ("change_finding", {"finding": "finding", "name": "g", "accepted": "ten"}, "accepted"),
    ],
)
def test_bad_value_is_refused_at_its_field(
    kind: str, fields: dict[str, Any], field: str, measured: Measured
) -> None:
    before = all_rows(measured.tab.study_id)
    with pytest.raises(Refused) as refused:
        measured.tab.does(kind, **filled(fields, measured))
    assert refused.value.field == field
    assert all_rows(measured.tab.study_id) == before


@pytest.mark.parametrize("x", [float("nan"), float("inf"), 1e9])
def test_a_mark_at_no_place_is_refused(x: float, measured: Measured) -> None:
    with pytest.raises(ValidationError):
        measured.tab.request("place_mark", body=measured.body, frame=1, x=x, y=1)


def test_what_belongs_to_another_study_cannot_be_changed(measured: Measured, world: Any) -> None:
    from footing.store.tables import Study

    other = Study.create(school_class=world.school_class, lab=None, group=None, title="other")
    with pytest.raises(Stale, match="not there"):
        Tab(other, world.teacher).does("remove_body", body=measured.body)


def test_second_footage_is_refused(measured: Measured) -> None:
    content = measured.tab.view()["footage"]["content"]
    with pytest.raises(Refused, match="already"):
        measured.tab.does("add_footage", content=content, name="again")


def test_bodies_get_distinct_looks_and_names(measured: Measured) -> None:
    for _ in range(3):
        measured.tab.does("add_body", footage=measured.footage, name="cone")
    bodies = measured.tab.view()["bodies"]
    assert [body["name"] for body in bodies] == ["cone", "cone 2", "cone 3", "cone 4"]
    assert len({(body["colour"], body["shape"]) for body in bodies}) == 4
