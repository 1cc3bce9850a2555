"""How sure a mark is, by what it rests on."""

from dataclasses import replace

import pytest

from footing.core.following.candidate import Known
from footing.core.following.grading import is_firm, quality
from footing.core.following.hypothesis import Hypothesis
from footing.core.following.patches import Point
from footing.core.following.review import reviewed
from footing.core.following.scene import Scene
from footing.core.following.target import Target
from tests.core.scenes import film, gone_through, slide
from tests.core.ways import GROUNDS, along, found, unseen


@pytest.mark.parametrize(
    "worse",
    [
        {"unrecognised": 20},
        {"beside": 6.0},
        {"beside": None, "outlined": False},
        {"carried": True},
    ],
)
def test_quality_falls_with_what_a_place_does_not_rest_on(worse: dict[str, float]) -> None:
    known = found(3, along(3), known=0.5)
    less = Known(3, known.candidate, replace(GROUNDS, **worse))
    # where the course leaves room for doubt, each of them counts
    assert quality(less, -3.0) < quality(known, -3.0) - 0.005


def test_quality_is_of_the_course_the_rivals_and_the_way_back() -> None:
    known = found(3, along(3), known=0.5)
    plain = quality(known, 0.0)
    assert quality(known, -3.0) < plain
    assert quality(known, 0.0, otherwise=0.6) < plain
    (same,) = reviewed([known], [known])
    (apart,) = reviewed([known], [found(3, along(3, 3.0), known=0.5)])
    assert quality(known, 0.0, review=apart) < plain < quality(known, 0.0, review=same)


def test_quality_falls_with_how_places_scatter_about_their_course() -> None:
    """As they do in a film that is so compressed that its picture jumps."""
    known = found(3, along(3), known=0.5)
    smooth, rough = (quality(known, 0.0, scatter=scatter) for scatter in (0.1, 2.5))
    assert rough < quality(known, 0.0) < smooth


def test_places_scatter_as_most_of_those_around_do() -> None:
    """A bounce is one surprise among many frames; at first it is not known."""
    off = [None, None, None, 0.4, 0.3, 9.0, 0.5, 0.4, 0.2, 0.6] + [3.0] * 20
    account = Hypothesis(Target(Scene(), 10, 40, chosen=False))
    assert account.scatter(4) is None
    account.history = tuple(
        replace(found(k, along(k)), grounds=replace(GROUNDS, innovation=value))
        for k, value in enumerate(off)
    )
    assert account.scatter(1) == pytest.approx(0.4)
    assert account.scatter(25) == pytest.approx(3.0)


def test_what_is_recognised_with_all_evidence_is_firm() -> None:
    assert is_firm(found(0, along(0), 4.2))
    assert not is_firm(found(0, along(0), 4.2, known=0.6))
    assert not is_firm(found(0, along(0), 2.5))
    assert not is_firm(unseen(0))


@pytest.mark.parametrize(("jumps", "least", "most"), [(0.0, 0.0, 0.5), (2.0, 2.0, 8.0)])
def test_places_scatter_where_the_picture_jumps(jumps: float, least: float, most: float) -> None:
    def place(number: int) -> Point:
        x, y = slide(number)
        return x + jumps * (-1) ** number, y

    scatter = gone_through([picture for _, picture in film(place)], place(0), count=20).scatter(12)
    assert scatter is not None
    assert least < scatter < most
