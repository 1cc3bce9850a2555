"""Real people on real film, with places checked by eye.

The film is the one of a yard that Debian's package `opencv-doc` ships (10 frames/s, 768×576 px):
people walk past each other, a sign and a parked van. The places of five of them are Footing's own
marks of a spot on the jacket, looked at one by one on enlarged crops, where the eye tells 3 px;
six that it had not marked, or not well, were placed by eye. So they tell a wrong thing, and not a
small error.
"""

from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from footing.bench.following import indexed
from footing.bench.hard.judging import Marks, Point, followed
from footing.bench.measuring import line
from footing.core.following.pictures import Picture
from footing.media.luma import pictures
from footing.settings import Settings

_FILM = Path("/usr/share/doc/opencv-doc/examples/data/vtest.avi")
_FRAMES = 160
_RIGHT = 10.0  # px: a tenth of a person, and what the eye may be off


@dataclass(frozen=True)
class Walker:
    """Where one of them is in some frames, the first of which is marked.

    others : where somebody else is, who must not be taken for this one
    """

    name: str
    spots: dict[int, Point]
    others: dict[int, Point] = field(default_factory=dict)


_TALKS: dict[int, Point] = {40: (387, 207), 44: (390, 211), 48: (385, 214), 52: (383, 214)}

WALKERS = (
    Walker(
        "leather jacket",
        {
            **{0: (265, 258), 2: (277, 257), 4: (297, 250), 6: (306, 246), 8: (313, 245)},
            **{10: (329, 246), 12: (341, 242), 14: (353, 235), 16: (361, 234), 18: (370, 233)},
        },
    ),
    Walker(
        "light shirt",
        {
            **{0: (515, 185), 2: (512, 186), 4: (506, 188), 6: (500, 195), 8: (492, 194)},
            **{10: (483, 197), 12: (475, 200), 14: (463, 202)},
            **_TALKS,
        },
    ),
    Walker(
        "long coat",
        {
            **{0: (659, 272), 2: (644, 273), 4: (620, 275), 6: (600, 275), 8: (584, 272)},
            **{10: (557, 274), 12: (541, 274), 14: (514, 271), 16: (498, 273), 18: (473, 268)},
            **{20: (451, 272), 22: (437, 268)},
        },
        others=_TALKS,
    ),
    Walker(
        "padded jacket",
        {
            **{30: (646, 286), 34: (628, 277), 38: (605, 270), 42: (580, 262), 50: (524, 248)},
            **{56: (494, 239), 60: (483, 232), 66: (465, 225), 70: (456, 218), 76: (453, 209)},
            **{80: (457, 200), 84: (460, 193)},
        },
    ),
    Walker(
        "grey jacket",
        {
            **{60: (632, 270), 64: (619, 260), 68: (609, 249), 72: (596, 239), 76: (591, 230)},
            **{80: (581, 220), 84: (579, 211), 88: (578, 202), 92: (584, 193), 96: (592, 187)},
            **{100: (601, 180), 104: (612, 175)},
        },
    ),
)


def measure(settings: Settings, _: Path) -> None:
    """How many of the places that were checked are kept, and how many are sure and wrong."""
    if not _FILM.exists():
        print(f"real people: not measured, {_FILM} is not there (Debian's opencv-doc)")
        return
    index = indexed(settings, _FILM)
    wanted = range(min(_FRAMES, index.frames))
    frames = list(pictures(_FILM, index, wanted, seconds=settings.survey_seconds))
    checked = kept = marks = wrong = 0
    print("\nreal people: of the places checked by eye, kept; * sure and wrong")
    for walker in WALKERS:
        made = _followed(frames, walker)
        right = [k for k, spot in walker.spots.items() if k in made and _near(made[k], spot)]
        astray = [k for k, spot in walker.spots.items() if k in made and not _near(made[k], spot)]
        astray += [k for k, spot in walker.others.items() if k in made and _near(made[k], spot)]
        starred = f" *{len(astray)}: frames {', '.join(map(str, astray))}" if astray else ""
        print(f"{walker.name:<30}{len(right) - 1:>4} of {len(walker.spots) - 1}{starred}")
        checked, kept = checked + len(walker.spots) - 1, kept + len(right) - 1
        marks, wrong = marks + len(right) - 1 + len(astray), wrong + len(astray)
    line("real people: places kept", 100 * kept / checked, "%", 97, at_least=True)
    line("real people: marks checked that are wrong", 100 * wrong / max(marks, 1), "%", 0.5)


def _followed(frames: list[tuple[int, Picture]], walker: Walker) -> Marks:
    first = min(walker.spots)
    made, _qualities = followed([picture for _, picture in frames[first:]], walker.spots[first])
    return {first + k: place for k, place in made.items()}


def _near(place: Point, spot: Point) -> bool:
    return float(np.hypot(*np.subtract(place, spot))) <= _RIGHT
