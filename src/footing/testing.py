"""Running the checks and the tests: the tests by as many processes as keep all cores busy."""

import os
import subprocess
import sys
import tempfile
from collections.abc import Sequence
from pathlib import Path

_Running = tuple[Sequence[str], "subprocess.Popen[bytes]", Path | None]

_PYTEST = [sys.executable, "-m", "pytest"]
_WORKERS = (os.cpu_count() or 1) + 1  # one more than cores: many tests wait for another process
_YIELDING = 10  # niceness of what only computes: a browser that waits for its turn looks broken


def run(project: Path, arguments: Sequence[str]) -> None:
    """Run all checks and tests of a project, or pytest alone with arguments; exit if one fails."""
    if arguments:
        _together(project, [[*_PYTEST, *arguments]])
        return
    yielding = ["nice", "-n", str(_YIELDING)]
    _together(
        project,
        [
            [*_PYTEST, "-n", str(_WORKERS), "--dist", "worksteal"],
            [sys.executable, "-m", "ruff", "check", "."],
            [sys.executable, "-m", "ruff", "format", "--check", "."],
            [*yielding, sys.executable, "-m", "mypy"],
            [*yielding, str(Path(sys.executable).with_name("lint-imports")), "--no-cache"],
            [*yielding, "tsc", "-p", "src/footing/web/static/js/jsconfig.json"],
        ],
    )


def _together(project: Path, commands: Sequence[Sequence[str]]) -> None:
    """Run commands at once; what the first one says is seen at once, the rest when it has ended."""
    first, *others = commands
    failed = []
    with tempfile.TemporaryDirectory() as folder:
        running: list[_Running] = [(first, subprocess.Popen(first, cwd=project), None)]
        running += [
            _beside(project, command, Path(folder, str(place)))
            for place, command in enumerate(others)
        ]
        for command, process, said in running:
            process.wait()
            if said is not None:
                print(said.read_text(errors="replace"), end="", flush=True)
            if process.returncode:
                failed.append(command)
    for command in failed:
        print(f"footing: failed: {' '.join(command)}", file=sys.stderr)
    if failed:
        sys.exit(1)


def _beside(project: Path, command: Sequence[str], said: Path) -> _Running:
    """Begin a command that writes what it says to a file."""
    with said.open("wb") as into:
        process = subprocess.Popen(command, cwd=project, stdout=into, stderr=subprocess.STDOUT)
    return command, process, said
