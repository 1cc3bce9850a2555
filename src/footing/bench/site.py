"""The site with its demo, and a browser window at it."""

import os
import shutil
import socket
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime

from playwright.sync_api import Page, sync_playwright

from footing.databases import open_database
from footing.settings import Settings
from footing.store.accounts import first_of_class
from footing.store.classes import any_class
from footing.store.database import connected
from footing.store.records import add
from footing.store.rows import Study
from footing.studies.school import people
from footing.studies.school.lists import classes_of
from footing.studies.school.people import Person

_CHROMIUM = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"]


@contextmanager
def demo_site(settings: Settings) -> Iterator[str]:
    """The address of a site with the demo, in a process of its own, while it runs."""
    with socket.create_server(("127.0.0.1", 0)) as free:
        port = free.getsockname()[1]
    with open_database(settings) as url:
        own = {"FOOTING_DATABASE_URL": url, "FOOTING_DATA": str(settings.data)}
        command = [sys.executable, "-m", "footing", "demo", "--port", str(port)]
        with subprocess.Popen(
            command, env=os.environ | own, stdout=subprocess.PIPE, text=True
        ) as site:
            try:
                assert site.stdout is not None
                site.stdout.readline()  # that it is ready
                yield f"http://127.0.0.1:{port}"
            finally:
                site.terminate()


def demo_teacher() -> Person:
    """The teacher of the demo."""
    first = first_of_class()
    assert first is not None
    return people.teacher(first)


def demo_class() -> int:
    """The key of the demo's class."""
    of = any_class()
    assert of is not None
    return of.id


def new_study(title: str) -> int:
    """An empty study of the demo's class; gives its key."""
    return add(Study(school_class_id=demo_class(), title=title, made_at=datetime.now(UTC))).id


def sled_study() -> int:
    """The key of a study of the sled run with its marks."""
    with connected():
        listed = (part.studies for part in classes_of(demo_teacher())[0].labs)
        titled = {line.title: line.id for studies in listed for line in studies}
        return titled["Sled run"]


@contextmanager
def window(address: str) -> Iterator[Page]:
    """A window at 1280 × 800 in which the demo's teacher is signed in."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=shutil.which("chromium-headless-shell"), args=_CHROMIUM
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.click("button[value^=teacher]")
        yield page
        browser.close()
