"""What the scripts of the page keep to."""

import re
import subprocess
import sys
from pathlib import Path

from footing.web import app

_SCRIPTS = Path(app.__file__).parent / "static" / "js"
_OWN_WAY = {
    "asking.js",
    "edits.js",  # asks until it is answered
    "frames.js",  # pictures, of which the next one comes anyhow
    "sending.js",  # files in pieces, by a protocol of their own
}


def test_questions_go_through_one_function() -> None:
    """So that no answer is forgotten: refused, unreadable, or none at all."""
    asking = {
        script.name
        for script in _SCRIPTS.glob("*.js")
        if re.search(r"(?<![.\w])fetch\((?!key, )", script.read_text())
    }
    assert asking == _OWN_WAY


def test_types_of_the_scripts_are_those_of_the_state(tmp_path: Path) -> None:
    """They are made anew here; `python tools/shapes/make.py` writes them into their place."""
    made = tmp_path / "shapes.d.ts"
    maker = Path(__file__).parents[2] / "tools/shapes/make.py"
    subprocess.run([sys.executable, str(maker), str(made)], check=True)
    assert made.read_text() == (_SCRIPTS / "shapes.d.ts").read_text()
