"""Models of motion and the density of air on the command line. Everything is in SI units."""

import json
from collections.abc import Mapping
from pathlib import Path
from typing import Annotated, Literal, TypedDict

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from footing.core import findings
from footing.core.air import Weather, air_density
from footing.core.arrays import FloatArray
from footing.core.errors import Refused
from footing.core.prediction.adjusting import Adjusted, NotAdjusted, Track, Why, adjust
from footing.core.prediction.chain import Chain, Leg, Slot, Solved
from footing.core.prediction.integrating import MotionStopped
from footing.core.prediction.judging import rms
from footing.core.prediction.laws import LAWS, Law
from footing.core.prediction.own_laws import ACCELERATION, PATH, own_law
from footing.core.prediction.parameters import PARAMETERS, START
from footing.csv_columns import read_columns
from footing.words.prediction import not_adjusted_said, stop_said

_STANDARD_GRAVITY = 9.80665
_AFTER = 1e-9  # s, by which a time may miss the end and still be meant
_OWN = {ACCELERATION: ("ax", "ay"), PATH: ("x", "y")}
_HIT = {"friction": "contact_friction"}

Finite = Annotated[float, Field(allow_inf_nan=False)]
Positive = Annotated[float, Field(gt=0, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0, allow_inf_nan=False)]
Direction = tuple[Finite, Finite]


class _Given(BaseModel):
    model_config = ConfigDict(extra="forbid")


class GivenBody(_Given):
    """A body, in kg, m, m³."""

    mass: Positive | None = None
    diameter: Positive | None = None
    drag_coefficient: NotNegative | None = None
    volume: NotNegative | None = None


class GivenMedium(_Given):
    """A medium: its density in kg/m³, or the weather (°C, Pa)."""

    density: NotNegative | None = None
    temperature: Finite | None = None
    pressure: Finite | None = None
    dew_point: Finite | None = None
    relative_humidity: Finite | None = None

    def as_density(self, place: str) -> float | None:
        """Its density; None if it says nothing."""
        if self.density is not None:
            return self.density
        said = (self.temperature, self.pressure, self.dew_point, self.relative_humidity)
        if all(one is None for one in said):
            return None
        return _density(*said, place=place)


class GivenStart(_Given):
    """From where the motion begins."""

    t: Finite = 0.0
    x: Finite = 0.0
    y: Finite = 0.0
    vx: Finite = 0.0
    vy: Finite = 0.0


class GivenLeg(_Given):
    """A leg: a law up to a moment, with its parameters and what is to be found."""

    law: str
    until: Finite | None = None
    parameters: dict[str, Finite | str] = Field(default_factory=dict)
    fit: list[str] = Field(default_factory=list)
    medium: GivenMedium | None = None


class GivenImpact(_Given):
    """Something hits between two legs. normal : direction out of what is hit"""

    law: Literal["impact"]
    restitution: NotNegative = 1.0
    friction: NotNegative = 0.0
    normal: Direction = (0.0, 1.0)
    fit: list[Literal["restitution", "friction"]] = Field(default_factory=list)


class GivenModel(_Given):
    """What a specification says."""

    g: Positive = _STANDARD_GRAVITY
    up: Direction = (0.0, 1.0)
    body: GivenBody = Field(default_factory=GivenBody)
    medium: GivenMedium = Field(default_factory=GivenMedium)
    start: GivenStart = Field(default_factory=GivenStart)
    legs: Annotated[list[GivenImpact | GivenLeg], Field(min_length=1, max_length=100)]
    times: Annotated[list[Finite], Field(max_length=100_000)] | None = None


_ADAPTER: TypeAdapter[GivenModel] = TypeAdapter(GivenModel)


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
    density = _density(temperature, pressure, dew_point, relative_humidity)
    if as_json:
        print(json.dumps({"density": density, "unit": "kg/m^3"}))
    else:
        print(f"{findings.significant(density, 5)} kg/m³")


