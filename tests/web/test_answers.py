"""What goes out as JSON."""

import json
from enum import StrEnum

import numpy as np

from footing.web.answers import StateResponse


class Kind(StrEnum):
    FILM = "film"


def test_whatever_a_state_holds_goes_out_and_a_number_that_is_none_is_null() -> None:
    state = {
        "marks": {12: (1.5, 2.0)},
        "kind": Kind.FILM,
        "numbers": [np.float64(0.1), float("nan"), float("inf"), 1e-7],
        "words": "α — ½",
    }
    assert json.loads(bytes(StateResponse(state).body)) == {
        "marks": {"12": [1.5, 2.0]},
        "kind": "film",
        "numbers": [0.1, None, None, 1e-7],
        "words": "α — ½",
    }
