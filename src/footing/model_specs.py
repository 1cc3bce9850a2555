"""What a specification of a model says, and the chain of legs that it makes."""

from pathlib import Path
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from footing.core.air import Weather, air_density
from footing.core.errors import Refused
from footing.core.prediction.chain import Chain, Leg
from footing.core.prediction.laws import LAWS, Law
from footing.core.prediction.own_laws import ACCELERATION, PATH, own_law
from footing.core.prediction.parameters import PARAMETERS, START
from footing.text_files import read_text

_STANDARD_GRAVITY = 9.80665
_AFTER = 1e-9  # s, by which a time may miss the end and still be meant
_OWN = {ACCELERATION: ("ax", "ay"), PATH: ("x", "y")}
ON_IMPACT = {"friction": "contact_friction"}

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
        return density_of(*said, place=place)


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


def density_of(
    temperature: float | None,
    pressure: float | None,
    dew_point: float | None,
    relative_humidity: float | None,
    *,
    place: str = "",
) -> float:
    """The density of air by the weather; place : where it was said, for the refusal."""
    before = f"{place}: " if place else ""
    if temperature is None or pressure is None:
        raise Refused(f"{before}the density of air needs temperature and pressure.")
    if (dew_point is None) == (relative_humidity is None):
        raise Refused(f"{before}give either a dew point or a relative humidity.")
    if dew_point is not None:
        return air_density(Weather(temperature, pressure, dew_point))
    share = (relative_humidity or 0.0) / 100
    return air_density(Weather(temperature, pressure, share, "relative humidity"))


class Journey:
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
                found += [(leg, ON_IMPACT.get(name, name)) for name in self.asked.legs[hit].fit]
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


def read_model(file: Path) -> GivenModel:
    """Read a specification.

    Raises
    ------
    Refused : with the place where it is wrong.
    """
    text = read_text(file)
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
