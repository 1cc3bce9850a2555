"""Writes the clips and their truth: ``python -m footing.demo.render [NAME …]``.

Deterministic: the same scene gives the same truth, and the same pictures before encoding.
"""

import json
import sys
from pathlib import Path

import numpy as np

from footing.demo.filming import film, write_video
from footing.demo.scenes import SCENES, Scene

CLIPS = Path(__file__).parent / "clips"


def write_clip(scene: Scene, folder: Path) -> Path:
    """Film a scene into ``folder``; give the clip's path. The truth lies beside it as JSON."""
    clip = folder / f"{scene.name}.mp4"
    camera = scene.camera
    write_video(
        clip,
        film(scene.painter, camera, np.random.default_rng(1)),
        rate=camera.rate,
        rotation=camera.rotation,
        encoder={"crf": str(camera.quality), "preset": "slow", "g": str(camera.rate)},
    )
    clip.with_suffix(".json").write_text(json.dumps(scene.truth, indent=1) + "\n")
    return clip


if __name__ == "__main__":
    for name in sys.argv[1:] or SCENES:
        written = write_clip(SCENES[name](), CLIPS)
        print(f"{written.name}: {written.stat().st_size / 1e6:.2f} MB")
