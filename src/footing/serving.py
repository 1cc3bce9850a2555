"""Running the server: its database, processes that answer, and a worker beside them.

The process that does this loads little, so that the others begin at once.
"""

import socket
import threading

from footing.databases import alone, open_database
from footing.logs import write_log
from footing.settings import Settings
from footing.sockets import EVERYWHERE, LOOPBACK, listening, own_address, stopped_by_signal
from footing.store.database import connected
from footing.store.shelf import clear_shelf
from footing.watching import web_processes, worker_beside


def run_demo(settings: Settings, *, port: int) -> None:
    """Serve the demo on loopback until interrupted.

    Raises
    ------
    Refused : if the port is taken, or another Footing uses the same data.
    """
    with (
        stopped_by_signal(),
        listening(port) as listener,
        alone(settings.data),
        open_database(settings) as url,
    ):
        from footing.demo.seed import seed_demo  # seconds to load, once all else is as it should be

        with connected():
            seed_demo(settings)
        said = "Sign in there with one click, as the teacher or as a student. Ctrl+C stops it."
        _serve(settings, listener, url, f"http://{LOOPBACK}:{port}/", said)


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
        alone(settings.data),
        open_database(settings) as url,
    ):
        said = "Ctrl+C stops it."
        with connected():
            code = _first_code()
        if code is not None:
            said = (
                f"Nobody can sign in yet: open it and make the first account with the code {code}."
            )
        _serve(settings, listener, url, settings.public_address or address, said)


def _first_code() -> str | None:
    from footing.studies.school.invitations import first_code  # only where a server begins

    return first_code()


def _serve(settings: Settings, listener: socket.socket, url: str, address: str, said: str) -> None:
    write_log(settings.data / "log", "server")
    clear_shelf(settings.shelf_folder)
    with worker_beside(settings, url), web_processes(settings, url, listener):
        print(f"Footing is ready at {address}", flush=True)
        print(said, flush=True)
        threading.Event().wait()
