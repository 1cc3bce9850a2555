"""A body with limbs: its parts say together where the spot is, whatever lies over that."""

from dataclasses import replace
from functools import cache

import cv2
import numpy as np
import pytest

from footing.core.following.leg import Start, Step
from footing.core.following.look import Sighting
from footing.core.following.outline import Outline
from footing.core.following.parts import Parts
from footing.core.following.patches import Pose
from footing.core.following.pieces import Blob, blobs
from footing.core.following.proposing import candidates
from footing.core.following.run import follow
from footing.core.following.scene import Changed
from footing.core.following.touching import piece_marked
from footing.core.following.weighing import is_undistorted
from tests.core.scenes import gone_through, patch_of_one_colour, seen_at, wall

SIZE = (220, 420)
COUNT = 60
RADIUS = 29.0  # px, of a disc as large as the walker


def spot(number: float) -> tuple[float, float]:
    """The middle of the walker's chest."""
    return 60.0 + 4.6 * number, 100.0 + 2 * float(np.sin(number / 3))


def swing(number: float) -> float:
    return float(np.sin(number / 5))


def walker(picture: np.ndarray, number: float) -> None:
    """Lay a walker over a picture: a plain shirt, a head, legs, and an arm across the chest."""
    x, y = spot(number)
    angle = swing(number)

    def at(dx: float, dy: float) -> tuple[int, int]:
        return round(16 * (x + dx)), round(16 * (y + dy))

    for side in (-1, 1):
        foot = at(26 * side * angle, 58)
        cv2.line(picture, at(0, 20), foot, 60, 9, cv2.LINE_AA, shift=4)
    cv2.ellipse(picture, at(0, 2), (16 * 15, 16 * 25), 0, 0, 360, 205, -1, cv2.LINE_AA, shift=4)
    cv2.ellipse(picture, at(2, -33), (16 * 9, 16 * 11), 0, 0, 360, 75, -1, cv2.LINE_AA, shift=4)
    cv2.ellipse(picture, at(5, -31), (16 * 5, 16 * 7), 0, 0, 360, 170, -1, cv2.LINE_AA, shift=4)
    hand = at(30 * angle, 22)
    cv2.line(picture, at(0, -16), hand, 165, 9, cv2.LINE_AA, shift=4)


def other(picture: np.ndarray, number: float) -> None:
    """Lay somebody else over a picture, who is met in the middle."""
    x = round(16 * (330.0 - 4.4 * number))
    cv2.ellipse(picture, (x, 16 * 96), (16 * 17, 16 * 30), 0, 0, 360, 20, -1, cv2.LINE_AA, shift=4)
    cv2.ellipse(picture, (x, 16 * 56), (16 * 10, 16 * 12), 0, 0, 360, 230, -1, shift=4)
    cv2.line(picture, (x, 16 * 120), (x, 16 * 160), 35, 14, cv2.LINE_AA, shift=4)


@cache
def walk(*, meets: bool = False, legs_from: int = 0) -> list[tuple[int, np.ndarray]]:
    """The walker before a wall, with grain; perhaps another passes behind.

    legs_from : the frame from which no part of the legs is as bright as the wall
    """
    rng = np.random.default_rng(4)
    behind = cv2.resize(wall(), SIZE[::-1]).astype(np.float32)
    frames = []
    for number in range(COUNT):
        picture = behind.copy()
        if meets:
            other(picture, number)
        walker(picture, number)
        if number < legs_from:
            below = round(spot(number)[1]) + 22 + 7 * number
            picture[below:] = behind[below:]
        noisy = cv2.GaussianBlur(picture, (0, 0), 0.7) + rng.normal(0, 2.0, size=SIZE)
        frames.append((number, np.clip(np.round(noisy), 0, 255).astype(np.uint8)))
    return frames


def seen(number: int) -> tuple[Changed, Blob]:
    """What moved around the walker in a frame, and its piece."""
    changed = seen_at(walk(), number, spot(number), room=110)
    return changed, blobs(changed, radius=RADIUS)[0]


