"""The site with its demo, and a browser window at it."""

import shutil
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Page, sync_playwright

from footing.demo.seed import seed_demo
from footing.serving import open_database, running
from footing.settings import Settings
from footing.store.database import connected
from footing.web.app import create_app

_CHROMIUM = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"]


@contextmanager
def demo_site(settings: Settings) -> Iterator[str]:
    """The address of a site with the demo, while it runs."""
    with open_database(settings):
        with connected():
            seed_demo(settings)
        with running(create_app(settings)) as address:
            yield address


@contextmanager
def window(address: str) -> Iterator[Page]:
    """A window at 1280 × 800 in which the demo's teacher is signed in."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=shutil.which("chromium"), args=_CHROMIUM
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.click("button[value=teacher]")
        yield page
        browser.close()
