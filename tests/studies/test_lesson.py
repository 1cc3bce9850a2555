"""The overview of a class at work, its board, and two groups beside each other."""

import csv
import io
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np
import pytest

from footing.core.errors import NotThere
from footing.settings import Settings
from footing.store import lessons, tables
from footing.store.records import fetch
from footing.store.rows import Lab
from footing.studies.lesson import beside, board, board_graph, board_tables
from footing.studies.lesson.overview import overview
from footing.studies.school import labs as making
from footing.studies.school.labs import AskedFinding
from footing.studies.school.people import Person, person
from footing.studies.views import graph_file
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.studies.steps import Tab

# of each group the readings of a, in m/s²; the last one forgot to halve
READINGS = {
    "Avocet": [2.40, 2.44],
    "Bunting": [2.50, 2.54],
    "Curlew": [2.46, 2.50],
    "Dunlin": [2.52, 2.56],
    "Fulmar": [2.44, 2.48],
    "Gannet": [5.00, 5.04],
}
MEANS = {name: sum(values) / 2 for name, values in READINGS.items()}


@pytest.fixture
def lab(world: World) -> Lab:
    found = fetch(Lab, world.lab.id)
    assert found is not None
    asked = AskedFinding(name="a", quantity="acceleration", unit="m/s^2", accepted="2.5")
    making.ask_for(found, asked)
    return found


def group_with(world: World, name: str) -> Tab:
    """A group with one student and a study of the lab."""
    of = {"school_class": world.school_class}
    group = tables.Group.create(name=name, **of)
    student = tables.Student.create(name=f"{name}'s", group=group, **of)
    study = tables.Study.create(lab=world.lab, group=group, title="Sled run", **of)
    tables.StudyMember.create(study=study, student=student)
    return Tab(study, person("student", student.id))


def finds(tab: Tab, values: list[float], *, name: str = "a", unit: str = "m/s^2") -> None:
    """Record the mean of some readings as a finding."""
    sheet = tab.makes("add_sheet", name=name)
    column = tab.makes("add_column", sheet=sheet, name=name, unit=unit)
    cells = [[f"{value:.6g}"] for value in values]
    tab.does("set_cells", sheet=sheet, row=1, column=column, cells=cells)
    tab.makes("add_finding", column=column, name=name)


def pooled(lab: Lab, who: Person, name: str, **how: Any) -> board.Pool:
    return board.pool_of(overview(lab, who), who, name, **how)


@pytest.fixture
def tabs(world: World, lab: Lab) -> dict[str, Tab]:
    """Six groups that have found a, and v in km/h."""
    made = {}
    for name, values in READINGS.items():
        made[name] = group_with(world, name)
        finds(made[name], values)
        finds(made[name], [18 * value for value in values], name="v", unit="km/h")
    return made


def test_a_line_says_what_a_group_has(
    world: World, lab: Lab, tabs: dict[str, Tab], measured: Measured
) -> None:
    seen = overview(lab, world.teacher)
    lines = {line.group: line for line in seen.lines}
    assert list(lines) == [*sorted([*READINGS, "Heron"])]
    assert seen.waiting == ("Wren",)
    heron = lines["Heron"]
    assert heron.standing is not None
    assert heron.standing.marks == 12
    assert heron.standing.steps["ground"] == "done"
    (found,) = heron.asked[0]
    assert found.text.startswith("−1.2")
    assert found.well is False
    assert lines["Avocet"].members == ("Avocet's",)
    (found,) = lines["Avocet"].asked[0]
    assert found.text == "2.42 ± 0.02 m/s^2"
    assert lines["Avocet"].activity == "now"


def test_several_studies_of_a_group_are_told_apart(lab: Lab, world: World) -> None:
    group_with(world, "Bunting")
    tab = group_with(world, "Avocet")
    again = tables.Study.create(
        lab=world.lab,
        group=tables.Study.get_by_id(tab.study_id).group,
        title="Sled run",
        school_class=world.school_class,
    )
    lines = overview(lab, world.teacher).lines
    named = {(line.study_id, line.which) for line in lines if line.group == "Avocet"}
    assert named == {(tab.study_id, "1 of 2"), (again.id, "2 of 2")}
    assert [line.which for line in lines if line.group == "Bunting"] == [""]


