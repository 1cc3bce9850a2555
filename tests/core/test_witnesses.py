"""What changed against the still background, and what several accounts make of it."""

from collections.abc import Callable
from itertools import islice

import cv2
import numpy as np
import pytest

from footing.core.following.leg import Ended, Start, Step
from footing.core.following.look import Sighting
from footing.core.following.outline import Outline
from footing.core.following.patches import Pose
from footing.core.following.pictures import Picture
from footing.core.following.pieces import Blob, blobs
from footing.core.following.placing import placed_by_outline
from footing.core.following.rim import Disc, disc_at
from footing.core.following.run import follow
from footing.core.following.scene import Changed, Scene
from footing.core.following.tint import ball_of, tint_of
from footing.core.following.touching import piece_marked, whole_ball, with_rim

Place = Callable[[int], tuple[float, float]]
SIZE = (180, 320)


def wall(seed: int = 3) -> np.ndarray:
    """A rough wall, as float."""
    rng = np.random.default_rng(seed)
    return np.asarray(120 + 25 * cv2.GaussianBlur(rng.normal(size=(260, 400)), (0, 0), 2.0) * 4)


def disc(
    picture: np.ndarray, at: tuple[float, float], radius: float, *, turn: float, seed: int = 5
) -> None:
    """Lay a patterned disc over a picture, turned."""
    rng = np.random.default_rng(seed)
    pattern = cv2.resize(rng.uniform(0, 255, size=(7, 7)), (61, 61), interpolation=cv2.INTER_CUBIC)
    rows, columns = np.mgrid[: picture.shape[0], : picture.shape[1]]
    dx, dy = columns - at[0], rows - at[1]
    c, s = np.cos(turn), np.sin(turn)
    u = ((c * dx + s * dy) / radius * 28 + 30).astype(np.float32)
    v = ((c * dy - s * dx) / radius * 28 + 30).astype(np.float32)
    dress = cv2.remap(pattern.astype(np.float32), u, v, cv2.INTER_LINEAR)
    cover = np.clip(radius - np.hypot(dx, dy) + 0.5, 0, 1)
    picture *= 1 - cover
    picture += cover * dress


def film(
    place: Place,
    *,
    count: int = 40,
    spin: float = 0.0,
    light: Callable[[int], float] = lambda _: 1.0,
    shake: Place = lambda _: (0.0, 0.0),
    twin: tuple[float, float] | None = None,
) -> list[tuple[int, np.ndarray]]:
    """A disc before a wall, with grain; perhaps another like it that never moves."""
    rng = np.random.default_rng(1)
    behind = wall()
    frames = []
    for number in range(count):
        dx, dy = shake(number)
        moved = np.array([[1, 0, dx - 40], [0, 1, dy - 40]])
        picture = cv2.warpAffine(behind, moved, SIZE[::-1], borderMode=cv2.BORDER_REFLECT)
        if twin is not None:
            disc(picture, twin, 12.0, turn=0.0)
        x, y = place(number)
        disc(picture, (x + dx, y + dy), 12.0, turn=spin * number)
        noisy = light(number) * picture + rng.normal(0, 2.0, size=SIZE)
        frames.append((number, np.clip(np.round(noisy), 0, 255).astype(np.uint8)))
    return frames


def slide(number: int) -> tuple[float, float]:
    return 40.0 + 6 * number, 90.0


def seen_at(
    frames: list[tuple[int, np.ndarray]], number: int, at: tuple[float, float], *, room: int = 40
) -> Changed:
    scene = Scene()
    for frame, picture in frames:
        scene.comes(frame, Picture(picture))
    for _ in range(number + 1):
        scene.next()
    changed = scene.changed(round(at[0]), round(at[1]), room)
    assert changed is not None
    return changed


@pytest.mark.parametrize(
    ("light", "shake"),
    [
        (lambda _: 1.0, lambda _: (0.0, 0.0)),
        (lambda n: 1.0 if n < 20 else 0.6, lambda _: (0.0, 0.0)),
        (lambda _: 1.0, lambda n: (9 * np.sin(n / 3), 5 * np.cos(n / 4))),
    ],
    ids=["at rest", "exposed anew", "by hand"],
)
def test_what_moved_stands_out_from_the_background(
    light: Callable[[int], float], shake: Place
) -> None:
    frames = film(slide, light=light, shake=shake)
    at = tuple(np.add(slide(18), shake(18)))
    changed = seen_at(frames, 18, at)
    largest = blobs(changed, radius=12)[0]
    assert largest.centre == pytest.approx(at, abs=1.0)
    assert largest.area == pytest.approx(np.pi * 12**2, rel=0.2)


