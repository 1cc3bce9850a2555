"""The weather in which the motions of a study happen."""

from typing import Literal

from pydantic import model_validator

from footing.core.air import Damp, air_density
from footing.core.weather import PRESSURE_UNITS, TEMPERATURE_UNITS, PressureUnit, TemperatureUnit
from footing.store.rows import (
    Weather,
)
from footing.studies.edits.base import EditModel, Typed, unit_behind
from footing.studies.model.surroundings import read_weather
from footing.studies.work import Work


class SetWeather(EditModel):
    """Say in what weather the motions of this study happen; the density of the air follows.

    damp : a dew point in the unit of the temperature, or a relative humidity in percent
    """

    kind: Literal["set_weather"] = "set_weather"
    temperature: Typed
    temperature_unit: TemperatureUnit = "°C"
    pressure: Typed
    pressure_unit: PressureUnit = "hPa"
    damp: Typed
    damp_is: Damp = "relative humidity"

    _temperature = model_validator(mode="before")(
        unit_behind("temperature", "temperature_unit", of=TEMPERATURE_UNITS)
    )
    _pressure = model_validator(mode="before")(
        unit_behind("pressure", "pressure_unit", of=PRESSURE_UNITS)
    )

    @property
    def label(self) -> str:
        """In the history."""
        return "the weather"

    def apply(self, work: Work) -> None:
        """Keep it as it was typed, if it can be."""
        wanted = Weather(
            study_id=work.study_id,
            temperature=self.temperature,
            temperature_unit=self.temperature_unit,
            pressure=self.pressure,
            pressure_unit=self.pressure_unit,
            damp=self.damp,
            damp_is=self.damp_is,
        )
        air_density(read_weather(wanted))
        if work.rows.weather is None:
            work.changes.insert(wanted)
        else:
            work.changes.update(wanted)


class ForgetWeather(EditModel):
    """Say nothing about the weather; the air is as it usually is."""

    kind: Literal["forget_weather"] = "forget_weather"

    @property
    def label(self) -> str:
        """In the history."""
        return "no weather"

    def apply(self, work: Work) -> None:
        """Remove it."""
        if work.rows.weather is not None:
            work.changes.delete(work.rows.weather)