def test_a_finding_of_another_kind_or_without_a_value_is_said_to_be_that(
    world: World, lab: Lab
) -> None:
    tab = group_with(world, "Avocet")
    finds(tab, [3.0, 3.2], unit="kg")
    line = next(line for line in overview(lab, world.teacher).lines if line.group == "Avocet")
    ((found,),) = line.asked
    assert "another kind" in found.text
    pool = pooled(lab, world.teacher, "a")
    assert (pool.entries, pool.left_out) == ((), 1)


@pytest.mark.parametrize(
    ("order", "first"),
    [("group", "Avocet"), ("activity", "Curlew"), ("hand", "Dunlin"), ("marks", "Avocet")],
)
def test_lines_are_sorted_as_is_wanted(
    order: str, first: str, world: World, lab: Lab, tabs: dict[str, Tab]
) -> None:
    earlier = datetime.now(UTC) - timedelta(hours=2)
    of_curlew = tables.Edit.study == tabs["Curlew"].study_id
    tables.Edit.update(made_at=earlier).where(of_curlew).execute()
    group = tabs["Dunlin"].study.group
    assert group is not None
    lessons.raise_hand(group.id, datetime.now(UTC) - timedelta(minutes=3))
    tables.Study.update(removed_at=datetime.now(UTC)).where(
        tables.Study.id == world.study.id
    ).execute()
    lines = overview(lab, world.teacher, order=order).lines
    assert lines[0].group == first
    assert {line.group: line.hand for line in lines}["Dunlin"] == 3
    assert next(line for line in lines if line.group == "Curlew").activity == "2 h ago"


def test_the_board_pools_what_all_groups_found(
    world: World, lab: Lab, tabs: dict[str, Tab]
) -> None:
    pool = pooled(lab, world.teacher, "A")
    assert {one.who: round(one.value, 6) for one in pool.entries} == pytest.approx(MEANS)
    assert all(one.uncertainty == pytest.approx(0.02) for one in pool.entries)
    assert pool.pooled is not None
    assert pool.pooled.mean == pytest.approx(np.mean(list(MEANS.values())))
    assert [one.who for one in pool.entries if one.stands_out] == ["Gannet"]
    said = dict(board_tables.summary(pool))
    assert "Gannet: 5.02 ± 0.02" in said["stands out"]
    assert "5 degrees" in said["χ² of that"]
    assert said["accepted"].startswith("2.5 m/s^2: the mean")


def test_what_stands_out_can_be_left_out(world: World, lab: Lab, tabs: dict[str, Tab]) -> None:
    pool = pooled(lab, world.teacher, "a", all_of_them=False)
    honest = [mean for name, mean in MEANS.items() if name != "Gannet"]
    assert pool.pooled is not None
    assert pool.pooled.mean == pytest.approx(np.mean(honest))
    assert [one.who for one in pool.without] == ["Gannet"]
    assert "Gannet" in dict(board_tables.summary(pool))["left out"]


def test_findings_come_in_the_unit_of_the_board(world: World, lab: Lab) -> None:
    finds(group_with(world, "Avocet"), [240.0, 244.0], unit="cm/s^2")
    (entry,) = pooled(lab, world.teacher, "a").entries
    assert entry.value == pytest.approx(2.42)
    assert entry.text == "2.42 ± 0.02 m/s^2"


def test_trials_of_a_group_are_averaged_like_those_of_the_class(world: World, lab: Lab) -> None:
    tab = group_with(world, "Avocet")
    for values in READINGS.values():
        finds(tab, values)
    assert len(pooled(lab, world.teacher, "a").entries) == 6
    (entry,) = pooled(lab, world.teacher, "a", each=board.GROUPS).entries
    means = list(MEANS.values())
    assert (entry.value, entry.trials) == (pytest.approx(np.mean(means)), 6)
    assert entry.uncertainty == pytest.approx(np.std(means, ddof=1) / 6**0.5)


