"""Models of motion and the density of air on the command line. Everything is in SI units."""

import json
from collections.abc import Mapping
from pathlib import Path
from typing import TypedDict

import numpy as np

from footing.core import findings
from footing.core.arrays import FloatArray
from footing.core.errors import Refused
from footing.core.prediction.adjusting import Adjusted, NotAdjusted, Track, Why, adjust
from footing.core.prediction.chain import Slot, Solved
from footing.core.prediction.integrating import MotionStopped
from footing.core.prediction.judging import rms
from footing.core.prediction.parameters import START
from footing.csv_columns import read_columns
from footing.model_specs import ON_IMPACT, Journey, density_of, read_model
from footing.words.prediction import not_adjusted_said, stop_said

_AFTER = 1e-9  # s, by which a time may miss the end and still be meant


class ParameterShape(TypedDict):
    """A parameter, and whether it was found from marks; its standard error if so."""

    value: float | None
    stderr: float | None
    fitted: bool


class LegShape(TypedDict):
    """A leg or an impact. from, to : s; rms : m, of the distances to the marks"""

    law: str
    begins: float
    ends: float
    parameters: dict[str, ParameterShape]
    rms: float | None


def air(
    temperature: float,
    pressure: float,
    dew_point: float | None,
    relative_humidity: float | None,
    *,
    as_json: bool,
) -> None:
    """Print the density of air."""
    density = density_of(temperature, pressure, dew_point, relative_humidity)
    if as_json:
        print(json.dumps({"density": density, "unit": "kg/m^3"}))
    else:
        print(f"{findings.significant(density, 5)} kg/m³")


def model(file: Path, data: Path | None, *, as_json: bool) -> None:
    """Print the motion that a file describes, with what was found from marks."""
    asked = read_model(file)
    track = None if data is None else _track(data)
    moments = list(asked.times or []) + ([] if track is None else [float(track.times[-1])])
    journey = Journey(asked, max(moments) if moments else None)
    found, converged = _found(journey, track)
    solved = _solved(journey, found)
    chain = journey.chain
    times = (
        track.times if asked.times is None and track is not None else np.array(asked.times or [])
    )
    outside = times[(times < chain.began - _AFTER) | (times > chain.ends + _AFTER)]
    if len(outside) and asked.times is not None:
        raise Refused(
            f"times: {outside[0]:g} s lies outside of the motion, which goes from "
            f"{chain.began:g} to {chain.ends:g} s."
        )
    inside = times[(times >= chain.began - _AFTER) & (times <= chain.ends + _AFTER)]
    printed = {
        "legs": _legs(journey, found, solved, track, converged=converged),
        "points": _points(journey, solved, np.asarray(inside, dtype=float)),
        "converged": converged,
    }
    print(json.dumps(printed) if as_json else "\n".join(_lines(printed)))


def _track(file: Path) -> Track:
    columns = read_columns(file, ("t", "x", "y"))
    if not len(columns["t"]):
        raise Refused(f"{file} has no marks.")
    order = np.argsort(columns["t"], kind="stable")
    times = columns["t"][order]
    if np.any(np.diff(times) <= 0):
        twice = float(times[1:][np.diff(times) <= 0][0])
        raise Refused(f"{file} has two marks at {twice:g} s.")
    return Track(times, np.stack([columns["x"], columns["y"]], axis=1)[order])


def _found(journey: Journey, track: Track | None) -> tuple[Adjusted | None, bool]:
    """What was found from marks, if something is to be found; and whether that came to an end."""
    chain, wanted = journey.chain, journey.wanted
    slots = [chain.slot(leg, name) for leg, name in wanted]
    missing = chain.missing(slots)
    if missing:
        first = missing[0]
        place = 0 if first.leg is None else journey.places[first.leg]
        named = f" ({journey.asked.legs[place].law})" if first.leg is not None else ""
        raise Refused(f"legs.{place}{named}: “{first.name}” is needed and not given.")
    if not wanted:
        return None, True
    if track is None:
        raise Refused("There is something to be found (“fit”), so marks are needed: --data FILE.")
    adjusted = adjust(chain, wanted, track)
    if isinstance(adjusted, Adjusted):
        return adjusted, adjusted.converged
    if adjusted.why in (Why.TOO_FEW, Why.NOT_TOLD_APART):
        leg = next((slot.leg for slot in adjusted.slots if slot.leg is not None), wanted[0][0])
        raise Refused(f"legs.{journey.places[leg]}: {_why(adjusted)}")
    return None, False


def _why(adjusted: NotAdjusted) -> str:
    return not_adjusted_said(adjusted, lambda slot: slot.name)


