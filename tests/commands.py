"""Running commands as a person types them."""

import os
import subprocess
import sys
from pathlib import Path

PROJECT = Path(__file__).parents[1]


def environment(**more: str) -> dict[str, str]:
    return {**os.environ, "PYTHONPATH": str(PROJECT / "src"), **more}


def footing(*arguments: str | Path, **more: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "footing", *map(str, arguments)]
    return subprocess.run(
        command, capture_output=True, text=True, env=environment(**more), check=False
    )


def refused(*arguments: str | Path, **more: str) -> str:
    """The one line of a command that is refused with exit status 2."""
    done = footing(*arguments, **more)
    assert done.returncode == 2
    assert done.stdout == ""
    lines = done.stderr.strip().splitlines()
    assert len(lines) == 1
    return lines[0]
