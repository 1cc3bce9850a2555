"""Every edit: made, taken back and made again, the study is as it was; bad values are refused."""

from pathlib import Path
from typing import Any

import pytest
from pydantic import ValidationError

from footing.core.errors import Refused, Stale
from footing.settings import Settings
from footing.store import history
from footing.store.clearing import forget_media
from footing.studies.edits import EDITS
from footing.studies.films import uploads
from tests.studies.conftest import Measured
from tests.studies.steps import Tab, all_rows

ENDS = {"start_x": 0, "start_y": 0, "end_x": 30, "end_y": 40}

PRESSED = {"pressure": "1013", "pressure_unit": "mbar", "damp": "50"}

# for each kind, the fields of one edit on the measured study; names stand for its keys
EXAMPLES: dict[str, dict[str, Any]] = {
    "remove_footage": {"footage": "footage"},
    "rename_footage": {"footage": "footage", "name": "first try"},
    "replace_footage": {"footage": "footage", "content": "content", "name": "again.mp4"},
    "copy_ground": {"footage": "second", "source": "footage"},
    "turn_view": {"footage": "footage", "quarter": 90, "mirror": True},
    "hide_known_length": {"known_length": "length", "hidden": True},
    "set_depth": {"known_length": "length", "nearer": "0.5"},
    "set_camera_distance": {"footage": "footage", "metres": "4.0"},
    "set_unit": {"length": "cm"},
    "set_zero_on_mark": {"body": "body", "frame": 3},
    "align_axes": {"footage": "footage", **ENDS},
    "level_up": {"footage": "footage", **ENDS},
    "set_height_zero": {"footage": "footage", "x": 4.0, "y": 5.0},
    "draw_plane": {
        "footage": "footage",
        "frame": 0,
        "corners": [[9, 90], [90, 90], [80, 9], [9, 9]],
    },
    "type_plane": {"footage": "second", "across": "1.5", "along": "", "unit": "m"},
    "add_plane_point": {"footage": "second", "x": 100, "y": 90},
    "move_plane_point": {"point": "point", "x": 101, "y": 91},
    "type_plane_point": {"point": "point", "across": "1.0", "along": "1.5"},
    "remove_plane_point": {"point": "point"},
    "remove_plane": {"footage": "second"},
    "set_clock": {"footage": "footage", "clock": "capture", "typed": "120"},
    "set_readout": {"footage": "footage", "milliseconds": "20"},
    "place_marks": {"body": "body", "marks": [[20, 3.5, 4.5], [21, 5.5, 6.5]]},
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
    "set_body_span": {"body": "body", "first": 2, "last": 9, "stride": 3},
    "add_centre": {"footage": "footage", "bodies": ["body", "rival"]},
    "add_relative": {"footage": "footage", "body": "body", "other": "rival"},
    "add_second_spot": {"body": "body"},
    "set_mark_aside": {"body": "body", "frame": 3, "aside": True, "reason": "slipped"},
    "hide_body": {"body": "body", "frame": 3},
    "follow_marks": {
        "bodies": [
            {"body": "body", "marks": [[3, 9, 9, 0.9], [20, 3.5, 4.5, 0.8]], "open": []},
            {"body": "rival", "marks": [[4, 5, 6, 1]], "open": [[5, None, None, 0]]},
        ],
        "over_hand": True,
    },
    "decide_doubt": {"body": "rival", "frame": 30, "decision": "right"},
    "place_mark": {"body": "body", "frame": 20, "x": 3.25, "y": 4.5},
    "remove_mark": {"body": "body", "frame": 3},
    "shift_marks": {"body": "body", "dx": 2.5, "dy": -1},
    "remove_marks": {"body": "body", "first": 2, "last": 5},
    "swap_marks": {"body": "body", "other": "rival", "frame": 4},
    "add_passage": {"footage": "footage", "name": "end", "first": 5.5, "last": 9},
    "change_passage": {"passage": "passage", "name": "drop", "first": 2, "last": 8},
    "remove_passage": {"passage": "passage"},
    "set_graph": {"footage": "footage", "x": "x", "ys": ["vy"], "include_zero": True},
    "add_fit": {"body": "body", "x": "t", "y": "vy", "curve": "line"},
    "change_fit": {"fit": "fit", "curve": "cubic", "colour": "teal"},
    "place_box": {"fit": "fit", "x": 0.5, "y": 0.1},
    "set_digits": {"footage": "footage", "key": "vx", "digits": 2},
    "highlight": {"column": "column"},
    "remove_fit": {"fit": "fit"},
    "add_finding": {"fit": "fit", "reading": "c", "name": "height", "accepted": "0.2"},
    "change_finding": {"finding": "finding", "name": "g", "as_size": True, "accepted": "9.81"},
    "remove_finding": {"finding": "finding"},
    "add_sheet": {"name": "runs", "columns": [{"name": "time", "symbol": "t", "unit": "s"}]},
    "rename_sheet": {"sheet": "sheet", "name": "slides on ice"},
    "remove_sheet": {"sheet": "sheet"},
    "read_by_eye": {"footage": "footage", "name": "pointer"},
    "add_reading": {"sheet": "eye", "frame": 1, "text": "13.0"},
    "set_cells": {"sheet": "sheet", "row": 6, "column": "column", "cells": [["3.5", "9.8"]]},
    "paste_cells": {"sheet": "sheet", "row": 2, "column": "column", "text": "1,6\t2,1\n2,1\t3,5"},
    "insert_rows": {"sheet": "sheet", "row": 2, "count": 2},
    "remove_rows": {"sheet": "sheet", "row": 1, "count": 2},
    "set_row_aside": {"sheet": "sheet", "row": 2, "aside": True, "reason": "slipped"},
    "add_column": {"footage": "footage", "name": "energy", "formula": "0.5*M*v^2"},
    "change_column": {
        **{"column": "column", "name": "speed", "symbol": "u", "unit": "cm/s"},
        **{"convert": True, "digits": 2},
    },
    "set_formula": {"column": "computed", "formula": "v^2 + 1 m^2/s^2", "scatter": "0.1"},
    "freeze_column": {"column": "computed"},
    "fill_column": {"column": "column", "first": "0", "step": "0.5", "last": "4.2"},
    "move_column": {"column": "computed", "place": 0},
    "remove_column": {"column": "column"},
    "set_quantity": {"symbol": "M", "name": "mass of the sled", "typed": "260", "unit": "g"},
    "remove_quantity": {"quantity": "quantity"},
    "remove_graph": {"graph": "graph"},
    "straighten": {"body": "body", "x": "t", "y": "y", "form": "y-x2"},
    "weigh_body": {"body": "body", "mass": "35", "mass_unit": "g"},
    "set_gravity": {"latitude": "54.3", "height": "120"},
    "set_velocity_window": {"footage": "footage", "marks": 5},
    "add_impact": {"footage": "footage", "at": 5.5},
    "move_impact": {"impact": "impact", "at": 4.5},
    "change_impact": {"impact": "impact", "body": "body", "of": "ends"},
    "remove_impact": {"impact": "impact"},
    "set_energies": {"footage": "footage", "left_out": ["rival"]},
    "set_spring": {"footage": "footage", "body": "body", "constant": "8.0", "rest_length": "0.3"},
    "set_fixed_end": {"footage": "footage", "x": 5, "y": 6},
    "set_moments": {"footage": "footage", "start": 1, "top": 5, "finish": 9},
    "set_inertia": {"body": "body", "shape": "ball"},
    "set_momenta": {"impact": "impact", "before": "passage", "resting_after": ["rival"]},
    "fill_in": {"impact": "impact", "cell": "total.before.x", "typed": "0.35"},
    "add_model": {"footage": "footage", "body": "body", "name": "fall", "law": "quadratic drag"},
    "add_theory": {"body": "body"},
    "change_model": {"model": "model", "name": "without air", "shown": False},
    "copy_model": {"model": "model"},
    "remove_model": {"model": "model"},
    "add_leg": {"model": "model", "law": "free fall", "passage": "passage"},
    "change_leg": {"leg": "leg", "law": "quadratic drag", "passage": "passage", "border": "marks"},
    "remove_leg": {"leg": "leg"},
    "move_border": {"leg": "second_leg", "at": 8.5},
    "set_parameter": {"model": "model", "leg": "leg", "name": "ay", "typed": "-9.81"},
    "set_formulas": {"leg": "written", "along_x": "-k*x", "along_y": "-g"},
    "set_weather": {"temperature": "68 ± 1", "temperature_unit": "°F", **PRESSED},
    "forget_weather": {},
    "answer_question": {"question": "question", "words": "The runners melt the snow a little."},
    "add_block": {"block": "text", "words": "It falls.", "after": 0},
    "change_block": {"block": "block", "words": "What came of it"},
    "move_block": {"block": "block", "after": "second_block"},
    "remove_block": {"block": "block"},
    "say_verdict": {"footage": "footage", "words": "It is warmer afterwards."},
}


