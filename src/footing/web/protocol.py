"""The HTTP protocol of the server, which does not wait for ever for the rest of a request."""

from asyncio import TimerHandle

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

WAIT_FOR_HEADERS = 15.0  # seconds, from the first byte or from the connection on


class ImpatientProtocol(HttpToolsProtocol):
    """Closes a connection whose request does not get as far as its body in time.

    Bodies are waited for by `footing.web.guarding`, which can answer; here nothing was asked yet.
    """

    _waiting: TimerHandle | None = None

    def connection_made(self, transport) -> None:  # type: ignore[no-untyped-def]
        """Wait for a first request."""
        super().connection_made(transport)
        self._wait()

    def on_message_begin(self) -> None:
        """Wait for the rest of a request."""
        super().on_message_begin()
        self._wait()

    def on_headers_complete(self) -> None:
        """Wait no longer."""
        self._stop_waiting()
        super().on_headers_complete()

    def connection_lost(self, exc: Exception | None) -> None:
        """Wait no longer."""
        self._stop_waiting()
        super().connection_lost(exc)

    def _wait(self) -> None:
        self._stop_waiting()
        self._waiting = self.loop.call_later(WAIT_FOR_HEADERS, self._close)

    def _stop_waiting(self) -> None:
        if self._waiting is not None:
            self._waiting.cancel()
            self._waiting = None

    def _close(self) -> None:
        if not self.transport.is_closing():
            self.transport.close()
