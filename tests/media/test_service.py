import resource
import signal
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path

import cv2
import numpy as np
import pytest

from footing.core.errors import NotThere, Unreadable
from footing.media.cache import FrameCache
from footing.media.index import index_video
from footing.media.service import FrameService, StoredMedia
from tests.films import number_in, numbered_film


def video(path: Path, content: str = "ab12") -> StoredMedia:
    known = index_video(path, seconds=20, frame_count=10_000, frame_pixels=10**8)
    return StoredMedia(content, path, known)


@pytest.fixture
def service(tmp_path: Path) -> Iterator[FrameService]:
    made = FrameService(FrameCache(tmp_path / "frames", limit=10**8), seconds=20)
    yield made
    made.close()


def picture(jpeg: bytes) -> np.ndarray:
    decoded = cv2.imdecode(np.frombuffer(jpeg, dtype=np.uint8), cv2.IMREAD_COLOR)
    assert decoded is not None
    return decoded


def test_frames_asked_for_at_once_and_out_of_order_are_the_right_ones(
    service: FrameService, plain_film: Path
) -> None:
    film = video(plain_film)
    wanted = [39, 3, 25, 11, 12, 0, 38, 24, 13]
    with ThreadPoolExecutor(6) as pool:
        jpegs = list(pool.map(lambda frame: service.jpeg(film, frame, "screen"), wanted))
    assert [number_in(picture(jpeg)) for jpeg in jpegs] == wanted


def test_decoded_frames_are_served_from_the_cache(
    service: FrameService, plain_film: Path, tmp_path: Path
) -> None:
    copy = tmp_path / "copy.mp4"
    copy.write_bytes(plain_film.read_bytes())
    film = video(copy)
    first = service.jpeg(film, 5, "screen")
    copy.unlink()
    assert service.jpeg(film, 5, "screen") == first


def test_large_footage_has_a_screen_size_and_its_full_size(
    service: FrameService, films: Path
) -> None:
    film = video(numbered_film(films / "large.mp4", frames=3, size=(1600, 900)))
    assert picture(service.jpeg(film, 1, "screen")).shape[:2] == (720, 1280)
    assert picture(service.jpeg(film, 1, "full")).shape[:2] == (900, 1600)
    assert picture(service.jpeg(film, 1, "thumb")).shape[:2] == (72, 128)


def test_a_frame_that_is_not_there_is_said(service: FrameService, plain_film: Path) -> None:
    with pytest.raises(NotThere, match="the last one is 39"):
        service.jpeg(video(plain_film), 40, "screen")


def test_damaged_frames_are_said_and_the_others_stay(service: FrameService, films: Path) -> None:
    whole = numbered_film(films / "whole.mp4", frames=36, keys_every=12, b_frames=0)
    film = video(whole)
    data = bytearray(whole.read_bytes())
    start = data.index(b"mdat") + 8
    middle = start + (len(data) - start) // 2
    data[middle : middle + 200] = b"\x00" * 200
    damaged = films / "damaged.mp4"
    damaged.write_bytes(bytes(data))
    broken = StoredMedia("cd34", damaged, film.index)
    shown = {}
    for frame in range(36):
        try:
            shown[frame] = number_in(picture(service.jpeg(broken, frame, "screen")))
        except Unreadable as error:
            assert f"Frame {frame}" in str(error)  # noqa: PT017
    assert shown[0] == 0
    assert shown[35] == 35


def test_cache_drops_what_was_longest_unused(tmp_path: Path) -> None:
    noise = np.random.default_rng(1).integers(0, 255, (200, 200, 3)).astype(np.uint8)
    cache = FrameCache(tmp_path, limit=400_000)
    for frame in range(30):
        cache.write("ef56", frame, "screen", noise)
        cache.read("ef56", 0, "screen")  # frame 0 stays in use
    kept = sum(file.stat().st_size for file in tmp_path.rglob("*.jpg"))
    assert kept <= 400_000
    assert cache.read("ef56", 29, "screen") is not None
    assert cache.read("ef56", 0, "screen") is not None
    assert cache.read("ef56", 1, "screen") is None


def test_cache_counts_what_an_earlier_process_left(tmp_path: Path) -> None:
    noise = np.random.default_rng(1).integers(0, 255, (200, 200, 3)).astype(np.uint8)
    for start in (0, 10):
        cache = FrameCache(tmp_path, limit=400_000)
        for frame in range(start, start + 10):
            cache.write("ef56", frame, "screen", noise)
    assert sum(file.stat().st_size for file in tmp_path.rglob("*.jpg")) <= 400_000


@contextmanager
def no_room(size: int) -> Iterator[None]:
    """Files can be ``size`` bytes long and no longer, as on a disk that is full."""
    before = resource.getrlimit(resource.RLIMIT_FSIZE)
    ignored = signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    resource.setrlimit(resource.RLIMIT_FSIZE, (size, before[1]))
    try:
        yield
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, before)
        signal.signal(signal.SIGXFSZ, ignored)


def test_frames_are_shown_though_no_more_can_be_kept(
    service: FrameService, plain_film: Path, tmp_path: Path
) -> None:
    film = video(plain_film)
    with no_room(20):
        shown = [number_in(picture(service.jpeg(film, frame, "screen"))) for frame in (5, 6, 30)]
        service.close()  # once all that it began is done
    assert shown == [5, 6, 30]
    assert not [file for file in tmp_path.rglob("*") if file.is_file() and file.stat().st_size]


def test_a_group_that_another_process_decodes_is_waited_for(
    service: FrameService, plain_film: Path, tmp_path: Path
) -> None:
    """The other process is played here: it claims the group, and puts one frame after the other."""
    film = video(plain_film)
    other = FrameCache(tmp_path / "frames", limit=10**8)
    first, end = film.index.group(14)
    with ThreadPoolExecutor(1) as pool:
        with other.claimed(film.content, first, "screen"):
            asked = pool.submit(service.jpeg, film, 14, "screen")
            other.write(film.content, 14, "screen", np.full((90, 160, 3), 200, dtype=np.uint8))
            found = picture(asked.result(timeout=30))  # while the group is still claimed
            assert found.shape == (90, 160, 3)
            for frame in range(first, end):
                for size in ("screen", "thumb"):
                    other.write(film.content, frame, size, np.zeros((9, 16, 3), dtype=np.uint8))
        assert picture(service.jpeg(film, end - 1, "screen")).shape == (9, 16, 3)
    service.close()
    shapes = {picture(service.jpeg(film, n, "screen")).shape for n in range(first, end)}
    assert shapes == {(9, 16, 3)}  # nothing was decoded once more


def test_the_limit_holds_for_all_processes_together(tmp_path: Path) -> None:
    noise = np.random.default_rng(1).integers(0, 255, size=(60, 80, 3), dtype=np.uint8)
    caches = [FrameCache(tmp_path / "frames", limit=400_000) for _ in range(3)]
    for frame in range(120):
        caches[frame % 3].write("ab12", frame, "screen", noise)
    total = sum(file.stat().st_size for file in (tmp_path / "frames").rglob("*.jpg"))
    assert 200_000 < total < 430_000
