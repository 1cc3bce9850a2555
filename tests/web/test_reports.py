"""Reports as files, opened by readers that are not ours."""

import csv
import io
import re
import zipfile
from collections.abc import Iterator
from typing import Any
from xml.etree import ElementTree

import pytest
from odf.opendocument import load
from odf.table import Table, TableCell
from odf.teletype import extractText
from odf.text import H
from pypdf import PdfReader
from pypdf.generic import IndirectObject

from footing.studies.report.report import report_of
from footing.studies.school.people import Person
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.web.conftest import Browserless

MATHML = "{http://www.w3.org/1998/Math/MathML}"
OFFICE = "{urn:oasis:names:tc:opendocument:xmlns:office:1.0}"


@pytest.fixture
def written(measured: Measured) -> Measured:
    """A report with a sentence, a table, a graph, a frame, a strobe picture and a working."""
    tab = measured.tab
    tab.makes("add_block", block="title", words="How a cone falls", after=0)
    words = "From $s = \\frac{a}{2} t^2$ it follows that {a} is **large**.\n\n- one\n- two"
    tab.makes("add_block", block="text", words=words)
    tab.makes("add_block", block="table", about=f"b{measured.body}", columns=["t", "y"])
    tab.makes("add_block", block="graph", about=f"{measured.footage}/0", caption="Fall of a cone")
    tab.makes("add_block", block="frame", about=f"{measured.footage}/5", shows=["ground", "path"])
    tab.makes("add_block", block="strobe", about=str(measured.body), every=4)
    tab.makes("add_block", block="findings")
    tab.makes("add_block", block="working", about=f"{measured.footage}/finding/{measured.finding}")
    return measured


def file(site: Browserless, person: Person, study_id: int, form: str) -> bytes:
    answer = site.asks(person, "GET", f"/api/studies/{study_id}/report.{form}")
    assert answer.status_code == 200, answer.text
    return answer.content


def of(site: Browserless, person: Person, written: Measured) -> dict[str, Any]:
    found: dict[str, Any] = site.asks(
        person, "GET", f"/api/studies/{written.tab.study_id}/report"
    ).json()
    return found


def tags(node: Any) -> Iterator[tuple[str, Any]]:
    """The kinds of a PDF's structure elements, with the elements."""
    node = node.get_object() if isinstance(node, IndirectObject) else node
    if isinstance(node, list):
        for child in node:
            yield from tags(child)
    elif isinstance(node, dict):
        if "/S" in node:
            yield str(node["/S"]), node
        if "/K" in node:
            yield from tags(node["/K"])


def test_the_pdf_is_text_with_structure_and_its_graphs_are_drawings(
    site: Browserless, world: World, written: Measured
) -> None:
    pdf = PdfReader(io.BytesIO(file(site, world.heron, written.tab.study_id, "pdf")))
    text = "\n".join(page.extract_text() for page in pdf.pages)
    report = report_of(written.tab.study, written.tab.person)
    value = next(one["text"] for one in report.values if one["name"] == "a")
    assert re.search(rf"it follows that\s+{re.escape(value)}\s+is\s+large", text)
    assert "How a cone falls" in text
    assert "Fall of a cone" in text
    assert "position y (m)" in text.replace("\n", " ")  # on the axis of the graph
    assert f"1 / {len(pdf.pages)}" in text
    (title,) = [pdf.metadata.title] if pdf.metadata else [None]
    assert title == "How a cone falls"
    root: Any = pdf.trailer["/Root"]
    assert root["/MarkInfo"]["/Marked"]
    assert str(root["/Lang"]) == "en"
    found = list(tags(root["/StructTreeRoot"]))
    kinds = {kind for kind, _ in found}
    assert {"/H1", "/H2", "/P", "/Table", "/TH", "/TD", "/Figure", "/L", "/LI"} <= kinds
    described = [str(node["/Alt"]) for kind, node in found if kind == "/Figure"]
    assert len(described) == 3
    assert any(words.startswith("Graph:") for words in described)
    pictures = {image.data for page in pdf.pages for image in page.images}
    assert len(pictures) == 2  # of frame and strobe picture; the graph is no picture