def _density(
    temperature: float | None,
    pressure: float | None,
    dew_point: float | None,
    relative_humidity: float | None,
    *,
    place: str = "",
) -> float:
    before = f"{place}: " if place else ""
    if temperature is None or pressure is None:
        raise Refused(f"{before}the density of air needs temperature and pressure.")
    if (dew_point is None) == (relative_humidity is None):
        raise Refused(f"{before}give either a dew point or a relative humidity.")
    if dew_point is not None:
        return air_density(Weather(temperature, pressure, dew_point))
    share = (relative_humidity or 0.0) / 100
    return air_density(Weather(temperature, pressure, share, "relative humidity"))


class _Journey:
    """A specification as a chain; its impacts belong to the legs that follow them.

    places : of each leg of the chain among those of the specification
    """

    def __init__(self, asked: GivenModel, ends: float | None) -> None:
        self.asked = asked
        self.places = [k for k, one in enumerate(asked.legs) if isinstance(one, GivenLeg)]
        if not self.places:
            raise Refused("legs: an impact alone is no motion.")
        size = float(np.hypot(*asked.up))
        if size == 0:
            raise Refused("up: it has no direction; give two numbers, such as [0, 1].")
        legs = tuple(self._leg(place) for place in self.places)
        moments = self._moments(ends)
        self.chain = Chain(
            legs,
            self._common(),
            asked.start.t,
            moments[-1],
            (asked.up[0] / size, asked.up[1] / size),
        )

    def hit_before(self, place: int) -> int | None:
        """The impact with which a leg begins, by its place in the specification."""
        if place and isinstance(self.asked.legs[place - 1], GivenImpact):
            return place - 1
        return None

    def _common(self) -> dict[str, float]:
        body = self.asked.body.model_dump(exclude_none=True)
        density = self.asked.medium.as_density("medium")
        return {"g": self.asked.g, **body} | ({} if density is None else {"density": density})

    def _moments(self, ends: float | None) -> list[float]:
        """When the legs end."""
        began, moments = self.asked.start.t, []
        for place in self.places:
            leg = self.asked.legs[place]
            assert isinstance(leg, GivenLeg)
            until = leg.until
            if until is None:
                if place != self.places[-1]:
                    raise Refused(f"legs.{place}: only the last leg may go without “until”.")
                if ends is None:
                    raise Refused(f"legs.{place}: without times or data it needs an “until”.")
                until = max(ends, began + _AFTER)
            if until <= began:
                raise Refused(
                    f"legs.{place}: it would end at {until:g} s, but it begins at {began:g} s."
                )
            moments.append(until)
            began = until
        return moments

    def _leg(self, place: int) -> Leg:
        said = self.asked.legs[place]
        assert isinstance(said, GivenLeg)
        law, texts = _law(said, place)
        numbers: dict[str, float] = {}
        allowed = {*law.needs, *law.may, *START}
        for name, value in said.parameters.items():
            if name in texts:
                continue
            if name not in allowed:
                raise Refused(
                    f"legs.{place} ({said.law}): it has no parameter “{name}”; it has: "
                    f"{', '.join(sorted({*law.needs, *law.may})) or 'none'}."
                )
            if isinstance(value, str):
                raise Refused(f"legs.{place}.parameters.{name}: “{value}” is no number.")
            limits = PARAMETERS.get(name)
            if limits and not limits.least <= value <= limits.most:
                raise Refused(f"legs.{place}.parameters.{name}: {value:g} is out of its limits.")
            numbers[name] = value
        if said.medium is not None:
            density = said.medium.as_density(f"legs.{place}.medium")
            if density is not None:
                numbers["density"] = density
        if place == self.places[0]:
            start = self.asked.start
            numbers = {"x": start.x, "y": start.y, "vx": start.vx, "vy": start.vy} | numbers
        self._check_fit(place, said, allowed)
        hit = self.hit_before(place)
        if hit is None:
            return Leg(law, said.until, numbers)
        impact = self.asked.legs[hit]
        assert isinstance(impact, GivenImpact)
        if np.hypot(*impact.normal) == 0:
            raise Refused(f"legs.{hit}.normal: it has no direction.")
        numbers |= {"restitution": impact.restitution, "contact_friction": impact.friction}
        return Leg(law, said.until, numbers, impact.normal)

    def _check_fit(self, place: int, said: GivenLeg, allowed: set[str]) -> None:
        last = place == self.places[-1]
        for name in said.fit:
            if name == "until":
                if last:
                    raise Refused(f"legs.{place}.fit: the end of the last leg is not looked for.")
                if said.until is None:
                    raise Refused(f"legs.{place}.fit: “until” needs a value to begin from.")
            elif name not in allowed:
                raise Refused(f"legs.{place}.fit: {said.law} has no parameter “{name}”.")

    @property
    def wanted(self) -> list[tuple[int, str]]:
        """What is to be found: legs of the chain, and names."""
        found: list[tuple[int, str]] = []
        for leg, place in enumerate(self.places):
            said = self.asked.legs[place]
            hit = self.hit_before(place)
            if hit is not None:
                found += [(leg, _HIT.get(name, name)) for name in self.asked.legs[hit].fit]
            found += [(leg, name) for name in said.fit]
        return found