def test_hidden_names_are_nowhere(world: World, lab: Lab, tabs: dict[str, Tab]) -> None:
    pool = pooled(lab, world.teacher, "a", hides_names=True)
    other = pooled(lab, world.teacher, "v", hides_names=True)
    said = f"{board_tables.summary(pool)} {board_graph.spec_of(pool, 'pairs', other)}"
    said += board_tables.table_file(pool, other, "csv").decode()
    said += str(board_graph.spec_of(pool, "dots", None))
    assert not [name for name in READINGS if name in said]


def test_what_is_accepted_is_on_the_students_board_only_where_it_is_shown(
    world: World, lab: Lab, tabs: dict[str, Tab]
) -> None:
    student = tabs["Avocet"].person
    assert pooled(lab, world.teacher, "a").accepted == (2.5, 0.0)
    assert pooled(lab, student, "a").accepted is None
    tables.LabFinding.update(shown=True).execute()
    assert pooled(lab, student, "a").accepted == (2.5, 0.0)


def test_other_findings_that_several_groups_have_can_be_chosen(
    world: World, lab: Lab, tabs: dict[str, Tab]
) -> None:
    assert board.names_on_board(overview(lab, world.teacher)) == ["a", "v"]
    finds(tabs["Avocet"], [1.0, 2.0], name="mine alone")
    assert board.names_on_board(overview(lab, world.teacher)) == ["a", "v"]
    with pytest.raises(NotThere):
        pooled(lab, world.teacher, "nothing")


def test_two_findings_stand_against_each_other_and_are_fitted_like_any_graph(
    world: World, lab: Lab, tabs: dict[str, Tab]
) -> None:
    up = pooled(lab, world.teacher, "v")
    across = pooled(lab, world.teacher, "a")
    pairs = board.pairs_of(across, up)
    assert len(pairs) == 6
    assert all(pair.y.value == pytest.approx(18 * pair.x.value) for pair in pairs)
    study, sheet = board_tables.into_sheet(world.teacher, lab, up, across)
    tab = Tab(tables.Study.get_by_id(study), world.teacher)
    columns = tab.view(f"s{sheet}")["columns"]
    assert [one["unit"] for one in columns] == ["m/s²", "m/s²", "km/h", "km/h"]
    axes = {"x": f"c{columns[0]['id']}", "y": f"c{columns[2]['id']}"}
    tab.makes("add_fit", sheet=sheet, curve="line", passages=[], **axes)
    (fit,) = tab.view(f"s{sheet}")["fits"]
    (x0, y0), *_, (x1, y1) = fit["line"]
    assert (y1 - y0) / (x1 - x0) == pytest.approx(18, rel=1e-4)
    finds(group_with(world, "Heronry"), [2.6, 2.64])
    assert board_tables.into_sheet(world.teacher, lab, up, across) == (study, sheet)


def test_the_sheet_of_a_board_follows_the_class(
    world: World, lab: Lab, tabs: dict[str, Tab]
) -> None:
    study, sheet = board_tables.into_sheet(
        world.teacher, lab, pooled(lab, world.teacher, "a"), None
    )
    tab = Tab(tables.Study.get_by_id(study), world.teacher)
    assert tab.view(f"s{sheet}")["sheet"]["rows"] == 6
    finds(group_with(world, "Hoopoe"), [2.6, 2.64])
    board_tables.into_sheet(world.teacher, lab, pooled(lab, world.teacher, "a"), None)
    assert tab.view(f"s{sheet}")["sheet"]["rows"] == 7
    tables.Study.update(removed_at=datetime.now(UTC)).where(
        tables.Study.id.in_([tabs["Avocet"].study_id, tabs["Dunlin"].study_id])
    ).execute()
    board_tables.into_sheet(world.teacher, lab, pooled(lab, world.teacher, "a"), None)
    assert tab.view(f"s{sheet}")["sheet"]["rows"] == 5


def test_the_table_has_a_unit_in_its_header_and_every_figure(
    world: World, lab: Lab, tabs: dict[str, Tab]
) -> None:
    pool = pooled(lab, world.teacher, "a")
    text = board_tables.table_file(pool, None, "csv").decode("utf-8-sig")
    header, *rows = csv.reader(io.StringIO(text))
    assert "m/s" in header[1]
    assert {row[0]: float(row[1]) for row in rows} == pytest.approx(MEANS)
    assert board_tables.table_file(pool, None, "ods")[:2] == b"PK"


