"""The soundness checks of a source, from what is known about it."""

from dataclasses import asdict
from typing import Any

import numpy as np

from footing.core import soundness
from footing.core.fitting import Fit
from footing.core.soundness import Check
from footing.studies.clock_view import slow_motion_likely
from footing.studies.fits import FitResult, readout_share
from footing.studies.grounds import Grounded
from footing.studies.motions import BodyMotion

_STATED = 0.01  # relative uncertainty that is taken for stated before anything was fitted
_VERTICAL = {"y", "h"}
_LEVEL_ENOUGH = float(np.radians(5))  # turn of the axes up to which y counts as vertical


def checks(
    ground: Grounded,
    marks: dict[int, list[Any]],
    bodies: list[tuple[Any, BodyMotion]],
    fits: list[FitResult],
) -> list[dict[str, Any]]:
    """Every check that has something to look at, shaky ones first."""
    found = [*_lengths(ground), *_clock(ground, bodies, fits)]
    row = ground.ground
    found.append(soundness.up_level(up=row.up, levelled=row.levelled is not None, angle=row.angle))
    found.append(_span(ground, marks, bodies))
    survey = ground.survey
    if survey:
        found.append(soundness.repeated_frames(len(survey["repeated"])))
    said = [check for check in found if check is not None]
    return [asdict(check) for check in sorted(said, key=lambda check: check.sound)]


def _lengths(ground: Grounded) -> list[Check | None]:
    found: list[Check | None] = [soundness.scale_missing(grounded=ground.has_unit)]
    scale = ground.scale
    if scale:
        longest = max(known.pixels for known in ground.lengths)
        picture = max(ground.index.width, ground.index.height)
        found.append(soundness.scale_short(scale, longest, picture))
        if len(scale.apart) > 1:
            found.append(soundness.scale_agrees(scale))
        nearer = [row.nearer for row in ground.typed_lengths if row.nearer]
        if nearer and ground.made_up_unit is None:
            known = ground.camera_distance is not None
            effect = max(abs(one.depth_factor - 1) for one in ground.lengths) if known else 1.0
            found.append(soundness.depth(effect, scale.relative, corrected=known))
    return found


def _clock(
    ground: Grounded, bodies: list[tuple[Any, BodyMotion]], fits: list[FitResult]
) -> list[Check | None]:
    if ground.is_picture:
        return []
    found: list[Check | None] = [
        soundness.clock_plausible(
            slow_motion_likely=slow_motion_likely(ground),
            clock_set=ground.ground.clock != "file",
            falls=_falls(ground, fits),
        )
    ]
    effects = [readout_share(body, ground) for _, body in bodies if len(body.frames) > 1]
    known = [effect for effect in effects if effect is not None]
    if known:
        errors = (_relative_error(fit) for fit in fits)
        stated = [error for error in errors if error is not None]
        found.append(soundness.readout(max(known), min(stated, default=_STATED)))
    return found


def _falls(ground: Grounded, fits: list[FitResult]) -> list[float]:
    """Vertical accelerations in m/s² that fits have found."""
    if ground.metres is None or abs(np.sin(ground.ground.angle)) > np.sin(_LEVEL_ENOUGH):
        return []
    return [
        reading.value * ground.metres
        for fit in fits
        if fit.y.component in _VERTICAL and (reading := fit.reading("acceleration"))
    ]


def _relative_error(fit: FitResult) -> float | None:
    reading = fit.reading("acceleration")
    if not isinstance(fit.outcome, Fit) or reading is None or reading.value == 0:
        return None
    return abs(reading.standard_error / reading.value)


def _span(
    ground: Grounded, marks: dict[int, list[Any]], bodies: list[tuple[Any, BodyMotion]]
) -> Check | None:
    if ground.is_picture:
        return None
    counting = sum(len(body.frames) for _, body in bodies)
    outside = sum(not ground.counts(mark.frame) for of_body in marks.values() for mark in of_body)
    survey = ground.survey
    moving = None
    if survey and not survey.get("problem"):
        begins = survey["moves_from"]
        moving = begins is not None and begins <= ground.footage.last
    return soundness.something_in_span(marks=counting, outside=outside, moving=moving)
