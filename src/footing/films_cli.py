"""A film on the command line: what it holds, and following a point through it."""

import json
from pathlib import Path

import numpy as np

from footing.core.errors import Refused
from footing.media.index import MediaIndex, index_media
from footing.settings import settings


def inspect(file: Path, *, as_json: bool) -> None:
    """Say what a video (or a picture) holds."""
    index = _index(file)
    rhythm = index.cadence
    found = {
        "frames": index.frames,
        "width": index.width,
        "height": index.height,
        "rotation": index.rotation,
        "rate": rhythm.rate,
        "variable_rate": rhythm.variable,
        "duration": rhythm.duration,
        "times": [float(time) for time in index.times],
        "codec": index.codec,
    }
    if as_json:
        print(json.dumps(found))
        return
    for name, value in found.items():
        if name != "times":
            print(f"{name.replace('_', ' ')}: {value}")


def follow(file: Path, frame: int, at: str, *, as_json: bool) -> None:
    """Follow a point of an object through a video, from a frame on."""
    index = _index(file)
    if index.kind == "picture":
        raise Refused("A picture does not move; following is for a video.")
    if not 0 <= frame < index.frames:
        raise Refused(f"There is no frame {frame}; the last one is {index.frames - 1}.")
    x, y = _point(at)
    if not (-0.5 <= x <= index.width - 0.5 and -0.5 <= y <= index.height - 0.5):
        raise Refused(f"({x:g}, {y:g}) lies outside the picture of {index.width} × {index.height}.")
    from footing.core.following import leg, run  # takes long to load; a bad file is refused before
    from footing.media.luma import luma_frames

    pictures = luma_frames(
        file, index, range(frame, index.frames), seconds=settings().survey_seconds
    )
    found: dict[int, tuple[float, float, float]] = {frame: (x, y, 1.0)}
    stopped: dict[str, object] | None = None
    for told in run.follow(pictures, {0: leg.Start(frame, (x, y))}):
        for step in told:
            if isinstance(step, leg.Ended):
                stopped = {"frame": step.frame, "reason": step.reason}
            elif step.sure and step.place:
                found[step.frame] = (*step.place, min(step.quality, 1.0))
            else:
                found.pop(step.frame, None)
    points = [
        {"frame": number, "t": float(index.times[number]), "x": px, "y": py, "quality": quality}
        for number, (px, py, quality) in sorted(found.items())
    ]
    if as_json:
        print(json.dumps({"points": points, "stopped": stopped}))
        return
    for point in points:
        print("{frame:6d} {t:10.4f} {x:10.2f} {y:10.2f} {quality:6.2f}".format_map(point))
    if stopped:
        print("stopped at frame {frame}: {reason}".format_map(stopped))


def _index(file: Path) -> MediaIndex:
    if not file.is_file():
        raise Refused(f"There is no file {file}.")
    limits = settings()
    return index_media(
        file,
        seconds=limits.decode_seconds,
        frame_count=limits.frame_count,
        frame_pixels=limits.frame_pixels,
    )


def _point(text: str) -> tuple[float, float]:
    parts = text.split(",")
    try:
        x, y = (float(part) for part in parts)
    except ValueError as error:
        raise Refused(f"“{text}” is no point; write it as X,Y, such as 312.5,208.") from error
    if not (np.isfinite(x) and np.isfinite(y)):
        raise Refused(f"“{text}” is no point; write it as X,Y, such as 312.5,208.")
    return x, y
