"""Several sources, pictures, and a ground that is turned, oblique or unsteady."""

from pathlib import Path

import numpy as np
import pytest
from PIL import Image as Pillow

from footing.core.errors import Refused
from footing.settings import Settings
from footing.store.reading import read_study
from footing.store.rows import Footage
from footing.studies.model.sources import Sources
from tests.films import numbered_film
from tests.studies.conftest import Measured
from tests.studies.read_off import acceleration, cells, check
from tests.studies.steps import Tab

RATE = 25


@pytest.fixture
def picture(tab: Tab, tmp_path: Path, settings: Settings) -> int:
    path = tmp_path / "arch.png"
    Pillow.new("RGB", (400, 300), "white").save(path)
    return tab.uploads(path, settings)


def test_points_on_a_picture_are_a_table_in_the_order_of_marking(tab: Tab, picture: int) -> None:
    tab.does("set_zero", footage=picture, x=200, y=100)
    arch = tab.makes("add_body", footage=picture, name="arch")
    places = [(100, 200), (300, 200), (200, 100), (150, 125)]
    marks = [[number, x, y] for number, (x, y) in enumerate(places)]
    tab.does("place_marks", body=arch, marks=marks)
    tab.does("remove_mark", body=arch, frame=1)
    assert cells(tab, "x") == [-100, 0, -50]
    assert cells(tab, "y") == [-100, 0, -25]
    view = tab.view()
    assert [one["symbol"] for one in view["bodies"][0]["table"]["columns"]] == ["x", "y"]
    assert (view["graphs"][0]["x"], view["graphs"][0]["ys"]) == ("x", ["y"])
    with pytest.raises(Refused, match="no time"):
        tab.does("set_graph", footage=picture, x="t", ys=["y"])


def test_a_shape_on_a_picture_is_fitted(tab: Tab, picture: int) -> None:
    length = tab.makes(
        "add_known_length", footage=picture, frame=0, start_x=0, start_y=10, end_x=100, end_y=10
    )
    tab.does("type_known_length", known_length=length, length="2.00", unit="m")
    tab.does("set_zero", footage=picture, x=200, y=100)
    arch = tab.makes("add_body", footage=picture, name="arch")
    across = enumerate(range(-100, 101, 20))
    marks = [[number, 200 + x, 100 + 0.005 * x**2] for number, x in across]
    tab.does("place_marks", body=arch, marks=marks)
    tab.does("add_fit", body=arch, x="x", y="y", curve="quadratic")
    fit = tab.view()["fits"][0]
    first = fit["parameters"][0]["text"]
    assert float(first.split(" ")[0].replace("−", "-")) == pytest.approx(-0.005 / 0.02, rel=1e-6)
    assert first.endswith("1/m")


def test_each_source_has_its_own_ground_and_bodies(measured: Measured) -> None:
    tab = measured.tab
    first, second = tab.view(measured.footage), tab.view(measured.second)
    assert [one["id"] for one in first["sources"]][:2] == [measured.footage, measured.second]
    assert [body["name"] for body in first["bodies"]] == ["cone", "lamp"]
    assert [body["name"] for body in second["bodies"]] == ["gatepost"]
    assert second["ground"]["length_unit"] == "m"
    assert second["ground"]["plane"] is not None
    assert first["ground"]["plane"] is None


def test_in_an_oblique_view_each_mark_has_its_own_uncertainty_along_each_axis(
    measured: Measured,
) -> None:
    tab = measured.tab
    body = tab.makes("add_body", footage=measured.second, name="sled")
    marks = [[n, 100 + 10 * n, 140 - 12 * n] for n in range(6)]
    tab.does("place_marks", body=body, marks=marks)
    tab.does("turn_axes", footage=measured.second, angle="35", flip_x=False, flip_y=False)
    rows = read_study(tab.study_id)
    source = Sources(rows).footage(rows.find(Footage, measured.second))
    table, known = source.every_table[body], source.ground
    assert known.plane is not None
    shapes = known.axes.matrix @ known.plane.error_shapes(table.body.pixels)
    each = known.plane.per_pixel(table.body.pixels) * known.ground.pixel_uncertainty
    for axis, key in enumerate("xy"):
        column = table.column(key)
        assert column is not None
        assert column.uncertainties == pytest.approx(
            each * np.linalg.norm(shapes[:, axis, :], axis=1)
        )
    tab.does("add_column", footage=measured.second, name="sum", symbol="u", formula="x + y")
    found = tab.view(measured.second)["columns"][0]
    assert not found["problem"]


