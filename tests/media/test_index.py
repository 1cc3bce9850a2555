import time
from pathlib import Path

import cv2
import numpy as np
import pytest

from footing.core.errors import Unreadable
from footing.media.frames import decode_group
from footing.media.index import MediaIndex, index_video
from footing.media.luma import luma_frames
from footing.media.opening import decoded, open_video, video_stream
from footing.media.survey import survey
from tests.films import (
    corner_is_red,
    number_in,
    numbered_film,
    numbered_picture,
    scrambled_film,
    sound_film,
)

LIMITS = {"seconds": 20.0, "frame_count": 1000, "frame_pixels": 1_000_000}


def index(path: Path) -> MediaIndex:
    return index_video(path, **LIMITS)  # type: ignore[arg-type]


def all_frames(path: Path, known: MediaIndex) -> dict[int, np.ndarray]:
    found: dict[int, np.ndarray] = {}
    ends = (*known.keys[1:], known.frames)
    for first, end in zip(known.keys, ends, strict=True):
        found |= dict(decode_group(path, known, first, end, seconds=20))
    return found


def test_every_frame_is_counted_and_shows_itself(plain_film: Path) -> None:
    known = index(plain_film)
    frames = all_frames(plain_film, known)
    assert known.frames == 40
    assert known.keys == (0, 12, 24, 36)
    assert {number: number_in(picture) for number, picture in frames.items()} == {
        number: number for number in range(40)
    }


@pytest.mark.parametrize("suffix", ["mp4", "mkv", "avi"])
def test_pictures_whose_times_are_those_of_decoding_come_in_their_true_order(
    films: Path, suffix: str
) -> None:
    film = scrambled_film(films / f"scrambled.{suffix}", frames=40)
    known = index(film)
    frames = all_frames(film, known)
    assert {number: number_in(picture) for number, picture in frames.items()} == {
        number: number for number in range(40)
    }
    assert known.times == pytest.approx(np.arange(40) / 25, abs=2e-3)
    assert "in the order in which they were recorded" in " ".join(known.notes)
    for wanted in (range(5, 30), range(30, 5, -3)):  # what following sees
        seen = dict(luma_frames(film, known, wanted, seconds=20))
        assert list(seen) == list(wanted)
        assert all(number_in(np.dstack([p] * 3)) == n for n, p in seen.items())
    found = survey(film, known, seconds=20)
    assert (found.damaged, found.repeated) == ((), ())


def test_times_come_from_the_file(plain_film: Path) -> None:
    assert index(plain_film).times == pytest.approx(np.arange(40) / 25, abs=1e-4)


@pytest.mark.parametrize("rotation", [90, 180, 270])
def test_rotation_metadata_brings_the_picture_upright(films: Path, rotation: int) -> None:
    film = numbered_film(films / f"turned-{rotation}.mp4", frames=14, rotation=rotation)
    known = index(film)
    frames = all_frames(film, known)
    assert (known.rotation, known.width, known.height) == (rotation, 320, 180)
    assert all(number_in(picture) == number for number, picture in frames.items())
    assert all(corner_is_red(picture) for picture in frames.values())


def test_irregular_timestamps_are_kept(films: Path) -> None:
    steps = np.random.default_rng(3).uniform(0.02, 0.06, size=29)
    times = [0.0, *np.cumsum(steps)]
    film = numbered_film(films / "irregular.mp4", frames=30, times=times)
    known = index(film)
    assert known.times == pytest.approx(times, abs=1e-3)
    assert known.cadence.variable
    assert all(number_in(picture) == n for n, picture in all_frames(film, known).items())


def test_a_start_offset_is_not_part_of_the_time(films: Path) -> None:
    film = numbered_film(films / "late.mp4", frames=10, times=[2 + n / 25 for n in range(10)])
    assert index(film).times == pytest.approx(np.arange(10) / 25, abs=1e-4)


def test_single_frame_opens_with_a_note(films: Path) -> None:
    known = index(numbered_film(films / "single.mp4", frames=1))
    assert known.frames == 1
    assert known.cadence.duration == 0
    assert "single frame" in known.notes[0]


def test_truncated_file_opens_with_the_frames_that_are_left(films: Path, plain_film: Path) -> None:
    cut = films / "cut.mp4"
    cut.write_bytes(plain_film.read_bytes()[: int(plain_film.stat().st_size * 0.6)])
    known = index(cut)
    frames = all_frames(cut, known)
    assert 0 < known.frames < 40
    assert "cut off" in known.notes[0]
    assert f"first {known.frames} of 40" in known.notes[0]
    assert sorted(frames) == list(range(known.frames))


def refused(path: Path) -> str:
    with pytest.raises(Unreadable) as error:
        index(path)
    return str(error.value)


def test_empty_file_is_refused(tmp_path: Path) -> None:
    empty = tmp_path / "clip.mp4"
    empty.touch()
    assert "empty" in refused(empty)


def test_text_named_as_video_is_named(tmp_path: Path) -> None:
    text = tmp_path / "notes.mp4"
    text.write_text("time, height\n0.1, 2.3\n")
    assert "text file" in refused(text)


@pytest.mark.parametrize(("suffix", "name"), [(".png", "PNG"), (".jpg", "JPG")])
def test_picture_named_as_video_is_named(tmp_path: Path, suffix: str, name: str) -> None:
    picture = tmp_path / "arch.mp4"
    picture.write_bytes(cv2.imencode(suffix, numbered_picture(1))[1].tobytes())
    assert f"{name} picture" in refused(picture)


def test_sound_only_is_refused(tmp_path: Path) -> None:
    assert "sound but no picture" in refused(sound_film(tmp_path / "song.mp4"))


def test_file_cut_before_its_table_of_frames_is_refused(tmp_path: Path) -> None:
    film = numbered_film(tmp_path / "late-table.mp4", frames=20, table_first=False)
    film.write_bytes(film.read_bytes()[:1500])
    assert "cut off" in refused(film)


def test_playlist_is_never_followed(tmp_path: Path, plain_film: Path) -> None:
    playlist = tmp_path / "list.mp4"
    playlist.write_text(f"#EXTM3U\n#EXTINF:1,\n{plain_film}\n#EXT-X-ENDLIST\n")
    assert "text file" in refused(playlist)


def test_too_large_a_picture_is_refused_with_its_size(plain_film: Path) -> None:
    with pytest.raises(Unreadable, match="320 × 180"):
        index_video(plain_film, seconds=20, frame_count=1000, frame_pixels=1000)


def test_too_many_frames_are_refused(plain_film: Path) -> None:
    with pytest.raises(Unreadable, match="more than 10 frames"):
        index_video(plain_film, seconds=20, frame_count=10, frame_pixels=10**6)


def test_decoding_has_a_time_limit(plain_film: Path) -> None:
    with open_video(plain_film, seconds=20) as container:
        frames = decoded(container, video_stream(container), deadline=time.monotonic() - 1)
        with pytest.raises(Unreadable, match="too long"):
            next(frames)


def test_reading_has_a_time_limit(plain_film: Path) -> None:
    with pytest.raises(Unreadable, match="longer than"):
        index_video(plain_film, seconds=1e-9, frame_count=1000, frame_pixels=10**6)
