"""What is done on a graph with the pointer, and how graphs are made to look as a class wants."""

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import Page, Route, expect

from footing.studies.school.people import Person
from tests.browser.hands import Hands
from tests.conftest import World

TWO_SERIES = "t (s);x (m);y (m)\n" + "\n".join(
    f"{n / 10};{n / 5 + 0.02 * (n % 3):.3f};{n * n / 40}" for n in range(12)
)


@pytest.fixture
def graph(open_tab: Callable[[Person], Hands], world: World) -> Hands:
    """The graph of a pasted sheet: x against t, and y beside."""
    hands = open_tab(world.heron)
    hands.opens(f"/studies/{world.study.id}/sources")
    take(hands, TWO_SERIES)
    hands.goes_to("graph")
    expect(hands.page.locator("#plot canvas")).to_be_visible()
    return hands


_PASTED = """
async () => {
  const [item] = await navigator.clipboard.read();
  const [type] = item.types.filter((one) => one !== "text/plain");
  const blob = await item.getType(type);
  if (type === "text/html" && !(await blob.text()).includes("data:image/png;base64,")) return "";
  return blob.size > 5000 ? type : "";
}
"""


def take(hands: Hands, text: str) -> None:
    form = hands.card("sheet-in").locator("[data-take-table]")
    form.locator("textarea").fill(text)
    form.locator("button").click()
    expect(hands.page.locator("#sheet")).to_have_attribute("data-ready", "true")


def fit(hands: Hands, curve: str) -> None:
    add = hands.page.locator("#fit-choices form.add")
    add.locator("[name=curve]").select_option(curve)
    add.get_by_role("button", name="Fit").click()
    expect(hands.page.locator("#card-fits .fit .equations")).to_be_visible()


def canvas(page: Page) -> dict[str, float]:
    box = page.locator("#plot canvas").bounding_box()
    assert box is not None
    return dict(box)


def read_off(page: Page, point: tuple[float, float]) -> tuple[float, float]:
    """What the graph says of a point of the window: x, and the height of the pointer."""
    page.mouse.move(*point)
    said = page.locator("#graph-readout")
    expect(said).to_contain_text("pointer")
    text = said.inner_text().replace("−", "-")
    found = re.search(r"= ([-\d.e]+)(?:.|\n)*pointer ([-\d.e]+)", text)
    assert found is not None
    return float(found[1]), float(found[2])


def place_of(page: Page, x: float, y: float) -> tuple[float, float]:
    """Where in the window a point of the graph is, by what the graph says at two places."""
    box = canvas(page)
    here = (box["x"] + 0.4 * box["width"], box["y"] + 0.3 * box["height"])
    there = (box["x"] + 0.8 * box["width"], box["y"] + 0.7 * box["height"])
    (x1, y1), (x2, y2) = read_off(page, here), read_off(page, there)
    return (
        here[0] + (x - x1) / (x2 - x1) * (there[0] - here[0]),
        here[1] + (y - y1) / (y2 - y1) * (there[1] - here[1]),
    )


def test_a_result_box_stays_where_it_was_put(graph: Hands) -> None:
    page = graph.page
    fit(graph, "line")
    graph.card("graph").get_by_label("results in boxes on the graph").check()
    expect(page.locator(".fit-box")).to_contain_text("straight line")
    left, top = corner_of_box(page)
    graph.drags((left + 10, top + 8), (left + 230, top + 128))
    graph.is_saved()
    page.reload()
    assert corner_of_box(page) == pytest.approx((left + 220, top + 120), abs=6)


def corner_of_box(page: Page) -> tuple[float, float]:
    """Upper left corner of the result box; it is made anew whenever the graph is."""
    place = page.wait_for_function(
        """() => {
          const box = document.querySelector(".fit-box")?.getBoundingClientRect();
          return box?.width ? [box.x, box.y] : null;
        }"""
    )
    left, top = place.json_value()
    return left, top


