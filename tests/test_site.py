"""A site as a process of its own: its addresses, and what becomes of it when parts are killed."""

import os
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager, suppress
from pathlib import Path

import httpx2 as httpx
import pytest

from footing.web.protocol import WAIT_FOR_HEADERS
from tests.commands import environment, footing, refused


class Demo:
    """`footing demo` (or another command that serves) as a process of its own."""

    def __init__(self, data: Path, *command: str) -> None:
        self.command = command or ("demo",)
        # two where it is tested that they share; to begin one is most of what these tests cost
        self.processes = "1" if command else "2"
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = int(probe.getsockname()[1])
        self.address = f"http://127.0.0.1:{self.port}"
        self.data = data
        self.process: subprocess.Popen[str] | None = None
        self.said = ""

    def start(self) -> str:
        self.process = subprocess.Popen(
            [sys.executable, "-m", "footing", *self.command, "--port", str(self.port)],
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            env=environment(FOOTING_DATA=str(self.data), FOOTING_WEB_PROCESSES=self.processes),
        )
        assert self.process.stdout is not None
        self.said = self.process.stdout.readline()
        return self.said

    def stop(self, how: signal.Signals) -> int:
        assert self.process is not None
        self.process.send_signal(how)
        code = self.process.wait(90)  # a machine may be busy; nothing here is about speed
        assert self.process.stdout is not None
        self.process.stdout.close()
        return code

    @contextmanager
    def signed_in(self) -> Iterator[httpx.Client]:
        with httpx.Client(base_url=self.address, follow_redirects=True, timeout=30) as client:
            client.post("/demo/sign-in", data={"who": "student 1"}).raise_for_status()
            yield client

    def workers(self) -> list[int]:
        """Worker processes that belong to this data folder."""
        return self._processes("footing worker")

    def webs(self) -> list[int]:
        """The processes that answer requests."""
        return self._processes("footing web")

    def _processes(self, name: str) -> list[int]:
        found = []
        for process in Path("/proc").glob("[0-9]*"):
            with suppress(OSError):
                variables = (process / "environ").read_bytes().split(b"\0")
                own = f"FOOTING_DATA={self.data}".encode()
                if (process / "comm").read_text().startswith(name) and own in variables:
                    found.append(int(process.name))
        return found

    def workshops(self) -> list[int]:
        """The processes that draw and write long tables for those that answer."""
        return self._processes("footing drawing")

    def database_runs(self) -> bool:
        return any(self.data.rglob("postmaster.pid"))


@pytest.fixture(scope="module")
def demo() -> Iterator[Demo]:
    folder = Path(tempfile.mkdtemp(prefix="footing-demo-"))
    folder.chmod(0o755)
    made = Demo(folder / "data")
    try:
        made.start()  # here, because another process may run the first tests of this module
        yield made
    finally:
        if made.process and made.process.poll() is None:
            made.stop(signal.SIGTERM)
        shutil.rmtree(folder)


def test_demo_starts_and_says_where(demo: Demo) -> None:
    assert demo.said == f"Footing is ready at {demo.address}/\n"
    with demo.signed_in() as client:
        page = client.get("/").text
    assert "Snowball lob" in page
    assert "Heron" in page


def test_demo_listens_on_loopback_only(demo: Demo) -> None:
    listening = "0A"
    places = [
        fields[1]
        for table in ("tcp", "tcp6")
        for line in Path(f"/proc/net/{table}").read_text().splitlines()[1:]
        if (fields := line.split())[3] == listening and fields[1].endswith(f":{demo.port:04X}")
    ]
    assert places == [f"0100007F:{demo.port:04X}"]


def test_a_taken_port_is_said(demo: Demo) -> None:
    line = refused("demo", "--port", str(demo.port))
    assert f"Port {demo.port} is taken" in line


def test_a_second_demo_on_the_same_data_is_refused(demo: Demo) -> None:
    other = Demo(demo.data)
    line = refused("demo", "--port", str(other.port), FOOTING_DATA=str(demo.data))
    assert f"Another Footing uses the data in {demo.data}" in line


def until(holds: Callable[[], object], *, seconds: float = 40) -> bool:
    """Whether something comes to hold in time."""
    ends = time.monotonic() + seconds
    while time.monotonic() < ends:
        with suppress(httpx.HTTPError, FileNotFoundError):
            if holds():
                return True
        threading.Event().wait(0.1)
    return False


