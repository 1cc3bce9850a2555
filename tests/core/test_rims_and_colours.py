"""Balls by their rim and by their colour, also beside a hand."""

from dataclasses import replace

import numpy as np
import pytest

from footing.core.following.candidate import Candidate
from footing.core.following.look import Sighting
from footing.core.following.outline import Outline
from footing.core.following.patches import Pose
from footing.core.following.pictures import Picture
from footing.core.following.pieces import Blob, blobs
from footing.core.following.placing import placed_by_outline
from footing.core.following.proposing import candidates
from footing.core.following.rim import Disc, disc_at
from footing.core.following.scene import Changed, Scene, watched
from footing.core.following.target import Target
from footing.core.following.tint import Tint, ball_of, tint_of
from footing.core.following.touching import piece_marked, rimmed, whole_ball, with_rim
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


def learnt(spin: float) -> tuple[Outline, Blob]:
    """The outline of a disc that was seen for a while with its rim, and how it is seen next."""
    frames = film(slide, spin=spin)
    outline = None
    for number in range(8, 26):
        at = slide(number)
        changed = seen_at(frames, number, at)
        blob = with_rim(blobs(changed, radius=12)[0], changed, outline)
        outline = Outline.begun(blob, at) if outline is None else outline.learnt(blob, None, 0.0)
    assert outline is not None
    return outline, blob


@pytest.mark.parametrize(("off", "by_rim"), [(3.0, True), (0.4, False), (15.0, False)])
def test_a_rim_says_where_the_middle_of_a_ball_is_whatever_a_look_recognises(
    off: float, by_rim: bool
) -> None:
    """A look that has rolled away does not count; one near it is as exact, one beside it right."""
    outline, blob = learnt(0.0)
    middle = outline.mark_of(blob.centre)
    look = Sighting(Pose(middle[0] + off, middle[1]), 0.97, None, known=1.0)
    place = placed_by_outline(outline, blob, look, 0)
    assert place == (pytest.approx(middle, abs=1e-6) if by_rim else None)


@pytest.mark.parametrize(("touched", "by_rim"), [(False, True), (True, False)])
def test_what_touches_a_ball_moves_its_rim_more_than_a_look(touched: bool, by_rim: bool) -> None:
    outline, blob = learnt(0.0)
    middle = outline.mark_of(blob.centre)
    look = Sighting(Pose(middle[0] + 0.7, middle[1]), 0.97, None, known=1.0)
    place = placed_by_outline(outline, replace(blob, part=touched), look, 0)
    assert (place is not None) == by_rim


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


def test_a_rim_is_laid_to_parts_of_a_pixel() -> None:
    errors = []
    frames = film(slide, spin=0.7)
    for number in range(8, 30):
        at = slide(number)
        x, y = np.add(at, (0.8, -0.6))
        found = disc_at(seen_at(frames, number, at), (float(x), float(y)), 11.5)
        if found is not None:  # its pattern may look like the wall behind it
            assert found.radius == pytest.approx(12, abs=1.0)
            errors.append(np.hypot(*np.subtract(found.centre, at)))
    assert len(errors) >= 16
    assert np.median(errors) < 0.4


def test_what_is_not_round_has_no_rim() -> None:
    frames = film(lambda _: (-60.0, -60.0))
    for frame, picture in frames:
        x, y = (round(value) for value in slide(frame))
        picture[y - 12 : y + 13, x - 24 : x + 25] = 210
    changed = seen_at(frames, 18, slide(18))
    assert all(disc_at(changed, slide(18), radius) is None for radius in (8.0, 12.0, 18.0, 24.0))


def beside_a_block(number: int, hides: float) -> list[tuple[int, np.ndarray]]:
    """A disc that slides, with a block beside it that moves along and hides so much of its rim."""
    frames = film(slide, spin=0.4)
    for frame, picture in frames:
        x, y = (round(value) for value in slide(frame))
        top = y + round(12 * hides)
        picture[top : top + 30, x - 26 : x + 27] = 235
    return frames


def test_half_a_rim_tells_the_centre_where_the_radius_is_known() -> None:
    at = slide(18)
    near = (at[0] + 1.2, at[1] - 0.9)
    changed = seen_at(beside_a_block(18, 0.8), 18, at, room=60)
    found = disc_at(changed, near, 12.0, known=True)
    assert found is not None
    assert found.assumed
    assert found.radius == pytest.approx(12, abs=0.3)
    assert np.hypot(*np.subtract(found.centre, at)) < 1.2
    measured = disc_at(changed, near, 12.0)
    assert measured is None or not measured.assumed


