"""What following left open, as it is asked: by stretches of frames, a few of them shown."""

from collections.abc import Sequence

from footing.store.rows import Doubt
from footing.studies.shapes.bodies import AskedShape

_SHOWN = 3  # proposals of a stretch


def stretches(doubts: Sequence[Doubt], stride: int) -> list[AskedShape]:
    """The open frames of a body, in order: frames that follow each other are asked about together.

    ``shown`` are up to three of the proposals: frame, x and y in pixels, quality.
    """
    found: list[list[Doubt]] = []
    for doubt in sorted(doubts, key=lambda one: one.frame):
        if found and doubt.frame - found[-1][-1].frame <= stride:
            found[-1].append(doubt)
        else:
            found.append([doubt])
    return [_asked(stretch) for stretch in found]


def _asked(stretch: list[Doubt]) -> AskedShape:
    proposed = [doubt for doubt in stretch if doubt.x is not None]
    step = max((len(proposed) - 1) / (_SHOWN - 1), 1)
    chosen = [proposed[round(k * step)] for k in range(min(_SHOWN, len(proposed)))]
    return {
        "first": stretch[0].frame,
        "last": stretch[-1].frame,
        "count": len(stretch),
        "proposed": len(proposed),
        "shown": [[one.frame, one.x, one.y, one.quality] for one in chosen],
    }
