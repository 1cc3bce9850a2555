"""Predicted motions without a film, beside a sheet, on graphs, in files and in copies."""

import csv
import io

import pytest

from footing.core.errors import NotThere, Refused
from footing.store.access import class_study
from footing.studies.class_rules import Rules, change_rules
from footing.studies.queries.models_out import as_csv
from footing.studies.school.copying import duplicate
from footing.studies.views.shown import Shown
from footing.studies.views.view import study_view
from tests.conftest import World
from tests.studies.conftest import legs_of
from tests.studies.modelling import (
    G,
    Throw,
    models,
    predicted,
)
from tests.studies.steps import Tab


def test_a_prediction_needs_no_film(tab: Tab) -> None:
    model = tab.makes("add_model", name="hail", law="free fall")
    (leg,) = legs_of(tab, model)
    tab.does("set_parameter", model=model, leg=leg, name="y", typed="30", unit="m")
    tab.does("change_leg", leg=leg, law="free fall", lasts="2")
    tab.does("add_leg", model=model, law="rest", lasts="0.5")
    view = tab.view()["models"]
    (one,) = view["models"]
    assert [leg["text"] for leg in one["legs"]] == ["0.000 … 2.000 s", "2.000 … 2.500 s"]
    end = view["graph"]["lines"][0]["points"][-1]
    assert end == pytest.approx([2.0, 30 - 2 * G], rel=1e-4)
    assert view["graph"]["y_title"] == "position y (m)"
    study = class_study(tab.study_id)
    assert study is not None
    rows = list(csv.reader(io.StringIO(as_csv(study, None).decode("utf-8-sig"))))
    assert rows[0][:4] == ["model", "leg", "t (s)", "x (m)"]
    assert float(rows[-1][4]) == pytest.approx(30 - 2 * G, rel=1e-6)
    with pytest.raises(Refused) as error:
        tab.does("change_leg", leg=leg, law="free fall", lasts="0")
    assert error.value.field == "lasts"


def test_what_a_sheet_measured_of_the_same_stands_beside_a_prediction(tab: Tab) -> None:
    model = tab.makes("add_model", name="hail", law="free fall")
    sheet = tab.makes("add_sheet", name="photogate")
    t = tab.makes("add_column", sheet=sheet, name="time", symbol="t", unit="ms")
    y = tab.makes("add_column", sheet=sheet, name="depth", symbol="y", unit="cm")
    tab.makes("add_column", sheet=sheet, name="load", symbol="F", unit="N")
    tab.does("set_cells", sheet=sheet, row=1, column=t, cells=[["0", "0"], ["500", "-122"]])
    sketch = {"x": f"c{t}", "y": f"c{y}", "line": [[0.0, 0.0], [400.0, -100.0]]}
    tab.does("set_graph", sheet=sheet, x=f"c{t}", ys=[f"c{y}"], sketch=sketch)
    graph = tab.view()["models"]["graph"]
    (series,) = graph["series"]
    assert [point[1:3] for point in series["points"]] == [
        pytest.approx([0.0, 0.0]),
        pytest.approx([0.5, -1.22]),
    ]
    assert graph["lines"][0]["name"] == "hail"
    assert graph["sketch"] == [pytest.approx([0.0, 0.0]), pytest.approx([0.4, -1.0])]
    assert models(tab)[0]["id"] == model


def test_models_as_a_table_hold_the_marks_beside_them(throw: Throw) -> None:
    tab, body, footage = throw
    study = class_study(tab.study_id)
    assert study is not None
    with pytest.raises(NotThere):
        as_csv(study, None)
    predicted(tab, body, footage, "free fall", "fall, by theory")
    rows = list(csv.DictReader(io.StringIO(as_csv(study, str(footage)).decode("utf-8-sig"))))
    assert [int(row["frame"]) for row in rows] == list(range(15))
    for row in rows:
        assert row["model"] == "fall, by theory"
        assert float(row["y (m)"]) == pytest.approx(float(row["mark y"]), abs=1e-4)
    table = tab.view()["models"]["table"]
    assert [row["frame"] for row in table["rows"]] == list(range(15))
    assert float(table["rows"][7]["cells"][-1]) == pytest.approx(0, abs=1e-3)


def test_lines_lie_on_graphs_of_what_is_predicted_only(throw: Throw) -> None:
    tab, body, footage = throw
    predicted(tab, body, footage, "free fall")
    tab.does("set_graph", footage=footage, x="t", ys=["vy"])
    line = tab.view()["graphs"][0]["lines"][0]
    assert line["points"][0][1] == pytest.approx(3.0, abs=1e-3)
    (one,) = models(tab)
    tab.does("change_model", model=one["id"], name=one["name"], shown=False)
    assert tab.view()["graphs"][0]["lines"] == []  # it is switched off
    tab.does("undo")
    tab.does("set_graph", footage=footage, x="t", ys=["ay"])
    assert tab.view()["graphs"][0]["lines"] == []
    study = class_study(tab.study_id)
    assert study is not None
    bare = study_view(study, tab.person, shown=Shown(("lane:x",)))
    assert bare["models"] is None


def test_students_say_themselves_how_models_compare_where_the_lab_wants_that(
    throw: Throw, world: World
) -> None:
    tab, body, _footage = throw
    tab.does("change_body", body=body, name="ball", mass="120", mass_unit="g", size="7.0")
    tab.does("add_theory", body=body)
    assert tab.view()["models"]["compared"]
    study = class_study(tab.study_id)
    assert study is not None
    change_rules(study, world.teacher, Rules(tells_verdicts=False))
    assert tab.view()["models"]["compared"] == []


def test_a_copied_study_takes_parameters_from_its_own_fits(throw: Throw) -> None:
    tab, body, footage = throw
    fit = tab.makes("add_fit", body=body, x="t", y="y", curve="quadratic")
    model = predicted(tab, body, footage, "constant acceleration")
    (leg,) = legs_of(tab, model)
    tab.does(
        "set_parameter",
        **{"model": model, "leg": leg, "name": "ay", "how": "fit"},
        **{"fit": fit, "reading": "acceleration"},
    )
    study = class_study(tab.study_id)
    assert study is not None
    other = class_study(duplicate(study, tab.person))
    assert other is not None
    copied = study_view(other, tab.person)["models"]
    assert copied is not None
    assert copied["models"][0]["legs"][0]["problem"] == ""
    said = {one["name"]: one["text"] for one in copied["models"][0]["legs"][0]["parameters"]}
    mine = {one["name"]: one["text"] for one in models(tab)[0]["legs"][0]["parameters"]}
    assert said == mine


def test_a_copied_model_is_changed_by_itself(throw: Throw) -> None:
    tab, body, footage = throw
    model = predicted(tab, body, footage, "free fall", "with air")
    tab.does("copy_model", model=model)
    first, second = models(tab)
    assert second["name"] == "with air, copy"
    tab.does("change_leg", leg=second["legs"][0]["id"], law="constant velocity", goes_on="free")
    assert [one["legs"][0]["law"] for one in models(tab)] == ["free fall", "constant velocity"]
    said = tab.view()["models"]["compared"]
    assert said == [
        f"“with air” lies closer to the marks than “with air, copy”: {first['rms']} against "
        f"{models(tab)[1]['rms']}."
    ]
