"""Predicted motions in a study: their legs, what they match, and what is said of them."""

import numpy as np
import pytest

from footing.core.errors import Refused
from tests.studies.conftest import legs_of
from tests.studies.modelling import (
    G,
    Throw,
    legs_over,
    models,
    parameters,
    passage,
    predicted,
)
from tests.studies.motions import METRE, RATE, thrown, value


def test_a_throw_is_predicted_in_the_frames_of_its_leg(throw: Throw) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "free fall")
    way = passage(tab, footage, "rise", 2, 9)
    tab.does("change_leg", leg=legs_of(tab, model)[0], law="free fall", passage=way)
    (one,) = models(tab)
    found = parameters(one["legs"][0])
    t = 2 / RATE
    for name, truth in (("x", 1.2 * t), ("vx", 1.2), ("vy", 3.0 - G * t)):
        assert found[name]["found"]
        assert value(found[name]["text"]) == pytest.approx(truth, abs=1e-3)
    ghost = one["ghost"]
    assert ghost["frames"] == list(range(2, 10))
    assert set(ghost["leg"]) == {1}
    for frame, x, y in zip(ghost["frames"], ghost["x"], ghost["y"], strict=True):
        assert (x, y) == pytest.approx(thrown(frame), abs=0.02)
    assert one["stops"] == "matches all marks within their scatter"
    assert one["legs"][0]["marks"] == 8


def test_a_model_that_is_wrong_says_where_it_leaves_the_marks(throw: Throw) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "constant velocity")
    (leg,) = legs_of(tab, model)
    for name in ("x", "y", "vx", "vy"):
        tab.does("set_parameter", model=model, leg=leg, name=name, how="begin")
    (one,) = models(tab)
    assert one["stops"].startswith("leaves the marks at 0.")
    assert 0 < one["stops_at"] < 6
    assert value(one["rms"].split(" ")[0]) > 10


def test_legs_go_on_and_their_border_is_moved_with_both_passages(throw: Throw) -> None:
    tab, body, footage = throw
    ways = [passage(tab, footage, "first", 0, 7), passage(tab, footage, "second", 7.5, 14)]
    model = predicted(tab, body, footage, "free fall")
    legs = legs_over(tab, model, "free fall", ways)
    before = models(tab)[0]["legs"]
    assert before[0]["last"] == before[1]["first"] == pytest.approx(7.25)
    assert parameters(before[1]).keys() == set()
    tab.does("move_border", leg=legs[1], at=4.5)
    view = tab.view()
    moved = {one["name"]: (one["first"], one["last"]) for one in view["passages"]}
    assert moved == {"first": (0, 4.5), "second": (4.5, 14)}
    after = view["models"]["models"][0]["legs"]
    assert after[0]["last"] == after[1]["first"] == pytest.approx(4.5)
    assert view["models"]["models"][0]["ghost"]["leg"] == [1] * 5 + [2] * 10
    tab.does("undo")
    assert models(tab)[0]["legs"][0]["last"] == pytest.approx(7.25)
    for at, why in ((0, "stays between"), (14, "stays between"), (99, "no frame 99")):
        with pytest.raises(Refused, match=why):
            tab.does("move_border", leg=legs[1], at=at)
    with pytest.raises(Refused, match="no leg before"):
        tab.does("move_border", leg=legs[0], at=4.5)


def test_the_marks_say_where_a_border_is(throw: Throw) -> None:
    """The ball falls freely up to frame 9, and goes straight on from there."""
    tab, body, footage = throw
    t = 9 / RATE
    speed = (1.2, 3.0 - G * t)
    x, y = thrown(9)
    straight = [
        [n, x + METRE * speed[0] * (n / RATE - t), y - METRE * speed[1] * (n / RATE - t)]
        for n in range(10, 20)
    ]
    tab.does("remove_marks", body=body, first=10, last=14)
    tab.does("place_marks", body=body, marks=straight)
    ways = [passage(tab, footage, "fall", 0, 7), passage(tab, footage, "straight", 8, 19)]
    model = predicted(tab, body, footage, "free fall")
    legs = legs_over(tab, model, "free fall", ways[:1])
    tab.does("add_leg", model=model, law="constant velocity", passage=ways[1])
    assert models(tab)[0]["stops"] != "matches all marks within their scatter"
    law = {"law": "free fall", "passage": ways[0], "goes_on": "free"}
    tab.does("change_leg", leg=legs[0], border="marks", **law)
    (one,) = models(tab)
    assert value(parameters(one["legs"][0])["until"]["text"]) == pytest.approx(t, abs=2e-3)
    assert one["stops"] == "matches all marks within their scatter"
    assert one["legs"][0]["last"] == pytest.approx(9, abs=0.1)


