"""Writes the clips and their truth: ``python -m footing.demo.render [NAME …]``.

Deterministic: the same scene gives the same truth, and the same pictures before encoding.
"""

import json
import sys
from collections.abc import Callable
from pathlib import Path

import cv2
import numpy as np

from footing.demo import kicksled
from footing.demo.balcony import lantern_and_cone
from footing.demo.bouncing import snowball_bounce
from footing.demo.curling import curling_stones
from footing.demo.filming import film, write_video
from footing.demo.footbridge import footbridge
from footing.demo.gliding import ice_puck, snow_tube
from footing.demo.scenes import Scene, sled_run, snowball_lob

CLIPS = Path(__file__).parent / "clips"
SCENES: dict[str, Callable[[], Scene]] = {
    "sled-run": sled_run,
    "snowball-lob": snowball_lob,
    "lantern-and-cone": lantern_and_cone,
    "curling-stones": curling_stones,
    "snow-tube": snow_tube,
    "ice-puck": ice_puck,
    "snowball-bounce": snowball_bounce,
}
PICTURE, SHEET = "footbridge", "kick-sled"
_JPEG_QUALITY = 88


def write_clip(scene: Scene, folder: Path) -> Path:
    """Film a scene into ``folder``; give the clip's path. The truth lies beside it as JSON."""
    clip = folder / f"{scene.name}.mp4"
    camera = scene.camera
    write_video(
        clip,
        film(scene.painter, camera, np.random.default_rng(1)),
        rate=camera.plays_at or camera.rate,
        capture_rate=camera.rate if camera.plays_at else None,
        rotation=camera.rotation,
        encoder={"crf": str(camera.quality), "preset": "slow", "g": str(camera.rate)},
    )
    clip.with_suffix(".json").write_text(json.dumps(scene.truth, indent=1) + "\n")
    return clip


def write_picture(folder: Path) -> Path:
    """Take the photograph of the footbridge; give its path."""
    photograph, truth = footbridge()
    place = folder / f"{PICTURE}.jpg"
    quality = [cv2.IMWRITE_JPEG_QUALITY, _JPEG_QUALITY]
    place.write_bytes(cv2.imencode(".jpg", photograph, quality)[1].tobytes())
    place.with_suffix(".json").write_text(json.dumps(truth, indent=1) + "\n")
    return place


if __name__ == "__main__":
    for name in sys.argv[1:] or (*SCENES, PICTURE, SHEET):
        if name == SHEET:
            kicksled.write(CLIPS)
            continue
        written = write_picture(CLIPS) if name == PICTURE else write_clip(SCENES[name](), CLIPS)
        print(f"{written.name}: {written.stat().st_size / 1e6:.2f} MB")
