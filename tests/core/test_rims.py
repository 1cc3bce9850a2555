"""The rims of round things, and what they say of a mark."""

from dataclasses import replace

import numpy as np
import pytest

from footing.core.following.candidate import Candidate
from footing.core.following.look import Sighting
from footing.core.following.outline import Outline
from footing.core.following.patches import Pose
from footing.core.following.pieces import Blob, blobs
from footing.core.following.placing import placed_by_outline
from footing.core.following.rim import Disc, disc_at
from footing.core.following.scene import Scene, watched
from footing.core.following.target import Target
from footing.core.following.touching import rimmed, with_rim
from tests.core.scenes import film, seen_at, slide


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


@pytest.mark.parametrize(
    ("off", "known", "by_rim"),
    [
        (3.0, 1.0, True),
        (0.4, 1.0, False),
        (15.0, 1.0, False),
        (15.0, 0.6, False),
        (15.0, 0.4, True),
    ],
)
def test_a_rim_says_where_the_middle_of_a_ball_is_whatever_a_look_recognises(
    off: float, known: float, by_rim: bool
) -> None:
    """A look that has rolled away does not count; one near it is as exact, one beside it right.

    As long as it recognises anything.
    """
    outline, blob = learnt(0.0)
    middle = outline.mark_of(blob.centre)
    look = Sighting(Pose(middle[0] + off, middle[1]), 0.97, None, known=known)
    place = placed_by_outline(outline, blob, look, 0)
    assert place == (pytest.approx(middle, abs=1e-6) if by_rim else None)


@pytest.mark.parametrize(
    ("rim", "known", "by_outline"), [(True, 1.0, True), (False, 1.0, False), (False, 0.4, True)]
)
def test_a_piece_that_shows_no_rim_says_less_of_a_ball_than_a_look_that_was_recognised(
    rim: bool, known: float, by_outline: bool
) -> None:
    """Something is one piece with it, or a part of it does not stand out."""
    outline, blob = learnt(0.0)
    middle = outline.mark_of(blob.centre)
    look = Sighting(Pose(middle[0] + 6.0, middle[1]), 0.97, None, known=known)
    place = placed_by_outline(outline, blob if rim else replace(blob, disc=None), look, 0)
    assert (place is not None) == by_outline


@pytest.mark.parametrize(("touched", "by_rim"), [(False, True), (True, False)])
def test_what_touches_a_ball_moves_its_rim_more_than_a_look(touched: bool, by_rim: bool) -> None:
    outline, blob = learnt(0.0)
    middle = outline.mark_of(blob.centre)
    look = Sighting(Pose(middle[0] + 0.7, middle[1]), 0.97, None, known=1.0)
    place = placed_by_outline(outline, replace(blob, part=touched), look, 0)
    assert (place is not None) == by_rim


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
    assert assumed.rim.radius == outline.rim.radius
    assert measured.rim.radius is not None
    assert outline.rim.radius is not None
    assert measured.rim.radius < outline.rim.radius


def test_a_rim_that_comes_late_is_as_sure_as_one_that_was_there_at_first() -> None:
    frames = film(slide, spin=0.4)
    at = slide(12)
    blob = blobs(seen_at(frames, 12, at), radius=12)[0]
    outline = Outline.begun(replace(blob, disc=None), at)
    assert not outline.rim.is_sure
    for number in (13, 14):
        at = slide(number)
        blob = blobs(seen_at(frames, number, at), radius=12)[0]
        outline = outline.learnt(blob.rimmed(Disc(at, 12.0, 1.0)), None, 0.0)
    assert outline.rim.is_sure


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


def with_a_bright_disc(number: int, x: float) -> list[tuple[int, np.ndarray]]:
    """The wall, and before it in one frame a disc that stands out all around."""
    frames = film(lambda _: (-60.0, -60.0))
    rows, columns = np.mgrid[:180, :320]
    cover = np.clip(12 - np.hypot(columns - x, rows - 90.0) + 0.5, 0, 1)
    picture = frames[number][1]
    frames[number] = number, np.round(picture * (1 - cover) + 250 * cover).astype(np.uint8)
    return frames


@pytest.mark.parametrize(("beside", "refined"), [(1.5, True), (6.0, False)])
def test_a_first_mark_is_measured_again_only_near_where_it_was_measured(
    beside: float, refined: bool
) -> None:
    """Farther off lies what touched the body there: the hand that held a ball."""
    frames = film(slide)
    scene = Scene()
    for kept in watched(frames):
        scene.comes(kept)
    target = Target(scene, 12, 40, chosen=False)
    while (now := scene.next()) is not None and now[0] < 16:
        number, picture = now
        if number == 8:
            target.believe(picture.grey, slide(8), 8)
            assert target.first is not None
            shown = seen_at(with_a_bright_disc(8, slide(8)[0] - beside), 8, slide(8))
            target.first = replace(target.first, changed=shown)
        elif number > 8:
            piece = blobs(seen_at(frames, number, slide(number)), radius=12)[0]
            piece = piece.rimmed(Disc(slide(number), 12.0, 1.0))
            found = target.look.at(picture.grey, number, slide(number))
            target = target.after(number, Candidate(found, 2.0, 2.0, blob=piece))
    assert target.outline is not None
    expected = beside if refined else 0.0
    assert target.outline.measured[0] == pytest.approx((expected, 0.0), abs=0.5)
