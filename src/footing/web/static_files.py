"""What browsers load beside the pages: styles, fonts and pictures as they are, scripts packed.

The scripts of a page are many small modules. A browser that fetched each by itself would wait for
one after the other, a whole round trip each time, so they go out as one file for each page. esbuild
packs them when the program begins.
"""

import gzip
import hashlib
import mimetypes
import subprocess
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory

STATIC = Path(__file__).parent / "static"

_PAGES = ("workbench", "pages", "review", "phone")  # scripts that templates ask for
_SCRIPTS = STATIC / "js"
_LATER = "../vendor/vega.js"  # large, and wanted by some steps only: a file of its own
_SHRINKS = ("text/", "application/json", "image/svg+xml")


@dataclass(frozen=True)
class StaticFile:
    """A file as it goes out.

    gzipped : its content for browsers that take it so; None where that would save nothing
    """

    content: bytes
    gzipped: bytes | None
    media_type: str


@cache
def static_version() -> str:
    """Hash of all static files; part of their address, so that browsers may keep them for ever."""
    digest = hashlib.sha256()
    for file in sorted(STATIC.rglob("*")):
        if file.is_file():
            digest.update(file.read_bytes())
    return digest.hexdigest()[:12]


@cache
def static_files() -> dict[str, StaticFile]:
    """Each static file by its path."""
    unpacked = ((file.relative_to(STATIC), file.read_bytes()) for file in _unpacked())
    packed = ((Path("js") / name, content) for name, content in _packed_scripts())
    return {path.as_posix(): _going_out(path, content) for path, content in (*unpacked, *packed)}


def _unpacked() -> Iterator[Path]:
    for file in STATIC.rglob("*"):
        if file.is_file() and _SCRIPTS not in file.parents:
            yield file


def _packed_scripts() -> list[tuple[str, bytes]]:
    """Name and content of the scripts of all pages, with maps that lead back to the modules."""
    with TemporaryDirectory(prefix="footing-scripts-") as folder:
        subprocess.run(
            [
                "esbuild",
                *(str(_SCRIPTS / f"{page}.js") for page in _PAGES),
                "--bundle",
                "--format=esm",
                "--minify",
                "--sourcemap",
                f"--external:{_LATER}",
                f"--outdir={folder}",
                "--log-level=error",
            ],
            check=True,
        )
        return [(file.name, file.read_bytes()) for file in Path(folder).iterdir()]


def _going_out(path: Path, content: bytes) -> StaticFile:
    media_type = _media_type(path)
    shrinks = media_type.startswith(_SHRINKS)
    return StaticFile(content, gzip.compress(content) if shrinks else None, media_type)


def _media_type(path: Path) -> str:
    if path.suffix == ".map":
        return "application/json"
    return mimetypes.guess_type(path.name)[0] or "application/octet-stream"
