"""What a whole class does to one server, and what the heaviest single requests do to a class."""

import asyncio
import statistics
import time
from collections import Counter
from collections.abc import Awaitable
from dataclasses import dataclass, field
from pathlib import Path
from uuid import uuid4

import httpx2 as httpx

from footing.bench.files import CLIP
from footing.bench.measuring import line
from footing.bench.site import demo_site, demo_teacher, new_study
from footing.settings import Settings
from footing.store.database import connected
from footing.studies import people, uploads
from footing.web.security import COOKIE

_GROUPS = 30
_RHYTHM = 2.0  # seconds from mark to mark of a group
_FRAMES = 4  # that a page asks for with each mark
_LESSON = 40.0  # seconds
_TIMEOUT = 60.0
_IDLE = 40  # requests alone
_ROWS = 20_000


@dataclass
class Laps:
    """What became of requests: seconds of those that were answered well, and all codes."""

    edits: list[float] = field(default_factory=list)
    frames: list[float] = field(default_factory=list)
    codes: Counter[str] = field(default_factory=Counter)


@dataclass(frozen=True)
class _Desk:
    """The study of one group, with what it marks."""

    study: int
    content: str
    body: int


def measure(settings: Settings, _folder: Path) -> None:
    """A class that marks, and light requests beside heavy ones."""
    with demo_site(settings) as address:
        with connected():
            token = people.sign_in(demo_teacher(), days=1)
        client = httpx.AsyncClient(base_url=address, cookies={COOKIE: token}, timeout=_TIMEOUT)
        asyncio.run(_measured(client, settings))


async def _measured(client: httpx.AsyncClient, settings: Settings) -> None:
    async with client:
        desks = [await _desk(client, settings) for _ in range(_GROUPS)]
        laps = Laps()
        ends = time.monotonic() + _LESSON
        await asyncio.gather(*(_group(client, desk, laps, ends) for desk in desks))
        wanted = _GROUPS * _LESSON / _RHYTHM
        name = f"{_GROUPS} groups, a mark each {_RHYTHM:g} s"
        line(f"{name}: answered median", 1000 * statistics.median(laps.edits), "ms", 200)
        line(f"{name}: answered 95 %", 1000 * _late(laps.edits), "ms", 500)
        line(f"{name}: frames, 95 %", 1000 * _late(laps.frames), "ms", 500)
        line(f"{name}: marks of those wanted", len(laps.edits) / wanted, "", 0.95, at_least=True)
        line(f"{name}: refused or failed", float(laps.codes.total() - laps.codes["200"]), "", 0)
        await _beside_heavy(client, desks[0])


def _late(laps: list[float]) -> float:
    return statistics.quantiles(laps, n=20)[-1]


async def _edit(client: httpx.AsyncClient, study: int, **edit: object) -> httpx.Response:
    request = {"edit": edit, "based_on": 10**6, "token": uuid4().hex}
    return await client.post(f"/api/studies/{study}/edits", json=request)


async def _desk(client: httpx.AsyncClient, settings: Settings) -> _Desk:
    with connected():
        content = uploads.take_in(CLIP, settings)
        study = new_study("One of thirty")

    async def made(**edit: object) -> int:
        response = await _edit(client, study, **edit)
        response.raise_for_status()
        return int(response.json()["made"].split(":")[1])

    footage = await made(kind="add_footage", content=content, name="sled.mp4")
    ends = {"start_x": 100, "start_y": 500, "end_x": 100, "end_y": 200}
    known = await made(kind="add_known_length", footage=footage, frame=0, **ends)
    await _edit(
        client, study, kind="type_known_length", known_length=known, length="2.00", unit="m"
    )
    body = await made(kind="add_body", footage=footage, name="sled")
    await made(kind="add_fit", body=body, x="t", y="x", curve="quadratic", passages=[])
    return _Desk(study, content, body)


async def _group(client: httpx.AsyncClient, desk: _Desk, laps: Laps, ends: float) -> None:
    await asyncio.sleep(_RHYTHM * (desk.study % _GROUPS) / _GROUPS)
    frame = 0
    while time.monotonic() < ends:
        started = time.monotonic()
        mark = {"kind": "place_mark", "body": desk.body, "frame": frame}
        await _timed(
            laps, laps.edits, _edit(client, desk.study, **mark, x=100.0 + 3 * frame, y=300.0)
        )
        path = f"/api/studies/{desk.study}/footage/{desk.content}/frames"
        ahead = range(frame, frame + _FRAMES)
        await asyncio.gather(
            *(
                _timed(laps, laps.frames, client.get(f"{path}/{one % 90}/screen.jpg"))
                for one in ahead
            )
        )
        frame = (frame + 1) % 90
        await asyncio.sleep(max(0.0, _RHYTHM - (time.monotonic() - started)))


async def _timed(laps: Laps, into: list[float], request: Awaitable[httpx.Response]) -> None:
    started = time.monotonic()
    try:
        response = await request
    except httpx.HTTPError as error:
        laps.codes[type(error).__name__] += 1
        return
    laps.codes[str(response.status_code)] += 1
    if response.status_code == 200:
        into.append(time.monotonic() - started)


async def _beside_heavy(client: httpx.AsyncClient, desk: _Desk) -> None:
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
