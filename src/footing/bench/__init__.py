"""The benchmarks: speeds as ratios within one run, or beside the limit that they aim at.

Nothing here fails: a slow machine prints "over". The tests never look at time.

- `measuring`: one line of the result
- `files`: indexing, decoding, memory
- `course` and `following`: how exactly and how fast bodies are followed
- `pages`: what a person at a browser waits for
- `tables`: long tables, many marks, fits and graphs beside the libraries alone
"""

import shutil
import tempfile
from pathlib import Path

from footing.bench import files, following, pages
from footing.settings import Settings


def run() -> None:
    """Print every benchmark."""
    folder = Path(tempfile.mkdtemp(prefix="footing-bench-"))
    folder.chmod(0o755)  # the database's own user must reach its cluster in here
    try:
        settings = Settings(data=folder, demo=True)
        files.measure(settings, folder)
        following.measure(settings, folder)
        pages.measure(settings, folder)
    finally:
        shutil.rmtree(folder, ignore_errors=True)
