"""Processes of Footing's own, each forked from one that has loaded everything before.

To load it takes seconds and a hundred megabytes, which they share. They end with the process that
started them: the kernel is asked for that, since whoever is killed cannot see to it.
"""

import ctypes
import multiprocessing
import os
import signal
from collections.abc import Callable
from multiprocessing import forkserver, resource_tracker
from multiprocessing.connection import Connection
from multiprocessing.context import ForkServerContext, ForkServerProcess
from typing import TypeVar, TypeVarTuple

from footing.core.errors import FootingError, Refused

_LOADED = "footing.loaded"  # by name: whoever starts these processes loads nothing of it
_PR_SET_PDEATHSIG, _PR_SET_NAME = 1, 15  # prctl(2)
_NAME_BYTES = 15

Given = TypeVarTuple("Given")
Result = TypeVar("Result")


def begin_loading() -> None:
    """Start the process from which the others are forked, which loads while others do their part.

    To be called by the main thread: the kernel ends that process with the thread that started it.
    """
    context().set_forkserver_preload([_LOADED])
    resource_tracker.ensure_running()  # which changes the same mask when it starts
    # Ctrl+C is for this process: it waits here meanwhile, and never reaches one that starts so
    before = signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGINT})
    forkserver.ensure_running()
    signal.pthread_sigmask(signal.SIG_SETMASK, before)


def context() -> ForkServerContext:
    """What forks processes, from the one that `begin_loading` started if there is one."""
    return multiprocessing.get_context("forkserver")


def forked(name: str, what: Callable[[*Given], object], *arguments: *Given) -> ForkServerProcess:
    """Start a process that calls a function; it is seen under a name, and ends with this one."""
    process = context().Process(target=_run, args=(name, what, *arguments), name=name)
    process.start()
    return process


def result_of(name: str, what: Callable[[*Given], Result], *arguments: *Given) -> Result:
    """What a function returns that is called in a process of its own.

    Raises
    ------
    FootingError : what the function raises.
    Refused : if its process ends before that.
    """
    receiver, sender = context().Pipe(duplex=False)
    process = forked(name, _tell, sender, what, *arguments)
    sender.close()
    try:
        outcome: Result | FootingError = receiver.recv()
    except EOFError:
        raise Refused(f"Footing could not make {name} ready; why is said above.") from None
    finally:
        process.terminate()
        process.join()
    if isinstance(outcome, FootingError):
        raise outcome
    return outcome


def end_with_parent() -> None:
    """Have the kernel end this process when the thread that started it ends, also if killed."""
    # at once, without a leave to take: what was acknowledged is in the database
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)


def be_seen_as(name: str) -> None:
    """Have lists of processes show this one under a name, which is cut after 15 bytes."""
    ctypes.CDLL(None).prctl(_PR_SET_NAME, name.encode()[:_NAME_BYTES])


def _run(name: str, what: Callable[[*Given], object], *arguments: *Given) -> None:
    end_with_parent()
    server = multiprocessing.parent_process()
    if server is None or not server.is_alive():
        return  # it went before the kernel knew
    os.setsid()  # so that Ctrl+C is for the process that watches
    be_seen_as(name)
    what(*arguments)


def _tell(to: Connection, what: Callable[[*Given], object], *arguments: *Given) -> None:
    try:
        to.send(what(*arguments))
    except FootingError as error:
        to.send(error)
