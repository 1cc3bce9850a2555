"""What the scripts of the page keep to."""

import json
import re
import subprocess
import sys
from pathlib import Path

import pytest

from footing.studies.views.graph_spec import SPECS
from footing.web import app
from footing.web.steps import RAIL

_SCRIPTS = Path(app.__file__).parent / "static" / "js"
_OWN_WAY = {
    "asking.js",
    "edits.js",  # asks until it is answered
    "frames.js",  # pictures, of which the next one comes anyhow
    "send-file.js",  # a file as it is; the answer is a page
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


def test_graphs_are_drawn_as_the_tool_makes_them(tmp_path: Path) -> None:
    """Made anew here; `python tools/graphs/make.py` writes the specifications into their place."""
    made = tmp_path / "specs.json"
    maker = Path(__file__).parents[2] / "tools/graphs/make.py"
    subprocess.run([sys.executable, str(maker), str(made)], check=True)
    assert json.loads(made.read_text()) == json.loads(SPECS.read_text())


@pytest.mark.parametrize("count", [0, 1, 2, 7, 8, 41])
def test_a_film_strip_is_filled_from_coarse_to_fine(count: int) -> None:
    script = f"""
const {{ coarseToFine }} = await import("{(_SCRIPTS / "film-strip.js").as_uri()}");
process.stdout.write(JSON.stringify(coarseToFine({count})));
"""
    done = subprocess.run(
        ["node", "--input-type=module", "-e", script], capture_output=True, text=True, check=True
    )
    order = json.loads(done.stdout)
    assert sorted(one["place"] for one in order) == list(range(count))
    for shown in range(1, len(order) + 1):  # each place has its own picture, or stands in for one
        covered = {
            place
            for one in order[:shown]
            for place in range(one["place"], one["place"] + one["reach"])
        }
        assert covered >= set(range(count))
    reaches = [one["reach"] for one in order]
    assert reaches == sorted(reaches, reverse=True)
    assert reaches[-1:] == [1][: len(order)]


def test_every_step_has_a_module_in_the_page_with_the_keys_that_are_named() -> None:
    script = f"""
const {{ STEPS }} = await import("{(_SCRIPTS / "steps/index.js").as_uri()}");
const keys = Object.entries(STEPS).map(([name, step]) => [name, Object.keys(step.keys)]);
process.stdout.write(JSON.stringify(Object.fromEntries(keys)));
"""
    done = subprocess.run(
        ["node", "--input-type=module", "-e", script], capture_output=True, text=True, check=True
    )
    named = {one.step: {cap.lower() for key in one.keys for cap in key.caps} for one in RAIL}
    assert {step: set(keys) for step, keys in json.loads(done.stdout).items()} == named


def test_no_script_or_style_asks_which_step_it_is() -> None:
    """What a step shows is said by its entry and its module."""
    for part in (*_SCRIPTS.glob("*.js"), *(_SCRIPTS.parent / "css").glob("*.css")):
        assert not re.search(r"""step ?[!=]={1,2} ?["']|data-step="[a-z]""", part.read_text()), (
            part.name
        )


def test_parts_of_the_page_are_told_what_changed_and_only_those_that_show_it() -> None:
    script = f"""
const {{ Known }} = await import("{(_SCRIPTS / "known.js").as_uri()}");
const footage = {{ id: 3 }};
const state = {{ seq: 1, version: "1.a", footage, sheet: null, bodies: [1], checks: [] }};
const known = new Known(state, "graph");
const told = [];
known.on("view", (changed) => told.push([...changed].sort()));
known.onParts(["bodies", "ground"], () => told.push("bodies"));
known.onParts(["checks"], () => told.push("checks"));
const fields = {{ version: {{ to: "1.b" }}, seq: {{ to: 2 }}, bodies: {{ to: [2] }} }};
const taken = known.take({{ seq: 2, since: "1.a", changes: {{ fields }} }});
const edit = {{}};
known.suppose(edit, ["checks"], ["shaky"]);
known.answered(edit);
known.suppose(edit, ["checks"], ["shaky"]);
known.tellView();
known.answered(edit);
known.tellView();
process.stdout.write(JSON.stringify({{ taken, told }}));
"""
    done = subprocess.run(
        ["node", "--input-type=module", "-e", script], capture_output=True, text=True, check=True
    )
    assert json.loads(done.stdout) == {
        "taken": True,
        "told": [
            ["bodies", "seq", "version"],
            "bodies",
            *(["checks"], "checks"),  # what is supposed
            *(["checks"], "checks"),  # and what is stored, once it was refused
        ],
    }
