"""The real interface in headless Chromium, on a real server."""

import socket
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from fastapi import FastAPI
from playwright.sync_api import (
    Browser,
    BrowserContext,
    Page,
    Playwright,
    ViewportSize,
    expect,
    sync_playwright,
)

from footing.answering import running
from footing.settings import Settings
from footing.studies.school.people import Person, sign_in
from footing.web.security import COOKIE
from tests.browser.hands import Hands, truth_of
from tests.conftest import World
from tests.moments import Once
from tests.studies.steps import Tab

# a machine may be busy; nothing here is about speed
_PATIENCE = 60_000  # ms
expect.set_options(timeout=_PATIENCE)

_CHROMIUM = "/usr/bin/chromium-headless-shell"
SIZE: ViewportSize = {"width": 1280, "height": 800}
_ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"]


@pytest.fixture(scope="session")
def playwright() -> Iterator[Playwright]:
    with sync_playwright() as running:
        yield running


@contextmanager
def launched(playwright: Playwright, *more: str) -> Iterator[Browser]:
    """A browser of its own, started with further arguments."""
    browser = playwright.chromium.launch(
        executable_path=_CHROMIUM,
        args=[*_ARGUMENTS, *more],
        ignore_default_args=["--hide-scrollbars"],  # school laptops show them, and they take room
    )
    yield browser
    browser.close()


def patient(context: BrowserContext) -> BrowserContext:
    """A window that waits as long as everything else here."""
    context.set_default_timeout(_PATIENCE)
    return context


@pytest.fixture(scope="session")
def chromium(playwright: Playwright) -> Iterator[Browser]:
    with launched(playwright) as browser:
        yield browser


@pytest.fixture(scope="session")
def port() -> int:
    """A port that stays the same, so that browsers know the scripts from the test before."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return int(free.getsockname()[1])


@pytest.fixture
def address(world: World, application: FastAPI, port: int) -> Iterator[str]:
    """A running server on loopback."""
    with running(application, port=port) as address:
        yield address


@pytest.fixture(scope="session")
def browsers(chromium: Browser) -> list[BrowserContext]:
    """Windows that share nothing, one for each person of a test; they keep scripts and styles."""
    return []


@pytest.fixture
def open_tab(
    chromium: Browser, browsers: list[BrowserContext], address: str
) -> Iterator[Callable[[Person], Hands]]:
    """Opens a browser window of its own for a person; an error of a script fails the test."""
    errors: list[str] = []
    used: list[BrowserContext] = []

    def open_for(person: Person) -> Hands:
        if len(used) == len(browsers):
            browsers.append(patient(chromium.new_context(viewport=SIZE)))
        context = browsers[len(used)]
        used.append(context)
        context.add_cookies([{"name": COOKIE, "value": sign_in(person, days=1), "url": address}])
        page: Page = context.new_page()
        forget = {"origin": address, "storageTypes": "local_storage"}
        context.new_cdp_session(page).send("Storage.clearDataForOrigin", forget)
        page.on("pageerror", lambda error: errors.append(str(error)))
        return Hands(page, address)

    yield open_for
    for context in used:
        for page in context.pages:
            page.close()
        context.clear_cookies()
        context.clear_permissions()
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


@pytest.fixture
def sled(world: World, clips: Path, settings: Settings, once: Once) -> Tab:
    """Group Heron's sled run with a ground, marks, a passage, a fit and a finding."""
    tab = Tab(world.study, world.heron)
    once("sled run", tab, lambda: _sled_run(tab, clips, settings))
    return tab


def _sled_run(tab: Tab, clips: Path, settings: Settings) -> None:
    truth = truth_of(clips, "sled-run")
    footage = tab.uploads(clips / "sled-run.mp4", settings)
    (start_x, start_y), (end_x, end_y) = truth["pole"]["start"], truth["pole"]["end"]
    ends = {"start_x": start_x, "start_y": start_y, "end_x": end_x, "end_y": end_y}
    length = tab.makes("add_known_length", footage=footage, frame=0, **ends)
    tab.does("type_known_length", known_length=length, length="2.00", unit="m")
    tab.does("set_zero", footage=footage, x=start_x, y=start_y)
    body = tab.makes("add_body", footage=footage, name="sled")
    marks = [[frame, *truth["positions"][frame]] for frame in range(15, 80, 4)]
    tab.does("place_marks", body=body, marks=marks)
    passage = tab.makes("add_passage", footage=footage, name="slide", first=15, last=79)
    tab.does("set_graph", footage=footage, x="t", ys=["x"])
    fit = tab.makes("add_fit", body=body, x="t", y="x", curve="quadratic", passages=[passage])
    tab.does("add_finding", fit=fit, reading="acceleration", name="a")


@pytest.fixture
def bench(open_tab: Callable[[Person], Hands], world: World, sled: Tab) -> Hands:
    """The sled run at Graph."""
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{sled.study_id}/graph")
    expect(hands.page.locator("#plot canvas")).to_be_visible()
    return hands
