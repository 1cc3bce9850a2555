"""What a predicted motion is in, and the body that moves, as they were typed."""

from dataclasses import dataclass
from math import pi, sqrt
from typing import cast

from footing.core.air import Damp, Weather, air_density, density_error
from footing.core.dimensions import read_quantity
from footing.core.effects import Source
from footing.core.errors import Refused
from footing.core.ledgers.energy import Given
from footing.core.prediction.parameters import parameter
from footing.core.units import read_number, to_si
from footing.core.weather import weather_of
from footing.store.rows import Body, ModelParameter
from footing.store.rows import Weather as WeatherRow
from footing.store.snapshot import StudyRows
from footing.studies.model.containing import is_readable
from footing.studies.model.energies import gravity_of, mass_of

USUAL_DENSITY = Given(1.20, 0.03, Source("density of the air"))  # kg/m³, near the sea
INDOORS = 20.0  # °C


def read_weather(row: WeatherRow) -> Weather:
    """The weather of a study.

    Raises
    ------
    Refused : for what cannot be read any more.
    """
    return weather_of(
        (read_number(row.temperature, field="temperature"), row.temperature_unit),
        (read_number(row.pressure, field="pressure"), row.pressure_unit),
        read_number(row.damp, field="damp"),
        cast(Damp, row.damp_is),
    )


@dataclass(frozen=True)
class Surroundings:
    """What all models of a study share unless they say otherwise.

    weather : None where nobody said it, or what was said cannot be
    """

    gravity: Given
    weather: Weather | None

    @property
    def density(self) -> Given:
        """The density of the air: by the weather, or as it usually is."""
        if self.weather is None:
            return USUAL_DENSITY
        error = density_error(self.weather)
        return Given(air_density(self.weather), error, Source("density of the air"))


def surroundings_of(rows: StudyRows) -> Surroundings:
    """What models of a study are in."""
    weather = None
    if rows.weather is not None:
        try:
            weather = read_weather(rows.weather)
            air_density(weather)
        except Refused:
            weather = None
    return Surroundings(gravity_of(rows), weather)


def given_by_body(row: Body | None, name: str) -> Given | None:
    """A mass or a diameter that is known of a body."""
    if row is None:
        return None
    if name == "mass":
        return mass_of(row)
    if name == "diameter" and row.size and is_readable(row.size):
        size = to_si(read_number(row.size, field="size"), row.size_unit or "cm")
        return Given(size.value, size.uncertainty, Source("size", f"b{row.id}"))
    return None


def read_typed(name: str, said: ModelParameter, owner: str) -> Given:
    """A typed parameter in SI units, with its uncertainty.

    Raises
    ------
    Refused : if it is no number, of another unit, or beyond its limits.
    """
    kind = parameter(name)
    typed, written = read_quantity(said.get("typed", ""), field="typed")
    unit = written
    if unit is None and said.get("unit"):
        unit = read_quantity(f"1 {said['unit']}", field="unit")[1]
    wanted = kind.unit
    as_is = said.get("as_is", "")
    if as_is == "area":
        wanted = wanted**2
    if unit is not None and not unit.converts_to(wanted):
        other = str(wanted) or "a plain number"
        raise Refused(f"{kind.title} is in {other}, not in {unit}.", field="unit")
    factor = unit.factor if unit is not None else wanted.factor
    value, error = typed.value * factor, typed.uncertainty * factor
    if value == 0 and said.get("typed", "").strip() == "0":  # at rest, and not nearly
        error = 0.0
    if as_is == "radius":
        value, error = 2 * value, 2 * error
    if as_is == "area":
        if value <= 0:
            raise Refused("An area is larger than 0.", field="typed")
        diameter = sqrt(4 * value / pi)
        value, error = diameter, error * diameter / (2 * value)
    if not kind.least <= value <= kind.most:
        raise Refused(f"{kind.title} cannot be {said.get('typed', '')}.", field="typed")
    return Given(value, error, Source(kind.title, owner))