def test_a_finding_is_seen_from_every_source(measured: Measured) -> None:
    first = measured.tab.view(measured.footage)["findings"]
    assert measured.tab.view(measured.second)["findings"] == first


def test_replacing_the_file_keeps_the_ground_and_drops_what_has_no_frame(
    measured: Measured,
) -> None:
    tab = measured.tab
    tab.does("place_mark", body=measured.body, frame=35, x=50, y=60)
    before = tab.view()["ground"]
    tab.does("replace_footage", footage=measured.footage, content=measured.content, name="b.mp4")
    view = tab.view()
    assert view["footage"]["frames"] == 25
    assert view["footage"]["last"] == 24
    assert view["ground"]["zero"] == before["zero"]
    assert view["ground"]["known_lengths"] == before["known_lengths"]
    assert [mark[0] for mark in view["bodies"][0]["marks"]] == list(range(12))
    tab.does("undo")
    assert len(tab.view()["bodies"][0]["marks"]) == 13


def test_a_file_of_another_size_cannot_take_the_place(
    measured: Measured, films: Path, settings: Settings
) -> None:
    from footing.studies.films import uploads

    small = numbered_film(films / "small.mp4", frames=5, size=(240, 180))
    content = uploads.take_in(small, settings)
    with pytest.raises(Refused, match="different sizes"):
        measured.tab.does("replace_footage", footage=measured.footage, content=content, name="s")


def test_the_ground_of_another_source_is_copied(measured: Measured) -> None:
    tab = measured.tab
    tab.does("turn_axes", footage=measured.footage, angle="7", flip_x=False, flip_y=True)
    tab.does("copy_ground", footage=measured.second, source=measured.footage)
    there, here = tab.view(measured.footage)["ground"], tab.view(measured.second)["ground"]
    for name in ("zero", "angle", "flip_y", "scale"):
        assert here[name] == there[name]
    assert here["plane"] is None
    assert [one["text"] for one in here["known_lengths"]] == ["1.00 m"]


def test_a_clock_for_certain_frames_is_not_copied_to_another_file(measured: Measured) -> None:
    tab = measured.tab
    slow = {"clock": "capture", "typed": "240", "first": 5, "last": 20}
    tab.does("set_clock", footage=measured.footage, **slow)
    tab.does("copy_ground", footage=measured.second, source=measured.footage)
    clock = tab.view(measured.second)["ground"]["clock"]
    assert (clock["kind"], clock["first"]) == ("file", None)
    tab.does("set_clock", footage=measured.footage, clock="capture", typed="240")
    tab.does("copy_ground", footage=measured.second, source=measured.footage)
    # a whole film was taken as the camera is set, and so may the other be
    assert tab.view(measured.second)["ground"]["clock"]["kind"] == "capture"


def test_a_made_up_unit_is_carried_as_such(measured: Measured) -> None:
    tab = measured.tab
    tab.does("type_known_length", known_length=measured.length, length="2", unit="sled")
    view = tab.view()
    units = {one["symbol"]: one["unit"] for one in view["bodies"][0]["table"]["columns"]}
    assert (units["x"], units["v"]) == ("sled", "sled/s")
    assert view["fits"][0]["readings"][0]["text"].endswith("sled/s²")
    tab.does("change_finding", finding=measured.finding, name="a", accepted="9.81")
    assert "in sled" in tab.view()["findings"][0]["comparison"]["needs"]


def test_made_up_and_real_units_do_not_mix(measured: Measured) -> None:
    tab = measured.tab
    ends = {"start_x": 0, "start_y": 0, "end_x": 50, "end_y": 0}
    other = tab.makes("add_known_length", footage=measured.footage, frame=0, **ends)
    with pytest.raises(Refused, match="cannot be compared"):
        tab.does("type_known_length", known_length=other, length="1", unit="sled")
    tab.does("type_known_length", known_length=other, length="19.7", unit="in")
    assert tab.view()["ground"]["scale"]["disagree"] is False


