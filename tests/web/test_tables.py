"""Tables over the API: files in and out, trials, what graphs say, and the rules of a teacher."""

import csv
import io
from typing import Any

import httpx2 as httpx
import numpy as np
import openpyxl
import pytest
from PIL import Image

from footing.formats.reading import read_table
from footing.settings import Settings
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.studies.steps import Tab
from tests.web.conftest import Browserless

TABLE = "time: t (s),distance: d (cm),note\n" + "\n".join(
    f"{n / 10:.1f},{n * n},{'late' if n == 3 else ''}" for n in range(12)
)


@pytest.fixture
def tab(world: World) -> Tab:
    return Tab(world.study, world.heron)


@pytest.fixture
def sheet(site: Browserless, world: World, tab: Tab) -> dict[str, Any]:
    """The state as seen from a sheet that was brought in as a file."""
    answer = site.asks(
        world.heron, "POST", f"/api/studies/{tab.study_id}/tables?name=run", content=TABLE.encode()
    )
    assert answer.status_code == 200
    tab.seq = answer.json()["view"]["seq"]
    view: dict[str, Any] = answer.json()["view"]
    return view


def get(site: Browserless, world: World, tab: Tab, path: str) -> Any:
    return site.asks(world.heron, "GET", f"/api/studies/{tab.study_id}/{path}")


def plot(sheet: dict[str, Any], y: int = 1) -> str:
    x, up = sheet["columns"][0]["key"], sheet["columns"][y]["key"]
    return f"owner=s{sheet['sheet']['id']}&x={x}&y={up}"


def test_a_long_table_goes_out_whole_and_leaves_no_file_behind(
    site: Browserless, world: World, tab: Tab, settings: Settings
) -> None:
    rows = [[str(n), f"{n / 8:.3f}"] for n in range(12_345)]
    text = "n,d (m)\n" + "\n".join(",".join(row) for row in rows)
    path = f"/api/studies/{tab.study_id}/tables?name=long"
    sheet = site.asks(world.heron, "POST", path, content=text.encode()).json()["view"]["sheet"]
    out = get(site, world, tab, f"tables/s{sheet['id']}.csv")
    assert list(csv.reader(io.StringIO(out.text)))[1:] == rows
    assert not list(settings.made_folder.iterdir())


@pytest.mark.parametrize("form", ["csv", "tsv", "ods"])
def test_a_table_goes_out_and_comes_in_again_the_same(
    form: str, site: Browserless, world: World, tab: Tab, sheet: dict[str, Any]
) -> None:
    owner = f"s{sheet['sheet']['id']}"
    out = get(site, world, tab, f"tables/{owner}.{form}")
    assert form != "ods" or "content-encoding" not in out.headers  # it is shrunk as it is
    path = f"/api/studies/{tab.study_id}/tables?name=again"
    again = site.asks(world.heron, "POST", path, content=out.content).json()["view"]
    for name in ("name", "symbol", "unit"):
        assert [one[name] for one in again["columns"]] == [one[name] for one in sheet["columns"]]
    windows = [
        get(site, world, tab, f"sheets/{view['sheet']['id']}/cells").json()["cells"]
        for view in (sheet, again)
    ]
    assert list(windows[0].values()) == list(windows[1].values())


@pytest.mark.parametrize("content", [b"", b"\x00\x01\x02"])
def test_what_is_no_table_is_refused(
    content: bytes, site: Browserless, world: World, tab: Tab
) -> None:
    path = f"/api/studies/{tab.study_id}/tables"
    answer = site.asks(world.heron, "POST", path, content=content)
    assert answer.status_code == 422
    assert "table" in answer.json()["error"]


def test_cells_come_in_windows(
    site: Browserless, world: World, tab: Tab, sheet: dict[str, Any]
) -> None:
    column = sheet["columns"][1]
    path = f"sheets/{sheet['sheet']['id']}/cells?first=3&count=2&columns={column['id']}"
    assert get(site, world, tab, path).json() == {
        "first": 3,
        "rows": 2,
        "cells": {column["key"]: ["9", "16"]},
    }


def test_a_formula_is_tried_before_it_is_kept(
    site: Browserless, world: World, tab: Tab, sheet: dict[str, Any]
) -> None:
    path = f"/api/studies/{tab.study_id}/formulas/trial"
    trial = {"sheet": sheet["sheet"]["id"], "symbol": "v", "formula": "rate(d)"}
    good = site.asks(world.heron, "POST", path, json=trial).json()
    assert (good["unit"], good["error"]) == ("cm/s", None)
    assert [float(value) for value in good["values"][1:4]] == [20, 40, 60]
    bad = site.asks(world.heron, "POST", path, json=trial | {"formula": "d + 2*t"}).json()
    assert bad["span"] == [0, 7]
    assert "do not go together" in bad["error"]
    assert tab.view()["seq"] == tab.seq