def test_a_sketch_comes_before_the_data_and_stays_with_the_study(graph: Hands) -> None:
    page = graph.page
    page.keyboard.press("b")
    expect(page.locator('button[data-tool="graph-sketch"]')).to_have_attribute(
        "aria-pressed", "true"
    )
    box = canvas(page)
    start = (box["x"] + 150, box["y"] + 200)
    graph.drags(start, (start[0] + 300, start[1] - 120))
    expect(page.locator('button[data-tool="graph-sketch"]')).to_have_attribute(
        "aria-pressed", "false"
    )
    graph.is_saved()
    (shown,) = graph.state()["graphs"]
    line = np.array(shown["sketch"])
    assert (np.diff(line[:, 0]) > 0).all()
    assert line[-1, 1] > line[0, 1]
    page.locator("[data-graph-action=forget]").click()
    expect(page.locator("#undo")).to_have_attribute("title", re.compile("graph"))
    page.wait_for_function(
        "() => fetch(`/api/studies/${document.querySelector('#bench').dataset.study}`)"
        ".then((r) => r.json()).then((view) => !view.graphs[0].sketch.length)"
    )


def test_a_point_moved_on_trial_and_sliders_change_nothing_that_is_kept(graph: Hands) -> None:
    page = graph.page
    fit(graph, "line")
    before = graph.state()
    at = place_of(page, 0.8, 1.6)
    page.keyboard.press("v")
    graph.drags(at, (at[0], at[1] - 90))
    readout = page.locator("#graph-readout")
    expect(readout).to_contain_text("on trial: R²")
    expect(readout).to_contain_text("no mark is changed")
    page.locator(".parameters-given summary").click()
    page.locator("[data-slide=m]").focus()
    for _ in range(3):
        page.keyboard.press("PageUp")
    said = page.locator(".slide-said")
    expect(said).to_contain_text("sum of squares")
    tried, best = map(float, re.findall(r"(?:squares|best) ([\d.e-]+)", said.inner_text()))
    assert tried > best
    after = graph.state()
    assert after["seq"] == before["seq"]
    assert after["fits"] == before["fits"]


@pytest.mark.parametrize(
    ("answers", "said"),
    [
        (lambda route: route.abort(), "Footing does not answer just now"),
        (
            lambda route: route.fulfill(status=502, content_type="text/html", body="<p>Bad gate"),
            "Footing could not answer (502)",
        ),
    ],
    ids=["nobody", "another in its stead"],
)
def test_a_question_without_an_answer_is_said_and_can_be_asked_again(
    graph: Hands, answers: Callable[[Route], None], said: str
) -> None:
    page = graph.page
    page.route("**/straight-forms*", answers)
    page.get_by_role("button", name="Straighten").click()
    expect(page.locator("#stage-note")).to_contain_text(said)
    expect(page.locator("#straight-forms")).to_be_hidden()
    page.unroute("**/straight-forms*")
    page.get_by_role("button", name="Straighten").click()
    expect(page.locator("#straight-forms")).to_be_visible()


def test_the_wheel_and_an_axis_look_closer_and_a_key_shows_all_again(graph: Hands) -> None:
    page = graph.page
    box = canvas(page)
    place = (box["x"] + 0.75 * box["width"], box["y"] + 0.3 * box["height"])
    readout = page.locator("#graph-readout")
    whole = read_off(page, place)
    all_of_it = readout.inner_text()
    page.mouse.move(box["x"] + 0.4 * box["width"], box["y"] + 0.6 * box["height"])
    page.mouse.wheel(0, -400)
    page.mouse.move(*place)
    expect(readout).not_to_have_text(all_of_it)
    assert read_off(page, place)[0] < whole[0] - 0.01
    page.keyboard.press("w")
    expect(readout).to_have_text(all_of_it)  # also under a pointer that rests
    axis = (box["x"] + box["width"] - 40, box["y"] + box["height"] - 20)
    graph.drags(axis, (axis[0] - 150, axis[1]))
    page.mouse.move(*place)
    expect(readout).not_to_have_text(all_of_it)
    assert read_off(page, place)[0] > whole[0] + 0.01


def test_once_a_result_is_recorded_nothing_at_graph_needs_scrolling(graph: Hands) -> None:
    page = graph.page
    fits = page.locator("#card-fits details.fold")
    fit(graph, "line")
    fits.get_by_role("button", name="Record velocity").click()
    graph.is_saved()
    expect(fits.locator(".card-state")).to_contain_text("velocity 2.0")
    page.reload()
    expect(fits).not_to_have_attribute("open", "")
    finding = page.locator("#card-findings .finding")
    finding.locator("[name=accepted]").fill("2")
    finding.locator("[name=accepted]").press("Enter")
    graph.is_saved()
    page.reload()
    expect(finding.locator(".verdict")).to_be_visible()
    expect(finding.locator("[name=accepted]")).to_be_hidden()
    side = page.locator(".side")
    assert side.evaluate("side => side.scrollHeight - side.clientHeight") == 0


