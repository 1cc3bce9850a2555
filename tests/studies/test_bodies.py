"""Bodies: what they are made of, what was decided about them, and the numbers that follow."""

from typing import Any

import numpy as np
import pytest

from footing.core.errors import Refused, Stale
from footing.store.reading import read_study
from footing.store.rows import Footage
from footing.studies.door import EditRequest, submit
from footing.studies.edits.following import FollowedBody, FollowMarks
from footing.studies.model.sources import Sources
from footing.studies.queries import moments
from tests.studies.conftest import Measured
from tests.studies.steps import Tab, all_rows


def body_of(tab: Tab, key: int) -> dict[str, Any]:
    return next(body for body in tab.view()["bodies"] if body["id"] == key)


def column(tab: Tab, body: int, key: str) -> dict[int, float]:
    """Values of a table column by frame, as they are shown."""
    shown = body_of(tab, body)
    keys = [one["key"] for one in shown["table"]["columns"]]
    cells = [row[keys.index(key)] for row in shown["table"]["rows"]]
    numbers = zip(shown["counting"], cells, strict=True)
    return {frame: float(text.replace("−", "-")) for frame, text in numbers if text}


def study_of(measured: Measured) -> Any:
    return measured.tab.study


def marked(measured: Measured, body: int, places: dict[int, tuple[float, float]]) -> None:
    for frame, (x, y) in places.items():
        measured.tab.does("place_mark", body=body, frame=frame, x=x, y=y)


def follows(measured: Measured, run: str, marks: list[Any]) -> None:
    tab = measured.tab
    edit = FollowMarks(bodies=[FollowedBody(body=measured.body, marks=marks)])
    request = EditRequest(edit=edit, based_on=tab.seq, token=f"{run}-{marks[0][0]:08d}")
    submit(tab.study_id, tab.person, request, run=run)


def test_table_values_of_hand_made_marks_are_the_exact_formulas(measured: Measured) -> None:
    """y = 20 + 2 n + 0.1 n² px downwards, 25 frames/s, 100 px/m; x = 50 + n px."""
    tab, body = measured.tab, measured.body
    v = {n: -(2 + 0.2 * n) * 25 / 100 for n in range(12)}
    for n, shown in column(tab, body, "vy").items():
        assert shown == pytest.approx(v[n], abs=0.01)
    assert column(tab, body, "ay")[6] == pytest.approx(-0.2 * 625 / 100, abs=0.3)
    since_start = column(tab, body, "my")
    assert 0 not in since_start
    assert since_start[10] == pytest.approx(-(2 + 0.1 * 10) * 25 / 100, abs=0.005)
    steps = [np.hypot(1, 2 + 0.1 * (2 * n + 1)) / 100 for n in range(11)]
    assert column(tab, body, "s")[11] == pytest.approx(sum(steps), abs=0.005)
    angle = np.rad2deg(np.arctan2(v[5], 0.25))
    assert column(tab, body, "phi")[5] == pytest.approx(angle, abs=2)


def test_average_and_momentary_velocity_have_different_names(measured: Measured) -> None:
    names = [one["name"] for one in body_of(measured.tab, measured.body)["table"]["columns"]]
    assert "velocity y" in names
    assert "average velocity y since the start" in names


def test_nothing_is_computed_across_a_hidden_frame(measured: Measured) -> None:
    tab, body = measured.tab, measured.body
    before = column(tab, body, "vy")
    tab.does("hide_body", body=body, frame=5)
    shown = body_of(tab, body)
    assert shown["hidden"] == [5]
    assert 5 not in shown["counting"]
    after = column(tab, body, "vy")
    assert set(after) == set(before) - {5}
    # each side is a parabola by itself, so its ends still have the exact slope
    assert {n: after[n] for n in (4, 6)} == {n: before[n] for n in (4, 6)}
    ends = shown["table"]["end_rows"][[c["key"] for c in shown["table"]["columns"]].index("vy")]
    assert [shown["counting"][row] for row in ends] == [0, 4, 6, 11]


