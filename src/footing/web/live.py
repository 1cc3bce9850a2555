"""Live updates: each open page gets the notices of its study as server-sent events."""

import asyncio
import json
from collections.abc import AsyncIterator, Callable, Iterator
from contextlib import contextmanager, suppress

from fastapi.concurrency import run_in_threadpool

from footing.store.classes import latest_edit
from footing.store.database import connected
from footing.store.notices import Listener, Notice

_ASK_AGAIN = 5.0  # seconds between two questions whether a session still stands
_WAITING = 100  # notices for one page; a page that slow gets the state anew anyway


class Live:
    """Hands notices from the listener's thread to the pages that are open."""

    def __init__(self, loop: asyncio.AbstractEventLoop) -> None:
        self._loop = loop
        self._pages: dict[int, set[asyncio.Queue[Notice]]] = {}

    def receive(self, notice: Notice) -> None:
        """Take a notice, in any thread."""
        self._loop.call_soon_threadsafe(self._hand_out, notice)

    async def of_study(
        self, study_id: int, *, may_see: Callable[[], bool]
    ) -> AsyncIterator[dict[str, str]]:
        """The notices of a study from now on, as events; first how far the study is now.

        A page compares that with the state that it was made from, so that nothing is missed
        between the two. It ends when ``may_see``, asked now and then, says no.
        """
        queue: asyncio.Queue[Notice] = asyncio.Queue(_WAITING)
        with self._open(study_id, queue):
            seq = await run_in_threadpool(_present, study_id)
            yield {"event": "ready", "data": json.dumps({"seq": seq})}
            asked = self._loop.time()
            while True:
                notice: Notice | None = None
                with suppress(TimeoutError):
                    notice = await asyncio.wait_for(queue.get(), _ASK_AGAIN)
                if self._loop.time() - asked >= _ASK_AGAIN:
                    if not await run_in_threadpool(may_see):
                        return
                    asked = self._loop.time()
                if notice is not None:
                    yield {"data": json.dumps(notice)}

    @contextmanager
    def _open(self, study_id: int, queue: asyncio.Queue[Notice]) -> Iterator[None]:
        pages = self._pages.setdefault(study_id, set())
        pages.add(queue)
        try:
            yield
        finally:
            pages.discard(queue)

    def _hand_out(self, notice: Notice) -> None:
        for queue in self._pages.get(int(notice["study"]), ()):
            if not queue.full():
                queue.put_nowait(notice)


def _present(study_id: int) -> int:
    with connected():
        return latest_edit(study_id)


def listening(url: str, live: Live) -> Listener:
    """A listener that hands everything to ``live``."""
    return Listener(url, live.receive)
