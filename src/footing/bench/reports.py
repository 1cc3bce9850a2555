"""Reports to PDF, a class that hands in, archives of large films: beside what they are made of."""

import shutil
import statistics
import subprocess
import sys
import threading
import time
from functools import partial
from pathlib import Path
from uuid import uuid4

import httpx2 as httpx

from footing.bench.files import repeated_film
from footing.bench.measuring import line, seconds
from footing.bench.site import demo_class, demo_site, demo_teacher, new_study
from footing.settings import Settings
from footing.store.access import class_study
from footing.store.classes import labs_of
from footing.store.database import bound_url, connected
from footing.store.lessons import studies_of_lab
from footing.store.reading import read_study
from footing.studies import door
from footing.studies.edits import AnyEdit
from footing.studies.edits.footage import AddFootage
from footing.studies.edits.graphs import SetGraph
from footing.studies.edits.marks import PlaceMark
from footing.studies.edits.report import AddBlock, Drawn, LayOutReport
from footing.studies.films import uploads
from footing.studies.report_keys import BlockKind
from footing.studies.school.copying import duplicate
from footing.studies.school.people import Person, sign_in
from footing.studies.views import graph_file
from footing.studies.views.shown import NO_PARTS
from footing.studies.views.view import study_view
from footing.web.security import COOKIE

_COLUMNS = ("x", "y", "v", "vx")  # of the graphs of a study
# which of them a report shows, and how: six, all of them different
_DRAWN: tuple[tuple[int, tuple[Drawn, ...]], ...] = (
    *((place, ("results",)) for place in range(4)),
    *((place, ("results", "large")) for place in range(2)),
)
_GROUPS, _AT_ONCE = 30, 6
_SMALL, _LARGE = 2 * 10**6, 200 * 10**6  # bytes of a film
_ROUNDS = 5

