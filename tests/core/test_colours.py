"""The colour of plain things, and balls that colour told in part."""

from dataclasses import replace

import numpy as np
import pytest

from footing.core.following.candidate import Candidate
from footing.core.following.outline import Outline
from footing.core.following.pictures import Picture
from footing.core.following.pieces import Blob, blobs
from footing.core.following.proposing import candidates
from footing.core.following.rim import Disc
from footing.core.following.roundness import Roundness
from footing.core.following.scene import Changed, Scene, watched
from footing.core.following.target import Target
from footing.core.following.tint import Tint, ball_of, tint_of
from footing.core.following.touching import piece_marked, whole_ball
from tests.core.scenes import film, patch_of_one_colour, seen_at, slide


@pytest.mark.parametrize(
    ("aside", "radius", "known", "whole"),
    [
        (3.0, 7.5, 7.5, True),
        (8.0, 2.5, 7.5, True),
        (10.0, 7.5, 7.5, False),
        (0.0, 5.0, 5.0, False),
        (0.0, 11.8, 11.8, False),
    ],
    ids=["part of it", "a little", "hanging over", "too small to be half of it", "all of it"],
)
def test_a_ball_of_which_colour_showed_a_part_is_known_whole_once_it_is_alone(
    aside: float, radius: float, known: float, whole: bool
) -> None:
    frames = film(slide, spin=0.3)
    x, y = slide(18)
    changed = seen_at(frames, 18, (x, y))
    part = Blob.round(Disc((x + aside, y), radius, 1.0))
    found = whole_ball(changed, [part], (x + aside, y), known)
    assert (found is not None) == whole
    if found is not None:
        assert found.free
        assert found.centre == pytest.approx((x, y), abs=0.6)
        assert found.disc is not None
        assert found.disc.radius == pytest.approx(12, rel=0.06)


@pytest.mark.parametrize(("along", "ball"), [(0, False), (-38, True)])
def test_a_patch_on_a_shirt_is_no_ball_and_one_at_the_end_of_an_arm_is(
    along: int, ball: bool
) -> None:
    """A round patch of one colour: amid what moved, or at its end with the wall beside it."""
    x, y = (round(value) for value in slide(18))
    frames = film(lambda _: (-60.0, -60.0))
    for number, picture in frames:
        left = round(slide(number)[0])
        picture[y - 40 : y + 41, left - 7 : left + 8] = 225
        picture[y + 33 : y + 41, left - 22 : left + 23] = 225
    at = (x, y + along)

    shown = patch_of_one_colour(5, 5)
    _, tint = piece_marked(seen_at(frames, 18, at, room=160), at, shown)
    assert (tint is not None) == ball


def test_a_plain_ball_before_what_goes_on_outside_is_told_by_its_colour() -> None:
    """Somebody holds it who is larger than all that is looked at: nothing else tells of it."""
    x, y = (round(value) for value in slide(18))
    frames = film(lambda _: (-60.0, -60.0))
    for number, picture in frames:
        left = round(slide(number)[0])
        picture[:, max(left - 30, 0) : left + 30] = 225

    shown = patch_of_one_colour(9, 12)
    found, tint = piece_marked(seen_at(frames, 18, (x, y), room=100), (x, y), shown)
    assert tint is not None
    assert found is not None
    assert found.centre == pytest.approx((x, y), abs=2.0)


def test_a_ball_in_a_hand_is_known_whole_by_its_colour_where_a_part_is_like_the_wall() -> None:
    """What has its colour and differs from the wall is a part of it, and not round."""
    x, y = (round(value) for value in slide(18))
    frames = film(lambda _: (-60.0, -60.0))
    for number, picture in frames:
        left = round(slide(number)[0])
        picture[y - 12 : y + 71, left : left + 41] = 225

    shown = patch_of_one_colour(12, 12)
    found, tint = piece_marked(seen_at(frames, 18, (x, y), room=160), (x, y), shown)
    assert tint is not None
    assert found is not None
    assert found.disc is not None
    assert found.centre == pytest.approx((x, y), abs=1.0)
    assert found.disc.radius == pytest.approx(12, abs=1.0)


