"""Jinja templates, and the addresses of static files with the hash of their content."""

from pathlib import Path

from fastapi.templating import Jinja2Templates

from footing.web.instructions import rendered, rendered_line
from footing.web.static_files import static_version

templates = Jinja2Templates(Path(__file__).parent / "templates")


def static(path: str) -> str:
    """Address of a static file."""
    return f"/static/{static_version()}/{path}"


templates.env.globals["static"] = static
templates.env.filters["instructions"] = rendered
templates.env.filters["instruction_line"] = rendered_line
templates.env.trim_blocks = True
templates.env.lstrip_blocks = True
templates.env.auto_reload = False  # they do not change while the program runs
