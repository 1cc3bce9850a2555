from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx2 as httpx
import pytest
from fastapi import FastAPI
from starlette.testclient import TestClient

from footing.settings import Settings
from footing.studies.school.people import Person, sign_in
from footing.web.security import COOKIE
from tests.conftest import World
from tests.studies.conftest import footage, measured, other_films, tab  # noqa: F401
from tests.studies.steps import Tab


class Browserless:
    """The application, asked by people without a browser."""

    def __init__(self, client: TestClient) -> None:
        self.client = client

    def asks(self, person: Person | None, method: str, path: str, **options: Any) -> httpx.Response:
        cookies = {COOKIE: sign_in(person, days=1)} if person else {}
        self.client.cookies.clear()
        self.client.cookies.update(cookies)
        return self.client.request(method, path, follow_redirects=False, **options)


@pytest.fixture
def site(world: World, application: FastAPI) -> Iterator[Browserless]:
    with TestClient(application) as client:
        yield Browserless(client)


@pytest.fixture
def filmed(world: World, plain_film: Path, settings: Settings) -> Tab:
    """Group Heron's study with footage."""
    group = Tab(world.study, world.heron)
    group.uploads(plain_film, settings)
    return group