def test_the_unit_of_the_study_is_shown_everywhere_and_compared_in_metres(
    measured: Measured,
) -> None:
    tab = measured.tab
    tab.does("change_finding", finding=measured.finding, name="a", accepted="-1.25")
    metres, before = cells(tab, "y"), tab.view()
    tab.does("set_unit", length="cm")
    view = tab.view()
    assert cells(tab, "y") == pytest.approx([100 * value for value in metres])
    assert view["findings"][0]["unit"] == "cm/s²"
    assert view["ground"]["length_unit"] == "cm"
    verdict = before["findings"][0]["comparison"]
    assert view["findings"][0]["comparison"] == verdict
    assert verdict["verdict"] == "agrees"


def test_a_hidden_length_counts_as_before(measured: Measured) -> None:
    before = measured.tab.view()["ground"]["scale"]
    measured.tab.does("hide_known_length", known_length=measured.length, hidden=True)
    ground = measured.tab.view()["ground"]
    assert ground["scale"] == before
    assert ground["known_lengths"][0]["hidden"]


def test_a_quarter_turn_turns_what_is_seen_and_keeps_the_marks(measured: Measured) -> None:
    tab = measured.tab
    marks, x, y = tab.view()["bodies"][0]["marks"], cells(tab, "x"), cells(tab, "y")
    tab.does("turn_view", footage=measured.footage, quarter=90, mirror=False)
    assert tab.view()["bodies"][0]["marks"] == marks
    # what was down is now to the left, what was right is now down
    assert cells(tab, "x") == pytest.approx(y)
    assert cells(tab, "y") == pytest.approx([-value for value in x])


def test_zero_goes_to_where_a_body_was(measured: Measured) -> None:
    measured.tab.does("set_zero_on_mark", body=measured.body, frame=4)
    assert cells(measured.tab, "x")[4] == cells(measured.tab, "y")[4] == 0


def test_axes_lie_along_a_drawn_line(measured: Measured) -> None:
    ends = {"start_x": 10, "start_y": 10, "end_x": 60, "end_y": 20}
    measured.tab.does("align_axes", footage=measured.footage, **ends)
    angle = measured.tab.view()["ground"]["angle"]
    assert angle == pytest.approx(-np.arctan2(10, 50))


def test_heights_have_their_own_zero_and_their_own_up(measured: Measured) -> None:
    tab, footage = measured.tab, measured.footage
    tab.does("turn_axes", footage=footage, angle="30", flip_x=False, flip_y=False)
    tab.does("set_height_zero", footage=footage, x=0, y=120)
    marks = tab.view()["bodies"][0]["marks"]
    assert cells(tab, "h") == pytest.approx([(120 - y) / 100 for _, _, y in marks], abs=0.006)
    tilt = {"start_x": 0, "start_y": 0, "end_x": 100, "end_y": 10}
    tab.does("level_up", footage=footage, **tilt)
    up = np.array([10, -100]) / np.hypot(10, 100)  # in pixels, across the level line
    expected = [float(np.dot([x, y - 120], up)) / 100 for _, x, y in marks]
    assert cells(tab, "h") == pytest.approx(expected, abs=0.006)
    assert check(tab, "up")["sound"] is False


def test_every_position_goes_through_the_oblique_plane(measured: Measured) -> None:
    tab, second = measured.tab, measured.second
    tab.does("set_zero", footage=second, x=60, y=150)  # the first corner
    body = tab.makes("add_body", footage=second, name="stone")
    for frame, (x, y) in enumerate([(60, 150), (260, 140), (220, 60), (90, 64)]):
        tab.does("place_mark", body=body, frame=frame, x=x, y=y)
    tab.does("remove_body", body=measured.spot)
    table = tab.view(second)["bodies"][0]["table"]["rows"]
    corners = [[float(cell.replace("−", "-")) for cell in row[1:3]] for row in table]
    assert corners == pytest.approx(np.array([[0, 0], [2, 0], [2, 3], [0, 3]]), abs=1e-3)


