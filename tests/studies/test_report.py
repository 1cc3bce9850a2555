"""A report: what its blocks show, that it follows the study, and how it is laid out."""

from xml.etree import ElementTree

import pytest

from footing.core.errors import NotThere, Refused
from footing.formats.document import Grid, Paragraph, Picture, Title, Value
from footing.store.access import class_study
from footing.store.reading import read_study
from footing.studies.report.figures import FrameFigure
from footing.studies.report.frames import as_svg
from footing.studies.report.offers import offers
from footing.studies.report.report import Report, report_of
from footing.studies.report_keys import BlockKind, keys_of, renumbered
from footing.studies.school.copying import duplicate
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.studies.steps import Tab, all_rows


def of(tab: Tab) -> Report:
    return report_of(tab.study, tab.person)


def cleared(measured: Measured) -> Tab:
    tab = measured.tab
    for block in read_study(tab.study_id).report:
        tab.does("remove_block", block=block.id)
    return tab


def problems(report: Report) -> dict[str, str]:
    found = {block.row.kind: block.shows.problem for block in report.blocks}
    return {kind: problem for kind, problem in found.items() if problem}


def test_a_first_report_has_what_the_study_has_and_is_taken_back_in_one_step(
    measured: Measured,
) -> None:
    tab = cleared(measured)
    before = all_rows(tab.study_id)
    tab.does("lay_out_report")
    report = of(tab)
    kinds = [block.row.kind for block in report.blocks]
    assert kinds[0] == "title"
    for kind in ("question", "frame", "strobe", "table", "graph", "fit", "findings", "budgets"):
        assert kind in kinds, kind
    assert kinds.index("frame") < kinds.index("table") < kinds.index("graph")
    assert kinds.index("graph") < kinds.index("findings") < kinds.index("budgets")
    assert set(problems(report)) <= {"momenta", "answer"}  # nothing hits here, nobody answered
    with pytest.raises(Refused):
        tab.does("lay_out_report")
    tab.does("undo")
    assert all_rows(tab.study_id)["ReportBlock"] == before["ReportBlock"]
    tab.does("redo")
    assert [block.row.kind for block in of(tab).blocks] == kinds


def test_the_numbers_are_those_of_the_study_and_follow_it(measured: Measured) -> None:
    tab = cleared(measured)
    tab.makes("add_block", block="findings")
    tab.makes("add_block", block="finding", about=str(measured.finding))
    tab.makes("add_block", block="text", words="It falls with {a}; its mass is {M}, not {nobody}.")

    def seen() -> tuple[str, str, dict[str, Value]]:
        findings, finding, text = of(tab).blocks
        grid = next(part for part in findings.shows.parts if isinstance(part, Grid))
        sentence = finding.shows.parts[0]
        words = text.shows.parts[0]
        assert isinstance(sentence, Paragraph)
        assert isinstance(words, Paragraph)
        said = "".join(getattr(run, "text", "") for run in sentence.runs)
        return (
            grid.rows[0][1],
            said,
            {run.name: run for run in words.runs if isinstance(run, Value)},
        )

    table, sentence, values = seen()
    stored = tab.view()["findings"][0]["text"]
    assert table == stored
    assert sentence == f"a = {stored}"
    assert values["a"].text == stored
    assert values["M"].text == "0.250 ± 0.001 kg"
    assert values["nobody"].missing
    assert not values["a"].missing
    tab.does("type_known_length", known_length=measured.length, length="2.00", unit="m")
    later_table, later_sentence, later_values = seen()
    later = tab.view()["findings"][0]["text"]
    assert later != stored
    assert (later_table, later_sentence) == (later, f"a = {later}")
    assert later_values["a"].text == later


def test_energies_are_offered_only_where_something_was_weighed(measured: Measured) -> None:
    def kinds() -> list[BlockKind]:
        return [one.block for one in offers(read_study(measured.tab.study_id), None)]

    measured.tab.does("weigh_body", body=measured.body, mass="")
    assert not {BlockKind.ENERGIES, BlockKind.ACCOUNTS} & set(kinds())
    assert BlockKind.GRAPH in kinds()
    measured.tab.does("weigh_body", body=measured.body, mass="0.3")
    assert {BlockKind.ENERGIES, BlockKind.ACCOUNTS} <= set(kinds())


def test_a_sentence_follows_a_finding_that_is_renamed(measured: Measured) -> None:
    tab = measured.tab
    tab.does("change_finding", finding=measured.finding, name="pull of the earth")
    words = [block.words for block in read_study(tab.study_id).report]
    assert "It falls with {pull of the earth}." in words


def test_a_block_of_what_is_gone_says_so_and_comes_back_with_it(measured: Measured) -> None:
    tab = cleared(measured)
    tab.makes("add_block", block="fit", about=str(measured.fit))
    assert problems(of(tab)) == {}
    tab.does("remove_fit", fit=measured.fit)
    assert list(problems(of(tab))) == ["fit"]
    tab.does("undo")
    assert problems(of(tab)) == {}


