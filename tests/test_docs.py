"""What the documentation promises is there, and what is there is documented."""

import json
import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import typer

from footing.cli import app
from footing.core.curves import Curve
from footing.core.dimensions import read_unit
from footing.core.fitting import Fit, fit_curve
from footing.core.meaning import readings
from footing.core.reading import Variable
from footing.settings import Settings
from footing.studies.edits import EDITS
from footing.studies.school import looking
from footing.studies.views.lab_view import CHECKS
from footing.web.app import create_app
from footing.web.steps import KEYS_EVERYWHERE, RAIL
from tests.browser.conftest import address, port  # noqa: F401
from tests.studies.conftest import Measured, footage, measured, other_films, tab  # noqa: F401

PROJECT = Path(__file__).parents[1]
DOCS = PROJECT / "docs"


def test_every_setting_is_documented_with_its_default_and_meaning() -> None:
    text = (DOCS / "running.md").read_text()
    for name, field in Settings.model_fields.items():
        default = field.default
        shown = {
            "data": "`var` in the project",
            "database_url": "none",
            "public_address": "none",
        }.get(name, f"`{default}`")
        row = f"| `FOOTING_{name.upper()}` | {shown} | {field.description} |"
        assert row in text


def test_every_command_is_documented() -> None:
    text = (DOCS / "running.md").read_text()
    commands = typer.main.get_group(app).commands
    assert set(re.findall(r"`\./footing (\w+)", text.split("## Commands")[1])) >= set(commands)


def test_every_key_is_documented_under_its_step() -> None:
    parts = dict(re.findall(r"^## (.+)\n([^#]*)", (DOCS / "keys.md").read_text(), re.MULTILINE))
    steps = {step.name: step.keys for step in RAIL if step.keys}
    for name, keys in {"Every step": KEYS_EVERYWHERE, **steps}.items():
        rows = [f"| {' '.join(f'`{cap}`' for cap in key.caps)} | {key.does} |" for key in keys]
        assert re.findall(r"^\| `.*$", parts.pop(name), re.MULTILINE) == rows
    assert parts == {}


def test_every_address_of_the_api_is_documented() -> None:
    text = (DOCS / "api.md").read_text()
    paths = create_app(Settings()).openapi()["paths"]
    api = {
        path: methods
        for path, methods in paths.items()
        if path.startswith(("/api/studies", "/api/classes"))
    }
    assert len(api) > 8
    for path, methods in api.items():
        for method in methods:
            assert f"| `{method.upper()} {path}` |" in text


def test_every_edit_is_documented_with_its_fields() -> None:
    rows = {
        cells[0].strip("` "): set(re.findall(r"`(\w+)`", cells[1]))
        for line in (DOCS / "api.md").read_text().splitlines()
        if len(cells := line.strip("|").split(" | ")) == 2 and line.startswith("| `")
    }
    for edit in EDITS:
        fields = dict(edit.model_fields)
        kind = fields.pop("kind").default
        assert rows[kind] == set(fields), kind


def test_every_check_of_instructions_is_documented() -> None:
    text = (DOCS / "classes.md").read_text()
    for check, says in CHECKS.items():
        assert re.search(rf"\| `\[{check}\]`.* \| {re.escape(says.split('; ')[0])}", text), check


@pytest.mark.parametrize("page", ["README.md", *(f"docs/{f.name}" for f in DOCS.glob("*.md"))])
def test_every_link_leads_somewhere(page: str) -> None:
    file = PROJECT / page
    for target in re.findall(r"\]\(([^)#]+)\)", file.read_text()):
        assert (file.parent / target).exists(), target


def test_every_picture_is_shown_and_they_are_fewer_than_twenty() -> None:
    readme = (PROJECT / "README.md").read_text()
    pictures = list((DOCS / "screenshots").glob("*.png"))
    assert 0 < len(pictures) < 20
    assert all(f"docs/screenshots/{picture.name}" in readme for picture in pictures)


def test_vendored_versions_are_those_of_the_manifest() -> None:
    wanted = json.loads((PROJECT / "tools/vendor/package.json").read_text())["dependencies"]
    vendor = PROJECT / "src/footing/web/static/vendor"
    manifest = (vendor / "MANIFEST.md").read_text()
    for name, version in wanted.items():
        assert name == "esbuild" or (name in manifest and version in manifest)
    assert all(f"`{file.name}`" in manifest for file in vendor.iterdir() if file.suffix != ".md")


PACKAGES = (
    *("store", "bench", "studies", "web", "media", "jobs", "formats", "demo"),
    *("studies/model", "studies/views", "studies/queries", "studies/school", "studies/films"),
    *("studies/lesson", "studies/report", "studies/review", "studies/packing"),
    "studies/archives",
    *("core", "core/fitting", "core/formulas", "core/following", "core/prediction"),
)


@pytest.mark.parametrize("package", PACKAGES)
def test_the_map_of_a_package_names_each_of_its_rooms(package: str) -> None:
    folder = PROJECT / "src/footing" / package
    said = (folder / "__init__.py").read_text().split('"""')[1]
    rooms = {
        path.stem
        for path in folder.iterdir()
        if (path.suffix == ".py" or (path / "__init__.py").exists()) and path.stem[0] != "_"
    }
    assert rooms - set(re.findall(r"`(\w+)`", said)) == set()


def test_the_example_for_notebooks_reads_a_study_with_units(
    address: str,  # noqa: F811
    measured: Measured,  # noqa: F811
) -> None:
    (code,) = re.findall(r"```python\n(.*?)```", (DOCS / "notebooks.md").read_text(), re.S)
    link = looking.make_link(measured.tab.study_id, measured.tab.person)
    names: dict[str, Any] = {"LINK": f"{address}/look/{looking.token_of(link)}"}
    exec(code, names)
    frame = names["frames"]["cone"]
    assert list(frame.columns)[:3] == [("frame", ""), ("t", "s"), ("x", "m")]
    body = next(
        one for one in measured.tab.view(measured.footage)["bodies"] if one["name"] == "cone"
    )
    shown = [float(text.replace("−", "-")) for text in body["lanes"]["y"]["texts"]]
    assert frame["y"]["m"].to_list() == pytest.approx(shown, abs=0.0051)
    assert all(error > 0 for error in frame.attrs["uncertainties"]["y"])


def test_the_example_of_a_further_curve_is_fitted_and_says_its_reading() -> None:
    (example,) = re.findall(
        r"A further curve is.*?```python\n(.*?)```",
        (DOCS / "architecture.md").read_text(),
        re.DOTALL,
    )
    made: dict[str, Curve] = {}
    exec(example, made)
    x = np.linspace(0.5, 2, 12)
    fit = fit_curve(x, 3 / x**3, made["INVERSE_CUBE"])
    assert isinstance(fit, Fit)
    distance, force = Variable("r", "r", read_unit("m")), Variable("F", "F", read_unit("N"))
    (reading,) = readings(fit, distance, force, start=0.5, end=2)
    assert reading.value == pytest.approx(3)
    assert str(reading.unit) == str(read_unit("N m^3"))
