import numpy as np
import pytest

from footing.core.steadying import Spot, as_seen, seen_in, steadied

FRAMES = np.arange(6)
TRUE = np.stack([100.0 + 30 * FRAMES, 200.0 + 0.5 * FRAMES**2], axis=1)
FIXED = np.array([[50.0, 60.0], [600.0, 90.0]])


def moved(points: np.ndarray, frame: int) -> np.ndarray:
    """What a hand does to the picture: shift, turn and zoom, none in frame 0."""
    turn, zoom = 0.01 * frame, 1 + 0.02 * frame
    cos, sin = zoom * np.cos(turn), zoom * np.sin(turn)
    return points @ np.array([[cos, sin], [-sin, cos]]) + [3.0 * frame, -2.0 * frame]


def spot(number: int, frames: np.ndarray = FRAMES) -> Spot:
    return Spot(frames, np.array([moved(FIXED[number], k) for k in frames]))


def test_two_spots_take_away_shift_turn_and_zoom() -> None:
    seen = np.array([moved(TRUE[k], k) for k in FRAMES])
    found = steadied(seen, FRAMES, (spot(0), spot(1)), reference=0)
    assert found == pytest.approx(TRUE, abs=1e-9)


def test_one_spot_takes_away_the_shift() -> None:
    shifts = np.array([[4.0 * k, -k] for k in FRAMES])
    fixed = Spot(FRAMES, FIXED[0] + shifts)
    found = steadied(TRUE + shifts, FRAMES, (fixed,), reference=2)
    assert found == pytest.approx(TRUE + shifts[2], abs=1e-9)


def test_frames_without_a_spot_cannot_be_steadied() -> None:
    spots = (spot(0), spot(1, FRAMES[1:4]))
    assert seen_in(spots, np.array([0, 2, 3, 5])).tolist() == [2, 3]


@pytest.mark.parametrize("spots", [(), (spot(0),), (spot(0), spot(1))])
def test_what_is_steadied_lies_where_it_was_seen(spots: tuple[Spot, ...]) -> None:
    seen = np.array([moved(TRUE[k], k) for k in FRAMES])
    still = steadied(seen, FRAMES, spots, reference=2)
    assert as_seen(still, FRAMES, spots, reference=2) == pytest.approx(seen, abs=1e-9)