def test_a_table_has_the_rows_and_columns_that_were_chosen(measured: Measured) -> None:
    tab = cleared(measured)
    about = f"b{measured.body}"
    block = tab.makes("add_block", block="table", about=about, columns=["t", "y"], first=3, last=8)

    def grid() -> Grid:
        (shown,) = of(tab).blocks
        part = shown.shows.parts[0]
        assert isinstance(part, Grid)
        return part

    whole = tab.view(measured.footage)["bodies"][0]["table"]
    keys = [column["key"] for column in whole["columns"]]
    t, y = keys.index("t"), keys.index("y")
    assert grid().rows == tuple((row[t], row[y]) for row in whole["rows"][2:8])
    assert [heading.partition(" ")[0] for heading in grid().headings] == ["t", "y"]
    tab.does("change_block", block=block, columns=["y"], every=5)
    assert grid().rows == tuple((row[y],) for row in whole["rows"][::5])
    tab.does("change_block", block=block, columns=[f"c{measured.column}"])
    assert list(problems(of(tab))) == ["table"]  # a column of another table


def test_figures_and_tables_are_numbered_in_the_order_that_they_have(measured: Measured) -> None:
    tab = cleared(measured)
    first = tab.makes("add_block", block="graph", about=f"{measured.footage}/0")
    second = tab.makes("add_block", block="strobe", about=str(measured.body))
    table = tab.makes("add_block", block="table", about=f"s{measured.sheet}")
    assert [one.number for one in of(tab).blocks] == ["Figure 1", "Figure 2", "Table 1"]
    tab.does("move_block", block=second, after=0)
    assert [(one.row.id, one.number) for one in of(tab).blocks] == [
        (second, "Figure 1"),
        (first, "Figure 2"),
        (table, "Table 1"),
    ]


def test_blocks_keep_their_order_however_often_they_are_moved(measured: Measured) -> None:
    """Between the same two again and again, until there is no number left between their places."""
    tab = cleared(measured)
    blocks = [tab.makes("add_block", block="text", words=str(n)) for n in range(4)]
    for _ in range(40):
        a, b, c, d = (row.id for row in read_study(tab.study_id).report)
        tab.does("move_block", block=d, after=a)
        assert [row.id for row in read_study(tab.study_id).report] == [a, d, b, c]
    assert sorted(row.id for row in read_study(tab.study_id).report) == sorted(blocks)


def test_the_figure_of_a_graph_changes_its_name_with_what_it_shows(measured: Measured) -> None:
    tab = cleared(measured)
    tab.makes("add_block", block="graph", about=f"{measured.footage}/0")
    tab.makes("add_block", block="frame", about=f"{measured.footage}/4", shows=["ground", "path"])

    def versions() -> list[str]:
        return [figure.version for figure in of(tab).figures.values()]

    before = versions()
    assert versions() == before
    tab.does("rename_footage", footage=measured.second, name="elsewhere")
    assert versions() == before
    tab.does("place_mark", body=measured.body, frame=3, x=60, y=31)
    assert all(one != other for one, other in zip(before, versions(), strict=True))


def test_a_frame_has_ground_and_path_where_they_are_in_the_picture(measured: Measured) -> None:
    tab = cleared(measured)
    tab.does("set_mark_aside", body=measured.body, frame=11, aside=True)
    about = f"{measured.footage}/4"
    block = tab.makes("add_block", block="frame", about=about, shows=["ground", "path"])

    def drawn() -> tuple[FrameFigure, ElementTree.Element]:
        (figure,) = of(tab).figures.values()
        assert isinstance(figure, FrameFigure)
        svg = as_svg(figure, "data:image/jpeg;base64,AAAA")
        return figure, ElementTree.fromstring(svg)

    figure, svg = drawn()
    svg_ns = "{http://www.w3.org/2000/svg}"
    paths = svg.findall(f".//{svg_ns}polyline")
    (points,) = {path.get("points") for path in paths}
    assert points is not None
    places = [tuple(map(float, point.split(","))) for point in points.split()]
    assert places == [
        (pytest.approx(50.5 + n, abs=0.06), pytest.approx(20.5 + 2 * n + 0.1 * n**2, abs=0.06))
        for n in range(11)  # the one that is set aside is no part of the path
    ]
    texts = {text.text for text in svg.findall(f".//{svg_ns}text")}
    assert texts == {"1.00 m", "x", "y"}
    assert (figure.width, figure.height) == (320, 180)
    tab.does("turn_view", footage=measured.footage, quarter=90, mirror=True)
    turned, _ = drawn()
    assert (turned.width, turned.height) == (180, 320)
    a, b, c, d, e, f = turned.matrix
    # mirrored left to right first, then turned clockwise: the top left one goes to the bottom
    assert (a * 0 + c * 0 + e, b * 0 + d * 0 + f) == (180, 320)
    assert (a * 320 + c * 180 + e, b * 320 + d * 180 + f) == (0, 0)
    tab.does("change_block", block=block)
    _, bare = drawn()
    assert bare.findall(f".//{svg_ns}polyline") == []
    assert bare.findall(f".//{svg_ns}text") == []