def test_a_fifth_point_shows_residuals_in_centimetres(measured: Measured) -> None:
    tab, second = measured.tab, measured.second
    assert "fifth point" in tab.view(second)["ground"]["plane"]["uncertainty"]
    tab.does("type_plane_point", point=measured.point, across="1.00", along="1.20")
    plane = tab.view(second)["ground"]["plane"]
    assert all(point["residual"].endswith(" cm") for point in plane["points"])
    assert "scatter" in plane["uncertainty"]


def test_a_known_length_checks_an_oblique_view(measured: Measured) -> None:
    tab, second = measured.tab, measured.second
    ends = {"start_x": 60, "start_y": 150, "end_x": 260, "end_y": 140}
    length = tab.makes("add_known_length", footage=second, frame=0, **ends)
    tab.does("type_known_length", known_length=length, length="2.1", unit="m")
    ground = tab.view(second)["ground"]
    assert "2.00 m" in ground["known_lengths"][0]["in_plane"]
    assert ground["scale"] is None


def test_the_movement_of_the_camera_is_taken_away(measured: Measured) -> None:
    tab, footage = measured.tab, measured.footage
    still = cells(tab, "y")
    spot = tab.makes("add_body", footage=footage, name="gatepost", background=True)
    shake = [(0, 0), (3, -2), (-1, 4), (2, 2)]
    marks = {frame: (x, y) for frame, x, y in tab.view()["bodies"][0]["marks"]}
    for frame, (dx, dy) in enumerate(shake):
        x, y = marks[frame]
        tab.does("place_mark", body=measured.body, frame=frame, x=x + dx, y=y + dy)
        tab.does("place_mark", body=spot, frame=frame, x=200 + dx, y=90 + dy)
    assert cells(tab, "y") == pytest.approx(still[:4])
    assert tab.view()["bodies"][0]["counting"] == [0, 1, 2, 3]


def test_depth_corrects_the_scale_and_is_a_line_of_the_budget(measured: Measured) -> None:
    tab = measured.tab
    before = acceleration(tab)
    tab.does("set_depth", known_length=measured.length, nearer="1.0")
    assert check(tab, "depth")["sound"] is False
    assert acceleration(tab) == before
    tab.does("set_camera_distance", footage=measured.footage, metres="5.0")
    assert acceleration(tab) == pytest.approx(before * 5 / 4, rel=1e-3)
    assert check(tab, "depth")["sound"]
    budget = {part["source"]: part["text"] for part in tab.view()["findings"][0]["budget"]}
    assert float(budget["depth"]) == pytest.approx(abs(before) * 5 / 4 * 0.03 / 4, rel=0.05)


def test_a_length_behind_the_camera_is_refused_at_its_field(measured: Measured) -> None:
    tab = measured.tab
    tab.does("set_camera_distance", footage=measured.footage, metres="2")
    with pytest.raises(Refused, match="behind the camera") as refused:
        tab.does("set_depth", known_length=measured.length, nearer="2.5")
    assert refused.value.field == "nearer"


def test_row_readout_is_a_line_of_the_budget_and_a_warning(measured: Measured) -> None:
    tab = measured.tab
    tab.does("set_readout", footage=measured.footage, milliseconds="30")
    marks = tab.view()["bodies"][0]["marks"]
    speed = (marks[-1][2] - marks[0][2]) / ((marks[-1][0] - marks[0][0]) / RATE)
    effect = 3 * speed * 0.030 / 180
    budget = {part["source"]: part["text"] for part in tab.view()["findings"][0]["budget"]}
    assert float(budget["row readout"]) == pytest.approx(abs(acceleration(tab)) * effect, rel=0.05)
    assert check(tab, "readout")["sound"] is False


def test_a_plain_read_out_says_what_the_scale_means(measured: Measured) -> None:
    sense = measured.tab.view()["ground"]["sense"]
    assert "1 px is 10.0 mm." in sense
    assert "The picture is 3.20 m wide." in sense
    assert "A 1.70 m person would be 170 px tall." in sense
    assert "The clip lasts 1.56 s of true time." in sense


def test_a_short_known_length_is_shaky(measured: Measured) -> None:
    ends = {"start_x": 10, "start_y": 10, "end_x": 40, "end_y": 10}
    measured.tab.does("move_known_length", known_length=measured.length, **ends)
    assert check(measured.tab, "scale-size")["sound"] is False