def test_the_colour_of_a_plain_thing_tells_it_from_what_it_touches() -> None:
    planes = [np.full((61, 61), 90.0, np.float32) for _ in range(3)]
    rows, columns = np.mgrid[:61, :61]
    ball = np.hypot(columns - 30, rows - 30) <= 10
    planes[1][ball], planes[2][ball] = 60.0, 170.0
    planes[1][:, :18], planes[2][:, :18] = 110.0, 130.0  # a hand beside it
    tint = tint_of(planes, (30, 30))
    assert tint is not None
    assert tint.mask(planes)[ball].mean() > 0.98
    assert not tint.mask(planes)[:, :18].any()
    assert tint_of([np.full((61, 61), 90.0, np.float32)], (30, 30)) is None


def test_a_ball_is_told_from_a_hand_of_its_colour_by_its_rim() -> None:
    rows, columns = np.mgrid[:141, :141]
    ball = np.hypot(columns - 70, rows - 70) <= 13
    hand = np.hypot(columns - 46, rows - 74) <= 14
    planes = [np.where(ball | hand, 130, 90).astype(np.float32)]
    planes += [np.where(ball | hand, value, 128).astype(np.float32) for value in (100.0, 160.0)]
    assert tint_of(planes, (70, 70)) is None
    told = ball_of(planes, (70, 70))
    assert told is not None
    assert told[0].centre == pytest.approx((70, 70), abs=1.0)
    assert told[0].radius == pytest.approx(13, abs=1.0)


@pytest.mark.parametrize("wide", [14, 100])
def test_what_has_one_colour_and_no_rim_is_no_ball(wide: int) -> None:
    rows, columns = np.mgrid[:141, :141]
    sleeve = (np.abs(rows - 70) <= 9) & (np.abs(columns - 70) <= wide)
    planes = [np.where(sleeve, 130, 90).astype(np.float32)]
    planes += [np.where(sleeve, value, 128).astype(np.float32) for value in (100.0, 160.0)]
    assert ball_of(planes, (70, 70)) is None
    everywhere = [np.full((141, 141), value, np.float32) for value in (130.0, 100.0, 160.0)]
    assert ball_of(everywhere, (70, 70)) is None


def shaded_ball(hue: tuple[float, float]) -> tuple[list[np.ndarray], np.ndarray]:
    """Brightness and chroma of a ball that is lit from above, before a grey wall."""
    rows, columns = np.mgrid[:81, :81]
    off = np.hypot(columns - 40, rows - 40)
    ball = off <= 13
    light = np.where(ball, 150 - 4.5 * (rows - 30), 100.0).astype(np.float32)
    share = np.where(ball, 1.0, 0.0)
    chroma = [(128 + part * share * (light + 20) / 100).astype(np.float32) for part in hue]
    return [light, *chroma], ball


def test_shade_on_a_plain_thing_does_not_hide_its_colour() -> None:
    planes, ball = shaded_ball((-20.0, 40.0))
    tint = tint_of(planes, (40, 40))
    assert tint is not None
    assert tint.mask(planes)[ball].mean() > 0.9
    assert not tint.mask(planes)[~ball].any()


def test_a_colour_that_changes_over_into_others_is_no_plain_thing() -> None:
    rows, columns = np.mgrid[:81, :81].astype(np.float32)
    grey = np.full((81, 81), 110.0, np.float32)
    planes = [grey + 3.5 * (rows - 40), 128 + 2.5 * (columns - 40), 160 + 2.5 * (rows - 40)]
    assert tint_of(planes, (40, 40)) is None


def at_the_twelfth(
    frames: list[tuple[int, np.ndarray]],
) -> tuple[Scene, tuple[int, Picture] | None]:
    scene = Scene()
    for frame in watched(frames):
        scene.comes(frame)
    for _ in range(13):
        now = scene.next()
    return scene, now