def _solved(journey: Journey, found: Adjusted | None) -> Solved:
    try:
        return journey.chain.solve(found.by_slot if found else None)
    except MotionStopped as stopped:
        place = journey.places[stopped.leg]
        law = journey.asked.legs[place].law
        raise Refused(f"legs.{place} ({law}): {stop_said(stopped)}") from stopped


def _legs(
    journey: Journey,
    found: Adjusted | None,
    solved: Solved,
    track: Track | None,
    *,
    converged: bool,
) -> list[dict[str, object]]:
    borders = solved.borders[0]
    residuals, legs = _residuals(solved, track)
    printed: list[dict[str, object]] = []
    of_leg = {place: leg for leg, place in enumerate(journey.places)}
    for place, said in enumerate(journey.asked.legs):
        leg = of_leg.get(place)
        if leg is None:
            after = next((k for k in journey.places if k > place), None)
            moment = float(borders[-1]) if after is None else float(borders[of_leg[after]])
            parameters = (
                {}
                if after is None
                else _impact_parameters(journey, of_leg[after], found, converged)
            )
            printed.append(
                {"law": said.law, "from": moment, "to": moment, "parameters": parameters}
                | {"rms": None}
            )
            continue
        here = residuals[legs == leg]
        printed.append(
            {
                "law": said.law,
                "from": float(borders[leg]),
                "to": float(borders[leg + 1]),
                "parameters": _parameters(journey, leg, found, converged),
                "rms": rms(here) if len(here) else None,
            }
        )
    return printed


def _residuals(solved: Solved, track: Track | None) -> tuple[FloatArray, FloatArray]:
    if track is None:
        return np.empty((0, 2)), np.empty(0)
    states, legs = solved.at(track.times)
    return track.positions - states[0, :, :2], legs[0]


def _impact_parameters(
    journey: Journey, leg: int, found: Adjusted | None, converged: bool
) -> dict[str, ParameterShape]:
    return {
        name: _parameter(journey, leg, ON_IMPACT.get(name, name), found, converged)
        for name in ("restitution", "friction")
    }


def _parameters(
    journey: Journey, leg: int, found: Adjusted | None, converged: bool
) -> dict[str, ParameterShape]:
    """Those of the law, of the start, and the end if it was looked for."""
    chain = journey.chain
    begins = START if leg == 0 else ()
    names = dict.fromkeys((*begins, *chain.legs[leg].names))
    wanted = [name for of, name in journey.wanted if of == leg]
    names |= dict.fromkeys(wanted)
    for name in ("restitution", "contact_friction"):
        names.pop(name, None)
    return {
        name: _parameter(journey, leg, name, found, converged)
        for name in names
        if chain.value(chain.slot(leg, name)) is not None or name in wanted
    }


def _parameter(
    journey: Journey, leg: int, name: str, found: Adjusted | None, converged: bool
) -> ParameterShape:
    slot: Slot = journey.chain.slot(leg, name)
    wanted = {journey.chain.slot(of, each) for of, each in journey.wanted}
    if slot not in wanted:
        return {"value": journey.chain.value(slot), "stderr": None, "fitted": False}
    if found is None:
        return {"value": None, "stderr": None, "fitted": True}
    value = float(found.values[found.slots.index(slot)])
    error = found.standard_error(slot) if converged else None
    return {"value": value, "stderr": error, "fitted": True}


def _points(journey: Journey, solved: Solved, times: FloatArray) -> list[dict[str, float | int]]:
    states, legs = solved.at(times)
    return [
        {
            "t": float(t),
            "x": float(state[0]),
            "y": float(state[1]),
            "vx": float(state[2]),
            "vy": float(state[3]),
            "leg": journey.places[leg],
        }
        for t, state, leg in zip(times, states[0], legs[0], strict=True)
    ]


def _lines(printed: Mapping[str, object]) -> list[str]:
    """The same to be read: a line for each parameter."""
    lines = []
    legs = printed["legs"]
    assert isinstance(legs, list)
    for leg in legs:
        lines.append(f"{leg['law']}  {leg['from']:g} … {leg['to']:g} s")
        for name, one in leg["parameters"].items():
            value, error = one["value"], one["stderr"]
            how = " (from the marks)" if one["fitted"] else ""
            text = "–" if value is None else f"{value:.6g}"
            if error is not None:
                text = findings.measured(value, error)
            lines.append(f"  {name}  {text}{how}")
        if leg["rms"] is not None:
            lines.append(f"  rms  {leg['rms']:.3g} m")
    return lines if printed["converged"] else [*lines, "It did not converge."]