def filled(fields: dict[str, Any], study: Measured) -> dict[str, Any]:
    by_name = dict(vars(study))
    own = {"footage", "source", "known_length", "body", "passage", "fit", "finding", "point"}
    own |= {"content", "other", "bodies", "sheet", "column", "quantity", "graph", "impact"}
    own |= {"before", "after", "left_out", "resting_after", "model", "leg", "question"}
    own |= {"block"} if fields.get("block") == "block" else set()

    def key_of(value: Any) -> Any:
        if isinstance(value, list):
            return [key_of(one) for one in value]
        return filled(value, study) if isinstance(value, dict) else by_name[value]

    return {
        name: key_of(value) if name in own and isinstance(value, str | list) else value
        for name, value in fields.items()
    }


def test_every_kind_has_an_example() -> None:
    kinds = {edit.model_fields["kind"].default for edit in EDITS}
    # footage is added by uploading; up is reset below, because that needs something to reset;
    # a report is laid out where there is none (test_report.py)
    assert kinds - {"add_footage", "reset_up", "lay_out_report"} == set(EXAMPLES)


PARTS = 4  # of the kinds, each tried on one study, because every edit is taken back in the end


@pytest.mark.parametrize("part", range(PARTS))
def test_each_edit_fails_whole_and_is_undone_and_redone(
    part: int, measured: Measured, monkeypatch: pytest.MonkeyPatch
) -> None:
    for kind in list(EXAMPLES)[part::PARTS]:
        fails_whole_and_is_undone_and_redone(kind, measured, monkeypatch)