@pytest.mark.parametrize(("aside", "whole"), [(1.0, True), (6.0, False)], ids=["ball", "palm"])
def test_a_ball_that_lies_on_something_round_and_larger_is_not_that(
    aside: float, whole: bool
) -> None:
    """The middle of a whole ball is where the mark is; that of the palm under it is not."""
    frames = film(slide, spin=0.0)
    scene, now = at_the_twelfth(frames)
    assert now is not None
    number, at = now[0], slide(now[0])
    target = Target(scene, 10, 40, chosen=False)
    target.believe(now[1].grey, at, number)
    assert target.outline is not None
    piece = blobs(seen_at(frames, number, at), radius=12)[0]
    larger = replace(piece.rimmed(Disc((at[0], at[1] + aside), 13.0, 1.0)), free=True)
    seen = Candidate(target.look.at(now[1].grey, number, at), 2.4, 2.2, blob=larger)
    after = target.after(number + 1, seen)
    assert after.outline is not None
    assert (after.outline.rim.radius == 13.0) == whole


@pytest.mark.parametrize(("off", "whole"), [(6.0, True), (20.0, False)])
def test_a_ball_that_shows_its_colour_nowhere_is_known_where_it_was_foreseen(
    off: float, whole: bool
) -> None:
    x, y = slide(18)
    changed = seen_at(film(slide, spin=0.3), 18, (x, y))
    found = whole_ball(changed, [], (x + off, y), 8.0)
    assert (found is not None) == whole
    assert found is None or found.centre == pytest.approx((x, y), abs=0.6)


@pytest.mark.parametrize("spin", [0.0, 0.5])
def test_a_ball_that_has_come_free_is_proposed_where_it_is(spin: float) -> None:
    """Its colour showed a part of it so far; a look has it on a spot of it, or anywhere."""
    frames = film(slide, spin=spin)
    scene, now = at_the_twelfth(frames)
    assert now is not None
    target = Target(scene, 10, 40, chosen=False)
    for number in (12, 13):
        x, y = slide(number)
        target.believe(now[1].grey, (x + 6.0, y), number)
        now = scene.next()
        assert now is not None
    assert now[0] == 14
    target.outline = Outline.begun(Blob.round(Disc((x + 3.0, y), 8.0, 1.0)), (x + 6.0, y))
    target.outline = replace(target.outline, rim=Roundness(), within=True)
    target.tint, target.unseen = Tint(300.0, 301.0, (), 1.0), 1
    free = [one for one in candidates(target, now[1].grey, 14) if one.blob and one.blob.free]
    places = [one.sighting.place for one in free if one.sighting is not None]
    assert min(np.hypot(*np.subtract(place, slide(14))) for place in places) < 1.0
    assert max(one.change for one in free) >= 1.0


def coloured(radius: float, as_bright: float) -> Changed:
    """A disc of another colour than the wall, of which the lower part is as bright as that.

    as_bright : share of its height
    """
    side = 121
    rows, columns = np.mgrid[:side, :side] - 60.0
    # colour is known at half the size, and is seen a little farther than it reaches
    smeared = np.hypot(rows, columns) <= radius + 1.0
    bright = (np.hypot(rows, columns) <= radius) & (rows < radius - 2 * radius * as_bright)
    flat = np.full((side, side), 100, np.float32)
    least = np.full((side, side), 6, np.float32)
    by_brightness = np.where(bright, 5.0, 0.2).astype(np.float32)
    strength = np.where(smeared, 4.0, by_brightness).astype(np.float32)
    return Changed(0, 0, flat, flat, least, by_brightness, strength)


@pytest.mark.parametrize(
    ("radius", "as_bright", "all_of_it"),
    [(14.0, 0.4, True), (14.0, 0.1, False), (8.0, 0.33, False)],
    ids=["a large part is", "hardly anything is", "it is small"],
)
def test_what_is_in_part_as_bright_as_the_wall_is_known_whole_by_its_colour(
    radius: float, as_bright: float, *, all_of_it: bool
) -> None:
    """Where hardly anything is, or the smeared edge is much of it, brightness is more exact."""
    (piece,) = blobs(coloured(radius, as_bright), radius=radius)
    away = piece.centre[1] - 60.0
    assert piece.centre[0] == pytest.approx(60.0, abs=0.1)
    assert (abs(away) < 0.1) == all_of_it
    assert piece.plain != all_of_it
    if all_of_it:
        assert piece.area == pytest.approx(np.pi * radius**2, rel=0.15)
