"""The kick-sled: how far it glides once the kicking stops, as a group wrote it down.

d = v²/(2 μ g). The speed is read from a bicycle computer on the runner, to a hundredth, the
distance from a tape along the track, to five centimetres; snow is not the same everywhere, so each
glide has a friction of its own. In the last glide the sled ran into a bale of straw.
"""

import csv
import json
from pathlib import Path

import numpy as np

FRICTION, GRAVITY = 0.055, 9.81
_SPEEDS = (1.1, 1.4, 1.7, 2.0, 2.3, 2.6, 2.9, 3.2, 3.5, 3.8)  # m/s
_SPEED_ERROR, _DISTANCE_ERROR, _SNOW = 0.02, 0.05, 0.03  # m/s, m, share of the friction
_STOPPED_SHORT = 0.72  # share of the way at which the bale stood
_SEED = 21


def write(folder: Path) -> None:
    """Write the table, and the truth beside it."""
    rng = np.random.default_rng(_SEED)
    speeds = np.array(_SPEEDS) + rng.uniform(-0.08, 0.08, size=len(_SPEEDS))
    friction = FRICTION * (1 + rng.normal(scale=_SNOW, size=len(speeds)))
    distances = speeds**2 / (2 * friction * GRAVITY)
    distances[-1] *= _STOPPED_SHORT
    read_speeds = speeds + rng.normal(scale=_SPEED_ERROR, size=len(speeds))
    read_distances = distances + rng.normal(scale=_DISTANCE_ERROR, size=len(speeds))
    with (folder / "kick-sled.csv").open("w", newline="") as file:
        writer = csv.writer(file, lineterminator="\n")
        writer.writerow(["speed: v (m/s)", "stopping distance: d (m)"])
        for v, d in zip(read_speeds, read_distances, strict=True):
            writer.writerow([f"{v:.2f}", f"{round(d / 0.05) * 0.05:.2f}"])
    truth = {"friction": FRICTION, "gravity": GRAVITY, "stopped_short": len(speeds)}
    (folder / "kick-sled.json").write_text(json.dumps(truth, indent=1) + "\n")
