"""The first look in brightness and colour: what a strong compression leaves of a body."""

from dataclasses import replace
from pathlib import Path

import av
import cv2
import numpy as np
import pytest

from footing.core.following.leg import Start, Step
from footing.core.following.likeness import Likeness
from footing.core.following.look import Sighting
from footing.core.following.patches import Point, Pose
from footing.core.following.pictures import Picture
from footing.core.following.placing import HALF_RECOGNISED, RECOGNISED
from footing.core.following.proposing import candidates
from footing.core.following.roundness import Roundness
from footing.core.following.run import follow
from footing.core.following.target import Target
from footing.demo.filming import write_video
from tests.core.scenes import film, gone_through, slide

_REACH = 10
_FIRST = 6  # frames, in which a likeness learns how it is seen usually
_IN_PART = (0.8,) * _FIRST  # scores in a film that shows a part of a body


def planes_of(seed: int, reach: int, moved: Point = (0.0, 0.0)) -> list[np.ndarray]:
    """A pattern in brightness and colour around the middle of an area, moved from there."""
    rng = np.random.default_rng(seed)
    pattern = cv2.GaussianBlur(rng.normal(size=(81, 81, 3)), (0, 0), 2.0)
    by = np.array([[1, 0, moved[0]], [0, 1, moved[1]]])
    there = cv2.warpAffine(pattern, by, (81, 81), flags=cv2.INTER_CUBIC)
    cut = there[40 - reach : 41 + reach, 40 - reach : 41 + reach]
    return [np.ascontiguousarray(128 + 300 * cut[..., k], dtype=np.float32) for k in range(3)]


def mixed(share: float, seed: int, reach: int) -> list[np.ndarray]:
    """The pattern of the first seed, of which another one has taken a share."""
    own, other = planes_of(1, reach), planes_of(seed, reach)
    return [(1 - share) * a + share * b for a, b in zip(own, other, strict=True)]


def likeness(spot: Point = (0.0, 0.0)) -> Likeness:
    """Of the pattern of the first seed, in a film that shows a part of it."""
    return replace(Likeness.around(planes_of(1, _REACH), spot), scores=_IN_PART)


@pytest.mark.parametrize("moved", [(0.0, 0.0), (2.4, -1.3), (-4.6, 3.2)])
def test_it_is_placed_to_a_part_of_a_pixel_from_where_the_mark_lay_in_its_own(moved: Point) -> None:
    own = likeness((0.3, -0.4))
    place = own.place(planes_of(1, own.reach, moved))
    assert place == pytest.approx((moved[0] + 0.3, moved[1] - 0.4), abs=0.15)


def test_brightness_and_contrast_do_not_matter() -> None:
    own = likeness()
    darker = [20 + 0.6 * plane for plane in planes_of(1, own.reach, (2.0, 1.0))]
    assert own.place(darker) == pytest.approx((2.0, 1.0), abs=0.1)


def test_colour_alone_is_enough() -> None:
    def as_bright_everywhere(planes: list[np.ndarray]) -> list[np.ndarray]:
        return [np.full_like(planes[0], 128), *planes[1:]]

    planes = as_bright_everywhere(planes_of(1, _REACH))
    own = replace(Likeness.around(planes, (0.0, 0.0)), scores=_IN_PART)
    there = as_bright_everywhere(planes_of(1, own.reach, (3.0, -2.0)))
    assert own.place(there) == pytest.approx((3.0, -2.0), abs=0.1)


@pytest.mark.parametrize(("seed", "moved"), [(2, (0.0, 0.0)), (1, (7.0, 0.0)), (1, (0.0, -7.0))])
def test_what_is_another_or_too_far_away_is_not_it(seed: int, moved: Point) -> None:
    own = likeness()
    assert own.place(planes_of(seed, own.reach, moved)) is None


@pytest.mark.parametrize(("usually", "heard"), [(0.0, False), (0.35, True)])
def test_where_a_film_shows_a_body_wholly_its_reference_is_enough(
    usually: float, *, heard: bool
) -> None:
    own = Likeness.around(planes_of(1, _REACH), (0.0, 0.0))
    assert own.place(planes_of(1, own.reach)) is None
    for number in range(_FIRST):
        own = own.learnt(mixed(usually, 20 + number, own.reach_learnt))
    assert not own.learns
    assert (own.place(mixed(0.45, 3, own.reach)) is not None) == heard


def test_what_is_less_like_the_mark_from_frame_to_frame_turns_and_says_nothing() -> None:
    steady, turning = (replace(likeness(), scores=()) for _ in range(2))
    for number in range(_FIRST):
        steady = steady.learnt(mixed(0.3, 20, steady.reach_learnt))
        turning = turning.learnt(mixed(0.1 * number, 20, turning.reach_learnt))
    there = planes_of(1, steady.reach)
    assert steady.place(there) is not None
    assert turning.turns
    assert turning.place(there) is None


def slid(count: int) -> Target:
    """What is known of a disc that slides without turning, after so many frames."""
    return gone_through([shown for _, shown in film(slide)], slide(0), count=count).target