def test_a_leg_may_begin_with_an_impact(throw: Throw) -> None:
    """A drop of 1 m that comes back with 0.8 of its speed, all of it typed."""
    tab, _body, footage = throw
    lands = float(np.sqrt(2 / G))
    ways = [
        passage(tab, footage, "drop", 0, lands * RATE // 0.5 * 0.5),
        passage(tab, footage, "back", lands * RATE // 0.5 * 0.5, 30),
    ]
    model = tab.makes("add_model", footage=footage, name="bounce", law="free fall")
    legs = legs_over(tab, model, "free fall", ways)
    tab.does("set_parameter", model=model, leg=legs[0], name="y", typed="1", unit="m")
    back = {"leg": legs[1], "law": "free fall", "passage": ways[1], "hits": True}
    tab.does("change_leg", **back)
    tab.does("set_parameter", model=model, leg=legs[1], name="restitution", typed="0.8")
    (one,) = models(tab)
    heights = dict(zip(one["ghost"]["frames"], one["ghost"]["values"]["y"], strict=True))
    highest = max(height for frame, height in heights.items() if frame > lands * RATE + 3)
    assert highest == pytest.approx(0.64, abs=0.04)
    tab.does("change_leg", **back, normal="0")  # as if it hit a wall
    assert models(tab)[0]["ghost"]["values"]["y"][-1] < -0.5


@pytest.mark.parametrize(
    ("stretches", "said"),
    [
        (((0, 8), (5, 14)), "begins before “a” has ended; passages of legs may not overlap"),
        (((8, 14), (0, 5)), "begins before “a” does; put the legs in their order"),
    ],
)
def test_passages_that_do_not_follow_each_other_are_said(
    throw: Throw, stretches: tuple[tuple[float, float], ...], said: str
) -> None:
    tab, body, footage = throw
    ways = [
        passage(tab, footage, name, *stretch) for name, stretch in zip("ab", stretches, strict=True)
    ]
    model = predicted(tab, body, footage, "free fall")
    legs_over(tab, model, "free fall", ways)
    legs = models(tab)[0]["legs"]
    assert said in legs[1]["problem"]
    assert models(tab)[0]["ghost"] is None


def test_what_is_missing_is_said_where_it_is(throw: Throw) -> None:
    tab, body, footage = throw
    tab.does("weigh_body", body=body, mass="", mass_unit="kg")
    model = predicted(tab, body, footage, "quadratic drag")
    (one,) = models(tab)
    assert one["problem"] == "The mass is missing; type it in What moves."
    tab.does("set_parameter", model=model, name="mass", typed="0.12", unit="kg")
    assert "The diameter is missing" in models(tab)[0]["problem"]
    tab.does("set_parameter", model=model, name="diameter", typed="7", unit="cm")
    assert models(tab)[0]["problem"] == ""
    tab.does("remove_marks", body=body, first=2, last=14)
    assert "2 marks there, too few to find x at the start" in models(tab)[0]["legs"][0]["problem"]
    assert models(tab)[0]["ghost"] is None


def test_too_few_marks_are_said_at_the_leg(throw: Throw) -> None:
    tab, body, footage = throw
    way = passage(tab, footage, "short", 3, 4)
    model = predicted(tab, body, footage, "constant acceleration")
    law = "constant acceleration"
    tab.does("change_leg", leg=legs_of(tab, model)[0], law=law, passage=way, goes_on="free")
    assert models(tab)[0]["legs"][0]["problem"].startswith("2 marks there, too few to find")
    tab.does("remove_passage", passage=way)
    assert models(tab)[0]["legs"][0]["problem"] == ""  # it goes over all marks then
    tab.does("undo")
    assert "too few" in models(tab)[0]["legs"][0]["problem"]


def test_without_a_known_length_there_is_no_model(throw: Throw) -> None:
    tab, body, footage = throw
    predicted(tab, body, footage, "free fall")
    length = tab.view()["ground"]["known_lengths"][0]["id"]
    tab.does("remove_known_length", known_length=length)
    assert "draw a known length at Ground" in models(tab)[0]["problem"]
    tab.does("undo")
    assert models(tab)[0]["problem"] == ""


def test_legs_are_removed_and_what_is_first_begins_freely(throw: Throw) -> None:
    tab, body, footage = throw
    ways = [passage(tab, footage, "a", 0, 7), passage(tab, footage, "b", 7.5, 14)]
    model = predicted(tab, body, footage, "free fall")
    legs = legs_over(tab, model, "free fall", ways)
    tab.does("remove_leg", leg=legs[0])
    (one,) = models(tab)
    assert one["legs"][0]["goes_on"] == "free"
    assert set(parameters(one["legs"][0])) >= {"x", "y", "vx", "vy"}
    assert one["ghost"]["frames"] == list(range(8, 15))
    tab.does("undo")
    assert len(models(tab)[0]["legs"]) == 2


def test_over_an_unsteady_picture_a_model_goes_with_it(throw: Throw) -> None:
    """The camera drifts by a pixel a frame: the ball is predicted where it is seen."""
    tab, body, footage = throw
    drift = [[n, thrown(n)[0] + n, thrown(n)[1]] for n in range(15)]
    tab.does("remove_marks", body=body, first=0, last=14)
    tab.does("place_marks", body=body, marks=drift)
    spot = tab.makes("add_body", footage=footage, name="gatepost", background=True)
    tab.does("place_marks", body=spot, marks=[[n, 250.0 + n, 30.0] for n in range(15)])
    predicted(tab, body, footage, "free fall")
    (one,) = models(tab)
    assert value(parameters(one["legs"][0])["vx"]["text"]) == pytest.approx(1.2, abs=1e-3)
    seen = {mark[0]: mark[1:3] for mark in tab.view()["bodies"][0]["marks"]}
    for frame, x, y in zip(*(one["ghost"][key] for key in ("frames", "x", "y")), strict=True):
        assert (x, y) == pytest.approx(seen[frame], abs=0.02)
