"""The strobe picture: a body from many frames, laid over what is behind it."""

from pathlib import Path

import cv2
import numpy as np
import pytest

from footing.core.arrays import Image
from footing.core.errors import Refused
from footing.settings import Settings
from footing.store.reading import read_study
from footing.store.rows import Body
from footing.studies.queries.strobe import strobe
from tests.films import numbered_film
from tests.studies.steps import Tab

_SIZE = (180, 320)  # rows, columns of the film
_GREY, _BRIGHT = 90, 220
_SIDE = 6  # px, half of what moves


class Camera:
    """Gives frames in which a bright square stands at known places, and counts what is asked."""

    def __init__(self, places: dict[int, tuple[float, float]]) -> None:
        self.places = places
        self.asked: list[int] = []

    def __call__(self, frame: int) -> bytes:
        self.asked.append(frame)
        picture: Image = np.full((*_SIZE, 3), _GREY, dtype=np.uint8)
        x, y = (round(one) for one in self.places[frame])
        picture[y - _SIDE : y + _SIDE + 1, x - _SIDE : x + _SIDE + 1] = _BRIGHT
        return cv2.imencode(".jpg", picture, [cv2.IMWRITE_JPEG_QUALITY, 98])[1].tobytes()


def taken(tab: Tab, footage: int, camera: Camera, *, every: int = 1) -> Image:
    body = tab.makes("add_body", footage=footage, name="puck")
    marks = [[frame, x, y] for frame, (x, y) in camera.places.items()]
    tab.does("place_marks", body=body, marks=marks)
    rows = read_study(tab.study_id)
    picture = strobe(rows, rows.find(Body, body), every=every, picture=camera)
    seen = cv2.imdecode(np.frombuffer(picture, np.uint8), cv2.IMREAD_GRAYSCALE)
    assert seen is not None
    return np.asarray(seen)


@pytest.fixture
def camera() -> Camera:
    return Camera({n: (30.0 + 26 * n, 60.0 + 4 * n) for n in range(10)})


def test_the_body_stands_wherever_it_was(tab: Tab, footage: int, camera: Camera) -> None:
    seen = taken(tab, footage, camera)
    for x, y in camera.places.values():
        assert seen[round(y), round(x)] > _BRIGHT - 25
    assert np.abs(seen[120:].astype(int) - _GREY).max() < 12  # where nothing ever was
    between = (np.array(camera.places[3]) + camera.places[4]) / 2
    assert seen[round(between[1]), round(between[0])] < _GREY + 25


def test_every_other_frame_leaves_the_others_out(tab: Tab, footage: int, camera: Camera) -> None:
    seen = taken(tab, footage, camera, every=2)
    for frame, (x, y) in camera.places.items():
        bright = seen[round(y), round(x)] > (_GREY + _BRIGHT) / 2
        assert bright == (frame % 2 == 0)


def test_a_long_motion_is_thinned_out(tab: Tab, tmp_path: Path, settings: Settings) -> None:
    film = numbered_film(tmp_path / "long.mp4", frames=130)
    camera = Camera({n: (10.0 + 2 * n, 60.0) for n in range(130)})
    seen = taken(tab, tab.uploads(film, settings), camera)
    assert 30 < len(set(camera.asked)) <= 60
    assert seen[60, 10] > _BRIGHT - 25


def test_one_mark_makes_no_picture(tab: Tab, footage: int) -> None:
    with pytest.raises(Refused, match="two frames"):
        taken(tab, footage, Camera({3: (50.0, 60.0)}))
