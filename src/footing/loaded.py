"""All that a process of Footing needs, loaded once: imported by the one others are forked from.

What is frozen here no garbage collection looks at, so that the memory stays shared.
"""

import gc
import importlib

from footing.forking import end_with_parent

_WANTED = (
    "footing.serving",
    "footing.working",
    "footing.jobs.queue",
    "footing.demo.seed",
    "footing.studies.school.invitations",
    "scipy.optimize",
    "scipy.integrate",
)


def _load() -> None:
    from footing.answering import load_ahead  # not before the kernel was asked

    for name in _WANTED:
        importlib.import_module(name)
    load_ahead()
    gc.collect()
    gc.freeze()


end_with_parent()
_load()