def test_a_mark_set_aside_stays_but_does_not_count(measured: Measured) -> None:
    tab, body = measured.tab, measured.body
    tab.does("set_mark_aside", body=body, frame=5, aside=True)
    shown = body_of(tab, body)
    assert shown["aside"] == [5]
    assert len(shown["marks"]) == 12
    assert 5 not in shown["counting"]
    tab.does("place_mark", body=body, frame=5, x=55, y=32)
    assert 5 in body_of(tab, body)["counting"]


def test_a_mark_ends_that_the_body_is_hidden(measured: Measured) -> None:
    tab, body = measured.tab, measured.body
    tab.does("hide_body", body=body, frame=20)
    tab.does("place_mark", body=body, frame=20, x=9, y=9)
    assert body_of(tab, body)["hidden"] == []
    tab.does("hide_body", body=body, frame=3)
    with pytest.raises(Refused, match="hidden in frame 3 already"):
        tab.does("hide_body", body=body, frame=3)


def test_a_bodys_own_frames_count_and_nothing_else(measured: Measured) -> None:
    tab = measured.tab
    tab.does("set_body_span", body=measured.body, first=3, last=7, stride=2)
    shown = body_of(tab, measured.body)
    assert shown["counting"] == [3, 4, 5, 6, 7]
    assert len(shown["marks"]) == 12
    copied = tab.makes("add_body", footage=measured.footage, name="twin", like=measured.body)
    twin = body_of(tab, copied)
    assert (twin["first"], twin["last"], twin["stride"]) == (3, 7, 2)


def test_hand_marks_are_not_overwritten_unless_asked(measured: Measured) -> None:
    tab, body = measured.tab, measured.body
    found = [{"body": body, "marks": [[3, 9, 9, 0.9], [20, 8, 8, 0.7]], "open": []}]
    tab.does("follow_marks", bodies=found)
    shown = body_of(tab, body)
    assert [3, 9.0, 9.0] not in shown["marks"]
    assert shown["qualities"] == {20: 0.7}
    tab.does("follow_marks", bodies=found, over_hand=True)
    shown = body_of(tab, body)
    assert [3, 9.0, 9.0] in shown["marks"]
    tab.does("place_mark", body=body, frame=20, x=7, y=7)  # by hand from now on
    assert 20 not in body_of(tab, body)["qualities"]


@pytest.mark.parametrize(
    ("decision", "mark", "hidden", "last"),
    [("right", [[30, 5.0, 6.0]], [], None), ("hidden", [], [30], None), ("ends", [], [], 29)],
)
def test_a_doubt_is_decided(
    decision: str, mark: list[Any], hidden: list[int], last: int | None, measured: Measured
) -> None:
    tab, rival = measured.tab, measured.rival
    assert body_of(tab, rival)["doubts"] == [[30, 5.0, 6.0, 0.4]]
    assert body_of(tab, rival)["counting"] == []
    tab.does("decide_doubt", body=rival, frame=30, decision=decision)
    shown = body_of(tab, rival)
    assert shown["doubts"] == []
    assert (shown["marks"], shown["hidden"], shown["last"]) == (mark, hidden, last)


STRETCHES = [
    ("right", [[31, 7.0, 8.0], [33, 9.0, 8.0]], [32], None, [[38, 38]]),
    ("hidden", [], [31, 32, 33], None, [[38, 38]]),
    ("ends", [], [], 30, []),
]