def test_a_fit_is_tried_with_a_point_moved_and_nothing_is_kept(
    site: Browserless, world: World, tab: Tab, sheet: dict[str, Any]
) -> None:
    x, y = (one["key"] for one in sheet["columns"][:2])
    wanted = {"kind": "add_fit", "sheet": sheet["sheet"]["id"], "x": x, "y": y}
    wanted |= {"curve": "quadratic"}
    path = f"/api/studies/{tab.study_id}/fits/trial"
    exact = site.asks(world.heron, "POST", path, json=wanted).json()
    moved = site.asks(world.heron, "POST", path, json=wanted | {"moved": {"5": [0.4, 40]}}).json()
    assert exact["r_squared"].startswith("1.0") or exact["r_squared"].startswith("0.99999")
    assert float(moved["r_squared"]) < float(exact["r_squared"])
    view = tab.view(f"s{sheet['sheet']['id']}")  # type: ignore[arg-type]
    assert view["fits"] == []


def test_statistics_area_and_slope_of_a_stretch(
    site: Browserless, world: World, tab: Tab, sheet: dict[str, Any]
) -> None:
    said = get(site, world, tab, f"stretch?{plot(sheet)}&low=0.25&high=0.65").json()
    rows = dict(said["rows"])
    values = np.array([9.0, 16, 25, 36])
    assert rows["n"] == "4"
    assert rows["smallest"] == "9.000 cm"
    assert float(rows["standard deviation"].split()[0]) == pytest.approx(values.std(ddof=1), 1e-3)
    area = float(rows["area"].split()[0])
    assert area == pytest.approx(np.trapezoid(values, dx=0.1), rel=1e-3)
    assert rows["area"].endswith("cm·s")
    slope = get(site, world, tab, f"tangent?{plot(sheet)}&number=5").json()
    assert slope["text"].startswith("80")
    assert slope["text"].endswith("cm/s")
    nothing = get(site, world, tab, f"stretch?{plot(sheet)}&low=7&high=8")
    assert nothing.status_code == 422


def test_a_graph_as_svg_and_png(
    site: Browserless, world: World, tab: Tab, sheet: dict[str, Any]
) -> None:
    source = f"source=s{sheet['sheet']['id']}"
    svg = get(site, world, tab, f"graphs/0.svg?{source}")
    assert svg.text.startswith("<svg")
    assert "distance (cm)" in svg.text
    png = get(site, world, tab, f"graphs/0.png?{source}&width=500&scale=2")
    picture = Image.open(io.BytesIO(png.content))
    assert picture.width >= 1000
    shades = np.asarray(picture.convert("L"))
    assert (shades[:, :80] < 100).sum() > 200  # numbers and title of the vertical axis
    assert (shades[-70:] < 100).sum() > 200
    assert get(site, world, tab, f"graphs/3.svg?{source}").status_code == 404
    assert get(site, world, tab, f"graphs/0.png?{source}&width=90000").status_code == 422


def test_a_body_s_table_has_its_units_in_the_header(
    site: Browserless, world: World, filmed: Tab
) -> None:
    footage = filmed.view()["footage"]["id"]
    body = filmed.makes("add_body", footage=footage, name="cone")
    filmed.does("place_marks", body=body, marks=[[n, 10 + n, 20] for n in range(4)])
    table = read_table(get(site, world, filmed, f"tables/b{body}.csv").content)
    assert [one.name for one in table.headings][:3] == ["frame", "time", "position x"]
    assert [one.unit for one in table.headings][1:3] == ["s", "px"]
    assert len(list(table.rows)) == 4


def test_a_teacher_lays_down_how_graphs_look_and_whether_fits_explain(
    site: Browserless, world: World, tab: Tab, sheet: dict[str, Any]
) -> None:
    key = f"s{sheet['sheet']['id']}"
    x, y = (one["key"] for one in sheet["columns"][:2])
    tab.does("add_fit", sheet=sheet["sheet"]["id"], x=x, y=y, curve="line")
    path = f"/api/studies/{tab.study_id}/rules"
    rules = {"series_look": {"form": "cross", "size": 4}, "dashed": True, "tells_meanings": False}
    assert site.asks(world.heron, "POST", path, json=rules).status_code == 404
    assert tab.view(key)["fits"][0]["readings"] != []  # type: ignore[arg-type]
    assert site.asks(world.teacher, "POST", path, json=rules).status_code == 200
    seen = tab.view(key)  # type: ignore[arg-type]
    assert seen["fits"][0]["readings"] == []
    assert seen["fits"][0]["parameters"] != []
    assert seen["graphs"][0]["series"][0]["path"].startswith("M-1,-1L1,1")
    tab.does("add_fit", sheet=sheet["sheet"]["id"], x=x, y=y, curve="level")
    assert [fit["dashed"] for fit in tab.view(key)["fits"]] == [False, True]  # type: ignore[arg-type]
    tab.does("set_graph", sheet=sheet["sheet"]["id"], looks={y: {"form": "disc"}})
    own = tab.view(key)["graphs"][0]["series"][0]  # type: ignore[arg-type]
    assert not own["path"].startswith("M-1,-1L1,1")


