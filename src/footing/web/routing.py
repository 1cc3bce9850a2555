"""Routes that hold a database connection while they run."""

import inspect
from collections.abc import Callable
from functools import wraps
from typing import Any

from fastapi.routing import APIRoute

from footing.store.database import connected


class DatabaseRoute(APIRoute):
    """A route whose handler, if it is a plain function, runs with a connection of its thread."""

    def __init__(self, path: str, endpoint: Callable[..., Any], **options: Any) -> None:
        super().__init__(path, _holding_connection(endpoint), **options)


def _holding_connection(endpoint: Callable[..., Any]) -> Callable[..., Any]:
    if inspect.iscoroutinefunction(endpoint):
        return endpoint

    @wraps(endpoint)
    def handler(*args: Any, **kwargs: Any) -> Any:
        with connected():
            return endpoint(*args, **kwargs)

    return handler