def parts_at(number: int) -> Parts:
    parts = Parts.begun(*seen(number), spot(number), RADIUS)
    assert parts is not None
    return parts


def error_of(place: tuple[float, float], number: int) -> float:
    return float(np.hypot(*np.subtract(place, spot(number))))


@pytest.mark.parametrize("later", [16, 19, 31])
def test_the_spot_is_where_most_parts_have_it_whatever_limbs_and_background_do(later: int) -> None:
    """Arm and legs have gone on, and other parts of the wall are behind the body."""
    x, y = spot(later)
    vote = parts_at(8).voted(seen(later)[0], (x + 5.0, y - 4.0), 10)
    assert vote is not None
    assert error_of(vote.place, later) < 0.7
    assert 0.45 < vote.share < 0.75


@pytest.mark.parametrize(
    ("pose", "undistorted"),
    [
        (Pose(101.0, 50.0), True),
        (Pose(101.0, 50.0, size=0.85), False),
        (Pose(101.0, 50.0, turn=0.3), False),
        (Pose(105.0, 50.0), False),
    ],
    ids=["as it is", "shrunk", "turned", "elsewhere"],
)
def test_a_look_that_followed_an_arm_is_not_believed_beside_a_vote(
    pose: Pose, undistorted: bool
) -> None:
    look = Sighting(pose, 0.97, None, known=1.0)
    assert is_undistorted(look, (100.0, 50.0)) == undistorted


def test_limbs_lose_their_say_and_head_and_shirt_keep_it() -> None:
    parts = parts_at(8)
    for number in range(9, 40):
        vote = parts.voted(seen(number)[0], spot(number), 8)
        assert vote is not None
        parts = parts.learnt(vote)
    head = [part.trust for part in parts.parts if part.offset[1] < -20]
    limbs = [part.trust for part in parts.parts if part.offset[1] > 50 or part.offset[0] > 20]
    assert head
    assert min(head) > 0.9
    assert limbs
    assert max(limbs) < 0.5


def test_parts_that_are_worn_are_replaced_and_the_others_stay() -> None:
    parts = parts_at(8)
    for number in range(9, 40):
        vote = parts.voted(seen(number)[0], spot(number), 8)
        assert vote is not None
        parts = parts.learnt(vote)
    kept = {part.offset for part in parts.parts if part.trust >= 0.5}
    worn = {part.offset for part in parts.parts} - kept
    fresh = parts.renewed(*seen(40), spot(40))
    new = [part.offset for part in fresh.parts if part.offset not in kept]
    assert kept <= {part.offset for part in fresh.parts}
    assert worn
    assert worn.isdisjoint(new)
    assert new
    assert all(np.hypot(*np.subtract(one, other)) >= parts.reach for one in new for other in kept)


def test_worn_parts_stay_where_no_others_are_found() -> None:
    """As in the dark: what stands there has neither edge nor pattern."""
    parts = parts_at(8)
    worn = replace(parts, parts=tuple(replace(part, trust=0.1) for part in parts.parts))
    changed, blob = seen(40)
    level = np.full_like(changed.here, parts.ground)
    dark = replace(changed, here=level)
    assert worn.renewed(dark, blob, spot(40)) is worn


def test_where_nothing_of_it_is_there_is_no_vote_that_counts() -> None:
    vote = parts_at(8).voted(seen_at(walk(), 30, spot(8), room=110), spot(8), 10)
    assert vote is None or vote.share < 0.25


def test_a_walker_is_followed_by_a_spot_that_its_arm_swings_across() -> None:
    told: dict[int, Step] = {}
    for steps in follow(walk(), {0: Start(4, spot(4))}):
        told |= {step.frame: step for step in steps if isinstance(step, Step)}
    sure = {frame: step.place for frame, step in told.items() if step.sure and step.place}
    errors = {frame: error_of(place, frame) for frame, place in sure.items()}
    assert len(sure) >= COUNT - 4 - 3
    assert max(errors.values()) < 3.0
    assert np.median(list(errors.values())) < 1.2