def fails_whole_and_is_undone_and_redone(
    kind: str, measured: Measured, monkeypatch: pytest.MonkeyPatch
) -> None:
    tab = measured.tab
    before = all_rows(tab.study_id)
    fields = filled(EXAMPLES[kind], measured)

    def fail(_: object) -> None:
        raise RuntimeError

    with monkeypatch.context() as patch:
        patch.setattr(history, "append", fail)
        with pytest.raises(RuntimeError):
            tab.does(kind, **fields)
    assert all_rows(tab.study_id) == before, kind
    tab.does(kind, **fields)
    after = all_rows(tab.study_id)
    assert after != before, kind
    tab.does("undo")
    assert all_rows(tab.study_id) == before, kind
    tab.does("redo")
    assert all_rows(tab.study_id) == after, kind
    tab.does("undo")
    assert all_rows(tab.study_id) == before, kind


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


BAD_VALUES: list[tuple[str, dict[str, Any], str]] = [
    ("type_known_length", {"known_length": "length", "length": "0", "unit": "m"}, "length"),
    ("type_known_length", {"known_length": "length", "length": "-2", "unit": "m"}, "length"),
    ("type_known_length", {"known_length": "length", "length": "tall", "unit": "m"}, "length"),
    ("type_known_length", {"known_length": "length", "length": "", "unit": "m"}, "length"),
    ("type_known_length", {"known_length": "length", "length": "2 kg", "unit": "m"}, "length"),
    ("type_known_length", {"known_length": "length", "length": "2 sleds", "unit": "m"}, "length"),
    (
        "move_known_length",
        {"known_length": "length", "start_x": 5, "start_y": 5, "end_x": 5.4, "end_y": 5},
        "length",
    ),
    ("answer_question", {"question": 0, "words": "Yes."}, "question"),
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
    ("shift_marks", {"body": "body", "dx": 0, "dy": 0}, "dx"),
    ("shift_marks", {"body": "body", "dx": -400, "dy": 0}, "mark"),
    ("remove_marks", {"body": "body", "first": 20, "last": 30}, "first"),
    ("swap_marks", {"body": "body", "other": "spot", "frame": 0}, "other"),
    ("swap_marks", {"body": "body", "other": "rival", "frame": 30}, "frame"),
    ("change_body", {"body": "body", "name": "cone", "mass": "0"}, "mass"),
    ("change_body", {"body": "body", "name": "cone", "size": "wide"}, "size"),
    ("set_body_span", {"body": "body", "first": 9, "last": 3}, "last"),
    ("set_body_span", {"body": "body", "first": 0, "last": 99}, "last"),
    ("add_centre", {"footage": "footage", "bodies": ["body", "body"]}, "bodies"),
    ("add_centre", {"footage": "footage", "bodies": ["body", "spot"]}, "bodies"),
    ("add_relative", {"footage": "footage", "body": "body", "other": "body"}, "other"),
    ("decide_doubt", {"body": "body", "frame": 3, "decision": "right"}, "decision"),
    ("follow_marks", {"bodies": [{"body": "body", "marks": [[99, 1, 1, 1]]}]}, "frame"),
    ("hide_body", {"body": "body", "frame": 99}, "frame"),
    ("set_mark_aside", {"body": "body", "frame": 30, "aside": True}, "mark"),
    ("add_passage", {"footage": "footage", "name": "p", "first": 5, "last": 5}, "first"),
    ("set_graph", {"footage": "footage", "x": "t", "ys": ["t"]}, "y"),
    ("set_digits", {"footage": "footage", "key": "zz", "digits": 2}, "key"),
    ("highlight", {"footage": "footage", "key": "zz"}, "key"),
    ("highlight", {"footage": "footage", "column": "column"}, "column"),
    ("set_graph", {"footage": "footage", "x": "n", "ys": ["y"]}, "y"),
    ("type_known_length", {"known_length": "length", "length": "1", "unit": "kg"}, "unit"),
    ("set_depth", {"known_length": "length", "nearer": "close"}, "nearer"),
    ("set_camera_distance", {"footage": "footage", "metres": "-1"}, "metres"),
    ("set_zero_on_mark", {"body": "body", "frame": 30}, "frame"),
    ("align_axes", {"footage": "footage", **dict.fromkeys(ENDS, 5)}, "length"),
    ("copy_ground", {"footage": "footage", "source": "footage"}, "source"),
    ("set_clock", {"footage": "footage", "clock": "capture", "typed": "0"}, "typed"),
    (
        "set_clock",
        {"footage": "footage", "clock": "moments", "typed": "1", "first": 9, "last": 3},
        "first",
    ),
    ("set_clock", {"footage": "footage", "clock": "moments", "typed": "1"}, "first"),
    ("set_readout", {"footage": "footage", "milliseconds": "4000"}, "milliseconds"),
    ("type_plane", {"footage": "second", "across": "0", "along": "1", "unit": "m"}, "across"),
    (
        "draw_plane",
        {"footage": "footage", "frame": 0, "corners": [[0, 0], [9, 9], [9, 0], [0, 9]]},
        "plane",
    ),
    ("change_finding", {"finding": "finding", "name": "g", "accepted": "ten"}, "accepted"),
    ("weigh_body", {"body": "body", "mass": "0"}, "mass"),
    ("weigh_body", {"body": "body", "mass": "-0.2"}, "mass"),
    ("set_gravity", {"latitude": "91"}, "latitude"),
    ("set_gravity", {"latitude": "50", "height": "20000"}, "height"),
    ("add_impact", {"footage": "footage", "at": 5.0}, "at"),
    ("add_impact", {"footage": "footage", "at": 99.5}, "at"),
    ("add_impact", {"footage": "footage", "at": 20.5}, "at"),
    ("add_impact", {"footage": "footage", "at": 5.5, "body": "spot"}, "body"),
    ("move_impact", {"impact": "impact", "at": -0.5}, "at"),
    ("set_spring", {"footage": "footage", "body": "body", "constant": "-1"}, "constant"),
    ("set_spring", {"footage": "footage", "body": "body", "constant": "1", "unit": "N"}, "unit"),
    ("set_moments", {"footage": "footage", "top": 99}, "top"),
    ("set_inertia", {"body": "body", "shape": "cube"}, "shape"),
    ("set_inertia", {"body": "body", "typed": "0"}, "typed"),
    ("set_momenta", {"impact": "impact", "after": "passage"}, "after"),
    ("fill_in", {"impact": "impact", "cell": "total.before.x", "typed": "much"}, "typed"),
]


