"""What browsers load: complete, in few files, and small on the way."""

import json
import re
from pathlib import Path

import pytest

from footing.web.static_files import STATIC, static_files, static_version
from tests.conftest import World
from tests.studies.steps import Tab
from tests.web.conftest import Browserless

_TEMPLATES = STATIC.parent / "templates"
_WAITED_FOR = re.compile(r"""\bfrom ?["']\.[^"']+["']""")


def _asked_for() -> set[str]:
    texts = (template.read_text() for template in _TEMPLATES.rglob("*.html"))
    return {path for text in texts for path in re.findall(r"static\('([^']+)'\)", text)}


def test_everything_that_pages_ask_for_is_there(site: Browserless, world: World) -> None:
    asked = _asked_for()
    assert {"js/workbench.js", "css/theme.css", "vendor/vega.js"} <= asked
    for path in asked:
        answer = site.asks(None, "GET", f"/static/{static_version()}/{path}")
        assert answer.status_code == 200, path
        assert "immutable" in answer.headers["cache-control"]


def test_a_script_waits_for_no_other_one() -> None:
    """A module that imports another one is read only when that has come, too."""
    scripts = [path for path in static_files() if path.startswith("js/") and path.endswith(".js")]
    assert {"js/workbench.js", "js/pages.js"} <= set(scripts)
    for path in scripts:
        content = static_files()[path].content.decode()
        assert not _WAITED_FOR.findall(content), path
        assert not content.startswith("import"), path


def test_the_library_of_graphs_comes_where_one_is_drawn() -> None:
    """Fetched by the workbench while it runs, and not a part of it."""
    workbench = static_files()["js/workbench.js"].content
    assert b'import("../vendor/vega.js")' in workbench
    assert len(workbench) < len(static_files()["vendor/vega.js"].content) / 2


def test_maps_lead_from_packed_scripts_to_the_modules() -> None:
    packed = json.loads(static_files()["js/workbench.js.map"].content)
    modules = {Path(source).name for source in packed["sources"]}
    assert {"workbench.js", "graph.js", "mark.js"} <= modules


@pytest.mark.parametrize("path", ["vendor/bulma.min.css", "js/workbench.js", "css/theme.css"])
def test_what_shrinks_is_shrunk_for_browsers_that_take_it(
    path: str, site: Browserless, world: World
) -> None:
    address = f"/static/{static_version()}/{path}"
    plain = site.asks(None, "GET", address, headers={"accept-encoding": "identity"})
    small = site.asks(None, "GET", address, headers={"accept-encoding": "gzip, br"})
    assert "content-encoding" not in plain.headers
    assert small.headers["content-encoding"] == "gzip"
    assert int(small.headers["content-length"]) < 0.6 * int(plain.headers["content-length"])
    assert small.content == plain.content
    ready = static_files()[path].gzipped  # once for everybody, and not anew for each of a class
    assert ready is not None
    assert int(small.headers["content-length"]) == len(ready)
    assert "accept-encoding" in small.headers["vary"].lower()


def test_pages_and_states_are_shrunk_but_frames_are_not(site: Browserless, filmed: Tab) -> None:
    study, person = filmed.study_id, filmed.person
    for path in (f"/studies/{study}/mark", f"/api/studies/{study}"):
        answer = site.asks(person, "GET", path)
        assert answer.status_code == 200
        assert answer.headers["content-encoding"] == "gzip"
    frame = (
        f"/api/studies/{study}/footage/{filmed.view()['footage']['content']}/frames/0/screen.jpg"
    )
    answer = site.asks(person, "GET", frame)
    assert answer.headers["content-type"] == "image/jpeg"
    assert "content-encoding" not in answer.headers
