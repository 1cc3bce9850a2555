"""A stretch of network between a browser and the server that can be cut."""

import contextlib
import socket
import threading
from urllib.parse import urlsplit

_PIECE = 16_384


class Network:
    """Hands bytes on in both directions until it is cut; a context manager.

    Parameters
    ----------
    address : of the server
    """

    def __init__(self, address: str) -> None:
        there = urlsplit(address)
        self._there = (there.hostname or "", there.port or 0)
        self._listener = socket.create_server(("127.0.0.1", 0))
        self._open: set[socket.socket] = set()
        self._whole = threading.Event()
        self._whole.set()
        self.address = f"http://127.0.0.1:{self._listener.getsockname()[1]}"

    def __enter__(self) -> "Network":
        threading.Thread(target=self._accept, daemon=True).start()
        return self

    def __exit__(self, *_: object) -> None:
        self.cut()
        self._listener.close()

    def cut(self) -> None:
        """Break every connection, and let none through."""
        self._whole.clear()
        for one in list(self._open):
            with contextlib.suppress(OSError):
                one.shutdown(socket.SHUT_RDWR)

    def mend(self) -> None:
        """Let connections through again."""
        self._whole.set()

    def _accept(self) -> None:
        while True:
            try:
                here, _ = self._listener.accept()
            except OSError:
                return
            if not self._whole.is_set():
                here.close()
                continue
            there = socket.create_connection(self._there)
            self._open |= {here, there}
            for source, target in ((here, there), (there, here)):
                threading.Thread(target=self._hand_on, args=(source, target), daemon=True).start()

    def _hand_on(self, source: socket.socket, target: socket.socket) -> None:
        with contextlib.suppress(OSError):
            while piece := source.recv(_PIECE):
                target.sendall(piece)
        for one in (source, target):
            with contextlib.suppress(OSError):
                one.shutdown(socket.SHUT_RDWR)
            one.close()
            self._open.discard(one)
