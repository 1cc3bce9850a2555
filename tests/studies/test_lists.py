"""Studies in the list: renamed, duplicated, removed and taken back; where somebody left off."""

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest

from footing.core.errors import NotThere, Refused
from footing.settings import Settings
from footing.store.tables import CONTENT, Edit, Study
from footing.studies.school.copying import duplicate
from footing.studies.school.lists import (
    classes_of,
    remove_study,
    rename_study,
    take_back_study,
)
from footing.studies.school.people import visible_study
from footing.studies.school.places import Place, leave_off, left_off
from footing.studies.school.tidying import tidy
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.studies.steps import Tab


def listed(person: Any) -> list[str]:
    return [
        study.title for part in classes_of(person) for lab in part.labs for study in lab.studies
    ]


def test_a_copy_shows_the_same_and_is_changed_by_itself(measured: Measured, world: World) -> None:
    tab = measured.tab
    graph = {"x": "t", "ys": ["y"], "title": "Height"}
    tab.does("set_graph", footage=measured.footage, **graph)
    column, computed = f"c{measured.column}", f"c{measured.computed}"
    tab.does("set_graph", sheet=measured.sheet, x=column, ys=[computed])
    tab.does("add_fit", sheet=measured.sheet, x=column, y=computed, curve="line")
    spot = tab.makes("add_second_spot", body=measured.body)
    tab.does("add_finding", fit=measured.fit, reading="acceleration", name="again")
    key = duplicate(visible_study(world.heron, tab.study_id), world.heron)
    copied = Tab(Study.get_by_id(key), world.heron)
    numbers = {
        table: table.select().where(table.study == tab.study_id).count() for table in CONTENT
    }
    assert numbers == {
        table: table.select().where(table.study == copied.study_id).count() for table in CONTENT
    }
    first, second = tab.view(), copied.view()
    for key in ("table", "marks", "counting"):
        assert [one[key] for one in first["bodies"]] == [one[key] for one in second["bodies"]]
    for key in ("text", "interval", "name"):
        assert [one[key] for one in first["findings"]] == [one[key] for one in second["findings"]]
    texts = [[one["text"] for one in view["fits"][0]["parameters"]] for view in (first, second)]
    assert texts[0] == texts[1]
    assert second["fits"][0]["passages"] == [second["passages"][0]["id"]]
    sheets = [
        view_of.view(next(one["id"] for one in view["sources"] if str(one["id"]).startswith("s")))
        for view_of, view in ((tab, first), (copied, second))
    ]
    assert sheets[0]["graphs"][0]["title"] == sheets[1]["graphs"][0]["title"]
    points = [one["graphs"][0]["series"][0]["points"] for one in sheets]
    assert points[0] == points[1]
    lines = [[part["text"] for part in one["fits"][0]["parameters"]] for one in sheets]
    assert lines[0] == lines[1]
    assert spot in [one["id"] for one in first["bodies"]]
    (of_copy,) = (one for one in second["bodies"] if one["second_of"] is not None)
    assert of_copy["second_of"] == second["bodies"][0]["id"]
    assert points[0]
    assert second["undo"] is None
    copied.does("place_mark", body=second["bodies"][0]["id"], frame=3, x=1, y=1)
    assert tab.view()["bodies"][0]["marks"] == first["bodies"][0]["marks"]
    assert copied.view()["bodies"][0]["marks"] != first["bodies"][0]["marks"]


def test_a_study_is_renamed_removed_and_taken_back(world: World) -> None:
    study = visible_study(world.heron, world.study.id)
    rename_study(study, "  Sled, second try ")
    assert "Sled, second try" in listed(world.heron)
    for wrong in ("", " ", "x" * 81):
        with pytest.raises(Refused):
            rename_study(study, wrong)
    remove_study(study)
    assert "Sled, second try" not in listed(world.heron)
    with pytest.raises(NotThere):
        visible_study(world.heron, study.id)
    with pytest.raises(NotThere):
        take_back_study(world.wren, study.id)
    (gone,) = classes_of(world.heron)[0].removed
    assert gone.title == "Sled, second try"
    take_back_study(world.heron, gone.id)
    assert "Sled, second try" in listed(world.heron)


def test_a_removed_study_goes_for_good_after_some_weeks(
    measured: Measured, world: World, settings: Settings
) -> None:
    study = visible_study(world.heron, measured.tab.study_id)
    remove_study(study)
    assert tidy(settings).studies == 0
    Study.update(removed_at=datetime.now(UTC) - timedelta(days=31)).execute()
    assert tidy(settings).studies == 1
    assert not Study.select().where(Study.id == study.id).exists()
    assert not Edit.select().where(Edit.study == study.id).exists()


def test_everybody_goes_on_where_they_left_off(world: World) -> None:
    study = visible_study(world.heron, world.study.id)
    assert left_off(study, world.heron) is None
    leave_off(study, world.heron, Place(step="mark", source="4", frame=12, body=3))
    leave_off(study, world.heron, Place(step="graph", source="s2", frame=13, body=-5))
    assert left_off(study, world.heron) == Place(step="graph", source="s2", frame=13, body=None)
    assert left_off(study, world.teacher) is None
