"""Everything that follows from the rows of the demo's studies, kept as files to compare with later.

A rebuilding must change none of it: the state of every study as seen from every source, its cards
at every step, its tables and its graphs; and the same of one large made-up study. Written before
and after, the two folders are compared value by value.
"""

import json
import re
from collections.abc import Iterator
from pathlib import Path
from uuid import uuid4

import httpx2 as httpx
import numpy as np
from pydantic import JsonValue

from footing.bench.files import CLIP
from footing.bench.site import demo_class, demo_site, demo_teacher, new_study
from footing.settings import Settings
from footing.store.classes import studies_of
from footing.store.database import connected
from footing.studies.films import uploads
from footing.studies.school import people
from footing.studies.steps import Step
from footing.web.security import COOKIE

_MARKED, _BODIES = 90, 4  # frames and bodies of the large study
_TIMEOUT = 120.0
# what differs from run to run: days, times of day, ids and signed links
_PASSING = re.compile(
    r"\d{4}-\d\d-\d\dT[\d:.+]+|/p(hone)?/[\w.~-]{12,}|[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f-]{22}|"
    r"\d{1,2} (January|February|March|April|May|June|July|August|September|October|November|"
    r"December) \d{4}"
)
_LINE = ("line",)  # what comes with the cards of Graph, and stands above it
_DIFFERENCES = 40  # that are shown


def write(settings: Settings, folder: Path) -> int:
    """Write what follows from every study into a folder, a file each; the number of files."""
    folder.mkdir(parents=True, exist_ok=True)
    with demo_site(settings) as address:
        with connected():
            token = people.sign_in(demo_teacher(), days=1)
        cookies = {COOKIE: token}
        with httpx.Client(base_url=address, cookies=cookies, timeout=_TIMEOUT) as client:
            _large_study(client, settings)
            with connected():
                studies = sorted(key for key, _ in studies_of(demo_class()))
            count = 0
            for study in studies:
                for name, content in _of_study(client, study):
                    (folder / f"study-{study:02}-{name}").write_bytes(content)
                    count += 1
    return count


def compare(before: Path, after: Path) -> list[str]:
    """The differences between two folders, each with its file and place."""
    names = sorted({path.name for folder in (before, after) for path in folder.iterdir()})
    found: list[str] = []
    for name in names:
        one, other = before / name, after / name
        if not (one.exists() and other.exists()):
            found.append(f"{name}: only {'before' if one.exists() else 'after'}")
        elif one.suffix == ".json":
            values = (json.loads(path.read_text()) for path in (one, other))
            found += [f"{name}{place}" for place in _differing(*values)]
        elif one.read_bytes() != other.read_bytes():
            lines = [path.read_text("utf-8", "replace").splitlines() for path in (one, other)]
            pairs = enumerate(zip(*lines, strict=False), start=1)
            place = next((k for k, (a, b) in pairs if a != b), min(map(len, lines)) + 1)
            found.append(f"{name}, line {place}")
    return found


def shown(differences: list[str]) -> str:
    """The first differences, a line each, and how many there are."""
    more = len(differences) - _DIFFERENCES
    tail = [f"… and {more} more"] if more > 0 else []
    return "\n".join([*differences[:_DIFFERENCES], *tail]) or "no difference"


def _of_study(client: httpx.Client, study: int) -> Iterator[tuple[str, bytes]]:
    """Name and content of each file of a study."""
    whole = _asked(client, f"/api/studies/{study}").json()
    for source in [line["id"] for line in whole["sources"]] or [""]:
        of = {"source": source} if source else {}
        mark = source or "none"
        state = _asked(client, f"/api/studies/{study}", **of).json()
        del state["version"]  # names the edits, which are others in each run
        text = json.dumps(state, ensure_ascii=False, indent=1, sort_keys=True)
        yield f"{mark}-state.json", _steady(text)
        for step in Step:
            told = _asked(client, f"/api/studies/{study}/news", step=step, **of).json()
            shown = told["cards"]["changes"]["to"]
            html = "".join(
                shown["html"][key] for key in (*shown["order"], *_LINE) if key in shown["html"]
            )
            yield f"{mark}-cards-{step}.html", _steady(html)
        for body in state["bodies"]:
            yield from _table(client, study, f"b{body['id']}")
        if state["sheet"]:
            yield from _table(client, study, source)
        for place in range(len(state["graphs"])):
            drawn = _asked(client, f"/api/studies/{study}/graphs/{place}.svg", **of)
            yield f"{mark}-graph-{place}.svg", _steady(drawn.text)


def _table(client: httpx.Client, study: int, owner: str) -> Iterator[tuple[str, bytes]]:
    table = client.get(f"/api/studies/{study}/tables/{owner}.csv")
    if table.status_code == httpx.codes.OK:
        yield f"{owner}-table.csv", table.content


def _asked(client: httpx.Client, path: str, **query: str) -> httpx.Response:
    answer = client.get(path, params=query)
    answer.raise_for_status()
    return answer


def _steady(text: str) -> bytes:
    return _PASSING.sub("·", text).encode()


def _large_study(client: httpx.Client, settings: Settings) -> None:
    """Several bodies with many marks, a sine and a line through a velocity."""
    with connected():
        content = uploads.take_in(CLIP, settings)
        study = new_study("Large")

    def does(**edit: object) -> int:
        request = {"edit": edit, "based_on": 10**6, "token": uuid4().hex}
        answer = client.post(f"/api/studies/{study}/edits", json=request)
        answer.raise_for_status()
        number = str(answer.json()["made"]).partition(":")[2]
        return int(number) if number.isdigit() else 0

    footage = does(kind="add_footage", content=content, name="sled.mp4")
    ends = {"start_x": 100, "start_y": 500, "end_x": 100, "end_y": 200}
    known = does(kind="add_known_length", footage=footage, frame=0, **ends)
    does(kind="type_known_length", known_length=known, length="2.00", unit="m")
    for number in range(_BODIES):
        body = does(kind="add_body", footage=footage, name=f"body {number + 1}")
        for frame in range(_MARKED):
            swing = 40 * float(np.sin(0.2 * frame + number))
            place = {"x": 100.0 + 5 * frame, "y": 200.0 + 60 * number + swing}
            does(kind="place_mark", body=body, frame=frame, **place)
        does(kind="add_fit", body=body, x="t", y="y", curve="sine", passages=[])
        does(kind="add_fit", body=body, x="t", y="vx", curve="line", passages=[])


def _differing(one: JsonValue, other: JsonValue, place: str = "") -> Iterator[str]:
    """Where two values differ."""
    if isinstance(one, dict) and isinstance(other, dict):
        for key in sorted({*one, *other}):
            if key in one and key in other:
                yield from _differing(one[key], other[key], f"{place}.{key}")
            else:
                yield f"{place}.{key}: only {'before' if key in one else 'after'}"
    elif isinstance(one, list) and isinstance(other, list) and len(one) == len(other):
        for k, (a, b) in enumerate(zip(one, other, strict=True)):
            yield from _differing(a, b, f"{place}[{k}]")
    elif one != other:
        yield f"{place}: {str(one)[:60]!r} before, {str(other)[:60]!r} after"