def test_the_centre_of_a_turning_disc_is_where_its_outline_is() -> None:
    frames = film(slide, spin=0.7)
    outline = None
    errors = []
    for number in range(8, 30):
        at = slide(number)
        blob = blobs(seen_at(frames, number, at), radius=12)[0]
        if outline is None:
            outline = Outline.begun(blob, at)
        else:
            centre = outline.by_shape(blob) or blob.centre
            errors.append(np.hypot(*np.subtract(centre, at)))
            outline = outline.learnt(blob, None, 0.0)
    assert np.median(errors) < 0.5
    assert np.hypot(*outline.offset) < 0.5  # type: ignore[union-attr]


def steps_of(
    frames: list[tuple[int, np.ndarray]], starts: dict[int, Start]
) -> dict[tuple[int, int], Step]:
    told: dict[tuple[int, int], Step] = {}
    for steps in follow(frames, starts):
        told |= {(step.body, step.frame): step for step in steps if isinstance(step, Step)}
    return told


@pytest.mark.parametrize("spin", [0.2, 0.9, 1.6])
def test_a_patterned_disc_is_followed_however_fast_it_turns(spin: float) -> None:
    told = steps_of(film(slide, spin=spin), {0: Start(0, slide(0))})
    sure = {frame: step.place for (_, frame), step in told.items() if step.sure and step.place}
    assert len(sure) >= 37
    errors = [np.hypot(*np.subtract(place, slide(frame))) for frame, place in sure.items()]
    assert max(errors) < 2.5
    assert np.median(errors) < 0.7


def test_a_thing_that_vanishes_is_hidden_and_the_background_is_never_it() -> None:
    def goes(number: int) -> tuple[float, float]:
        return slide(number) if number < 20 else (-100.0, -100.0)

    frames = film(goes, count=70)
    told = [step for steps in follow(frames, {0: Start(0, slide(0))}) for step in steps]
    sure = {step.frame for step in told if isinstance(step, Step) and step.sure}
    assert sure == set(range(1, 20))
    assert [step for step in told if isinstance(step, Ended)] == [Ended(0, 20, "hidden")]


def test_what_was_there_before_is_not_it_however_alike() -> None:
    """It vanishes just before it comes to its like, which has always been there."""

    def goes(number: int) -> tuple[float, float]:
        return slide(number) if number < 20 else (-100.0, -100.0)

    told = steps_of(film(goes, count=60, twin=slide(24)), {0: Start(0, slide(0))})
    assert {frame for (_, frame), step in told.items() if step.sure} == set(range(1, 20))


def test_a_mark_by_hand_says_that_it_is_the_same() -> None:
    """It turns, is away, and comes back on another course: nobody can know it but by hand.

    Then it is known in the frames before that mark, too, back to where it came from.
    """

    def comes_back(number: int) -> tuple[float, float]:
        if number < 15:
            return slide(number)
        return (-100.0, -100.0) if number < 22 else (170.0 - 5 * (number - 22), 130.0)

    start = Start(0, slide(0), known={26: comes_back(26)})
    frames = film(comes_back, count=50, spin=0.9)
    early = [step for steps in islice(follow(frames, {0: start}), 43) for step in steps]
    assert {22, 23, 24, 25} <= {s.frame for s in early if isinstance(s, Step) and s.sure}
    told = steps_of(frames, {0: start})
    sure = {frame: step.place for (_, frame), step in told.items() if step.sure}
    assert not set(sure) & set(range(15, 22))
    assert {*range(22, 26), *range(27, 50)} <= set(sure)
    for frame in range(22, 26):
        assert np.hypot(*np.subtract(sure[frame], comes_back(frame))) < 1


def crossing(number: int) -> tuple[tuple[float, float], tuple[float, float]]:
    """Two that come towards each other, and the second over the first."""
    return (40.0 + 5 * number, 90.0), (280.0 - 5 * number, 92.0)


def of_two(
    places: Callable[[int], tuple[tuple[float, float], ...]],
) -> list[tuple[int, np.ndarray]]:
    """A film of discs of one kind, each laid over the one before."""
    shown = []
    for number, picture in film(lambda _: (-60.0, -60.0), count=46):
        over = picture.astype(float)
        for place in places(number):
            disc(over, place, 12.0, turn=0.0)
        shown.append((number, np.clip(over, 0, 255).astype(np.uint8)))
    return shown


