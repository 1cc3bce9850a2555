"""What the numbers of a fit are, in words."""

from footing.core.meaning import Intercept
from footing.core.reading import Derivative, Meaning, Moment, Reading, Variable

_MANY = 100  # uncertainties, beyond which their number says nothing more
_ALONG = ("position", "velocity", "acceleration", "rate of change of acceleration")
_TURNING = ("angle", "angular velocity", "angular acceleration")
_AT = {Moment.ALWAYS: "", Moment.AT_ZERO: " at t = 0", Moment.AT_START: " at start"}
_MEANINGS = {
    Meaning.MEAN: "mean {y}",
    Meaning.SLOPE: "change of {y} with {x}",
    Meaning.INTERCEPT: "{y} where {x} is 0",
    Meaning.TURNING_X: "{x} at the vertex",
    Meaning.TURNING_Y: "{y} at the vertex",
    Meaning.PERIOD: "period",
    Meaning.WAVELENGTH: "wavelength",
    Meaning.ANGULAR_FREQUENCY: "angular frequency",
    Meaning.ANGULAR_WAVE_NUMBER: "angular wave number",
    Meaning.AMPLITUDE: "amplitude",
    Meaning.REST: "middle of the swing",
    Meaning.DECAY: "decay to 1/e",
    Meaning.DOUBLING: "doubling",
    Meaning.HALF_LIFE: "half-life",
    Meaning.HALVING: "halving",
    Meaning.CONSTANT: "{x} to change by the factor e",
    Meaning.LEVEL: "level",
    Meaning.CENTRE: "centre",
    Meaning.WIDTH: "width (standard deviation)",
}


def label_of(reading: Reading, x: Variable, y: Variable) -> str:
    """What a reading of points of y against x is; empty for a bare parameter."""
    meaning = reading.meaning
    if meaning is None:
        return ""
    if isinstance(meaning, Derivative):
        names = _TURNING if meaning.turning else _ALONG
        return names[meaning.order] + _AT[meaning.moment]
    return _MEANINGS[meaning].format(x=x.name, y=y.name)


def intercept_sentence(intercept: Intercept) -> str:
    """Whether an intercept may be zero, and what to ask oneself."""
    if intercept.may_be_zero:
        return "The intercept is zero within its uncertainty."
    apart = f"{intercept.apart:.1f}" if intercept.apart < _MANY else f"more than {_MANY}"
    return (
        f"The intercept is {apart} uncertainties away from zero. Does a value "
        "other than zero make sense there?"
    )
