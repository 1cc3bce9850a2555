"""All that a process of Footing needs, loaded once: imported by the one others are forked from.

What is frozen here no garbage collection looks at, so that the memory stays shared.
"""

import gc
import importlib
import os

from footing.forking import end_with_parent

_WANTED = (
    "footing.serving",
    "footing.answering",
    "footing.working",
    "footing.jobs.queue",
    "footing.demo.seed",
    "footing.studies.school.invitations",
    "scipy.optimize",
    "scipy.integrate",
)


def _load() -> None:
    for name in _WANTED:
        importlib.import_module(name)
    importlib.import_module("footing.answering").load_ahead()
    gc.collect()
    gc.freeze()


end_with_parent(os.getppid())
_load()