@pytest.mark.parametrize("up", [0.0, 30.0], ids=["its middle", "its shoulder"])
def test_a_spot_on_a_body_with_limbs_is_of_all_of_it(up: float) -> None:
    changed, whole = seen(8)
    x, y = whole.centre
    found, _ = piece_marked(
        changed, (x, y - up), lambda room: [np.zeros((2 * room + 1,) * 2, np.float32)] * 3
    )
    assert found is not None
    assert found.area == pytest.approx(whole.area, rel=0.1)


@pytest.mark.parametrize(
    ("wide", "high", "ball"), [(9, 12, False), (13, 16, True)], ids=["a patch", "a ball"]
)
def test_a_patch_amid_a_shirt_is_not_what_was_marked_and_a_ball_at_its_edge_is(
    wide: int, high: int, *, ball: bool
) -> None:
    """What has one colour is a patch, however large, if the wall is far on all sides."""
    changed, whole = seen(8)

    shown = patch_of_one_colour(wide, high)
    found, tint = piece_marked(changed, spot(8), shown)
    assert (tint is not None) == ball
    assert found is not None
    size = np.pi * wide * high if ball else whole.area
    assert found.area == pytest.approx(size, rel=0.1)


def test_parts_that_have_the_spot_before_nothing_but_the_wall_are_not_alone_in_their_say() -> None:
    """As those of another do, who was taken into it where they met and went elsewhere."""
    account = gone_through([picture for _, picture in walk()], spot(0), count=24)
    target, aside = account.target, 70.0
    assert target.parts is not None
    parts = [
        replace(one, offset=(one.offset[0] - aside, one.offset[1])) for one in target.parts.parts
    ]
    target.parts = replace(target.parts, parts=tuple(parts), room=target.parts.room + round(aside))
    target.look.course = target.look.course.carried((aside, 0.0))
    target.scene.next()
    every = candidates(target, walk()[24][1], 24)
    assert every[0].by_firm_vote
    assert every[-1].sighting is None


def test_who_was_taken_for_too_little_of_a_body_at_first_has_parts_once_it_is_seen_whole() -> None:
    frames = [picture for _, picture in walk(legs_from=6)]
    first, whole = (gone_through(frames, spot(0), count=n).target for n in (1, 12))
    assert first.parts is None
    assert whole.parts is not None


def test_who_passed_another_is_as_large_as_before() -> None:
    frames = [picture for _, picture in walk(meets=True)]
    before, after = (gone_through(frames, spot(0), count=n).target.outline for n in (15, 44))
    assert before is not None
    assert after is not None
    assert after.area == pytest.approx(before.area, rel=0.15)


def grown(outline: Outline, blob: Blob, times: float) -> Outline:
    """With one frame more, in which its piece is so many times as large."""
    piece = replace(blob, area=times * blob.area)
    if outline.may_be(piece):
        return outline.learnt(piece, None, 0.0)
    return outline.beside_another(piece)


@pytest.mark.parametrize(
    ("met", "grows"), [((2.2, 1.9), False), ((), True)], ids=["with another", "alone"]
)
def test_what_another_hides_less_and_less_of_does_not_grow(
    met: tuple[float, ...], *, grows: bool
) -> None:
    """The piece of two walkers that part is larger in each frame; what comes nearer grows, too."""
    _, blob = seen(8)
    outline = Outline.begun(blob, spot(8))
    for times in (1.0, *met, 1.25, 1.4, 1.6, 1.85):
        outline = grown(outline, blob, times)
    assert (outline.area > 1.1 * blob.area) == grows


def test_who_was_with_another_is_learnt_from_once_it_is_itself_again() -> None:
    _, blob = seen(8)
    outline = Outline.begun(blob, spot(8))
    for times in (2.2, 0.95, 1.3, 1.3):
        outline = grown(outline, blob, times)
    assert outline.area > 1.1 * blob.area
