"""What is said of ledgers."""

import pytest

from footing.core.effects import Effects, Source
from footing.core.ledgers.amounts import Amount
from footing.core.ledgers.balance import Change
from footing.words.ledgers import change_said


@pytest.mark.parametrize(
    ("start", "end", "said"),
    [
        (10.0, 8.0, "lost 20 ± 3 %"),
        (10.0, 12.0, "gained 20 ± 3 %"),
        (10.0, 10.1, "kept within 3 %"),
        (0.1, 10.0, "gained 9.9 J"),
        (10.0, -2.0, "lost 9.9 J"),  # which share that is, the zero of height decides
        (1.0, 4.0, "gained 9.9 J"),
    ],
)
def test_what_became_of_an_energy(start: float, end: float, said: str) -> None:
    ends = [
        Amount(value, Effects({Source("mark", name): 0.2}))
        for name, value in (("a", start), ("b", end))
    ]
    change = ends[1].minus(ends[0])
    share = change.over(ends[0]) if start > 0.4 else None
    assert change_said(Change(ends[0], ends[1], change, share), "9.9 J") == said
