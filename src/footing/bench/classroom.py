"""What a whole class does to one server, and what the heaviest single requests do to a class."""

import asyncio
import os
import random
import statistics
import time
from collections import Counter
from collections.abc import AsyncIterator, Awaitable, Callable
from contextlib import AsyncExitStack
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from uuid import uuid4

import httpx2 as httpx

from footing.bench.files import CLIP
from footing.bench.measuring import line, seconds
from footing.bench.site import demo_class, demo_site, demo_teacher
from footing.jobs.queue import is_at_rest
from footing.settings import Settings
from footing.store.database import connected
from footing.store.records import add
from footing.store.rows import Group, Lab, Study
from footing.studies.films import uploads
from footing.studies.school import labs, people
from footing.studies.school.labs import AskedFinding
from footing.studies.views.shown import AT_FIRST
from footing.web.security import COOKIE

_CLASSES = (10, 30, 60)  # groups at once
_RHYTHM = 2.0  # seconds from mark to mark of a group
_FRAMES = 4  # that a page asks for with each mark
_LESSON = 40.0  # seconds
_TIMEOUT = 60.0
_LOOK_AGAIN = 0.5  # seconds
_IDLE = 40  # requests alone
_ROWS = 20_000
_STEP = "graph"  # whose cards are open
_SCREENS = 10  # boards and overviews that are open
_MADE_ANEW = (1.5, 3.0)  # seconds from a notice until such a screen fetches itself anew
_ARRIVAL = 250  # ms from sending an edit until another page of the study shows it
_GOALS = {
    10: (100, 50, 0.6),
    30: (100, 50, 1.2),
    60: (250, 250, 2.0),
}  # ms for edits and frames, 95 %, and cores


@dataclass
class Laps:
    """What became of requests: seconds of those that were answered well, and all codes."""

    edits: list[float] = field(default_factory=list)
    frames: list[float] = field(default_factory=list)
    states: list[float] = field(default_factory=list)
    arrivals: list[float] = field(default_factory=list)
    screens: list[float] = field(default_factory=list)
    codes: Counter[str] = field(default_factory=Counter)


@dataclass(frozen=True)
class Desk:
    """The study of one group, with what it marks."""

    study: int
    content: str
    body: int
    sent: list[float] = field(default_factory=list)  # when its latest edit was sent


def measure(settings: Settings, _folder: Path) -> None:
    """A class that marks, and light requests beside heavy ones."""
    with demo_site(settings) as address:
        with connected():
            token = people.sign_in(demo_teacher(), days=1)
        asyncio.run(_measured(address, token, settings))


async def _measured(address: str, token: str, settings: Settings) -> None:
    def browser() -> httpx.AsyncClient:
        limits = httpx.Limits(max_connections=8)
        cookies = {COOKIE: token}
        return httpx.AsyncClient(base_url=address, cookies=cookies, timeout=_TIMEOUT, limits=limits)

    async with browser() as client:
        await _nothing_else()
        line("this machine: ten million additions", _additions(), "s", 0.6)
        for groups in _CLASSES:
            with connected():
                lab = labs.new_lab(demo_class(), f"{groups} at once")
                labs.ask_for(lab, AskedFinding(name="a", unit="m/s^2", accepted="1.5"))
            desks = [await desk(client, settings, lab, n) for n in range(groups)]
            await _class(desks, lab, browser)
        await _beside_heavy(client, desks[0])