def test_a_kill_loses_no_acknowledged_mark_and_leaves_nothing_running(demo: Demo) -> None:
    with demo.signed_in() as client:
        client.get("/api/studies/1/graphs/0.svg").raise_for_status()
        assert demo.workshops()
        view = client.get("/api/studies/1").json()
        body = view["bodies"][0]["id"]
        marked = []
        for n in range(6):
            x = 100.0 + n
            edit = {"kind": "place_mark", "body": body, "frame": n, "x": x, "y": 200.0}
            request = {"edit": edit, "based_on": view["seq"], "token": f"kill-test-{n}"}
            answer = client.post("/api/studies/1/edits", json=request)
            assert answer.status_code == 200
            marked.append([n, x, 200.0])
    assert demo.stop(signal.SIGKILL) == -signal.SIGKILL
    assert until(lambda: not demo.webs() + demo.workshops() + demo.workers())
    assert demo.start() == f"Footing is ready at {demo.address}/\n"
    assert len(demo.workers()) == 1
    with demo.signed_in() as client:
        marks = client.get("/api/studies/1").json()["bodies"][0]["marks"]
    assert [mark for mark in marks if mark[0] < 6] == marked


def healthy(client: httpx.Client) -> bool:
    return client.get("/health").status_code == 200


def postmaster(demo: Demo) -> int | None:
    """The process of the database, or None while none runs."""
    for file in demo.data.rglob("postmaster.pid"):
        with suppress(OSError, IndexError, ValueError):
            return int(file.read_text().split()[0])
    return None


def test_a_killed_worker_is_replaced(demo: Demo) -> None:
    (worker,) = demo.workers()
    os.kill(worker, signal.SIGKILL)
    assert until(lambda: [one for one in demo.workers() if one != worker])
    with demo.signed_in() as client:
        assert until(lambda: healthy(client))


def test_processes_share_what_comes_in_and_a_killed_one_is_replaced(demo: Demo) -> None:
    """What is done through one is seen through all, also when one has gone meanwhile."""
    assert len(demo.webs()) == 2
    with demo.signed_in() as one, ExitStack() as stack:
        footage = one.get("/api/studies/1").json()["footage"]["id"]
        others: list[httpx.Client] = []

        def all_answer() -> bool:
            """One more window; whether by now each process has shown the study to some."""
            client = stack.enter_context(demo.signed_in())
            client.get("/api/studies/1").raise_for_status()
            others.append(client)
            logs = [log.read_text() for log in demo.data.glob("log/web-*.log")]
            return len(logs) == 2 and all("GET /api/studies/1 " in log for log in logs)

        assert until(all_answer)
        for n, client in enumerate([one, *others]):
            edit = {"kind": "rename_footage", "footage": footage, "name": f"take {n}"}
            request = {"edit": edit, "based_on": 10**6, "token": f"renamed-{n}"}
            assert client.post("/api/studies/1/edits", json=request).status_code == 200
            names = {other.get("/api/studies/1").json()["footage"]["name"] for other in others}
            assert names == {f"take {n}"}
        gone, left = demo.webs()
        os.kill(gone, signal.SIGKILL)
        assert until(lambda: len(demo.webs()) == 2 and gone not in demo.webs())
        assert left in demo.webs()
        with demo.signed_in() as client:
            assert client.get("/api/studies/1").json()["footage"]["name"] == f"take {n}"


def test_all_come_back_when_what_they_are_forked_from_is_killed(demo: Demo) -> None:
    before = {*demo.webs(), *demo.workers()}
    (worker,) = demo.workers()
    forked_from = int(Path(f"/proc/{worker}/stat").read_text().rsplit(")", 1)[1].split()[1])
    assert demo.process is not None
    assert forked_from != demo.process.pid
    os.kill(forked_from, signal.SIGKILL)
    assert until(lambda: len({*demo.webs(), *demo.workers()} - before) == len(before))
    assert not before & {*demo.webs(), *demo.workers()}
    with demo.signed_in() as client:
        assert until(lambda: healthy(client))


@pytest.mark.parametrize("how", [signal.SIGKILL, signal.SIGSTOP])
def test_a_database_that_ends_or_freezes_is_brought_back(demo: Demo, how: signal.Signals) -> None:
    with demo.signed_in() as client:
        assert until(lambda: healthy(client))
        before = client.get("/api/studies/1").json()["seq"]
        old = postmaster(demo)
        assert old is not None
        os.kill(old, how)
        assert client.get("/api/studies/1").status_code in (200, 503)  # in a sentence, and in time
        assert client.get("/static/x/logo.svg").status_code == 200
        assert until(lambda: postmaster(demo) not in (None, old), seconds=90)
        assert until(lambda: client.get("/api/studies/1").status_code == 200, seconds=60)
        assert client.get("/api/studies/1").json()["seq"] == before