# Writes the archive of a study, or takes one in, in a process of its own; prints the most memory
# that it had, in megabytes.
_ALONE = """
import resource, sys
from pathlib import Path
from footing.settings import Settings
from footing.store.database import bind, connected, transaction
from footing.studies.archives.study_archive import read_in, write_study
from footing.studies.school.people import person
url, data, what, key, file = sys.argv[1:]
bind(url)
settings = Settings(data=Path(data))
with connected():
    if what == "out":
        _, path = write_study(int(key), person("teacher", 1), settings)
        path.rename(file)
    else:
        with transaction():
            read_in(Path(file), int(key), person("teacher", 1), settings)
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""


def measure(settings: Settings, folder: Path) -> None:
    """Everything about reports and archives."""
    with demo_site(settings) as address, connected():
        teacher = demo_teacher()
        client = httpx.Client(base_url=address, timeout=120)
        client.cookies.set(COOKIE, sign_in(teacher, days=1))
        lab = labs_of(demo_class())[0]
        study = studies_of_lab(lab.id)[0].study.id
        _pdf(client, study, teacher)
        _class(client, study, lab.id, teacher)
        _archives(settings, teacher, folder)


def _edit(study: int, person: Person, edit: AnyEdit) -> None:
    request = door.EditRequest(edit=edit, based_on=read_study(study).seq, token=uuid4().hex)
    door.submit(study, person, request)


def _pdf(client: httpx.Client, study: int, teacher: Person) -> None:
    """A report with six graphs, the first time and again, beside drawing six graphs alone."""
    copied = class_study(study)
    assert copied is not None
    key = duplicate(copied, teacher)
    footage = read_study(key).footages[0]
    for place, column in enumerate(_COLUMNS):
        given: dict[str, object] = {"place": place, "x": "t", "ys": [column]}
        _edit(key, teacher, SetGraph.model_validate({"footage": footage.id, **given}))
    for place, shows in _DRAWN:
        add = AddBlock(
            columns=[], block=BlockKind.GRAPH, about=f"{footage.id}/{place}", shows=[*shows]
        )
        _edit(key, teacher, add)
    found = class_study(key)
    assert found is not None
    view = study_view(found, teacher, shown=NO_PARTS)
    specs = [
        graph_file.specified(
            view, place, width=620, scale=1, boxes=graph_file.Boxes(True, "large" in shows)
        )
        for place, shows in _DRAWN
    ]
    graph_file.draw(specs[0], "svg", 1)  # its renderer begins
    alone = seconds(lambda: [graph_file.draw(spec, "svg", 1) for spec in specs])
    client.get(f"/api/studies/{study}/report.pdf")  # the workshop begins
    first = seconds(lambda: _got(client, f"/api/studies/{key}/report.pdf"))
    times = [
        seconds(lambda: _got(client, f"/api/studies/{key}/report.pdf")) for _ in range(_ROUNDS)
    ]
    line(f"report with {len(_DRAWN)} graphs to PDF, the first time", first, "s", 3)
    line("the same ÷ drawing its graphs alone", first / alone, "", 10)
    line("again, while nothing has changed", statistics.median(times), "s", 2)


def _got(client: httpx.Client, path: str) -> bytes:
    answer = client.get(path)
    assert answer.status_code == 200, answer.text[:300]
    content: bytes = answer.content
    return content


def _class(client: httpx.Client, study: int, lab: int, teacher: Person) -> None:
    """Thirty groups hand in at the end of a lesson, and the class goes out as one archive."""
    copied = class_study(study)
    assert copied is not None
    keys = [duplicate(copied, teacher) for _ in range(_GROUPS)]
    for number, key in enumerate(keys):  # each has data of its own, and so pictures of its own
        rows = read_study(key)
        body = rows.bodies_of(rows.footages[0])[0]
        mark = rows.marks_of(body)[0]
        x = mark.x + 0.1 * number
        _edit(key, teacher, PlaceMark(body=body.id, frame=mark.frame, x=x, y=mark.y))
        _edit(key, teacher, LayOutReport())
    waiting, taken = list(keys), []
    lock = threading.Lock()

    def hand_in() -> None:
        with httpx.Client(base_url=client.base_url, timeout=120, cookies=client.cookies) as own:
            while True:
                with lock:
                    if not waiting:
                        return
                    key = waiting.pop()
                took = seconds(partial(_handed_in, own, key))
                with lock:
                    taken.append(took)

    def all_of_them() -> None:
        hands = [threading.Thread(target=hand_in) for _ in range(_AT_ONCE)]
        for one in hands:
            one.start()
        for one in hands:
            one.join()

    whole = seconds(all_of_them)
    line(f"{_GROUPS} groups hand in, {_AT_ONCE} at once", whole, "s", 30)
    line("one of them waits, 95 %", statistics.quantiles(taken, n=20)[-1], "s", 5)
    content = b""

    def taken_out() -> None:
        nonlocal content
        content = _got(client, f"/classes/{demo_class()}/class.zip")

    out = seconds(taken_out)
    line(f"the class with {_GROUPS} hand-ins as an archive", out, "s", 30)
    line("its size", len(content) / 1e6, "MB", 1000)
    grades = seconds(lambda: _got(client, f"/labs/{lab}/hand-ins.csv"))
    line("points and findings of all as CSV", grades, "s", 2)


def _handed_in(client: httpx.Client, key: int) -> None:
    answer = client.post(f"/api/studies/{key}/hand-ins")
    assert answer.status_code == 200, answer.text[:300]


def _archives(settings: Settings, teacher: Person, folder: Path) -> None:
    """A study with a small and with a large film, out and in, each in a process of its own."""
    memory: dict[tuple[str, int], float] = {}
    for size in (_SMALL, _LARGE):
        film, archive = folder / f"{size}.mp4", folder / f"{size}.zip"
        repeated_film(film, size)
        study = new_study(f"{size} bytes")
        content = uploads.take_in(film, settings)
        _edit(study, teacher, AddFootage(content=content, name=film.name))
        took = {}
        for what, key in (("out", study), ("in", demo_class())):
            began = time.perf_counter()
            memory[what, size] = _alone(settings, what, key, archive)
            took[what] = time.perf_counter() - began
        alone = seconds(partial(shutil.copyfile, film, folder / "copy"))
        if size == _LARGE:
            line("a study with a film of 200 MB out, with starting Python", took["out"], "s", 15)
            line("the same in", took["in"], "s", 20)
            line("out ÷ a plain copy of the film", took["out"] / alone, "", 100)
        film.unlink()
    for what in ("out", "in"):
        more = memory[what, _LARGE] - memory[what, _SMALL]
        line(f"more memory for 200 MB than for 2 MB, {what}", more, "MB", 20)


def _alone(settings: Settings, what: str, key: int, archive: Path) -> float:
    """The most memory that one archive out or in needs, in megabytes."""
    command = [sys.executable, "-c", _ALONE, bound_url(), str(settings.data), what]
    done = subprocess.run(
        [*command, str(key), str(archive)], capture_output=True, text=True, check=True
    )
    return float(done.stdout)