async def _class(desks: list[Desk], lab: Lab, browser: Callable[[], httpx.AsyncClient]) -> None:
    """A lesson in which each group has a page that marks and one that looks on.

    Boards and overviews of the lab are open besides.
    """
    laps, groups = Laps(), len(desks)
    async with AsyncExitStack() as stack:

        async def pages() -> list[Page]:
            enter = stack.enter_async_context
            return [Page(await enter(browser()), desk, laps) for desk in desks]

        markers, onlookers = await pages(), await pages()
        for page in (*markers, *onlookers):
            await page.open()
        looking = [asyncio.create_task(_look_on(page)) for page in onlookers]
        looking += [asyncio.create_task(_listen(page.client, page.desk)) for page in markers]
        for place in range(_SCREENS):
            client = await stack.enter_async_context(browser())
            what = "overview" if place % 2 else "board?of=a"
            screen = _screen(client, laps, lab.school_class_id, f"/labs/{lab.id}/{what}")
            looking.append(asyncio.create_task(screen))
        busy, began = _busy_seconds(), time.monotonic()
        ends = began + _LESSON
        await asyncio.gather(
            *(
                _mark(page, ends, delay=_RHYTHM * place / groups)
                for place, page in enumerate(markers)
            )
        )
        cores = (_busy_seconds() - busy) / (time.monotonic() - began)
        for one in looking:
            one.cancel()
        await asyncio.gather(*looking, return_exceptions=True)
    of_edits, of_frames, of_cores = _GOALS[groups]
    name = f"{groups} groups, a mark each {_RHYTHM:g} s"
    line(
        f"{name}: edits and their cards, median",
        1000 * statistics.median(laps.edits),
        "ms",
        of_edits,
    )
    line(f"{name}: edits and their cards, 95 %", 1000 * _late(laps.edits), "ms", of_edits)
    line(f"{name}: frames, 95 %", 1000 * _late(laps.frames), "ms", of_frames)
    line(f"{name}: from edit to the other page, 95 %", 1000 * _late(laps.arrivals), "ms", _ARRIVAL)
    line(f"{name}: boards and overviews, 95 %", 1000 * _late(laps.screens), "ms", 1000)
    line(f"{name}: what others fetch, 95 %", 1000 * _late(laps.states), "ms", 2 * of_edits)
    wanted = groups * _LESSON / _RHYTHM
    line(f"{name}: marks of those wanted", len(laps.edits) / wanted, "", 0.95, at_least=True)
    wrong = {code: count for code, count in laps.codes.items() if code != "200"}
    said = ", ".join(f"{count} × {code}" for code, count in wrong.items())
    line(f"{name}: refused or failed {said}".strip(), float(sum(wrong.values())), "", 0)
    line(f"{name}: cores, database and load included", cores, "", of_cores)


async def _nothing_else() -> None:
    """Wait until what the demo brought in is looked through: that is no part of a lesson."""
    with connected():
        while not is_at_rest():
            await asyncio.sleep(_LOOK_AGAIN)


def _additions() -> float:
    """Seconds for ten million additions, by which figures of machines can be compared."""
    return seconds(lambda: sum(number + 1 for number in range(10_000_000)))


def _busy_seconds() -> float:
    """Seconds of work of all cores of this machine since it started."""
    user, nice, system, *_ = Path("/proc/stat").read_text().split("\n", 1)[0].split()[1:]
    return (int(user) + int(nice) + int(system)) / os.sysconf("SC_CLK_TCK")


def _late(laps: list[float]) -> float:
    return statistics.quantiles(laps, n=20)[-1]


async def _edit(
    client: httpx.AsyncClient, study: int, page: dict[str, str], edit: dict[str, object]
) -> httpx.Response:
    """Make an edit, by a page that has this."""
    request = {"edit": edit, "based_on": 10**6, "token": uuid4().hex}
    return await client.post(f"/api/studies/{study}/edits", json=request, params=page)


async def desk(client: httpx.AsyncClient, settings: Settings, lab: Lab, place: int) -> Desk:
    """A study of a group of its own, with all that is there before the first mark."""
    with connected():
        content = uploads.take_in(CLIP, settings)
        of = lab.school_class_id
        group = add(Group(name=f"Group {place} of {lab.title}", school_class_id=of))
        row = Study(
            school_class_id=of,
            title="One of many",
            lab_id=lab.id,
            group_id=group.id,
            made_at=datetime.now(UTC),
        )
        study = add(row).id

    async def made(**edit: object) -> int:
        response = await _edit(client, study, {}, edit)
        response.raise_for_status()
        return int(response.json()["made"].split(":")[1])

    footage = await made(kind="add_footage", content=content, name="sled.mp4")
    ends = {"start_x": 100, "start_y": 500, "end_x": 100, "end_y": 200}
    known = await made(kind="add_known_length", footage=footage, frame=0, **ends)
    typed: dict[str, object] = {"known_length": known, "length": "2.00", "unit": "m"}
    await _edit(client, study, {}, {"kind": "type_known_length"} | typed)
    body = await made(kind="add_body", footage=footage, name="sled")
    fit = await made(kind="add_fit", body=body, x="t", y="x", curve="quadratic", passages=[])
    await made(kind="add_finding", fit=fit, reading="acceleration", name="a")
    return Desk(study, content, body)


class Page:
    """What a page has of a study: it says so, and is told only what is new."""

    def __init__(self, client: httpx.AsyncClient, desk: Desk, laps: Laps) -> None:
        self.client = client
        self.desk = desk
        self.laps = laps
        self._has = {"step": _STEP, "shown": " ".join(AT_FIRST.names or ())}

    async def open(self) -> None:
        """Fetch the state and the cards, as a page does before anybody can mark on it."""
        self._take(await self._news())

    async def mark(self, frame: int) -> None:
        """Place a mark; the answer brings what follows from it, and the cards."""
        mark: dict[str, object] = {"kind": "place_mark", "body": self.desk.body, "frame": frame}
        mark |= {"x": 100.0 + 3 * frame, "y": 300.0}
        self.desk.sent[:] = [time.monotonic()]
        edit = _edit(self.client, self.desk.study, self._has, mark)
        self._take(await _timed(self.laps, self.laps.edits, edit))

    async def catch_up(self) -> None:
        """Fetch what somebody else has changed."""
        self._take(await _timed(self.laps, self.laps.states, self._news()))

    def _news(self) -> Awaitable[httpx.Response]:
        return self.client.get(f"/api/studies/{self.desk.study}/news", params=self._has)

    def _take(self, answer: httpx.Response | None) -> None:
        if answer is None or answer.status_code != httpx.codes.OK:
            return
        told = answer.json()
        view, changes = told.get("view"), told.get("changes")
        version = view["version"] if view else changes["fields"]["version"]["to"]
        self._has |= {"since": version, "cards": told["cards"]["version"]}


