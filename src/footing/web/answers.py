"""Answers in JSON that can always be read."""

from typing import Any

import orjson
from fastapi.responses import JSONResponse

_OPTIONS = orjson.OPT_SERIALIZE_NUMPY | orjson.OPT_NON_STR_KEYS  # frames are keys, too


class StateResponse(JSONResponse):
    """A state as JSON. A number that is none becomes null, so that one part does not take all."""

    def render(self, content: Any) -> bytes:
        """The bytes of the answer."""
        return orjson.dumps(content, option=_OPTIONS)
