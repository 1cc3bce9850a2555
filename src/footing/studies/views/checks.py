"""The soundness checks of a source, from what is known about it, and where each is put right."""

from collections.abc import Sequence
from functools import partial

import numpy as np

from footing.core import fit_soundness, soundness
from footing.core.curves import CURVES
from footing.core.fitting import Fit, fit_curve
from footing.core.soundness import Check, Depth, Fall, Readout, ScaleKnown
from footing.store.rows import Body
from footing.store.snapshot import StudyRows
from footing.studies.model.columns import series
from footing.studies.model.fit_effects import readout_share
from footing.studies.model.fits import FitResult
from footing.studies.model.grounds import Grounded
from footing.studies.model.kept import Kept
from footing.studies.model.motions import BodyMotion
from footing.studies.shapes.checks import CheckShape
from footing.studies.shapes.graphs import GraphShape
from footing.studies.shapes.tables import ColumnShape
from footing.studies.steps import Step
from footing.studies.views.clock_view import slow_motion_sign
from footing.words.checks import said_of

_STATED = 0.01  # relative uncertainty that is taken for stated before anything was fitted
_VERTICAL = {"y", "h"}
_FLIES = 0.2  # of the way up and down, that a body in flight moves sideways at least
_LEVEL_ENOUGH = float(np.radians(5))  # turn of the axes up to which y counts as vertical
STEPS: dict[type[Check], Step] = {
    soundness.ScaleKnown: Step.GROUND,
    soundness.UnusableNumbers: Step.GROUND,
    soundness.LengthSize: Step.GROUND,
    soundness.LengthsTogether: Step.GROUND,
    soundness.ClockPlausible: Step.GROUND,
    soundness.UpLevel: Step.GROUND,
    soundness.Readout: Step.GROUND,
    soundness.Depth: Step.GROUND,
    soundness.SpanChosen: Step.SOURCES,
    soundness.RepeatedFrames: Step.SOURCES,
    fit_soundness.PointsEnough: Step.GRAPH,
    fit_soundness.Pattern: Step.GRAPH,
    fit_soundness.ErringTogether: Step.GRAPH,
    fit_soundness.Outliers: Step.GRAPH,
    fit_soundness.ImpactInside: Step.GRAPH,
    fit_soundness.ThroughZero: Step.GRAPH,
    fit_soundness.UnitsTogether: Step.GRAPH,
    fit_soundness.AxisLimits: Step.GRAPH,
}


def checks(
    ground: Grounded,
    rows: StudyRows,
    bodies: list[tuple[Body, BodyMotion]],
    fits: list[FitResult],
    graphs: Sequence[GraphShape],
    columns: Sequence[ColumnShape],
) -> list[CheckShape]:
    """Every check of a footage that has something to look at, shaky ones first."""
    found = [*_lengths(ground), *_clock(ground, bodies, fits)]
    row = ground.ground
    found.append(soundness.up_level(up=row.up, levelled=row.levelled is not None, angle=row.angle))
    found.append(_span(ground, rows, bodies))
    survey = ground.survey
    if survey:
        found.append(soundness.repeated_frames(len(survey["repeated"])))
    return _listed([*found, *_fits(fits), *_graphs(graphs, columns)])


def sheet_checks(
    columns: Sequence[ColumnShape], graphs: Sequence[GraphShape], fits: list[FitResult]
) -> list[CheckShape]:
    """Every check of a sheet that has something to look at, shaky ones first."""
    return _listed([*_fits(fits), *_graphs(graphs, columns)])


def _listed(found: list[Check | None]) -> list[CheckShape]:
    present = [check for check in found if check is not None]
    return [check_shape(check) for check in sorted(present, key=lambda check: check.sound)]


def check_shape(check: Check) -> CheckShape:
    """A check as it is shown."""
    said = said_of(check)
    return {
        "key": check.key,
        "sound": check.sound,
        "title": said.title,
        "reason": said.reason,
        "step": STEPS[type(check)],
        "number": check.number,
    }


def no_checks(reason: str) -> list[CheckShape]:
    """What stands for all checks where computing them failed."""
    return [
        {
            "key": "checks",
            "sound": False,
            "title": "Checks",
            "reason": reason,
            "step": Step.GRAPH,
            "number": None,
        }
    ]


def _fits(fits: list[FitResult]) -> list[Check | None]:
    """What the fits give away: each kind of check once, with the shakiest fit."""
    found: dict[str, Check] = {}
    for fit in fits:
        for check in fit_checks(fit):
            if check.key not in found or not check.sound:
                found[check.key] = check
    return list(found.values())


def fit_checks(fit: FitResult) -> list[Check]:
    """What one fit gives away, sound or not."""
    return _of_fits.get(fit.row.id, (fit,), partial(_of_fit, fit))


def doubt_of(fit: FitResult) -> str | None:
    """Why its curve may not be that of its points: it crosses an impact, or misses something."""
    shaky = {check.key: check for check in fit_checks(fit) if not check.sound}
    check = shaky.get(fit_soundness.ImpactInside.key) or shaky.get(fit_soundness.Pattern.key)
    return None if check is None else said_of(check).reason


_of_fits: Kept[list[Check]] = Kept(200)


def _of_fit(fit: FitResult) -> list[Check]:
    """What one fit gives away."""
    points, outcome = fit.points, fit.outcome
    if points is None or not isinstance(outcome, Fit):
        return []
    found: list[Check | None] = [
        fit_soundness.PointsEnough(outcome.curve, outcome.n),
        fit_soundness.through_zero(outcome, points.across.variable.unit, points.up.variable.unit),
    ]
    if points.up.covariance is None:  # neighbours that share marks do not scatter freely
        found += [
            fit_soundness.pattern(outcome, points.x, points.numbers),
            fit_soundness.outliers(outcome, points.x, points.numbers),
        ]
    if fit.effects is not None and fit.ground is not None and points.up.covariance is None:
        found.append(fit_soundness.ErringTogether(float(fit.effects.together.max())))
    if points.across.variable.is_time and points.up.variable.order == 0:
        found.append(fit_soundness.impact(points.x, points.y, points.numbers))
    return [check for check in found if check is not None]