def test_each_bad_value_is_refused_at_its_field_and_nothing_changes(measured: Measured) -> None:
    before = all_rows(measured.tab.study_id)
    for kind, fields, field in BAD_VALUES:
        with pytest.raises(Refused) as refused:
            measured.tab.does(kind, **filled(fields, measured))
        assert refused.value.field == field, (kind, fields)
        assert all_rows(measured.tab.study_id) == before, (kind, fields)


@pytest.mark.parametrize("x", [float("nan"), float("inf"), 1e9])
def test_a_mark_at_no_place_is_refused(x: float, measured: Measured) -> None:
    with pytest.raises(ValidationError):
        measured.tab.request("place_mark", body=measured.body, frame=1, x=x, y=1)


def test_what_belongs_to_another_study_cannot_be_changed(measured: Measured, world: Any) -> None:
    from footing.store.tables import Study

    other = Study.create(school_class=world.school_class, lab=None, group=None, title="other")
    with pytest.raises(Stale, match="not there"):
        Tab(other, world.teacher).does("remove_body", body=measured.body)


def test_swapped_bodies_are_put_right_from_a_frame_on(measured: Measured) -> None:
    tab = measured.tab
    marks = [[frame, 200 + frame, 9] for frame in (4, 5, 20)]
    tab.does("place_marks", body=measured.rival, marks=marks)
    before = {body["id"]: body["marks"] for body in tab.view()["bodies"]}
    tab.does("swap_marks", body=measured.body, other=measured.rival, frame=5)
    after = {body["id"]: body["marks"] for body in tab.view()["bodies"]}
    mine, theirs = before[measured.body], before[measured.rival]
    assert after[measured.body] == [one for one in mine if one[0] < 5] + theirs[1:]
    assert after[measured.rival] == theirs[:1] + [one for one in mine if one[0] >= 5]


