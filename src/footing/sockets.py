"""What a process listens at, and how it is told to stop."""

import signal
import socket
from collections.abc import Iterator
from contextlib import contextmanager

from footing.core.errors import Refused

LOOPBACK = "127.0.0.1"
EVERYWHERE = "0.0.0.0"
_SOMEWHERE = ("192.0.2.1", 9)  # an address for documentation (RFC 5737); nothing is sent there


@contextmanager
def listening(port: int, *, host: str = LOOPBACK) -> Iterator[socket.socket]:
    """A listening socket, taken before anything else is started."""
    # naming TCP makes asyncio switch off Nagle's delay, which costs 40 ms an answer
    with socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP) as listener:
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            listener.bind((host, port))
            listener.listen()
        except OSError as error:
            raise Refused(
                f"Port {port} is taken ({error.strerror}); stop what uses it or choose another "
                "with --port."
            ) from error
        yield listener


def own_address() -> str:
    """This machine's address in the classroom's network: the one that leads out of it."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(_SOMEWHERE)
            return str(probe.getsockname()[0])
        except OSError as error:
            raise Refused(
                "This machine has no address in a network; join the classroom's network first."
            ) from error


@contextmanager
def stopped_by_signal() -> Iterator[None]:
    """Have SIGTERM and Ctrl+C unwind all that was opened, and not end the process at once.

    Also where whoever started this has Ctrl+C ignored, as shells have it in the background.
    """

    def stop(*_: object) -> None:
        raise SystemExit(0)

    before = {number: signal.signal(number, stop) for number in (signal.SIGTERM, signal.SIGINT)}
    try:
        yield
    finally:
        for number, handler in before.items():
            signal.signal(number, handler)