def test_of_two_that_look_alike_who_turns_round_is_no_mark_where_they_meet() -> None:
    """The first goes behind the second and stays there, unseen: it may be either that goes on."""

    def places(number: int) -> tuple[tuple[float, float], ...]:
        first, second = crossing(number)
        return (first, second) if number < 22 else (second,)

    told = steps_of(of_two(places), {0: Start(0, crossing(0)[0])})
    late = [step for (_, frame), step in told.items() if frame > 26 and step.sure]
    assert late == []


def test_of_two_that_look_alike_no_mark_is_on_the_other() -> None:
    """They pass each other; where it went over to the other, that is asked about."""
    told = steps_of(of_two(crossing), {0: Start(0, crossing(0)[0])})
    sure = {frame: step.place for (_, frame), step in told.items() if step.sure and step.place}
    assert len(sure) >= 20
    for frame, place in sure.items():
        allowed = 12 if abs(frame - 24) <= 3 else 4  # they cover each other there
        assert np.hypot(*np.subtract(place, crossing(frame)[0])) < allowed


def test_what_comes_to_rest_is_followed_as_long_as_it_rests() -> None:
    def halts(number: int) -> tuple[float, float]:
        return slide(min(number, 16))

    told = steps_of(film(halts, count=110), {0: Start(0, slide(0))})
    sure = {frame: step.place for (_, frame), step in told.items() if step.sure and step.place}
    assert set(sure) >= set(range(1, 110))
    assert max(np.hypot(*np.subtract(at, halts(frame))) for frame, at in sure.items()) < 2


@pytest.mark.parametrize(("speed", "back"), [(5.0, 26), (0.0, 26), (0.0, 19)])
def test_what_was_sure_before_it_was_lost_stays_so(speed: float, back: int) -> None:
    """It vanishes, and later something like it goes elsewhere, or stands there."""

    def goes(number: int) -> tuple[float, float]:
        if number < 16:
            return slide(number)
        return (-100.0, -100.0) if number < back else (215.0 - speed * (number - back), 130.0)

    told = steps_of(film(goes, count=60), {0: Start(0, slide(0))})
    sure = {frame for (_, frame), step in told.items() if step.sure}
    assert sure >= set(range(1, 16))
    assert not sure & set(range(16, back if speed else 60))


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

    def shown(room: int) -> list[np.ndarray]:
        rows, columns = np.mgrid[-room : room + 1, -room : room + 1]
        patch = np.hypot(rows, columns) <= 5
        planes = [np.where(patch, value, 128) for value in (128.0, 80.0, 180.0)]
        return [plane.astype(np.float32) for plane in planes]

    _, tint = piece_marked(seen_at(frames, 18, at, room=160), at, shown)
    assert (tint is not None) == ball


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


def test_two_bodies_never_share_one_thing() -> None:
    """Somebody marked the same disc twice; only one of the two has it for sure."""
    x, y = slide(0)
    told = steps_of(film(slide), {0: Start(0, (x, y)), 1: Start(0, (x + 1.5, y))})
    both = [
        frame
        for frame in range(5, 40)
        if all(told[body, frame].sure for body in (0, 1) if (body, frame) in told)
    ]
    assert both == []


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


def beside(picture: np.ndarray, at: tuple[float, float]) -> None:
    """A sleeve that touches a disc from below."""
    x, y = round(at[0]), round(at[1])
    picture[y + 9 : y + 40, x - 14 : x + 14] = 215


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


@pytest.mark.parametrize("spin", [0.0, 0.5])
def test_a_ball_is_followed_from_the_hand_that_releases_it(spin: float) -> None:
    """The hand stops where the ball leaves it; the ball flies on, turning."""

    def flies(number: int) -> tuple[float, float]:
        late = max(number - 14, 0)
        return 40.0 + 6 * number, 120.0 - 2.5 * number + 0.12 * late**2

    frames = film(flies)
    behind = [picture for _, picture in film(lambda _: (-60.0, -60.0))]
    shown = []
    for number, _ in frames:
        picture = behind[number].astype(float)
        x, y = flies(min(number, 14))
        beside(picture, (x, y))
        disc(picture, flies(number), 12.0, turn=spin * max(number - 14, 0))
        shown.append((number, np.clip(picture, 0, 255).astype(np.uint8)))
    told = steps_of(shown, {0: Start(0, flies(0))})
    sure = {frame: step.place for (_, frame), step in told.items() if step.sure and step.place}
    errors = {n: float(np.hypot(*np.subtract(at, flies(n)))) for n, at in sure.items()}
    assert len(sure) >= 37
    assert max(errors.values()) < 3.0
