"""The acceleration of free fall at a place.

Normal gravity on the ellipsoid by Somigliana's formula with the constants of WGS 84 (NIMA
TR8350.2, 3rd ed., 4-1), less 3.086 µm/s² for each metre of height (free-air gradient).
"""

from math import radians, sin, sqrt

_EQUATOR = 9.7803253359  # m/s²
_GROWS = 0.00193185265241
_FLAT = 0.00669437999013
_EACH_METRE = 3.086e-6  # 1/s²
LOCAL = 5e-4  # m/s², by which rocks and mountains change it from place to place


def free_fall(latitude: float, height: float) -> float:
    """g in m/s²; latitude in degrees, height above the sea in metres."""
    square = sin(radians(latitude)) ** 2
    return _EQUATOR * (1 + _GROWS * square) / sqrt(1 - _FLAT * square) - _EACH_METRE * height