def test_the_title_says_who_works_on_it(measured: Measured, world: World) -> None:
    tab = cleared(measured)
    tab.makes("add_block", block="title", words="How it falls")
    (block,) = of(tab).blocks
    title = block.shows.parts[0]
    assert isinstance(title, Title)
    assert title.text == "How it falls"
    assert world.heron.name in title.names
    assert world.wren.name not in title.names


def test_a_copy_of_a_study_shows_its_own_things(measured: Measured) -> None:
    tab = cleared(measured)
    tab.does("lay_out_report")
    tab.makes("add_block", block="working", about=f"{measured.footage}/cell/{measured.body}/4/vy")
    tab.makes(
        "add_block", block="table", about=f"s{measured.sheet}", columns=[f"c{measured.column}"]
    )
    copy = duplicate(tab.study, tab.person)
    copied = Tab(class_study(copy), tab.person)
    ours, theirs = of(tab), of(copied)
    assert problems(theirs).keys() == problems(ours).keys()
    assert [b.row.about for b in theirs.blocks] != [b.row.about for b in ours.blocks]
    for one, other in zip(ours.blocks, theirs.blocks, strict=True):
        plain = [part for part in one.shows.parts if not isinstance(part, Picture | Title)]
        assert plain == [
            part for part in other.shows.parts if not isinstance(part, Picture | Title)
        ]


@pytest.mark.parametrize(
    ("kind", "about", "new"),
    [
        ("frame", "7/41", "107/41"),
        ("graph", "s3/0", "s103/0"),
        ("graph", "3/1", "103/1"),
        ("table", "b7", "b107"),
        ("working", "7/energy/0/ek", "107/energy/0/ek"),
        ("working", "7/energy/4/ek", "107/energy/104/ek"),
        ("working", "7/momentum/2/b7.before.x", "107/momentum/102/b107.before.x"),
        ("working", "7/momentum/2/total.before.x", "107/momentum/102/total.before.x"),
        ("working", "s7/cell/7/12/c5", "s107/cell/107/12/c105"),
        ("working", "7/cell/7/12/vx", "107/cell/107/12/vx"),
        ("working", "7/between/7/1/2", "107/between/107/1/2"),
        ("findings", "", ""),
        ("answer", "3", "3"),
    ],
)
def test_what_a_block_shows_gets_the_keys_of_a_copy(kind: str, about: str, new: str) -> None:
    assert renumbered(BlockKind(kind), about, lambda _of, key: key + 100) == new


@pytest.mark.parametrize(
    ("kind", "about"),
    [
        ("frame", "7"),
        ("frame", "7/41/3"),
        ("findings", "1"),
        ("fit", ""),
        ("fit", "../1"),
        ("working", "7/unheard/3"),
        ("working", "7/fit/3"),
        ("table", "b7/"),
    ],
)
def test_a_block_names_what_it_can_show_or_is_refused(
    kind: str, about: str, measured: Measured
) -> None:
    with pytest.raises(NotThere):
        keys_of(BlockKind(kind), about)
    with pytest.raises(NotThere):
        measured.tab.does("add_block", block=kind, about=about)


def test_ledgers_and_models_are_in_the_report_as_the_study_has_them(
    collision: tuple[Tab, int, int, int],
) -> None:
    tab, left, _, impact = collision
    (footage,) = (row.id for row in read_study(tab.study_id).footages)
    model = tab.makes("add_model", footage=footage, body=left, name="glide")
    for block, about in (
        *(("momenta", impact), ("accounts", footage), ("energies", footage), ("model", model)),
    ):
        tab.makes("add_block", block=block, about=str(about))
    report = of(tab)
    assert problems(report) == {}
    momenta = report.blocks[0].shows.parts[0]
    assert isinstance(momenta, Grid)
    assert [row[0] for row in momenta.rows] == ["left", "right", "total"]
    ledger = tab.view(footage)["ledger"]
    total = ledger["momenta"][0]["total_before"]
    assert momenta.rows[-1][2:4] == (total["x"], total["y"])
    energies = report.blocks[1].shows.parts[0]
    assert isinstance(energies, Grid)
    rows = [row for change in ledger["energy"]["changes"] for row in change["rows"]]
    assert [row[2] for row in energies.rows] == [row["start"] for row in rows]
    assert len(report.figures) == 2
