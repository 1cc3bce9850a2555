"""Measuring, and one line of the result."""

import time
from collections.abc import Callable


def line(name: str, value: float, unit: str, limit: float, *, at_least: bool = False) -> None:
    """Print a value beside the limit that it aims at."""
    kept = value >= limit if at_least else value <= limit
    wanted = f"{'at least' if at_least else 'at most'} {limit:g} {unit}".strip()
    print(f"{name:<58}{value:>9.3g} {unit:<9}{wanted:<20}{'' if kept else 'over'}", flush=True)


def seconds(action: Callable[[], object]) -> float:
    """How long something takes."""
    started = time.perf_counter()
    action()
    return time.perf_counter() - started
