"""Answers in JSON that can always be read."""

import json
import logging
from math import isfinite
from typing import Any

from fastapi.responses import JSONResponse

log = logging.getLogger("footing.requests")


class StateResponse(JSONResponse):
    """A state as JSON. A number that is none becomes null, so that one part does not take all."""

    def render(self, content: Any) -> bytes:
        """The bytes of the answer."""
        try:
            return super().render(content)
        except ValueError:
            log.warning("a state held numbers that are none")
            return json.dumps(finite(content), ensure_ascii=False, separators=(",", ":")).encode()


def finite(value: Any) -> Any:
    """The same with null for what is no number."""
    if isinstance(value, float):
        return value if isfinite(value) else None
    if isinstance(value, dict):
        return {key: finite(each) for key, each in value.items()}
    if isinstance(value, list | tuple):
        return [finite(each) for each in value]
    return value
