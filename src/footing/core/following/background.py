"""Telling a body in a patch from what was behind it: that stays when the body has gone."""

from dataclasses import replace

import cv2
import numpy as np

from footing.core.arrays import Image
from footing.core.following.patches import BEYOND, Patch, Point, smooth_area, window_of
from footing.core.following.streaks import Grey

_RESTLESS = 6.0  # grey levels by which a place that nothing moved in may change
_CHANGED = 5.0  # grey levels that are a change
_LEAST_BODY = 0.1  # share of a patch that must have changed
_BACKGROUND = 0.02  # weight of what was background
_INNER_HOLD = 1.0  # grey levels/px, from which a body holds without its rim


def moved_on(patch: Patch, frame: Image, at: Point) -> Grey | None:
    """Weights of a patch by what has changed in its place; None where that does not tell."""
    assert patch.beyond is not None
    wide = patch.beyond.shape[0] // 2
    now = smooth_area(frame, round(at[0]) - wide, round(at[1]) - wide, 2 * wide + 1)
    change = now - patch.beyond
    inner = np.s_[BEYOND:-BEYOND, BEYOND:-BEYOND]
    around = np.ones(change.shape, dtype=bool)
    around[inner] = False
    noise = 1.48 * float(np.median(np.abs(change[around])))
    if noise > _RESTLESS:  # the camera or the light moved
        return None
    body = (np.abs(change[inner]) > max(4 * noise, _CHANGED)).astype(np.float32)
    if body.mean() < _LEAST_BODY:
        return None
    body = cv2.morphologyEx(body, cv2.MORPH_CLOSE, np.ones((5, 5)))
    window = window_of(patch.reach, patch.spot)
    weights = window
    # its rim shows what is behind it, too; it is needed only where nothing else holds
    for reshape in (cv2.erode, cv2.dilate):
        share = cv2.GaussianBlur(reshape(body, np.ones((3, 3))), (0, 0), 1.0)
        weights = (window * (_BACKGROUND + (1 - _BACKGROUND) * share)).astype(np.float32)
        if replace(patch, weights=weights).hold >= _INNER_HOLD:
            break
    return weights