def test_where_a_rim_hardly_shows_a_known_radius_makes_no_disc() -> None:
    at = slide(18)
    for hides in (-0.7, 0.5):
        changed = seen_at(beside_a_block(18, hides), 18, at, room=60)
        assert disc_at(changed, at, 12.0, known=True) is None


def a_ball(rims: int) -> Outline:
    """What is known of a ball whose rim was seen so often."""
    frames = film(slide, spin=0.4)
    outline = None
    for number in range(12, 12 + rims):
        at = slide(number)
        blob = blobs(seen_at(frames, number, at), radius=12)[0].rimmed(Disc(at, 12.0, 1.0))
        outline = Outline.begun(blob, at) if outline is None else outline.learnt(blob, None, 0.0)
    assert outline is not None
    return outline


def test_a_ball_whose_radius_is_known_is_told_from_what_touches_it() -> None:
    at = slide(18)
    changed = seen_at(beside_a_block(18, 0.8), 18, at, room=60)
    pieces = blobs(changed, radius=12)
    ball, *others = rimmed(pieces, changed, a_ball(1), (at[0] + 1.0, at[1] - 1.0))
    assert len(others) == len(pieces)
    assert ball.part
    assert np.hypot(*np.subtract(ball.centre, at)) < 1.2
    assert ball.disc is not None
    assert ball.disc.assumed
    assert ball.disc.radius == pytest.approx(12, rel=0.015)  # what touches it does not widen it


@pytest.mark.parametrize(("rims", "told"), [(1, False), (3, True)])
def test_a_ball_that_is_alone_and_in_part_like_the_wall_keeps_its_middle(
    rims: int, told: bool
) -> None:
    """One rim may have been of something else; more cannot."""
    outline = a_ball(rims)
    frames = film(slide, spin=0.4)
    still = film(lambda _: (-60.0, -60.0))
    x, y = (round(value) for value in slide(20))
    shown = frames[20][1]
    shown[y + 3 : y + 14, x - 14 : x + 15] = still[20][1][y + 3 : y + 14, x - 14 : x + 15]
    changed = seen_at(frames, 20, slide(20))
    piece = blobs(changed, radius=12)[0]
    assert piece.centre[1] < slide(20)[1] - 1.5
    found = with_rim(piece, changed, outline)
    assert (found.disc is not None and found.disc.assumed) == told
    if told:
        assert np.hypot(*np.subtract(found.centre, slide(20))) < 1.0


def test_a_radius_that_was_assumed_teaches_nothing_of_the_radius() -> None:
    outline = a_ball(3)
    at = slide(15)
    blob = blobs(seen_at(film(slide), 15, at), radius=12)[0]
    assumed = outline.learnt(blob.rimmed(Disc(at, 9.0, 1.0, assumed=True)), None, 0.0)
    measured = outline.learnt(blob.rimmed(Disc(at, 9.0, 1.0)), None, 0.0)
    assert assumed.disc == outline.disc
    assert measured.disc is not None
    assert outline.disc is not None
    assert measured.disc < outline.disc


def test_a_rim_that_comes_late_is_as_sure_as_one_that_was_there_at_first() -> None:
    frames = film(slide, spin=0.4)
    at = slide(12)
    blob = blobs(seen_at(frames, 12, at), radius=12)[0]
    outline = Outline.begun(replace(blob, disc=None), at)
    assert not outline.surely_disc
    for number in (13, 14):
        at = slide(number)
        blob = blobs(seen_at(frames, number, at), radius=12)[0]
        outline = outline.learnt(blob.rimmed(Disc(at, 12.0, 1.0)), None, 0.0)
    assert outline.surely_disc


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
    assert (after.outline.disc == 13.0) == whole


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
    target.outline = replace(target.outline, disc=None, rim=0.0, within=True)
    target.tint, target.unseen = Tint(300.0, 301.0, (), 1.0), 1
    free = [one for one in candidates(target, now[1].grey, 14) if one.blob and one.blob.free]
    places = [one.sighting.place for one in free if one.sighting is not None]
    assert min(np.hypot(*np.subtract(place, slide(14))) for place in places) < 1.0
    assert max(one.change for one in free) >= 1.0


def test_what_a_disc_says_of_the_first_mark_counts_more_than_what_moved() -> None:
    outline = a_ball(1)
    offset = (-1.5, 0.5)
    for number in range(13, 19):
        piece = blobs(seen_at(film(slide), number, slide(number)), radius=12)[0]
        said = offset if outline.measures_first else None
        outline = outline.learnt(
            piece.rimmed(Disc(slide(number), 12.0, 1.0)), None, 0.0, first=said
        )
    assert outline.measured == (offset,)
    assert outline.offset[0] < -0.2


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
