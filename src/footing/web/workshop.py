"""Heavy work in processes of its own, so that it holds nobody up and cannot take the server along.

Pictures of graphs are drawn here, and long tables written. A process that dies is replaced; whoever
waited for it is told that this one thing could not be made.
"""

import asyncio
import multiprocessing
import multiprocessing.connection
import os
import threading
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from concurrent.futures.process import BrokenProcessPool
from typing import ParamSpec, TypeVar

from footing.core.errors import Busy, Refused
from footing.forking import be_seen_as, context

_PROCESSES = 1
_MOST_WAITING = 12  # pieces of work
_SECONDS = 90.0  # for one piece, waiting included
_YIELDING = 10  # niceness: marks and frames of a class come first

Arguments = ParamSpec("Arguments")
Result = TypeVar("Result")


class Workshop:
    """Does one piece of work after the other, beside the server.

    Parameters
    ----------
    prepare, with_ : what each process does first
    """

    def __init__(self, prepare: Callable[[str], None], with_: str) -> None:
        self._prepare = prepare
        self._with = with_
        self._lock = threading.Lock()
        self._pool: ProcessPoolExecutor | None = None
        self._waiting = 0

    async def make(
        self,
        what: Callable[Arguments, Result],
        *arguments: Arguments.args,
        **options: Arguments.kwargs,
    ) -> Result:
        """The result of a function of plain values.

        Raises
        ------
        Busy : if too much is waiting already.
        Refused : if its process died, or it took too long.
        """
        if self._waiting >= _MOST_WAITING:
            raise Busy("Many pictures and tables are being made just now; try again in a moment.")
        self._waiting += 1
        pool = self._open()
        try:
            work = pool.submit(what, *arguments, **options)
            return await asyncio.wait_for(asyncio.wrap_future(work), _SECONDS)
        except TimeoutError:
            self._throw_away(pool)
            raise Refused("This took too long to make; choose less of it.") from None
        except BrokenProcessPool:
            self._throw_away(pool)
            raise Refused("This could not be made; something in it cannot be drawn.") from None
        finally:
            self._waiting -= 1

    def close(self) -> None:
        """Stop."""
        if self._pool is not None:
            self._throw_away(self._pool)

    def _open(self) -> ProcessPoolExecutor:
        with self._lock:
            if self._pool is None:
                self._pool = ProcessPoolExecutor(
                    _PROCESSES,
                    mp_context=context(),
                    initializer=_begin,
                    initargs=(self._prepare, self._with),
                )
            return self._pool

    def _throw_away(self, pool: ProcessPoolExecutor) -> None:
        """Let go of processes, also of one that does not come to an end."""
        with self._lock:
            if self._pool is pool:
                self._pool = None
        for process in list((pool._processes or {}).values()):  # it has no word for this
            process.kill()
        pool.shutdown(wait=False, cancel_futures=True)


def _begin(prepare: Callable[[str], None], with_: str) -> None:
    os.nice(_YIELDING)
    be_seen_as("footing drawing")
    threading.Thread(target=_end_with_parent, daemon=True).start()
    prepare(with_)


def _end_with_parent() -> None:
    """End when the server does, however that comes to its end."""
    parent = multiprocessing.parent_process()
    assert parent is not None
    multiprocessing.connection.wait([parent.sentinel])
    os._exit(0)
