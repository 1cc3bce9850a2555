"""The log: who asked for what, what was refused, and what went wrong, in the data folder."""

import logging
import logging.handlers
import sys
from pathlib import Path

_BYTES, _FILES = 5_000_000, 4
_FORMAT = "%(asctime)s %(levelname)s %(name)s %(message)s"


def write_log(folder: Path, name: str) -> None:
    """Write everything to ``name.log`` in the folder, and warnings to standard error, too."""
    folder.mkdir(parents=True, exist_ok=True)
    file = logging.handlers.RotatingFileHandler(
        folder / f"{name}.log", maxBytes=_BYTES, backupCount=_FILES, encoding="utf-8"
    )
    shown = logging.StreamHandler(sys.stderr)
    shown.setLevel(logging.WARNING)
    own = logging.getLogger("footing")
    own.setLevel(logging.INFO)
    own.propagate = False
    for handler in (file, shown):
        handler.setFormatter(logging.Formatter(_FORMAT))
        own.addHandler(handler)
