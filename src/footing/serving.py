"""Running the server: its database, processes that answer, and a worker beside them.

The process that does this loads little: what needs more is done in one that is forked from
another which has loaded it (`footing.forking`).
"""

import os
import socket
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from footing.databases import alone, joined_database, open_database
from footing.forking import begin_loading, result_of
from footing.logs import write_log
from footing.settings import Settings
from footing.sockets import EVERYWHERE, LOOPBACK, listening, own_address, stopped_by_signal
from footing.store.database import connected
from footing.store.shelf import clear_shelf
from footing.watching import Kept, kept_running


def run_demo(settings: Settings, *, port: int) -> None:
    """Serve the demo on loopback until interrupted.

    Raises
    ------
    Refused : if the port is taken, or another Footing uses the same data.
    """
    with stopped_by_signal(), listening(port) as listener, _opened(settings) as opened:
        result_of("the demo", _seed, opened)
        said = "Sign in there with one click, as the teacher or as a student. Ctrl+C stops it."
        _serve(opened, listener, f"http://{LOOPBACK}:{port}/", said)


def run_server(settings: Settings, *, port: int, lan: bool) -> None:
    """Serve until interrupted: on loopback, or with ``lan`` to the classroom's network too.

    Raises
    ------
    Refused : as for `run_demo`.
    """
    host = EVERYWHERE if lan else LOOPBACK
    address = f"http://{own_address() if lan else LOOPBACK}:{port}/"
    if lan and settings.public_address is None:
        settings = settings.model_copy(update={"public_address": address})
    with (
        stopped_by_signal(),
        listening(port, host=host) as listener,
        _opened(settings) as opened,
    ):
        said = "Ctrl+C stops it."
        code = result_of("the first account", _first_code, opened)
        if code is not None:
            said = (
                f"Nobody can sign in yet: open it and make the first account with the code {code}."
            )
        _serve(opened, listener, settings.public_address or address, said)


@contextmanager
def _opened(settings: Settings) -> Iterator[Settings]:
    """The settings of the processes beside this one, with the database that is open meanwhile."""
    with alone(settings.data):
        begin_loading()
        with open_database(settings) as url:
            count = settings.web_processes or os.cpu_count() or 1
            yield settings.model_copy(update={"database_url": url, "web_processes": count})


def _serve(settings: Settings, listener: socket.socket, address: str, said: str) -> None:
    write_log(settings.data / "log", "server")
    clear_shelf(settings.shelf_folder)
    processes = [Kept("footing worker", _work, (settings,))]
    for number in range(1, settings.web_processes + 1):
        processes.append(Kept(f"footing web {number}", _answer, (settings, listener, number)))
    with kept_running(processes):
        print(f"Footing is ready at {address}", flush=True)
        print(said, flush=True)
        threading.Event().wait()


# What is done in processes that have loaded all of it; here it would have to be loaded first.


def _answer(
    settings: Settings, listener: socket.socket, number: int, ready: Callable[[], None]
) -> None:
    from footing.answering import run_web

    run_web(settings, listener, number, ready)


def _work(settings: Settings, ready: Callable[[], None]) -> None:
    from footing.working import run_worker

    ready()  # nobody waits for it
    run_worker(settings)


def _seed(settings: Settings) -> None:
    from footing.demo.seed import seed_demo

    with joined_database(settings), connected():
        seed_demo(settings)


def _first_code(settings: Settings) -> str | None:
    from footing.studies.school.invitations import first_code

    with joined_database(settings), connected():
        return first_code()
