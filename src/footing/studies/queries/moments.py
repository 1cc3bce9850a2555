"""Two moments of a body compared, and a flight from its launch to its landing."""

from typing import Any

import numpy as np

from footing.core import findings
from footing.core.errors import Refused
from footing.core.quantities import QUANTITIES
from footing.store.access import ClassStudy
from footing.store.reading import read_study
from footing.store.rows import Body
from footing.studies.model.grounds import Grounded, grounded
from footing.studies.model.motions import BodyMotion, motions

_DEGREES = "°"


def between(study: ClassStudy, body: int, first: int, last: int) -> dict[str, Any]:
    """Displacement, time and average velocity between two marks of a body.

    The velocity belongs to the middle of the interval. ``arrow`` are its two ends in pixels.

    Raises
    ------
    Refused : if the body has no counting mark in one of the frames, or they are the same.
    """
    ground, moved = _moved(study, body)
    if first == last:
        raise Refused("Choose two different frames.", field="last")
    one, other = sorted((_row(moved, first), _row(moved, last)))
    motion = moved.motion
    dt = float(motion.times[other] - motion.times[one])
    displacement = motion.positions[other] - motion.positions[one]
    distance = float(np.hypot(*displacement))
    u = float(np.sqrt(2) * motion.position_uncertainty)
    length, speed = (
        QUANTITIES[key].dimension.unit(length=ground.length_unit) for key in ("x", "v")
    )
    decimals = ground.time_decimals
    middle = float(motion.times[one] + motion.times[other]) / 2
    rows = [
        ("Δt", "", f"{findings.number(dt, decimals)} s"),
        ("Δx", "", findings.measured(float(displacement[0]), u, length)),
        ("Δy", "", findings.measured(float(displacement[1]), u, length)),
        ("distance", "", findings.measured(distance, u, length)),
        ("v̄", "x", findings.measured(float(displacement[0]) / dt, u / dt, speed)),
        ("v̄", "y", findings.measured(float(displacement[1]) / dt, u / dt, speed)),
        ("v̄", "", findings.measured(distance / dt, u / dt, speed)),
    ]
    if distance > u:
        angle = float(np.rad2deg(np.arctan2(displacement[1], displacement[0])))
        rows.append(("direction", "", _angle(angle, u / distance)))
    return {
        "frames": [int(moved.frames[one]), int(moved.frames[other])],
        "arrow": [[float(value) for value in moved.pixels[row]] for row in (one, other)],
        "rows": [list(row) for row in rows],
        "said": f"The average velocity belongs to the middle, t = "
        f"{findings.number(middle, decimals)} s.",
    }


def flight(
    study: ClassStudy, body: int, launch: int, top: int | None, landing: int | None
) -> dict[str, Any]:
    """Speed and angle at the launch; time up and time down, where those frames are given.

    Raises
    ------
    Refused : if the body has no counting mark in one of the frames, or they are in no order.
    """
    ground, moved = _moved(study, body)
    motion = moved.motion
    row = _row(moved, launch)
    components = [_at(motion.column(key), row) for key in ("vx", "vy")]
    if None in components:
        raise Refused(
            "There is no velocity at the launch; mark its neighbours, too.", field="launch"
        )
    (vx, u), (vy, _) = (one for one in components if one is not None)
    speed = float(np.hypot(vx, vy))
    unit = QUANTITIES["v"].dimension.unit(length=ground.length_unit)
    rows = [
        ("launch speed", "", findings.measured(speed, u, unit)),
        ("v", "x", findings.measured(vx, u, unit)),
        ("v", "y", findings.measured(vy, u, unit)),
    ]
    if speed > u:
        rows.append(("launch angle", "", _angle(float(np.rad2deg(np.arctan2(vy, vx))), u / speed)))
    decimals = ground.time_decimals
    moments = [
        ("time up", launch, top),
        ("time down", top, landing),
        ("whole time", launch, landing),
    ]
    for name, begin, end in moments:
        if begin is None or end is None:
            continue
        if end <= begin:
            raise Refused(
                "Launch, highest point and landing come one after the other.", field="top"
            )
        lasts = float(ground.times[_frame(ground, end)] - ground.times[_frame(ground, begin)])
        rows.append((name, "", f"{findings.number(lasts, decimals)} s"))
    return {"rows": [list(row) for row in rows]}


def _moved(study: ClassStudy, body: int) -> tuple[Grounded, BodyMotion]:
    rows = read_study(study.id)
    ground = grounded(rows.footage_of(rows.find(Body, body)), rows)
    if not ground.kind.has_time:
        raise Refused("A picture has no moments; this is for footage.", field="body")
    return ground, motions(ground, rows)[body]


def _row(moved: BodyMotion, frame: int) -> int:
    found = np.flatnonzero(moved.frames == frame)
    if len(found) == 0:
        raise Refused(f"There is no mark in frame {frame} that counts.", field="first")
    return int(found[0])


def _frame(ground: Grounded, frame: int) -> int:
    if not 0 <= frame < ground.index.frames:
        raise Refused(f"There is no frame {frame}.", field="landing")
    return frame


def _at(column: Any, row: int) -> tuple[float, float] | None:
    place = np.flatnonzero(column.index == row)
    if len(place) == 0:
        return None
    return float(column.values[place[0]]), float(column.uncertainties[place[0]])


def _angle(degrees: float, uncertainty: float) -> str:
    return findings.measured(degrees, float(np.rad2deg(uncertainty)), _DEGREES)