@pytest.mark.parametrize(("decision", "marks", "hidden", "last", "left"), STRETCHES)
def test_a_stretch_is_decided_in_one_step(
    decision: str,
    marks: list[Any],
    hidden: list[int],
    last: int | None,
    left: list[list[int]],
    measured: Measured,
) -> None:
    tab, rival = measured.tab, measured.rival
    tab.does("decide_doubt", body=rival, frame=30, decision="hidden")
    opened = [[31, 7.0, 8.0, 0.4], [32, None, None, 0.0], [33, 9.0, 8.0, 0.5], [38, 1.0, 2.0, 0.3]]
    tab.does("follow_marks", bodies=[{"body": rival, "marks": [], "open": opened}])
    asked = body_of(tab, rival)["asked"]
    assert [[one["first"], one["last"], one["proposed"]] for one in asked] == [
        [31, 33, 2],
        [38, 38, 1],
    ]
    assert asked[0]["shown"] == [[31, 7.0, 8.0, 0.4], [33, 9.0, 8.0, 0.5]]
    tab.does("decide_doubt", body=rival, frame=31, last=33, decision=decision)
    shown = body_of(tab, rival)
    assert (shown["marks"], shown["hidden"][1:], shown["last"]) == (marks, hidden, last)
    assert [[one["first"], one["last"]] for one in shown["asked"]] == left
    tab.does("undo")
    assert [one["count"] for one in body_of(tab, rival)["asked"]] == [3, 1]


def test_a_follow_is_taken_back_and_made_again_in_one_step(measured: Measured) -> None:
    tab, body = measured.tab, measured.body
    before = body_of(tab, body)["marks"]
    for start in (12, 16, 20):
        follows(measured, "follow 1", [(n, 10.0 + n, 5.0, 0.9) for n in range(start, start + 4)])
    made = body_of(tab, body)["marks"]
    assert len(made) == len(before) + 12
    tab.does("undo")
    assert body_of(tab, body)["marks"] == before
    tab.does("redo")
    assert body_of(tab, body)["marks"] == made
    tab.does("undo")
    assert body_of(tab, body)["marks"] == before


def test_a_follow_is_not_taken_back_over_somebody_elses_correction(
    measured: Measured, world: Any
) -> None:
    follows(measured, "follow 1", [(20, 10.0, 5.0, 0.9)])
    follows(measured, "follow 1", [(21, 11.0, 5.0, 0.9)])
    Tab(world.study, world.teacher).does("place_mark", body=measured.body, frame=20, x=1, y=1)
    with pytest.raises(Stale, match="Ms Tarnwick"):
        measured.tab.does("undo")


def test_the_centre_of_mass_lies_where_the_masses_put_it(measured: Measured) -> None:
    tab, body, rival = measured.tab, measured.body, measured.rival
    marked(measured, rival, dict.fromkeys(range(2, 9), (150.0, 80.0)))
    centre = tab.makes("add_centre", footage=measured.footage, bodies=[body, rival])
    assert "needs the mass of cone and lamp" in body_of(tab, centre)["problem"]
    tab.does("change_body", body=body, name="cone", mass="300", mass_unit="g")
    tab.does("change_body", body=rival, name="lamp", mass="0.1", mass_unit="kg")
    shown = body_of(tab, centre)
    assert shown["problem"] is None
    assert shown["counting"] == list(range(2, 9))
    assert column(tab, centre, "x")[4] == pytest.approx((3 * 0.54 + 1.5) / 4, abs=0.006)
    frame, x, y = shown["marks"][2]
    assert (frame, x) == (4, pytest.approx((3 * 54 + 150) / 4))
    assert y == pytest.approx((3 * (20 + 8 + 1.6) + 80) / 4)
    with pytest.raises(Refused, match="follows from other bodies"):
        tab.does("place_mark", body=centre, frame=4, x=1, y=1)
    fit = tab.makes("add_fit", body=centre, x="t", y="x", curve="line")
    reading = next(one for one in tab.view()["fits"] if one["id"] == fit)["readings"][0]
    assert reading["text"] == "0.1875 ± 0.0014 m/s"  # what the scale leaves unsure
    tab.does("remove_body", body=rival)
    assert [one["name"] for one in tab.view()["bodies"]] == ["cone"]


