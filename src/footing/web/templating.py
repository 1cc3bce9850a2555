"""Jinja templates, and the addresses of static files with the hash of their content."""

import hashlib
from functools import cache
from pathlib import Path

from fastapi.templating import Jinja2Templates

from footing.web.instructions import rendered

_HERE = Path(__file__).parent
STATIC = _HERE / "static"

templates = Jinja2Templates(_HERE / "templates")


@cache
def static_version() -> str:
    """Hash of all static files; part of their address, so that browsers may keep them for ever."""
    digest = hashlib.sha256()
    for file in sorted(STATIC.rglob("*")):
        if file.is_file():
            digest.update(file.read_bytes())
    return digest.hexdigest()[:12]


def static(path: str) -> str:
    """Address of a static file."""
    return f"/static/{static_version()}/{path}"


templates.env.globals["static"] = static
templates.env.filters["instructions"] = rendered
templates.env.trim_blocks = True
templates.env.lstrip_blocks = True
templates.env.auto_reload = False  # they do not change while the program runs