async def _mark(page: Page, ends: float, *, delay: float) -> None:
    """A page on which somebody marks: edits, and the frames ahead."""
    await asyncio.sleep(delay)
    frame, desk, laps = 0, page.desk, page.laps
    path = f"/api/studies/{desk.study}/footage/{desk.content}/frames"
    while time.monotonic() < ends:
        started = time.monotonic()
        await page.mark(frame)
        ahead = (page.client.get(f"{path}/{(frame + n) % 90}/screen.jpg") for n in range(_FRAMES))
        await asyncio.gather(*(_timed(laps, laps.frames, one) for one in ahead))
        frame = (frame + 1) % 90
        await asyncio.sleep(max(0.0, _RHYTHM - (time.monotonic() - started)))


async def _look_on(page: Page) -> None:
    """A page that shows what others do: it fetches what is new after each notice."""
    async for notice in _notices(page.client, page.desk):
        if "seq" in notice:
            await page.catch_up()
            page.laps.arrivals += [time.monotonic() - sent for sent in page.desk.sent]


async def _screen(client: httpx.AsyncClient, laps: Laps, class_id: int, path: str) -> None:
    """A board or an overview, which makes itself anew a while after something happened."""
    async with client.stream("GET", f"/api/classes/{class_id}/events?studies=true") as stream:
        due: float | None = None
        async for text in stream.aiter_lines():
            now = time.monotonic()
            if text.startswith("data: ") and '"studies"' in text and due is None:
                due = now + random.uniform(*_MADE_ANEW)
            if due is not None and now >= due:
                due = None
                await _timed(laps, laps.screens, client.get(path))


async def _listen(client: httpx.AsyncClient, desk: Desk) -> None:
    """A page that hears of its own edits and need not fetch anything."""
    async for _ in _notices(client, desk):
        pass


async def _notices(client: httpx.AsyncClient, desk: Desk) -> AsyncIterator[str]:
    async with client.stream("GET", f"/api/studies/{desk.study}/events") as stream:
        async for text in stream.aiter_lines():
            if text.startswith("data: ") and '"study"' in text:
                yield text


async def _timed(
    laps: Laps, into: list[float], request: Awaitable[httpx.Response]
) -> httpx.Response | None:
    started = time.monotonic()
    try:
        response = await request
    except httpx.HTTPError as error:
        laps.codes[type(error).__name__] += 1
        return None
    laps.codes[str(response.status_code)] += 1
    if response.status_code == 200:
        into.append(time.monotonic() - started)
    return response


async def _beside_heavy(client: httpx.AsyncClient, desk: Desk) -> None:
    """A state that is asked for again and again, alone and beside three heavy requests."""
    rows = "\n".join(f"{n},{n * 0.5},{n * n % 97}" for n in range(_ROWS))
    path = f"/api/studies/{desk.study}"
    sent = await client.post(f"{path}/tables", params={"name": "long"}, content=f"a,b,c\n{rows}")
    sheet = f"s{sent.json()['view']['sheet']['id']}"
    alone = [await _lap(client, f"{path}?source={sheet}") for _ in range(_IDLE)]
    heavy = [
        f"{path}/graphs/0.png?source={sheet}&scale=4",
        f"{path}/tables/{sheet}.ods",
        f"{path}/tables/{sheet}.csv",
    ]
    asked = [asyncio.create_task(_lap(client, one)) for one in heavy * 2]
    beside = []
    while not all(one.done() for one in asked):
        beside.append(await _lap(client, f"{path}?source={sheet}"))
    line(
        "a light request beside six heavy ones ÷ alone, median",
        statistics.median(beside) / statistics.median(alone),
        "",
        5,
    )
    line("the slowest light request beside them", 1000 * max(beside), "ms", 1000)
    line("the slowest of the heavy ones", max([await one for one in asked]), "s", 10)


async def _lap(client: httpx.AsyncClient, path: str) -> float:
    started = time.monotonic()
    (await client.get(path)).raise_for_status()
    return time.monotonic() - started