def test_an_own_formula_is_offered_again(graph: Hands) -> None:
    page = graph.page
    add = page.locator("#fit-choices form.add")
    add.locator("[name=curve]").select_option("own")
    fit = add.get_by_role("button", name="Fit")
    before = fit.bounding_box()
    add.locator("[name=formula]").fill("k*t + c")
    expect(add.locator(".try-said")).to_contain_text("on trial")
    assert fit.bounding_box() == before  # else it leaves a pointer that is just pressing it
    fit.click()
    expect(page.locator("#card-fits .fit .equations")).to_be_visible()
    offered = page.locator("#own-formulas option")
    expect(offered).to_have_attribute("value", "k*t + c")


def test_a_stretch_of_two_series_fits_the_chosen_one(graph: Hands) -> None:
    page = graph.page
    graph.card("graph").get_by_label("One more series").select_option(label="y")
    expect(page.locator("#graph-title")).to_have_text("x, y against t")
    page.keyboard.press("Escape")
    page.locator('button[data-tool="graph-stretch"]').click()
    box = canvas(page)
    graph.drags((box["x"] + 200, box["y"] + 60), (box["x"] + box["width"] - 100, box["y"] + 80))
    stretch = page.locator("#stretch")
    expect(stretch.locator("article")).to_have_count(2)
    stretch.locator("#stretch-series").select_option(label="y")
    stretch.locator("[name=curve]").select_option("quadratic")
    stretch.get_by_role("button", name="Fit these points").click()
    expect(page.locator(".fit h3")).to_contain_text("y against t")
    stretch.get_by_role("button", name="Keep the mean").click()
    finding = page.locator("#card-findings .finding")
    expect(finding).to_contain_text("mean of the stretch")
    assert (
        finding.locator(".result b")
        .inner_text()
        .startswith(
            stretch.locator("article").nth(1).locator("dd").nth(1).inner_text().split(" ")[0][:3]
        )
    )


def test_a_graph_looks_as_the_class_wants_and_leaves_as_a_picture(
    graph: Hands, open_tab: Callable[[Person], Hands], world: World
) -> None:
    page = graph.page
    fit(graph, "line")
    graph.card("graph").locator(".more-graph summary").click()
    more = page.locator(".more-graph form").first
    for name, text in (("title", "Puck on ice"), ("x_title", "time after the kick in s")):
        more.locator(f"[name={name}]").fill(text)
        more.locator(f"[name={name}]").press("Tab")
        graph.is_saved()
    expect(page.locator("#graph-title")).to_have_text("Puck on ice")
    page.locator("#card-fits .parameters-given summary").click()
    page.locator("#card-fits [name=colour]").select_option("rose")
    graph.is_saved()
    picture = taken(page, "SVG").read_text()
    assert "Puck on ice" in picture
    assert "time after the kick in s" in picture
    assert "#b83b6b" in picture.lower()
    assert "m = 2.0" not in picture
    graph.card("graph").get_by_label("results in boxes on the graph").check()
    assert "m = 2.0" in taken(page, "SVG").read_text()  # a picture is taken as it is seen
    with Image.open(taken(page, "PNG")) as png:
        assert png.width > 1800
    teacher = open_tab(world.teacher)
    teacher.opens(f"/studies/{world.study.id}/graph")
    teacher.card("graph").locator(".more-graph summary").click()
    teacher.page.locator(".more-graph [name=form]").select_option("cross")
    teacher.is_saved()
    teacher.page.get_by_role("button", name="Keep this look for the class").click()
    page.wait_for_function(
        "() => fetch(`/api/studies/${document.querySelector('#bench').dataset.study}`)"
        ".then((r) => r.json()).then((view) => view.rules.series_look.form === 'cross')"
    )


def taken(page: Page, form: str) -> Path:
    """The graph as a file, by its button."""
    with page.expect_download() as download:
        page.locator("form[data-picture]").get_by_role("button", name=form, exact=True).click()
    assert download.value.suggested_filename == f"Puck on ice.{form.lower()}"
    return Path(download.value.path())


