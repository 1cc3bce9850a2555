"""Reads many damaged files: ``python -m tests.media.mutations FOLDER COUNT``.

Runs in a process of its own, because the codec library is allowed to fail here in any way but by
crashing. Prints one line of JSON: how many files were readable, refused, how long the slowest
took, and the memory that all of them needed.
"""

import json
import resource
import sys
import time
from pathlib import Path

import numpy as np

from footing.core.errors import Unreadable
from footing.media.frames import decode_group
from footing.media.index import index_media
from footing.media.survey import survey

LIMIT = 10.0  # seconds for each step


def mutated(data: bytes, rng: np.random.Generator) -> bytes:
    """Overwrite, remove, repeat or swap some bytes, or cut the file off."""
    changed = bytearray(data)
    for _ in range(int(rng.integers(1, 12))):
        at, length = int(rng.integers(len(changed))), int(rng.integers(1, 400))
        way = rng.integers(5)
        if way == 0:
            changed[at : at + length] = rng.bytes(min(length, len(changed) - at))
        elif way == 1:
            del changed[at : at + length]
        elif way == 2:
            changed[at:at] = changed[at : at + length]
        elif way == 3:
            changed[at] ^= 1 << int(rng.integers(8))
        else:
            header = int(rng.integers(min(len(changed), 1200)))
            changed[header : header + 4] = rng.bytes(4)
    return bytes(changed[: int(rng.integers(1, len(changed)))] if rng.random() < 0.1 else changed)


def read(path: Path) -> str:
    """Use a file as the application does."""
    try:
        index = index_media(path, seconds=LIMIT, frame_count=10_000, frame_pixels=4_000_000)
        end = index.keys[1] if len(index.keys) > 1 else index.frames
        shown = sum(1 for _ in decode_group(path, index, 0, end, seconds=LIMIT))
        if index.kind == "video":
            survey(path, index, seconds=LIMIT)
    except Unreadable:
        return "refused"
    return "readable" if shown else "refused"


def main(folder: Path, count: int) -> None:
    """Mutate every file of the folder in turn."""
    good = sorted(path for path in folder.iterdir() if path.is_file())
    rng = np.random.default_rng(200)
    found = {"readable": 0, "refused": 0}
    slowest = 0.0
    for path in good:
        assert read(path) == "readable", path
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    for number in range(count):
        source = good[number % len(good)]
        trial = folder / "trial" / f"{number}{source.suffix}"
        trial.parent.mkdir(exist_ok=True)
        trial.write_bytes(mutated(source.read_bytes(), rng))
        begun = time.monotonic()
        found[read(trial)] += 1
        slowest = max(slowest, time.monotonic() - begun)
        trial.unlink()
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    more = (peak - before) / 1024
    print(json.dumps(found | {"slowest_seconds": slowest, "more_megabytes": more}))


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]))