@pytest.mark.parametrize("shape", ["dots", "histogram", "pairs"])
def test_every_drawing_of_a_board_can_be_had_as_a_picture(
    shape: Any, world: World, lab: Lab, tabs: dict[str, Tab]
) -> None:
    pool = pooled(lab, world.teacher, "a")
    other = pooled(lab, world.teacher, "v")
    drawn = graph_file.draw(board_graph.spec_of(pool, shape, other), "svg", 1.0).decode()
    assert "acceleration" in drawn
    assert (shape == "histogram") is ("number of findings" in drawn)
    assert (shape != "histogram") is ("Gannet" in drawn)


def test_a_group_with_quotes_in_its_name_is_drawn_as_it_is_called(world: World, lab: Lab) -> None:
    finds(group_with(world, "O'Hara <b>\\\"; x"), [2.4, 2.5])
    pool = pooled(lab, world.teacher, "a")
    drawn = graph_file.draw(board_graph.spec_of(pool, "dots", None), "svg", 1.0).decode()
    assert "O'Hara" in drawn.replace("&#39;", "'").replace("&apos;", "'")
    assert "<b>" not in drawn


def second_study(world: World, tab: Tab) -> Tab:
    """A copy of a measured study, of group Wren."""
    from footing.studies.school.copying import duplicate

    made = duplicate(tab.study, world.teacher)
    wren = tables.Group.get(tables.Group.name == "Wren")
    tables.Study.update(group=wren).where(tables.Study.id == made).execute()
    return Tab(tables.Study.get_by_id(made), world.teacher)


def test_two_groups_stand_over_each_other_where_their_axes_are_the_same(
    world: World, lab: Lab, measured: Measured, settings: Settings
) -> None:
    with pytest.raises(NotThere, match="no second study"):
        beside.sides(lab, world.teacher, [])
    other = second_study(world, measured.tab)
    heron, wren = beside.sides(lab, world.teacher, [measured.tab.study_id, other.study_id])
    assert (heron.group, wren.group) == ("Heron", "Wren")
    spec = beside.over_each_other(heron, wren)
    assert spec is not None
    drawn: Any = spec["layer"]
    points = [layer["data"]["values"] for layer in drawn if layer["mark"]["type"] == "point"]
    assert [len(one) for one in points] == [12, 12]
    assert {one["who"] for one in points[1]} == {"Wren"}
    assert heron.film is not None
    frames: Any = heron.film["frames"]
    assert frames[1] == [1, pytest.approx(0.04)]
    footage = other.view()["footage"]["id"]
    other.does("set_graph", footage=footage, x="t", ys=["vy"])
    heron, wren = beside.sides(lab, world.teacher, [other.study_id])
    assert heron.group == "Wren"
    assert beside.over_each_other(heron, wren) is None


def test_studies_of_another_lab_are_not_beside_each_other(
    world: World, lab: Lab, measured: Measured
) -> None:
    second_study(world, measured.tab)
    elsewhere = tables.Study.create(school_class=world.school_class, title="Elsewhere")
    sides = beside.sides(lab, world.teacher, [elsewhere.id, measured.tab.study_id])
    assert elsewhere.id not in {side.study_id for side in sides}
    twice = beside.sides(lab, world.teacher, [measured.tab.study_id] * 2)
    assert twice[0].study_id == measured.tab.study_id != twice[1].study_id


def test_one_study_that_cannot_be_computed_does_not_hide_the_others(
    world: World, lab: Lab, tabs: dict[str, Tab], monkeypatch: pytest.MonkeyPatch
) -> None:
    from footing.core.errors import FootingError
    from footing.studies.lesson import overview as room

    right = room.study_view

    def fails(study: Any, asking: Person, **how: Any) -> Any:
        if study.id == tabs["Avocet"].study_id:
            raise FootingError("the disk is full")
        return right(study, asking, **how)

    monkeypatch.setattr(room, "study_view", fails)
    lines = {line.group: line for line in overview(lab, world.teacher).lines}
    assert lines["Avocet"].standing is None
    assert lines["Bunting"].standing is not None
    assert len(pooled(lab, world.teacher, "a").entries) == 5
