"""Under more work than can be done at once, whoever comes first is served first."""

import asyncio

import pytest
from anyio.to_thread import current_default_thread_limiter
from fastapi import FastAPI

from footing.store import database


@pytest.mark.parametrize("connections", [8, 32])
def test_no_more_requests_run_at_once_than_have_a_connection(
    application: FastAPI, connections: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(database, "_bound", [(database.bound_url(), connections)])

    async def at_once() -> float:
        async with application.router.lifespan_context(application):
            return current_default_thread_limiter().total_tokens

    assert 0 < asyncio.run(at_once()) < connections
