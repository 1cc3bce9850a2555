"""The benchmarks: speeds as ratios within one run, or beside the limit that they aim at.

Nothing here fails: a slow machine prints "over". The tests never look at time.

- `measuring`: one line of the result; `site`: the site and the window that are measured, and the
  `client` of a person who works in it
- `files`: indexing, decoding, memory
- `course` and `following`: how exactly and how fast bodies are followed
- `hard`: the same on hard films of real textures, beside other ways to follow
- `walkers`: real people on real film, with places that were checked by eye
- `pages`: what a person at a browser waits for; `opening`: the same on slow networks
- `ledgers`: energies and momenta, and how often their uncertainties hold the truth
- `models`: predicted motions beside the library alone, and over a film that plays
- `reports`: reports to PDF, a class that hands in, archives of large films
- `classroom`: a whole class at once, and heavy requests beside it
- `endurance`: the server's memory over many edits
- `derived`: all that follows from the demo's studies, to compare before and after a rebuilding
- `tables`: long tables, many marks, fits and graphs beside the libraries alone
"""

import shutil
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path

from footing.bench import (
    classroom,
    endurance,
    files,
    following,
    ledgers,
    models,
    opening,
    pages,
    reports,
    tables,
)
from footing.bench.hard import measured, walkers
from footing.settings import Settings

_PARTS = {
    "files": files.measure,
    "following": following.measure,
    "hard": measured.measure,
    "walkers": walkers.measure,
    "pages": pages.measure,
    "opening": opening.measure,
    "tables": tables.measure,
    "ledgers": ledgers.measure,
    "models": models.measure,
    "reports": reports.measure,
    "class": classroom.measure,
    "endurance": endurance.measure,
}
PARTS = tuple(_PARTS)


def run(parts: Sequence[str] = PARTS) -> None:
    """Print the benchmarks of some parts."""
    with in_a_folder() as (settings, folder):
        for part in parts:
            _PARTS[part](settings, folder)


@contextmanager
def in_a_folder() -> Iterator[tuple[Settings, Path]]:
    """Settings for a site of its own, in a folder that goes when it is over."""
    folder = Path(tempfile.mkdtemp(prefix="footing-bench-"))
    folder.chmod(0o755)  # the database's own user must reach its cluster in here
    try:
        yield Settings(data=folder, demo=True), folder
    finally:
        shutil.rmtree(folder, ignore_errors=True)
