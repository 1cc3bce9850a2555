import json
from pathlib import Path

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
