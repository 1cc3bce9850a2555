"""Live updates: each open page gets its notices as server-sent events.

The page of a study gets those of the study, and what is told to its whole class; a page of a class
may also hear that some study of it changed. Where people are and point is for those who have the
study open, and for nobody else.
"""

import asyncio
import json
from collections.abc import AsyncIterator, Callable, Iterator
from contextlib import ExitStack, contextmanager, suppress

from fastapi.concurrency import run_in_threadpool

from footing.store.classes import latest_edit, studies_of
from footing.store.database import connected
from footing.store.notices import Listener, Notice

_ASK_AGAIN = 5.0  # seconds between two questions whether a session still stands
_TICK = 20.0  # seconds between two signs of life, by which a page that slept sees what it missed
_WAITING = 100  # notices for one page; a page that slow gets the state anew anyway

Pages = dict[int, set["asyncio.Queue[Notice]"]]
Event = dict[str, str]
TICK: Event = {"event": "tick", "data": "{}"}


class Live:
    """Hands notices from the listener's thread to the pages that are open."""

    def __init__(self, loop: asyncio.AbstractEventLoop) -> None:
        self._loop = loop
        self._of_study: Pages = {}
        self._of_class: Pages = {}  # what is told to a class
        self._of_studies: Pages = {}  # what happens in the studies of a class
        self._class_of: dict[int, int] = {}  # of each study of which somebody looks at the class

    def receive(self, notice: Notice) -> None:
        """Take a notice, in any thread."""
        self._loop.call_soon_threadsafe(self._hand_out, notice)

    async def of_study(
        self, study_id: int, class_id: int, *, may_see: Callable[[], bool]
    ) -> AsyncIterator[Event]:
        """The notices of a study from now on, as events; first how far the study is now.

        A page compares that with the state that it was made from, so that nothing is missed
        between the two. It ends when ``may_see``, asked now and then, says no.
        """
        queue: asyncio.Queue[Notice] = asyncio.Queue(_WAITING)
        with _open(self._of_study, study_id, queue), _open(self._of_class, class_id, queue):
            seq = await run_in_threadpool(_present, study_id)
            yield {"event": "ready", "data": json.dumps({"seq": seq})}
            async for event in self._from(queue, may_see):
                yield event

    async def of_class(
        self, class_id: int, *, studies: bool, may_see: Callable[[], bool]
    ) -> AsyncIterator[Event]:
        """The notices of a class and, with ``studies``, that one of its studies changed."""
        queue: asyncio.Queue[Notice] = asyncio.Queue(_WAITING)

        def look() -> bool:
            if studies:
                self._know_studies(class_id)
            return may_see()

        with ExitStack() as listening:
            listening.enter_context(_open(self._of_class, class_id, queue))
            if studies:
                listening.enter_context(_open(self._of_studies, class_id, queue))
                await run_in_threadpool(self._know_studies, class_id)
            yield {"event": "ready", "data": "{}"}
            async for event in self._from(queue, look):
                yield event

    async def _from(
        self, queue: "asyncio.Queue[Notice]", may_see: Callable[[], bool]
    ) -> AsyncIterator[Event]:
        asked = told = self._loop.time()
        while True:
            notice: Notice | None = None
            with suppress(TimeoutError):
                notice = await asyncio.wait_for(queue.get(), _ASK_AGAIN)
            now = self._loop.time()
            if now - asked >= _ASK_AGAIN:
                if not await run_in_threadpool(may_see):
                    return
                asked = now
            if notice is not None:
                yield {"data": json.dumps(notice)}
            if now - told >= _TICK:
                yield TICK
                told = now

    def _know_studies(self, class_id: int) -> None:
        with connected():
            found = {study: class_id for study, _ in studies_of(class_id)}
        self._class_of = self._class_of | found

    def _hand_out(self, notice: Notice) -> None:
        if "class" in notice:
            _put(self._of_class.get(int(notice["class"]), set()), notice)
            return
        study = int(notice["study"])
        _put(self._of_study.get(study, set()), notice)
        if "seq" in notice:
            _put(self._of_studies.get(self._class_of.get(study, 0), set()), {"studies": True})


def _put(queues: set["asyncio.Queue[Notice]"], notice: Notice) -> None:
    for queue in queues:
        if not queue.full():
            queue.put_nowait(notice)


@contextmanager
def _open(pages: Pages, key: int, queue: "asyncio.Queue[Notice]") -> Iterator[None]:
    waiting = pages.setdefault(key, set())
    waiting.add(queue)
    try:
        yield
    finally:
        waiting.discard(queue)


def _present(study_id: int) -> int:
    with connected():
        return latest_edit(study_id)


def listening(url: str, live: Live) -> Listener:
    """A listener that hands everything to ``live``."""
    return Listener(url, live.receive)
