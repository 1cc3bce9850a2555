"""What browsers load beside the pages: fonts and pictures as they are, scripts and styles packed.

The scripts of a page are many small modules, its styles a file for each subject. A browser that
fetched each by itself would wait for one after the other, a whole round trip each time, so they go
out as one file for each page. esbuild packs them when the program begins.
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

_PACKED = (  # what templates ask for
    "js/workbench.js",
    "js/pages.js",
    "js/review.js",
    "js/phone.js",
    "css/theme.css",
    "css/workbench.css",
    "css/paper.css",
    "css/review.css",
)
_IN_PIECES = (STATIC / "js", STATIC / "css")
_BY_THEMSELVES = ("../vendor/vega.js", "../fonts/*")  # large, and not wanted by everybody
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
    as_they_are = ((file.relative_to(STATIC), file.read_bytes()) for file in _whole())
    return {
        path.as_posix(): _going_out(path, content) for path, content in (*as_they_are, *_packed())
    }


def _whole() -> Iterator[Path]:
    for file in STATIC.rglob("*"):
        if file.is_file() and not set(_IN_PIECES) & set(file.parents):
            yield file


def _packed() -> list[tuple[Path, bytes]]:
    """Path and content of scripts and styles, with maps that lead back to the pieces."""
    with TemporaryDirectory(prefix="footing-static-") as folder:
        subprocess.run(
            [
                "esbuild",
                *_PACKED,
                "--bundle",
                "--format=esm",
                "--minify",
                "--sourcemap",
                *(f"--external:{path}" for path in _BY_THEMSELVES),
                "--outbase=.",
                f"--outdir={folder}",
                "--log-level=error",
            ],
            cwd=STATIC,
            check=True,
        )
        files = [file for file in Path(folder).rglob("*") if file.is_file()]
        return [(file.relative_to(folder), file.read_bytes()) for file in files]


def _going_out(path: Path, content: bytes) -> StaticFile:
    media_type = _media_type(path)
    shrinks = media_type.startswith(_SHRINKS)
    return StaticFile(content, gzip.compress(content) if shrinks else None, media_type)


def _media_type(path: Path) -> str:
    if path.suffix == ".map":
        return "application/json"
    return mimetypes.guess_type(path.name)[0] or "application/octet-stream"
