"""What comes in from outside: every text cleaned, every number one that can be kept.

All models of requests and edits are `Received`, so that nothing has to be thought of twice.
"""

from math import isfinite

from pydantic import BaseModel, ConfigDict, model_validator

from footing.core.texts import cleaned

_LARGEST_WHOLE = 2**31 - 1  # PostgreSQL's integer
_LARGEST = 1e30


class Received(BaseModel):
    """Base of what is received: unknown fields are refused, texts cleaned, numbers limited."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    @model_validator(mode="before")
    @classmethod
    def _clean(cls, data: object) -> object:
        return data if isinstance(data, cls) else checked(data)


def checked(value: object) -> object:
    """What JSON can hold, with every text cleaned.

    Raises
    ------
    ValueError : for a number that cannot be kept.
    """
    if isinstance(value, str):
        return cleaned(value)
    if isinstance(value, dict):
        return {checked(key): checked(each) for key, each in value.items()}
    if isinstance(value, list):
        return [checked(each) for each in value]
    if isinstance(value, bool):
        return value
    if isinstance(value, int) and abs(value) > _LARGEST_WHOLE:
        raise ValueError(f"{value:.3g} is too large; numbers go up to {_LARGEST_WHOLE}")
    if isinstance(value, float) and not (isfinite(value) and abs(value) <= _LARGEST):
        raise ValueError(f"{value:g} is no number that can be kept")
    return value