def test_the_text_for_a_word_processor_has_headings_tables_formulas_and_pictures(
    site: Browserless, world: World, written: Measured
) -> None:
    content = file(site, world.heron, written.tab.study_id, "odt")
    document = load(io.BytesIO(content))
    report = of(site, world.heron, written)
    value = next(one["text"] for one in report["named_values"] if one["name"] == "a")
    text = extractText(document.text)
    assert value in text
    assert next(extractText(one) for one in document.getElementsByType(H)) == "Result"
    tables = document.getElementsByType(Table)
    assert [str(one.getAttribute("name")) for one in tables] == ["Table 1", "Table 2"]
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        assert archive.testzip() is None
        assert archive.read("mimetype") == b"application/vnd.oasis.opendocument.text"
        root = ElementTree.fromstring(archive.read("content.xml"))
        pictures = [name for name in archive.namelist() if name.startswith("Pictures/")]
        assert len(pictures) == 3
        assert all(archive.read(name).startswith(b"\x89PNG") for name in pictures)
    fractions = root.findall(f".//{MATHML}math//{MATHML}mfrac")
    assert fractions
    assert "".join(fractions[0].itertext()) == "a2"


def test_the_one_file_for_a_browser_needs_nothing_else(
    site: Browserless, world: World, written: Measured
) -> None:
    html = file(site, world.heron, written.tab.study_id, "html").decode()
    addresses = re.findall(r'(?:src|href)="([^"]*)"|url\("([^"]*)"\)', html)
    assert addresses
    assert all("".join(one).startswith("data:") for one in addresses)
    assert "<script" not in html
    assert html.count("<figure>") == 3


def test_the_data_are_a_spreadsheet_with_a_table_for_each_body_and_sheet(
    site: Browserless, world: World, written: Measured
) -> None:
    book = load(io.BytesIO(file(site, world.heron, written.tab.study_id, "ods")))
    names = [str(one.getAttribute("name")) for one in book.getElementsByType(Table)]
    assert names[0] == "findings"
    assert {"cone", "slides", "rule"} <= set(names)


def test_words_of_a_student_are_never_html(
    site: Browserless, world: World, measured: Measured
) -> None:
    tab = measured.tab
    bad = "<script>alert(1)</script> <img src=x onerror=y> $\\text{<b>x</b>}$ [x](javascript:1)"
    tab.makes("add_block", block="text", words=bad)
    tab.makes("add_block", block="heading", words=bad)
    tab.makes("add_block", block="findings", caption=bad)
    blocks = of(site, world.heron, measured)["blocks"]
    shown = "".join(block["html"] for block in blocks)
    assert "&lt;script&gt;" in shown
    for begun in ("<script", "<img src=x", "<b>x", "href="):
        assert begun not in shown


@pytest.mark.parametrize("form", ["svg", "png"])
def test_each_picture_is_there_as_drawing_and_as_picture(
    form: str, site: Browserless, world: World, written: Measured
) -> None:
    begins = {"svg": b"<svg", "png": b"\x89PNG"}[form]
    pictured = [one for one in of(site, world.heron, written)["blocks"] if one["picture"]]
    assert len(pictured) == 3
    for block in pictured:
        place = f"/api/studies/{written.tab.study_id}/report/blocks/{block['id']}.{form}"
        answer = site.asks(world.heron, "GET", place)
        assert answer.status_code == 200
        assert answer.content.startswith(begins)
    heading = next(one for one in of(site, world.heron, written)["blocks"] if not one["picture"])
    place = f"/api/studies/{written.tab.study_id}/report/blocks/{heading['id']}.{form}"
    assert site.asks(world.heron, "GET", place).status_code == 404


def test_what_a_lab_does_not_tell_is_not_in_the_report_either(
    site: Browserless, world: World, written: Measured
) -> None:
    tab = written.tab
    tab.makes("add_block", block="fit", about=str(written.fit))

    def told(person: Person) -> str:
        return "".join(block["html"] for block in of(site, person, written)["blocks"])

    assert "acceleration" in told(world.heron)
    rules = f"/api/studies/{tab.study_id}/rules"
    assert site.asks(world.teacher, "POST", rules, json={"tells_meanings": False}).is_success
    fit = "velocity at start"
    assert fit not in told(world.heron)
    assert fit in told(world.teacher)