def test_one_body_is_seen_from_another(measured: Measured) -> None:
    tab = measured.tab
    marked(measured, measured.rival, {n: (20.0 + n, 10.0) for n in range(12)})
    seen = tab.makes(
        "add_relative", footage=measured.footage, body=measured.body, other=measured.rival
    )
    shown = column(tab, seen, "x")
    assert list(shown.values()) == pytest.approx([0.30] * 12, abs=0.006)
    assert column(tab, seen, "vy")[6] == pytest.approx(-(2 + 1.2) * 0.25, abs=0.01)


def test_what_is_made_of_two_bodies_is_as_unsure_as_both(measured: Measured) -> None:
    """σ² of Σ m r / Σ m is Σ (m/Σm)² σ², of a difference σ₁² + σ₂² (errors of marks are alike)."""
    tab = measured.tab
    marked(measured, measured.rival, dict.fromkeys(range(8), (120.0, 60.0)))
    tab.does("change_body", body=measured.body, name="cone", mass="0.3", mass_unit="kg")
    tab.does("change_body", body=measured.rival, name="lamp", mass="0.1", mass_unit="kg")
    both = [measured.body, measured.rival]
    centre = tab.makes("add_centre", footage=measured.footage, bodies=both)
    away = tab.makes("add_relative", footage=measured.footage, body=both[0], other=both[1])
    rows = read_study(tab.study_id)
    tables = Sources(rows).footage(rows.find(Footage, measured.footage)).every_table

    def unsure(body: int) -> float:
        x = tables[body].column("x")
        assert x is not None
        return float(np.median(x.uncertainties))

    first, second = unsure(both[0]), unsure(both[1])
    assert first > 0
    assert second > 0
    assert unsure(centre) == pytest.approx(np.hypot(0.75 * first, 0.25 * second), rel=1e-6)
    assert unsure(away) == pytest.approx(np.hypot(first, second), rel=1e-6)


def test_ghosts_show_what_was_left_out_and_where_it_goes_on(measured: Measured) -> None:
    marked(measured, measured.rival, {n: (40.0 + 10 * n, 90.0) for n in (0, 1, 2, 5, 6)})
    ghosts = {int(n): (x, y) for n, x, y in body_of(measured.tab, measured.rival)["ghosts"]}
    assert ghosts[3] == pytest.approx((70, 90))
    assert ghosts[4] == pytest.approx((80, 90))
    assert ghosts[7] == pytest.approx((110, 90), abs=1)
    assert not {0, 1, 2, 5, 6} & set(ghosts)


@pytest.mark.parametrize(("marks", "state"), [(1, "under way"), (4, "under way"), (5, "done")])
def test_marking_is_done_from_five_marks_of_a_body(
    tab: Tab, footage: int, marks: int, state: str
) -> None:
    body = tab.makes("add_body", footage=footage, name="cone")
    tab.does("place_marks", body=body, marks=[[n, 10 + n, 20] for n in range(marks)])
    assert tab.view()["steps"]["mark"] == state


def test_two_spots_say_how_a_body_turns(measured: Measured) -> None:
    """A quarter turn in 10 frames of 0.04 s: ω = π/2 ÷ 0.4 s."""
    tab = measured.tab
    wheel = tab.makes("add_body", footage=measured.footage, name="wheel")
    rim = tab.makes("add_second_spot", body=wheel)
    assert body_of(tab, rim)["name"] == "wheel, 2nd spot"
    turn = np.pi / 20
    marked(measured, wheel, {n: (100.0 + 2 * n, 90.0) for n in range(11)})
    spots = {
        n: (100 + 2 * n + 40 * np.cos(turn * n), 90 - 40 * np.sin(turn * n)) for n in range(11)
    }
    marked(measured, rim, spots)
    assert column(tab, wheel, "th")[10] == pytest.approx(np.pi / 2, abs=0.02)
    assert column(tab, wheel, "om")[5] == pytest.approx(turn * 25, rel=0.01)
    assert column(tab, wheel, "al")[5] == pytest.approx(0, abs=1)
    units = {one["key"]: one["unit"] for one in body_of(tab, wheel)["table"]["columns"]}
    assert (units["th"], units["om"], units["al"]) == ("rad", "rad/s", "rad/s²")
    fit = tab.makes("add_fit", body=wheel, x="t", y="th", curve="line")
    reading = next(one for one in tab.view()["fits"] if one["id"] == fit)["readings"][0]
    assert (reading["label"], reading["text"].split()[-1]) == ("angular velocity", "rad/s")
    with pytest.raises(Refused, match="second spot already"):
        tab.does("add_second_spot", body=wheel)