def _law(said: GivenLeg, place: int) -> tuple[Law, tuple[str, ...]]:
    """The law of a leg, and which of its parameters are formulas."""
    if said.law in LAWS:
        return LAWS[said.law], ()
    if said.law not in _OWN:
        known = ", ".join((*LAWS, *_OWN, "impact"))
        raise Refused(f"legs.{place}: there is no law “{said.law}”; there are: {known}.")
    names = _OWN[said.law]
    texts = [said.parameters.get(name) for name in names]
    for name, text in zip(names, texts, strict=True):
        if text is None:
            raise Refused(f"legs.{place} ({said.law}): “{name}” is missing, as a formula.")
    try:
        return own_law(said.law, str(texts[0]), str(texts[1])), names
    except Refused as error:
        raise Refused(f"legs.{place} ({said.law}): {error}") from error


def model(file: Path, data: Path | None, *, as_json: bool) -> None:
    """Print the motion that a file describes, with what was found from marks."""
    asked = _asked(file)
    track = None if data is None else _track(data)
    moments = list(asked.times or []) + ([] if track is None else [float(track.times[-1])])
    journey = _Journey(asked, max(moments) if moments else None)
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


def _asked(file: Path) -> GivenModel:
    try:
        text = file.read_text(encoding="utf-8-sig")
    except FileNotFoundError as error:
        raise Refused(f"There is no file {file}.") from error
    except (OSError, UnicodeDecodeError) as error:
        raise Refused(f"{file} cannot be read as a text file.") from error
    try:
        return _ADAPTER.validate_json(text)
    except ValidationError as error:
        raise Refused(f"{file}, {_said(error)}") from error


def _said(error: ValidationError) -> str:
    """The first of what is wrong that says most: of an impact only where one was meant."""
    each = error.errors()
    meant = [one for one in each if "GivenImpact" not in one["loc"]] or each
    first = meant[0]
    names = ("GivenLeg", "GivenImpact")
    place = ".".join(str(part) for part in first["loc"] if part not in names) or "the whole"
    text = first["msg"][0].lower() + first["msg"][1:]
    given = "" if isinstance(first["input"], dict | list) else f" (it is {first['input']!r})"
    return f"{place}: {text}{given}."


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


def _found(journey: _Journey, track: Track | None) -> tuple[Adjusted | None, bool]:
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


def _solved(journey: _Journey, found: Adjusted | None) -> Solved:
    try:
        return journey.chain.solve(found.by_slot if found else None)
    except MotionStopped as stopped:
        place = journey.places[stopped.leg]
        law = journey.asked.legs[place].law
        raise Refused(f"legs.{place} ({law}): {stop_said(stopped)}") from stopped


def _legs(
    journey: _Journey,
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
    journey: _Journey, leg: int, found: Adjusted | None, converged: bool
) -> dict[str, ParameterShape]:
    return {
        name: _parameter(journey, leg, _HIT.get(name, name), found, converged)
        for name in ("restitution", "friction")
    }


def _parameters(
    journey: _Journey, leg: int, found: Adjusted | None, converged: bool
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
    journey: _Journey, leg: int, name: str, found: Adjusted | None, converged: bool
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


def _points(journey: _Journey, solved: Solved, times: FloatArray) -> list[dict[str, float | int]]:
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
