"""Impacts that marks show, on made motions whose impacts are known."""

import json
from pathlib import Path

import numpy as np
import pytest

import footing.demo
from footing.core.arrays import FloatArray
from footing.core.impacts import hits

_CLIPS = Path(footing.demo.__file__).parent / "clips"
_TIMES = np.arange(60) / 30


def _bouncing(restitution: float) -> tuple[FloatArray, list[float]]:
    """A ball dropped from 300 px under 980 px/s², and when it meets the floor."""
    places, moments = [], []
    fall = np.sqrt(2 * 300 / 980)
    for moment in _TIMES:
        start, speed, height = 0.0, 0.0, 300.0
        lands = fall
        while moment > lands:
            moments.append(lands)
            speed = restitution * 980 * (lands - start - speed / 980 if start else lands)
            start, height, lands = lands, 0.0, lands + 2 * speed / 980
        flown = moment - start
        places.append((50 * moment, height + speed * flown - 490 * flown**2))
    return np.array(places), sorted(set(moments))


def _smooth(kind: str) -> FloatArray:
    t = _TIMES
    return {
        "throw": np.stack([200 * t, 100 + 900 * t - 490 * t**2], axis=1),
        "swing": np.stack([150 * np.cos(6 * t), 30 * np.sin(6 * t)], axis=1),
        "glide": np.stack([300 * t, 0 * t], axis=1),
        "rest": np.zeros((60, 2)),
    }[kind]


def test_bounces_are_found_where_they_are() -> None:
    rng = np.random.default_rng(1)
    places, moments = _bouncing(0.6)
    wanted = [int(np.searchsorted(_TIMES, moment)) - 1 for moment in moments]
    for _ in range(20):
        found = hits(_TIMES, places + rng.normal(scale=0.5, size=places.shape))
        assert len(found) == len(wanted)
        assert all(abs(hit.after - k) <= 1 for hit, k in zip(found, wanted, strict=True))


@pytest.mark.parametrize("kind", ["throw", "swing", "glide", "rest"])
def test_smooth_motions_have_none(kind: str) -> None:
    rng = np.random.default_rng(2)
    for _ in range(25):
        assert hits(_TIMES, _smooth(kind) + rng.normal(scale=0.5, size=(60, 2))) == []


@pytest.mark.parametrize("stride", [1, 2])
@pytest.mark.parametrize("stone", ["red stone", "yellow stone"])
def test_the_stones_meet_at_frame_59(stone: str, stride: int) -> None:
    truth = json.loads((_CLIPS / "curling-stones.json").read_text())
    rng = np.random.default_rng(3)
    places = np.array(truth["positions"][stone])[::stride]
    times = np.array(truth["times"])[::stride]
    (hit,) = hits(times, places + rng.normal(scale=0.45, size=places.shape))
    assert abs(times[hit.after] - truth["impact_time"]) < 2 * stride / 60


def test_a_known_one_is_not_named_again() -> None:
    places, moments = _bouncing(0.6)
    places = places + np.random.default_rng(4).normal(scale=0.5, size=places.shape)
    known = np.array([int(np.searchsorted(_TIMES, moment)) - 1 for moment in moments])
    assert hits(_TIMES, places, known) == []


def test_a_slip_of_one_mark_is_no_impact() -> None:
    places = _smooth("throw") + np.random.default_rng(5).normal(scale=0.5, size=(60, 2))
    places[30] += (0, 8)
    assert hits(_TIMES, places) == []


def test_few_marks_name_none() -> None:
    assert hits(_TIMES[:4], _smooth("throw")[:4]) == []
    assert hits(_TIMES[:0], np.empty((0, 2))) == []