def test_all_marks_are_shifted_by_the_same_offset(measured: Measured) -> None:
    before = measured.tab.view()["bodies"][0]["marks"]
    measured.tab.does("shift_marks", body=measured.body, dx=1.5, dy=-2)
    after = measured.tab.view()["bodies"][0]["marks"]
    assert after == [[frame, x + 1.5, y - 2] for frame, x, y in before]


def test_up_is_reset_to_the_picture(measured: Measured) -> None:
    tab = measured.tab
    tab.does("level_up", footage=measured.footage, **ENDS)
    assert tab.view()["ground"]["levelled"] == "plumb"
    tab.does("reset_up", footage=measured.footage)
    assert tab.view()["ground"]["levelled"] is None
    tab.does("undo")
    assert tab.view()["ground"]["levelled"] == "plumb"


def test_a_study_has_room_for_a_dozen_sources(measured: Measured) -> None:
    for n in range(10):
        measured.tab.does("add_footage", content=measured.content, name=f"try {n}")
    with pytest.raises(Refused, match="12"):
        measured.tab.does("add_footage", content=measured.content, name="one more")


def test_bodies_get_distinct_looks_and_names(measured: Measured) -> None:
    for _ in range(3):
        measured.tab.does("add_body", footage=measured.footage, name="cone")
    bodies = measured.tab.view()["bodies"]
    assert [body["name"] for body in bodies] == ["cone", "lamp", "cone 2", "cone 3", "cone 4"]
    assert len({(body["colour"], body["shape"]) for body in bodies}) == 5


def test_a_file_that_was_tidied_away_meanwhile_is_asked_for_again(
    tab: Tab, plain_film: Path, settings: Settings
) -> None:
    content = uploads.take_in(plain_film, settings)
    footage = tab.makes("add_footage", content=content, name="a")
    tab.does("remove_footage", footage=footage)
    forget_media(content)
    with pytest.raises(Refused, match="upload it again"):
        tab.does("add_footage", content=content, name="a")