def table_of(
    site: Browserless, world: World, tab: Tab, owner: str, form: str, **query: Any
) -> httpx.Response:
    place = f"/api/studies/{tab.study_id}/tables/{owner}.{form}"
    return site.asks(world.heron, "GET", place, params=query)


def test_chosen_rows_and_columns_go_out_in_every_form_with_the_same_numbers(
    site: Browserless, world: World, measured: Measured
) -> None:
    tab, owner = measured.tab, f"b{measured.body}"
    part = {"columns": ["frame", "px", "py", "t", "y"], "first": 3, "last": 9, "every": 2}
    text = table_of(site, world, tab, owner, "csv", **part).content.decode("utf-8-sig")
    head, *rows = csv.reader(io.StringIO(text))
    assert head == [
        "frame",
        "pixel across: px",
        "pixel down: py",
        "time: t (s)",
        "position y: y (m)",
    ]
    assert [row[0] for row in rows] == ["2", "4", "6", "8"]
    assert [(float(row[1]), float(row[2])) for row in rows] == [
        (50 + n, pytest.approx(20 + 2 * n + 0.1 * n**2, abs=0.005)) for n in (2, 4, 6, 8)
    ]
    book = openpyxl.load_workbook(
        io.BytesIO(table_of(site, world, tab, owner, "xlsx", **part).content)
    )
    (sheet,) = book.worksheets
    cells = [[cell.value for cell in row] for row in sheet.iter_rows()]
    assert cells[0] == head
    assert cells[1:] == [[float(cell) for cell in row] for row in rows]
    decimals = len(rows[0][4].partition(".")[2])
    assert sheet.cell(2, 5).number_format == "0." + "0" * decimals
    ods = read_table(table_of(site, world, tab, owner, "ods", **part).content)
    assert [[cell.replace("−", "-") for cell in row] for row in ods.rows] == rows
    tsv = table_of(site, world, tab, owner, "tsv", **part).text
    assert [line.split("\t") for line in tsv.splitlines()[1:]] == rows
    data = table_of(site, world, tab, owner, "json", **part).json()
    by_key = {one["key"]: one for one in data["columns"]}
    assert list(by_key) == part["columns"]
    assert by_key["y"]["unit"] == "m"
    shown = [float(row[4]) for row in rows]
    assert by_key["y"]["values"] == pytest.approx(shown, abs=0.6 * 10.0**-decimals)
    assert by_key["y"]["values"] != shown  # all digits
    assert all(error > 0 for error in by_key["y"]["uncertainties"])


def test_the_plain_table_is_for_programs(
    site: Browserless, world: World, measured: Measured
) -> None:
    tab = measured.tab
    text = table_of(site, world, tab, f"b{measured.body}", "csv", plain=True).content
    head, *rows = csv.reader(io.StringIO(text.decode("ascii")))
    assert head[:4] == ["frame", "t", "x", "y"]
    assert head[-2:] == ["px", "py"]
    data = table_of(site, world, tab, f"b{measured.body}", "json").json()
    for place, column in enumerate(data["columns"]):
        values = [float(row[place]) if row[place] else None for row in rows]
        assert values == column["values"]
    assert any(row[head.index("vx")] != "" for row in rows)
    sheet = table_of(site, world, tab, f"s{measured.sheet}", "csv", plain=True).text
    head, *rows = csv.reader(io.StringIO(sheet))
    assert head == [f"c{measured.column}", f"c{measured.other_column}", f"c{measured.computed}"]
    assert rows[1] == ["1.5", "1.9", "2.25"]


def test_no_cell_becomes_a_formula(site: Browserless, world: World, measured: Measured) -> None:
    tab = measured.tab
    bad = ["=1+1", "+1+1", "-1+1", "@SUM(A1)"]
    cells = {"row": 1, "column": measured.column, "cells": [[one, "1"] for one in bad]}
    tab.does("set_cells", sheet=measured.sheet, **cells)
    owner = f"s{measured.sheet}"
    text = table_of(site, world, tab, owner, "csv").content.decode("utf-8-sig")
    written = [row[0] for row in csv.reader(io.StringIO(text))][1:5]
    assert written == [f"'{one}" for one in bad]
    book = openpyxl.load_workbook(io.BytesIO(table_of(site, world, tab, owner, "xlsx").content))
    found = [row[0] for row in book.worksheets[0].iter_rows(min_row=2, max_row=5)]
    assert [(cell.value, cell.data_type) for cell in found] == [(one, "s") for one in bad]


def test_a_table_without_the_wanted_columns_is_not_there(
    site: Browserless, world: World, measured: Measured
) -> None:
    for form in ("csv", "json", "xlsx"):
        answer = table_of(site, world, measured.tab, f"b{measured.body}", form, columns=["c99999"])
        assert answer.status_code == 404
        assert "column" in answer.json()["error"]