def test_a_slip_and_a_jump_are_flagged_and_a_bounce_is_not(measured: Measured) -> None:
    tab, rival = measured.tab, measured.rival
    assert body_of(tab, measured.body)["odd"] == []
    bounce = {n: (20.0 + 4 * n, 160.0 - 6 * abs(n - 8)) for n in range(17)}
    marked(measured, rival, bounce)
    assert body_of(tab, rival)["odd"] == []
    tab.does("place_mark", body=rival, frame=4, x=20.0 + 16 + 14, y=160 - 24)
    assert [(one["frame"], one["kind"]) for one in body_of(tab, rival)["odd"]] == [(4, "slip")]
    tab.does("undo")
    marked(measured, rival, {n: (x + 90, y) for n, (x, y) in bounce.items() if n >= 14})
    assert [(one["frame"], one["kind"]) for one in body_of(tab, rival)["odd"]] == [(14, "jump")]


def test_two_moments_give_the_average_velocity_at_the_middle(measured: Measured) -> None:
    found = moments.between(study_of(measured), measured.body, 10, 2)
    rows = {(name, below): text for name, below, text in found["rows"]}
    assert found["frames"] == [2, 10]
    assert rows["Δt", ""] == "0.320 s"
    assert rows["Δx", ""].startswith("0.08")
    assert rows["v̄", "y"].startswith("−0.8")
    assert "t = 0.240 s" in found["said"]
    assert found["arrow"] == [[52.0, pytest.approx(24.4)], [60.0, pytest.approx(50.0)]]
    with pytest.raises(Refused, match="no mark in frame 30"):
        moments.between(study_of(measured), measured.body, 2, 30)


def test_a_flight_has_a_launch_and_two_times(measured: Measured) -> None:
    found = moments.flight(study_of(measured), measured.body, 1, 5, 11)
    rows = {name: text for name, below, text in found["rows"] if not below}
    speed = np.hypot(0.25, 2.2 * 0.25)
    assert float(rows["launch speed"].split(" ±")[0]) == pytest.approx(speed, abs=0.1)
    assert rows["launch angle"].startswith("−6")
    assert (rows["time up"], rows["time down"]) == ("0.160 s", "0.240 s")
    with pytest.raises(Refused, match="one after the other"):
        moments.flight(study_of(measured), measured.body, 5, 1, 11)


def test_a_source_goes_with_second_spots_and_what_follows_from_bodies_and_comes_back(
    measured: Measured,
) -> None:
    tab = measured.tab
    tab.does("place_marks", body=measured.rival, marks=[[n, 40.0 + n, 30.0] for n in range(6)])
    tab.makes("add_second_spot", body=measured.body)
    for body in (measured.body, measured.rival):
        values = {"name": f"stone {body}", "mass": "2.0", "mass_unit": "kg"}
        tab.does("change_body", body=body, **values)
    both = [measured.body, measured.rival]
    tab.makes("add_centre", footage=measured.footage, bodies=both)
    before = all_rows(tab.study_id)
    tab.does("remove_footage", footage=measured.footage)
    tab.does("undo")
    assert all_rows(tab.study_id) == before
