import json
from pathlib import Path

import cv2
import numpy as np
import pytest

from footing.demo.filming import write_video
from footing.media.index import index_media
from footing.media.survey import Survey, survey
from tests.films import damage, noisy_film, numbered_picture

CLIPS = Path(__file__).parents[2] / "src/footing/demo/clips"
LIMITS = {"seconds": 60.0, "frame_count": 10_000, "frame_pixels": 40_000_000}


def surveyed(path: Path) -> Survey:
    return survey(path, index_media(path, **LIMITS), seconds=60)  # type: ignore[arg-type]


def test_damaged_frames_are_named(tmp_path: Path) -> None:
    path = noisy_film(tmp_path / "damaged.mp4", list(range(40)))
    assert surveyed(path).damaged == ()
    bad = {damage(path, packet) for packet in (5, 20)}
    assert bad <= set(surveyed(path).damaged)
    assert len(surveyed(path).damaged) <= 4


def test_repeated_frames_are_named(tmp_path: Path) -> None:
    numbers = [*range(8), 7, *range(8, 20), 19, 19]
    path = noisy_film(tmp_path / "repeated.mp4", numbers)
    assert surveyed(path).repeated == (8, 21, 22)


def ball_film(path: Path, heights: list[float], *, grain: float) -> Path:
    """A small ball in a wide still picture, with a sensor's grain in every new frame."""
    rng = np.random.default_rng(8)
    pictures: dict[int, np.ndarray] = {}
    shown = []
    for height in heights:
        key = round(height * 1000)
        if key not in pictures:
            picture = np.full((360, 640, 3), 110, dtype=np.uint8)
            cv2.circle(picture, (320, round(height)), 14, (30, 40, 60), -1, cv2.LINE_AA)
            noise = rng.normal(0, grain, picture.shape)
            pictures[key] = np.clip(picture + noise, 0, 255).astype(np.uint8)
        shown.append(pictures[key])
    write_video(path, iter(shown), rate=60, encoder={"crf": "23", "g": "60"})
    return path


@pytest.mark.parametrize("grain", [0.0, 3.0])
@pytest.mark.parametrize("every", [2, 3, 4])
def test_frames_that_an_app_filled_in_are_named(tmp_path: Path, grain: float, every: int) -> None:
    """A slower film that was saved at 60 frames/s: a small ball, and a picture that stays."""
    heights = [40 + 4.0 * (k if k % every else k - 1) for k in range(60)]
    heights[0] = 36.0
    found = surveyed(ball_film(tmp_path / "filled.mp4", heights, grain=grain))
    expected = tuple(range(every, 60, every))
    assert set(expected) - {59} <= set(found.repeated) <= set(expected)


@pytest.mark.parametrize("grain", [0.0, 3.0])
def test_a_throw_at_its_top_and_a_ball_that_rests_repeat_nothing(
    tmp_path: Path, grain: float
) -> None:
    throw = [300 - 9.3 * k + 0.155 * k**2 + 0.001 * k for k in range(60)]  # slow at frame 30
    rest = [40 + min(5.0 * k, 200) + 0.001 * k for k in range(60)]
    for name, heights in (("throw", throw), ("rest", rest)):
        found = surveyed(ball_film(tmp_path / f"{name}.mp4", heights, grain=grain))
        assert found.repeated == ()


def test_a_film_of_something_still_repeats_nothing(tmp_path: Path) -> None:
    path = tmp_path / "still.mp4"
    write_video(path, iter([numbered_picture(3)] * 20), rate=25, encoder={"crf": "16"})
    assert surveyed(path) == Survey((), (), None)


@pytest.mark.parametrize("name", ["sled-run", "lantern-and-cone"])
def test_the_first_movement_is_found(name: str) -> None:
    truth = json.loads((CLIPS / f"{name}.json").read_text())
    found = surveyed(CLIPS / f"{name}.mp4").moves_from
    released = next(k for k, t in enumerate(truth["times"]) if t > truth["release_time"])
    positions = truth["positions"]
    track = np.array(positions if isinstance(positions, list) else positions["lantern"])
    assert found is not None
    assert found >= released - 1
    assert np.hypot(*(track[found] - track[0])) < 8  # px: it has hardly moved
