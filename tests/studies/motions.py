"""Made-up motions in pixels, and how printed numbers are read."""

RATE, METRE = 25, 100.0  # frames/s, px/m
ENDS = {"start_x": 10, "start_y": 10, "end_x": 110, "end_y": 10}


def thrown(n: float) -> tuple[float, float]:
    """A body that flies: 1.2 m/s to the right, up with 3.0 m/s, g = 9.80665 m/s²."""
    t = n / RATE
    return 20 + METRE * 1.2 * t, 160 - METRE * (3.0 * t - 9.80665 * t * t / 2)


def value(text: str) -> float:
    """The number that a printed one begins with."""
    return float(text.split(" ")[0].replace("−", "-"))