def seen_in_part(count: int) -> Target:
    """The same, as if the film had shown a part of it."""
    target = slid(count)
    assert target.likeness is not None
    target.likeness = replace(target.likeness, scores=_IN_PART)
    return target


def seen_near(target: Target, place: Point, *, turn: float = 0.0) -> Point | None:
    sighting = Sighting(Pose(*place, 1.0, turn), 0.5, None)
    return target.alike(sighting)


def test_it_is_learnt_in_the_first_frames_alone_how_much_of_a_body_is_seen() -> None:
    early, late = slid(4).likeness, slid(12).likeness
    assert early is not None
    assert late is not None
    assert [len(one.scores) for one in (early, late)] == [3, _FIRST]
    assert min(late.scores) > 0.9


@pytest.mark.parametrize("turn", [-0.5, 0.5])
def test_it_is_where_it_looks_as_it_was_marked_unless_it_has_turned(turn: float) -> None:
    target = seen_in_part(12)
    x, y = slide(11)
    target.outline = None
    assert seen_near(target, (x + 3, y - 2)) == pytest.approx((x, y), abs=0.3)
    assert seen_near(target, (x, y), turn=turn) is None


def test_what_has_a_rim_a_pattern_that_rolls_or_limbs_is_not_known_by_it() -> None:
    target = seen_in_part(12)
    round_ = target.outline
    assert round_ is not None
    assert round_.rim.is_round
    box = replace(round_, rim=Roundness())
    limbed = replace(box, wholeness=0.6, area=np.pi * 22.0**2)
    for outline, known in (
        (box, True),
        (round_, False),
        (replace(box, rolls=True), False),
        (limbed, False),
    ):
        target.outline = outline
        assert (seen_near(target, slide(11)) is not None) == known


def test_it_is_looked_for_where_it_was_foreseen_though_its_patch_is_not_seen() -> None:
    shown = [frame for _, frame in film(slide, count=3)]
    [*_, (_, without)] = film(lambda _: (-60.0, -60.0), count=3)
    target = gone_through(shown, slide(0), count=3).target
    assert target.likeness is not None
    target.likeness = replace(target.likeness, scores=_IN_PART)
    seen = [one.sighting for one in candidates(target, without, 2) if one.sighting is not None]
    there = [one for one in seen if np.hypot(*np.subtract(one.place, slide(2))) < 0.5]
    assert len(there) == 1
    assert HALF_RECOGNISED <= there[0].known < RECOGNISED


def photograph(seed: int, height: int, width: int, finest: int) -> np.ndarray:
    """What looks like one: patterns of all sizes, in colour."""
    rng = np.random.default_rng(seed)
    total = np.zeros((height, width, 3))
    for scale in (1, 2, 4, 8, 16):
        if scale >= finest:
            coarse = rng.normal(size=(height // scale + 2, width // scale + 2, 3))
            fine = cv2.resize(coarse, (width, height), interpolation=cv2.INTER_CUBIC)
            total += scale**0.5 * fine
    return np.asarray(np.clip(125 + 45 * total / total.std(), 0, 255))


def sled(frame: float) -> Point:
    return 40 + 8.0 * frame - 0.03 * frame**2, 140 + 14 * float(np.sin(frame / 14))


def compressed(path: Path, seed: int) -> list[tuple[int, Picture]]:
    """A patterned sled before a wall, as a film shows it that was compressed strongly."""
    wall, dress = photograph(seed, 272, 480, 1), photograph(seed + 100, 17, 25, 2)

    def exposed(moment: float) -> np.ndarray:
        x, y = sled(moment)
        there = np.array([[1, 0, x - 12], [0, 1, y - 8]])
        cover = cv2.warpAffine(np.ones((17, 25, 1)), there, (480, 272))[..., None]
        return wall * (1 - cover) + cv2.warpAffine(dress, there, (480, 272))

    shown = (
        np.mean([exposed(frame + share) for share in (-0.15, -0.05, 0.05, 0.15)], axis=0)
        for frame in range(50)
    )
    pictures = (np.clip(picture, 0, 255).astype(np.uint8) for picture in shown)
    write_video(path, pictures, rate=30, encoder={"crf": "34", "preset": "veryfast", "g": "30"})
    with av.open(str(path)) as container:
        return [(k, picture_of(frame)) for k, frame in enumerate(container.decode(video=0))]


def picture_of(frame: av.VideoFrame) -> Picture:
    height, width = frame.height, frame.width
    planes = frame.to_ndarray(format="yuv420p")
    blue, red = planes[height:].reshape(2, height // 2, width // 2)
    return Picture(np.ascontiguousarray(planes[:height]), (blue.copy(), red.copy()))


def test_a_sled_is_followed_in_a_film_that_was_compressed_strongly(tmp_path: Path) -> None:
    frames = compressed(tmp_path / "sled.mp4", 2)
    off = [
        float(np.hypot(*np.subtract(step.place, sled(step.frame))))
        for steps in follow(frames, {0: Start(0, sled(0))})
        for step in steps
        if isinstance(step, Step) and step.sure and step.place is not None
    ]
    assert len(off) >= 47
    assert max(off) <= 3.0
