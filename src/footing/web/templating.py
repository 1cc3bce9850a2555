"""Jinja templates, and the addresses of static files with the hash of their content."""

from pathlib import Path

from fastapi.templating import Jinja2Templates

from footing.core.dimensions import read_unit
from footing.core.errors import Refused
from footing.web.instructions import rendered, rendered_line
from footing.web.static_files import static_version

templates = Jinja2Templates(Path(__file__).parent / "templates")


def static(path: str) -> str:
    """Address of a static file."""
    return f"/static/{static_version()}/{path}"


def converts_to(unit: str, other: str) -> bool:
    """Whether two units are of one kind; what is none is of no kind."""
    try:
        return read_unit(unit).converts_to(read_unit(other))
    except Refused:
        return False


templates.env.globals["static"] = static
templates.env.filters["instructions"] = rendered
templates.env.filters["instruction_line"] = rendered_line
templates.env.filters["converts_to"] = converts_to
templates.env.trim_blocks = True
templates.env.lstrip_blocks = True
templates.env.auto_reload = False  # they do not change while the program runs
