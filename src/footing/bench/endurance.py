"""Whether a server that is edited for days grows: memory of its processes over many edits."""

import asyncio
from collections.abc import Iterator
from contextlib import AsyncExitStack, suppress
from pathlib import Path

import httpx2 as httpx

from footing.bench.classroom import Laps, Page, desk
from footing.bench.measuring import line
from footing.bench.site import demo_class, demo_site, demo_teacher
from footing.settings import Settings
from footing.store.database import connected
from footing.store.rows import Lab
from footing.studies.school import labs, people
from footing.web.security import COOKIE

_EDITS = 20_000
_WARM = 4_000  # edits after which everything that is kept is full
_FRAMES = 90  # that are marked again and again
_DESKS = 8  # studies that are edited in turn, each by a connection of its own
_GROWS = 5.0  # percent, from then to the end
_ROLES = ("footing web", "footing worker")


def measure(settings: Settings, _folder: Path) -> None:
    """Make many edits, and weigh the processes that answered them."""
    with demo_site(settings) as address:
        with connected():
            token = people.sign_in(demo_teacher(), days=1)
            lab = labs.new_lab(demo_class(), "All day")
        asyncio.run(_edited(address, token, settings, lab))


async def _edited(address: str, token: str, settings: Settings, lab: Lab) -> None:
    laps, pages = Laps(), []
    async with AsyncExitStack() as stack:
        for place in range(_DESKS):
            client = httpx.AsyncClient(base_url=address, cookies={COOKIE: token}, timeout=60)
            await stack.enter_async_context(client)
            page = Page(client, await desk(client, settings, lab, place), laps)
            await page.open()
            pages.append(page)
        warm: dict[str, float] = {}
        for number in range(_EDITS):
            if number == _WARM:
                warm = dict(_weighed(settings.data))
            await pages[number % _DESKS].mark(number // _DESKS % _FRAMES)
    now = dict(_weighed(settings.data))
    for process, before in warm.items():
        grown = 100 * (now[process] / before - 1) if process in now else float("nan")
        line(
            f"{process}: {before:.0f} MB after {_WARM} edits, more after {_EDITS}",
            grown,
            "%",
            _GROWS,
        )
    failed = sum(count for code, count in laps.codes.items() if code != "200")
    line("edits that failed", float(failed), "", 0)


def _weighed(data: Path) -> Iterator[tuple[str, float]]:
    """The processes of the server whose data these are, and their memory, unshared, in MB."""
    own = f"FOOTING_DATA={data}".encode()
    for process in Path("/proc").glob("[0-9]*"):
        with suppress(OSError):  # it has ended
            if own not in (process / "environ").read_bytes().split(b"\0"):
                continue
            name = (process / "comm").read_text().strip()
            rows = [row.split() for row in (process / "smaps_rollup").read_text().splitlines()]
            if name.startswith(_ROLES):
                private = sum(int(row[1]) for row in rows if row[0].startswith("Private_"))
                yield f"{name} ({process.name})", private / 1024
