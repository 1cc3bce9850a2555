"""The real interface in headless Chromium, on a real server."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, Playwright, expect, sync_playwright

from footing.serving import running
from footing.settings import Settings
from footing.studies.people import Person, sign_in
from footing.web.app import create_app
from footing.web.security import COOKIE
from tests.browser.hands import Hands
from tests.conftest import World

expect.set_options(timeout=20_000)  # a machine may be busy; nothing here is about speed

_CHROMIUM = "/usr/bin/chromium"
_ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"]


@pytest.fixture(scope="session")
def playwright() -> Iterator[Playwright]:
    with sync_playwright() as running:
        yield running


@contextmanager
def launched(playwright: Playwright, *more: str) -> Iterator[Browser]:
    """A browser of its own, started with further arguments."""
    browser = playwright.chromium.launch(executable_path=_CHROMIUM, args=[*_ARGUMENTS, *more])
    yield browser
    browser.close()


@pytest.fixture(scope="session")
def chromium(playwright: Playwright) -> Iterator[Browser]:
    with launched(playwright) as browser:
        yield browser


@pytest.fixture
def address(world: World, settings: Settings) -> Iterator[str]:
    """A running server on a free port of loopback."""
    with running(create_app(settings)) as address:
        yield address


@pytest.fixture
def open_tab(chromium: Browser, address: str) -> Iterator[Callable[[Person], Hands]]:
    """Opens a browser window of its own for a person; an error of a script fails the test."""
    errors: list[str] = []
    contexts = []

    def open_for(person: Person) -> Hands:
        context = chromium.new_context(viewport={"width": 1280, "height": 800})
        contexts.append(context)
        context.add_cookies([{"name": COOKIE, "value": sign_in(person, days=1), "url": address}])
        page: Page = context.new_page()
        page.on("pageerror", lambda error: errors.append(str(error)))
        return Hands(page, address)

    yield open_for
    for context in contexts:
        context.close()
    assert errors == []


@pytest.fixture(scope="session")
def clips() -> Path:
    """The clips of the demo with their truth."""
    return Path(__file__).parents[2] / "src/footing/demo/clips"


@pytest.fixture
def sources(open_tab: Callable[[Person], Hands], world: World) -> Hands:
    """The Sources step of an empty study."""
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/sources")
    return hands