def handed_in(site: Browserless, person: Person, study_id: int) -> int:
    answer = site.asks(person, "POST", f"/api/studies/{study_id}/hand-ins")
    assert answer.status_code == 200, answer.text
    return int(answer.json()["id"])


def test_what_was_handed_in_is_the_same_page_whatever_becomes_of_the_study(
    site: Browserless, world: World, written: Measured
) -> None:
    tab = written.tab
    key = handed_in(site, world.heron, tab.study_id)
    pages = [f"/hand-ins/{key}", f"/hand-ins/{key}/report.html"]
    before = [site.asks(world.heron, "GET", page).text for page in pages]
    value = next(one["text"] for one in report_of(tab.study, tab.person).values)
    assert all(value in page for page in before)
    assert before[1].count("data:image/svg+xml") == 3
    tab.does("remove_body", body=written.body)
    tab.does("rename_footage", footage=written.footage, name="gone")
    assert [site.asks(world.heron, "GET", page).text for page in pages] == before
    pdf = site.asks(world.heron, "GET", f"/hand-ins/{key}/report.pdf")
    text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf.content)).pages)
    assert value in text
    listed = site.asks(world.heron, "GET", f"/api/studies/{tab.study_id}/hand-ins").json()
    assert [(one["number"], one["returned"]) for one in listed["hand_ins"]] == [(1, False)]


def test_grades_of_a_class_go_out_as_tables_that_no_spreadsheet_computes(
    site: Browserless, world: World, written: Measured
) -> None:
    key = handed_in(site, world.heron, written.tab.study_id)
    lab = f"/labs/{world.lab.id}"
    judged = {"name": "=cmd|' /C calc'!A0", "most": "4"}
    assert site.asks(world.teacher, "POST", f"{lab}/criteria", data=judged).status_code == 303
    page = site.asks(world.teacher, "GET", f"/hand-ins/{key}").text
    (criterion,) = re.findall(r'name="points\.(\d+)"', page)
    points = {f"points.{criterion}": "3,5", "grade": "@good", "words": "Well done."}
    place = f"/hand-ins/{key}/judgement"
    assert site.asks(world.teacher, "POST", place, data=points).status_code == 303
    text = site.asks(world.teacher, "GET", f"{lab}/hand-ins.csv").content.decode("utf-8-sig")
    head, row = csv.reader(io.StringIO(text))
    assert row[head.index("group")] == "Heron"
    assert row[head.index("points")] == "3.5"
    assert row[head.index("grade")] == "'@good"
    assert any(cell.startswith("'=cmd") for cell in head)
    numbers = {one["name"]: one["text"] for one in of(site, world.heron, written)["named_values"]}
    shown = (row[head.index(f"{name}a (m/s²)")].replace("-", "−") for name in ("", "± of "))
    assert " ± ".join(shown) + " m/s²" == numbers["a"]
    book = load(io.BytesIO(site.asks(world.teacher, "GET", f"{lab}/hand-ins.ods").content))
    cells = [one.getAttribute("formula") for one in book.getElementsByType(TableCell)]
    assert cells
    assert not any(cells)


def test_two_hand_ins_are_compared_number_by_number(
    site: Browserless, world: World, written: Measured
) -> None:
    tab = written.tab
    first = handed_in(site, world.heron, tab.study_id)
    tab.does("type_known_length", known_length=written.length, length="2.00", unit="m")
    second = handed_in(site, world.heron, tab.study_id)
    beside_second = site.asks(world.heron, "GET", f"/hand-ins/{first}/compare?other=2").text
    assert "known length 1 of plain.mp4" in beside_second
    assert "1.00 m" in beside_second
    assert "2.00 m" in beside_second
    now = site.asks(world.heron, "GET", f"/hand-ins/{second}/compare").text
    assert "numbers are the same" in now
    assert site.asks(world.heron, "GET", f"/hand-ins/{first}/compare?other=9").status_code == 404