def _graphs(graphs: Sequence[GraphShape], columns: Sequence[ColumnShape]) -> list[Check | None]:
    units = fit_soundness.UnitsTogether(
        tuple(graph["title"] for graph in graphs if graph["mixed_units"]),
        tuple(
            (column["name"], column["problem"] or "")
            for column in columns
            if column["units_differ"]
        ),
    )
    hidden = sum(_hidden(graph) for graph in graphs)
    return [None if units.sound else units, fit_soundness.axis_limits(hidden)]


def _hidden(graph: GraphShape) -> int:
    """Points outside of typed limits."""
    if not (graph["typed_ranges"]["x"] or graph["typed_ranges"]["y"]):
        return 0
    ends = graph["ranges"]
    return sum(
        not (ends["x_low"] <= x <= ends["x_high"] and ends["y_low"] <= y <= ends["y_high"])
        for series in graph["series"]
        for _, x, y, *_ in series["points"]
    )


def _lengths(ground: Grounded) -> list[Check | None]:
    found: list[Check | None] = [ScaleKnown(ground.has_unit)]
    found.append(soundness.unusable(ground.unusable))
    scale = ground.scale
    if scale:
        longest = max(known.pixels for known in ground.lengths)
        picture = max(ground.index.width, ground.index.height)
        typing = min((one.length_uncertainty / one.length for one in ground.lengths), default=0.0)
        found.append(soundness.length_size(scale, longest, picture, typing=typing))
        if len(scale.apart) > 1:
            found.append(soundness.lengths_together(scale))
        nearer = [row.nearer for row in ground.typed_lengths if row.nearer]
        if nearer and ground.made_up_unit is None:
            known = ground.camera_distance is not None
            effect = max(abs(one.depth_factor - 1) for one in ground.lengths) if known else 1.0
            found.append(Depth(effect, scale.relative, corrected=known))
    return found


def _clock(
    ground: Grounded, bodies: list[tuple[Body, BodyMotion]], fits: list[FitResult]
) -> list[Check | None]:
    if not ground.kind.has_time:
        return []
    found: list[Check | None] = [
        soundness.clock_plausible(
            sign=slow_motion_sign(ground),
            clock_set=ground.ground.clock != "file",
            falls=_falls(ground, fits),
        )
    ]
    effects = [readout_share(body, ground) for _, body in bodies if len(body.frames) > 1]
    known = [effect for effect in effects if effect is not None]
    if known:
        errors = (_relative_error(fit) for fit in fits)
        stated = [error for error in errors if error is not None]
        found.append(Readout(max(known), min(stated, default=_STATED)))
    return found


def _falls(ground: Grounded, fits: list[FitResult]) -> list[Fall]:
    """Vertical accelerations in m/s² that fits have found."""
    metres = ground.metres
    if metres is None or abs(np.sin(ground.ground.angle)) > np.sin(_LEVEL_ENOUGH):
        return []
    found = []
    for fit in fits:
        reading = fit.reading("acceleration")
        if fit.row.y not in _VERTICAL or reading is None or fit.points is None:
            continue
        scale = ground.scale.relative if ground.scale else 0.0
        u = float(np.hypot(reading.standard_error, scale * reading.value))
        sideways, error, flies = _sideways(fit)
        found.append(
            Fall(
                reading.value * metres,
                u * metres,
                None if sideways is None else sideways * metres,
                error * metres,
                flies,
            )
        )
    return found


def _sideways(fit: FitResult) -> tuple[float | None, float, bool]:
    """Acceleration across the points of a fit, its error, and whether the body goes that way."""
    assert fit.points is not None
    across = series(fit.table, "t", "x")
    if across is None or fit.row.x != "t":
        return None, 0.0, False
    chosen = across.chosen(np.isin(across.numbers, fit.points.numbers))
    outcome = fit_curve(chosen.x, chosen.y, CURVES["quadratic"])
    if not isinstance(outcome, Fit):
        return None, 0.0, False
    up = float(np.ptp(fit.points.y))
    steady = abs(float(chosen.y[-1] - chosen.y[0])) > _FLIES * up
    return 2 * float(outcome.values[0]), 2 * float(outcome.standard_errors[0]), steady


def _relative_error(fit: FitResult) -> float | None:
    reading = fit.reading("acceleration")
    if not isinstance(fit.outcome, Fit) or reading is None or reading.value == 0:
        return None
    return abs(reading.standard_error / reading.value)


def _span(ground: Grounded, rows: StudyRows, bodies: list[tuple[Body, BodyMotion]]) -> Check | None:
    if not ground.kind.has_time:
        return None
    counting = sum(len(body.frames) for _, body in bodies)
    outside = sum(_marks_outside(ground, body, rows) for body in rows.bodies_of(ground.footage))
    survey = ground.survey
    moving = None
    if survey and not survey.get("problem"):
        begins = survey["moves_from"]
        moving = begins is not None and begins <= ground.footage.last
    return soundness.span_chosen(marks=counting, outside=outside, moving=moving)


_outside: Kept[int] = Kept(200)


def _marks_outside(ground: Grounded, body: Body, rows: StudyRows) -> int:
    """How many marks of a body lie outside the span."""
    marks = rows.marks_of(body)
    return _outside.get(
        body.id, (ground, marks), lambda: sum(not ground.counts(mark.frame) for mark in marks)
    )