def test_a_start_after_both_were_killed_works(demo: Demo) -> None:
    database = postmaster(demo)
    assert database is not None
    with demo.signed_in() as client, client.stream("GET", "/api/studies/1/events"):
        os.kill(database, signal.SIGKILL)  # while a page listens, which is taken leave of slowly
        demo.stop(signal.SIGKILL)
    assert demo.start() == f"Footing is ready at {demo.address}/\n"
    with demo.signed_in() as client:
        assert client.get("/api/studies/1").status_code == 200


def test_a_request_that_never_gets_on_is_let_go(demo: Demo) -> None:
    with socket.create_connection(("127.0.0.1", demo.port), timeout=WAIT_FOR_HEADERS + 10) as slow:
        slow.sendall(b"GET /health HTTP/1.1\r\nHost: x\r\nX-Half: ")
        assert slow.recv(100) == b""  # closed, and not kept for ever


def test_a_terminated_server_stops_its_database(demo: Demo) -> None:
    assert demo.database_runs()
    demo.stop(signal.SIGTERM)
    assert not demo.database_runs()


def test_a_teacher_made_on_the_command_line_signs_in_and_starts_a_study(folder: Path) -> None:
    data = str(folder / "data")
    made = footing("teacher", "Ms Ebberly", "--class", "8A Physics", FOOTING_DATA=data)
    password = made.stdout.strip().removeprefix("The password of Ms Ebberly is ")
    assert len(password) >= 8
    served = Demo(folder / "data", "serve")
    try:
        assert served.start() == f"Footing is ready at {served.address}/\n"
        with httpx.Client(base_url=served.address, follow_redirects=True, timeout=30) as client:
            assert "one click" not in client.get("/").text
            form = {"name": "Ms Ebberly", "password": password}
            page = client.post("/sign-in", data=form)
            assert "8A Physics" in page.text
            study = client.post("/studies", data={"class_id": 1})
            assert study.url.path == "/studies/1/sources"
        again = footing("teacher", "Ms Ebberly", FOOTING_DATA=data)  # while the server runs
        assert again.stdout.strip() != made.stdout.strip()
        with httpx.Client(base_url=served.address, timeout=30) as client:
            assert client.post("/sign-in", data=form).status_code == 422
    finally:
        ended = served.stop(signal.SIGINT)
    assert ended in (0, -signal.SIGINT, 130)
    assert not served.database_runs()


def test_serve_lan_listens_to_the_network_and_gives_phones_that_address(folder: Path) -> None:
    served = Demo(folder / "data", "serve", "--lan")
    try:
        line = served.start()
        if "no address" in line:
            pytest.skip("this machine is in no network")
        address = line.removeprefix("Footing is ready at ").strip().rstrip("/")
        assert address.endswith(f":{served.port}")
        assert "127.0.0.1" not in address
        made = footing("teacher", "Ms Ebberly", FOOTING_DATA=str(folder / "data"))
        password = made.stdout.strip().rsplit(" ", 1)[1]
        with httpx.Client(base_url=served.address, follow_redirects=True, timeout=30) as client:
            client.post("/sign-in", data={"name": "Ms Ebberly", "password": password})
            client.post("/studies", data={"class_id": 1})
            link = client.post("/api/studies/1/phone-link").json()
        assert link["address"].startswith(f"{address}/phone/")
        assert link["reachable"]
        assert httpx.get(link["address"]).status_code == 200
    finally:
        served.stop(signal.SIGINT)


def loading(process: int) -> list[int]:
    """The process that loads for those that are forked from it, as soon as there is one."""
    children = Path(f"/proc/{process}/task/{process}/children").read_text().split()
    commands = {int(child): Path(f"/proc/{child}/cmdline").read_bytes() for child in children}
    return [child for child, command in commands.items() if b"forkserver" in command]


def test_ctrl_c_is_not_for_what_loads(folder: Path) -> None:
    command = [sys.executable, "-m", "footing", "serve", "--port", str(Demo(folder).port)]
    with subprocess.Popen(
        command,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        env=environment(FOOTING_DATA=str(folder / "data"), FOOTING_WEB_PROCESSES="1"),
    ) as process:
        assert until(lambda: loading(process.pid))
        os.kill(loading(process.pid)[0], signal.SIGINT)  # as a terminal does with all of them
        assert process.stdout is not None
        assert process.stdout.readline().startswith("Footing is ready")
        process.terminate()


def test_a_worker_without_a_server_is_refused(folder: Path) -> None:
    line = refused("worker", FOOTING_DATA=str(folder / "data"))
    assert "No Footing runs" in line


def test_a_teacher_without_a_name_is_refused(folder: Path) -> None:
    assert "name" in refused("teacher", " ", FOOTING_DATA=str(folder / "data"))
