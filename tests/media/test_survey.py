import json
from pathlib import Path

import av
import numpy as np
import pytest

from footing.demo.filming import write_video
from footing.media.index import index_media
from footing.media.survey import Survey, survey
from tests.films import numbered_picture

CLIPS = Path(__file__).parents[2] / "src/footing/demo/clips"
LIMITS = {"seconds": 60.0, "frame_count": 10_000, "frame_pixels": 40_000_000}


def surveyed(path: Path) -> Survey:
    return survey(path, index_media(path, **LIMITS), seconds=60)  # type: ignore[arg-type]


def noisy(numbers: list[int], rng: np.random.Generator) -> list[np.ndarray]:
    grain = [rng.normal(0, 6, size=(180, 320, 3)) for _ in range(max(numbers) + 1)]
    return [np.clip(numbered_picture(k) + grain[k], 0, 255).astype(np.uint8) for k in numbers]


def film(path: Path, pictures: list[np.ndarray]) -> Path:
    write_video(path, iter(pictures), rate=25, encoder={"crf": "16", "g": "12"})
    return path


def damage(path: Path, packet: int) -> int:
    """Overwrite part of a packet; give the number of the frame that it holds."""
    with av.open(str(path)) as container:
        packets = [(p.pos, p.size, p.pts) for p in container.demux(video=0) if p.size]
    position, size, pts = packets[packet]
    data = bytearray(path.read_bytes())
    middle = position + size // 2
    data[middle : middle + 60] = np.random.default_rng(1).bytes(60)
    path.write_bytes(data)
    return sorted(pts for _, _, pts in packets).index(pts)


def test_damaged_frames_are_named(tmp_path: Path) -> None:
    path = film(tmp_path / "damaged.mp4", noisy(list(range(40)), np.random.default_rng(0)))
    assert surveyed(path).damaged == ()
    bad = {damage(path, packet) for packet in (5, 20)}
    assert bad <= set(surveyed(path).damaged)
    assert len(surveyed(path).damaged) <= 4


def test_repeated_frames_are_named(tmp_path: Path) -> None:
    numbers = [*range(8), 7, *range(8, 20), 19, 19]
    path = film(tmp_path / "repeated.mp4", noisy(numbers, np.random.default_rng(2)))
    assert surveyed(path).repeated == (8, 21, 22)


def test_a_film_of_something_still_repeats_nothing(tmp_path: Path) -> None:
    path = film(tmp_path / "still.mp4", [numbered_picture(3)] * 20)
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
