"""Telling a body in a patch from what is behind it."""

from dataclasses import replace

import cv2
import numpy as np

from footing.core.following.patches import BEYOND, Patch, window_of
from footing.core.following.scene import Changed
from footing.core.following.streaks import Grey

_LEAST_BODY = 0.04  # share of a patch that must have changed
_MOST_BODY = 0.97
_BACKGROUND = 0.02  # weight of what was background
_INNER_HOLD = 1.0  # grey levels/px, from which a body holds without its rim


def body_weights(patch: Patch, changed: Changed, *, there: bool) -> Grey | None:
    """Weights of a patch by what is not the still background there; None where that tells nothing.

    ``changed`` must be of the patch's place with what lies around it; ``there`` says whether its
    frame is that of the patch, so that colour tells, too.
    """
    if patch.beyond is None or patch.beyond.shape != changed.still.shape:
        return None
    different = changed.mask if there else np.abs(patch.beyond - changed.still) > changed.least
    body = different[BEYOND:-BEYOND, BEYOND:-BEYOND].astype(np.float32)
    body = np.asarray(cv2.morphologyEx(body, cv2.MORPH_CLOSE, np.ones((5, 5))), dtype=np.float32)
    if not _LEAST_BODY <= body.mean() <= _MOST_BODY:
        return None
    window = window_of(patch.reach, patch.spot)
    weights = window
    # its rim shows what is behind it, too; it is needed only where nothing else holds
    for reshape in (cv2.erode, cv2.dilate):
        share = cv2.GaussianBlur(reshape(body, np.ones((3, 3))), (0, 0), 1.0)
        weights = (window * (_BACKGROUND + (1 - _BACKGROUND) * share)).astype(np.float32)
        if replace(patch, weights=weights).hold >= _INNER_HOLD:
            break
    return weights