@pytest.mark.parametrize("secure", [True, False])
def test_a_picture_of_the_graph_is_copied_also_over_plain_http(graph: Hands, secure: bool) -> None:
    page = graph.page
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    graph.card("graph").locator(".more-graph summary").click()
    if not secure:  # what a browser takes away where the address is not https
        page.evaluate("() => Object.defineProperty(navigator, 'clipboard', {value: undefined})")
    page.get_by_role("button", name="Copy picture").click()
    expect(page.locator("#stage-note")).to_have_text("The graph is on the clipboard.")
    other = page.context.new_page()
    other.goto(graph.address)
    found = other.evaluate(_PASTED)
    assert found == ("image/png" if secure else "text/html")


def test_practice_data_are_drawn_again_and_frozen(graph: Hands) -> None:
    page = graph.page
    graph.goes_to("mark")
    add = page.locator('#card-columns [data-kind="add_column"]')
    add.locator("[name=name]").fill("pretended")
    add.locator("[name=symbol]").fill("p")
    add.locator("[name=formula]").fill("2 m/s * t")
    add.get_by_role("button").last.click()
    column = page.locator("#card-columns .sheet-column", has_text="pretended")
    column.locator("summary").first.click()
    column.locator("[name=scatter]").fill("0.1")
    column.get_by_role("button", name="Compute").click()
    again = column.get_by_role("button", name="Draw again")
    expect(again).to_be_visible()
    first = values(graph, "p")
    assert np.std(np.array(first) - 0.2 * np.arange(12)) == pytest.approx(0.1, rel=0.6)
    again.click()
    graph.is_saved()
    second = values(graph, "p")
    assert first != second
    column.get_by_role("button", name="Freeze").click()
    expect(column.locator("[name=formula]")).to_have_count(0)
    assert values(graph, "p") == pytest.approx(second, abs=0.01)


def values(hands: Hands, symbol: str) -> list[float]:
    view = hands.state()
    column = next(one for one in view["columns"] if one["symbol"] == symbol)
    path = f"/api/studies/{view['id']}/sheets/{view['sheet']['id']}/cells"
    cells = hands.page.request.get(hands.address + path).json()["cells"][column["key"]]
    return [float(text.replace("−", "-")) for text in cells]


def test_a_series_of_a_second_sheet_comes_beside_the_first(graph: Hands) -> None:
    page = graph.page
    graph.goes_to("sources")
    take(graph, "t (s);z (m)\n0;1\n0.5;2\n1;3\n")
    graph.goes_to("graph")
    expect(page.locator("#graph-title")).to_have_text("z against t")
    graph.card("graph").locator(".more-graph summary").click()
    other = page.locator(".more-graph select[name=others]")
    other.select_option(index=1)
    expect(page.locator("#graph .legend span")).to_have_count(2)
    page.get_by_role("button", name="Only its own").click()
    expect(page.locator("#graph .legend span")).to_have_count(0)


def test_a_mark_is_set_aside_with_its_reason_and_digits_are_chosen(
    sources: Hands, plain_film: Path
) -> None:
    page = sources.page
    sources.uploads(plain_film)
    sources.goes_to("mark")
    sources.adds_body("puck")
    sources.marks(range(4), [[30 + 3 * n, 40 + n * n] for n in range(4)])
    sources.steps_to(2)
    page.keyboard.press("x")
    why = page.locator(".aside-row [name=reason]")
    why.fill("touched the board")
    why.press("Tab")
    sources.is_saved()
    page.reload()
    expect(why).to_have_value("touched the board")
    page.get_by_role("button", name="Take back in").click()
    expect(why).to_have_count(0)
    sources.goes_to("graph")
    sources.card("columns").locator("summary", has_text="Digits").click()
    digits = page.get_by_label("Digits of position x", exact=True)
    digits.fill("1")
    digits.press("Tab")
    sources.is_saved()
    position = sources.looks_at_table().first.locator("td").nth(1)
    expect(position).to_have_text(re.compile(r"^−?\d+\.\d$"))
    table = sources.state()["bodies"][0]["table"]
    place = [column["key"] for column in table["columns"]].index("x")
    assert {len(row[place].partition(".")[2]) for row in table["rows"]} == {1}


def test_a_fit_asked_for_at_once_is_of_the_quantity_just_chosen(graph: Hands) -> None:
    page = graph.page
    page.locator("#fit-choices select[name=ys]").first.select_option(label="y")
    expect(page.locator("#graph-title")).to_have_text("y against t")
    page.locator("#fit-choices form.add").get_by_role("button", name="Fit").click()
    graph.is_saved()
    expect(page.locator("#card-fits .fit .equations")).to_contain_text("y")
    (made,) = graph.state()["fits"]
    assert made["series"] == "y against t"
