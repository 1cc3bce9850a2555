"""What the models of the demo's studies find, against the truth that lies beside the clips."""

import json
import re
from typing import Any

import pytest

from footing.demo.hand import CLIPS
from footing.demo.seed import seed_demo
from footing.settings import Settings
from footing.store.access import class_study
from footing.store.tables import Study, Teacher
from footing.studies.school.people import person
from footing.studies.views.view import study_view

_CARE = 2.7  # uncertainties: one of a dozen numbers may be that far off


def truth(name: str) -> dict[str, Any]:
    found: dict[str, Any] = json.loads((CLIPS / f"{name}.json").read_text())
    return found


def read(text: str) -> tuple[float, float]:
    """Value and ± of a printed number."""
    found = re.match(r"(−?[\d.]+)(?: ± ([\d.]+))?", text)
    assert found is not None
    return float(found[1].replace("−", "-")), float(found[2] or 0)


@pytest.fixture
def views(empty_database: str, settings: Settings) -> dict[tuple[str, str], Any]:
    """The states of the demo's studies, by title and group."""
    seed_demo(settings)
    teacher = person("teacher", Teacher.select().first().id)
    found = {}
    for row in Study.select().where(Study.group.is_null(False)):  # without starts of labs
        study = class_study(row.id)
        assert study is not None
        found[row.title, row.group.name] = study_view(study, teacher)
    return found


def results(view: Any) -> dict[str, tuple[float, float]]:
    """Of each model what it found, by model and name."""
    return {
        f"{model['name']} {one['name']}": read(one["text"])
        for model in view["models"]["models"]
        for one in model["results"]
        if "×" not in one["text"]
    }


def test_models_of_the_demo_find_the_truth(views: dict[tuple[str, str], Any]) -> None:
    tube = results(views["Snow tube", "Wren"])
    legs = truth("snow-tube")["legs"]
    for number, leg in enumerate(legs, start=1):
        value, error = tube[f"three legs ax{number}"]
        assert abs(value - leg["acceleration"]) < _CARE * error, leg["name"]
    for number, moment in ((1, 1.0), (2, 2.6)):
        value, error = tube[f"three legs until{number}"]
        assert abs(value - moment) < _CARE * error
    falls = views["Lantern and cone", "Heron"]
    for name, known in truth("lantern-and-cone")["drag_coefficients"].items():
        value, error = results(falls)[f"{name} with air drag_coefficient"]
        assert abs(value - known) < _CARE * error
        assert name == "cone" or abs(value - known) < 0.05 * known
        speed, spread = results(falls)[f"{name} with air v_t"]
        assert abs(speed - truth("lantern-and-cone")["terminal_speeds"][name]) < _CARE * spread
    stops = {model["name"]: model["stops_at"] for model in falls["models"]["models"]}
    assert stops["lantern with air"] is None
    assert stops["lantern without air"] < stops["cone without air"]
    assert len(falls["models"]["compared"]) == 2
    bounce = results(views["Snowball bounce", "Siskin"])
    known = truth("snowball-bounce")
    lands = known["impact_time"] - known["release_time"]
    for name, value in (
        ("restitution2", known["restitution"]),
        ("contact_friction2", known["friction"]),
        ("g", known["gravity"]),
        ("until1", lands),
    ):
        got, error = bounce[f"fall and bounce {name}"]
        assert abs(got - value) < _CARE * error, name
    for view in views.values():
        problems = [model["problem"] for model in (view["models"] or {"models": []})["models"]]
        assert not any(problems)
        assert all(finding["reason"] is None for finding in view["findings"])
