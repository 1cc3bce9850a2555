"""A folded card says in its heading how things stand; what is done is folded."""

import re
from collections.abc import Callable

import pytest

from footing.store.records import fetch
from footing.store.rows import Lab
from footing.studies.school.labs import AskedFinding, LabWords, ask_for, change_lab
from footing.studies.steps import Step
from footing.web.cards import cards
from footing.web.steps import cards_of
from tests.studies.modelling import predicted
from tests.studies.steps import Tab

Edit = Callable[[Tab, int], object]


def states(tab: Tab, step: Step = Step.GROUND) -> dict[str, tuple[str, bool]]:
    """What each card of a step that folds says, and whether it is done."""
    view = tab.view()
    return {
        card.key: ((said := card.says(view)).text, said.done)
        for card in cards_of(step, view)
        if card.says is not None and card.key != "task"
    }


def test_before_anything_is_done_what_is_needed_is_open(filmed: Tab) -> None:
    assert states(filmed) == {
        "lengths": ("all in pixels", False),
        "axes": ("zero in the middle", False),
        "clock": ("as in the file, t = 0 at frame 0", False),
        "up": ("as in the picture", True),
        "plane": ("square-on", True),
        "steady": ("stands still", True),
        "fine": ("points to ± 0.5 px", True),
    }


def test_what_the_lab_asks_is_on_top_and_done_when_all_of_it_is(filmed: Tab) -> None:
    card, *_ = cards_of(Step.GROUND, filmed.view())
    assert card.key == "task"


def test_the_whole_lab_is_open_where_the_work_begins(filmed: Tab) -> None:
    instructions = "- [scale] the *pole*\n- [zero] its foot\n- [5 marks] the sled"
    lab = fetch(Lab, filmed.view()["lab"]["id"])
    assert lab is not None
    change_lab(lab, LabWords(title=lab.title, task="Find a.", instructions=instructions))

    def lab_at(step: Step) -> str:
        return cards(step, filmed.view(), {}).html["task"]

    assert 'data-folds="false" open' in lab_at(Step.SOURCES)
    assert "Asked for here" not in lab_at(Step.SOURCES)
    # elsewhere it leaves room for the step, and says what is asked for there
    at_ground = lab_at(Step.GROUND)
    assert 'data-folds="true" >' in at_ground
    here = at_ground.partition("Asked for here")[2]
    assert "the <em>pole</em>" in here
    assert "its foot" in here
    assert "the sled" not in here
    at_mark = cards(
        Step.MARK,
        filmed.view(),
        {},
        before=cards(Step.GROUND, filmed.view(), {}),
        seen=filmed.view(),
    )
    assert "the sled" in at_mark.html["task"].partition("Asked for here")[2]  # not as at Ground
    known_length(filmed, filmed.view()["footage"]["id"])
    here = lab_at(Step.GROUND).partition("Asked for here")[2]
    assert here.index('data-done="true"') < here.index("pole") < here.index('data-done="false"')
    filmed.does("set_zero", footage=filmed.view()["footage"]["id"], x=20, y=30)
    assert "Asked for here" not in lab_at(Step.GROUND)


def known_length(tab: Tab, footage: int) -> None:
    ends = {"start_x": 10, "start_y": 10, "end_x": 110, "end_y": 10}
    length = tab.makes("add_known_length", footage=footage, frame=0, **ends)
    tab.does("type_known_length", known_length=length, length="2.00", unit="m")


def second_length(tab: Tab, footage: int) -> None:
    known_length(tab, footage)
    ends = {"start_x": 10, "start_y": 10, "end_x": 60, "end_y": 10}
    length = tab.makes("add_known_length", footage=footage, frame=0, **ends)
    tab.does("type_known_length", known_length=length, length="2.00", unit="m")


def turned_axes(tab: Tab, footage: int) -> None:
    tab.does("set_zero", footage=footage, x=20, y=30)
    tab.does("turn_axes", footage=footage, angle="12", flip_x=False, flip_y=True)


def corners(tab: Tab, footage: int) -> None:
    rectangle = [[20, 100], [120, 100], [110, 40], [30, 40]]
    tab.does("draw_plane", footage=footage, frame=0, corners=rectangle)


def sides(tab: Tab, footage: int) -> None:
    corners(tab, footage)
    tab.does("type_plane", footage=footage, across="2", along="1", unit="m")


def spot(tab: Tab, footage: int) -> None:
    tab.makes("add_body", footage=footage, name="gatepost", background=True)


@pytest.mark.parametrize(
    ("edit", "key", "text", "done"),
    [
        (known_length, "lengths", "1 px is 20.0 mm", True),
        (second_length, "lengths", None, False),  # the two contradict each other
        (sides, "lengths", "from the oblique view", True),
        (turned_axes, "axes", "zero at (20.0, 30.0) px, turned 12°, y down", True),
        (
            lambda tab, footage: tab.does("set_zero_frame", footage=footage, frame=7),
            "clock",
            "as in the file, t = 0 at frame 7",
            True,
        ),
        (
            lambda tab, footage: tab.does(
                "set_clock", footage=footage, clock="capture", typed="240"
            ),
            "clock",
            "shot at 240 frames/s, t = 0 at frame 0",
            True,
        ),
        (corners, "plane", "needs care", False),
        (sides, "plane", "laid flat", True),
        (spot, "steady", "by gatepost", False),
        (
            lambda tab, footage: tab.does("set_pixel_uncertainty", footage=footage, pixels="1.5"),
            "fine",
            "points to ± 1.5 px",
            True,
        ),
    ],
)
def test_the_heading_says_what_was_done(
    edit: Edit, key: str, text: str | None, done: bool, filmed: Tab
) -> None:
    edit(filmed, filmed.view()["footage"]["id"])
    said, is_done = states(filmed)[key]
    assert is_done is done
    assert text is None or said == text


def test_the_other_steps_say_what_was_chosen_and_made(filmed: Tab) -> None:
    footage = filmed.view()["footage"]["id"]
    filmed.makes("add_body", footage=footage, name="cone")
    assert states(filmed, Step.SOURCES) == {
        "footage": ("plain.mp4", True),
        "span": ("frames 0 … 39", False),
        "sheet_in": ("type or paste one", True),
        "guide": ("before you film", True),
    }
    assert states(filmed, Step.GRAPH) == {
        "graph": ("Position y against time", True),
        "fits": ("none", False),
        "findings": ("none", False),
        "passages": ("none", False),
        "columns": ("none", True),
        "quantities": ("none", True),
    }
    filmed.does("set_span", footage=footage, first=3, last=30, stride=2)
    filmed.does("add_passage", footage=footage, name="fall", first=5, last=9)
    filmed.does("add_passage", footage=footage, name="rise", first=12, last=19)
    column = {"formula": "x^2", "name": "square", "symbol": "q", "unit": ""}
    filmed.does("add_column", footage=footage, **column)
    filmed.does("set_quantity", symbol="R", name="radius", typed="0.125", unit="m")
    assert states(filmed, Step.SOURCES)["span"] == ("frames 3 … 30, every 2", True)
    assert states(filmed, Step.GRAPH) == {
        "graph": ("Position y against time", True),
        "fits": ("none", False),
        "findings": ("none", False),
        "passages": ("fall, rise", True),
        "columns": ("q", True),
        "quantities": ("R", True),
    }


def test_fits_are_done_when_each_has_come_to_something_that_is_recorded(filmed: Tab) -> None:
    footage = filmed.view()["footage"]["id"]
    body = filmed.makes("add_body", footage=footage, name="cone")
    first = filmed.makes("add_fit", body=body, x="t", y="x", curve="line")
    assert states(filmed, Step.GRAPH)["fits"] == ("position x against time: nothing yet", False)
    filmed.does("place_marks", body=body, marks=[[n, 50 + 4 * n, 100] for n in range(8)])
    said, done = states(filmed, Step.GRAPH)["fits"]
    assert said == "velocity 100.0 px/s"
    assert not done
    filmed.does("add_finding", fit=first, reading="velocity", name="v")
    assert states(filmed, Step.GRAPH)["fits"][1]
    filmed.does("add_fit", body=body, x="t", y="y", curve="line")
    assert not states(filmed, Step.GRAPH)["fits"][1]  # the second one is not recorded
    filmed.does("undo")
    filmed.does("change_fit", fit=first, curve="level")
    assert not states(filmed, Step.GRAPH)["fits"][1]  # a constant has no velocity


def test_findings_are_told_in_a_line(filmed: Tab) -> None:
    body = filmed.makes("add_body", footage=filmed.view()["footage"]["id"], name="cone")
    filmed.does("place_marks", body=body, marks=[[n, 50 + 4 * n, 100] for n in range(8)])
    for name, y in (("v", "x"), ("u", "y")):
        fit = filmed.makes("add_fit", body=body, x="t", y=y, curve="line")
        filmed.does("add_finding", fit=fit, reading="velocity", name=name)
    values = [one["text"] for one in filmed.view()["findings"]]
    said, _ = states(filmed, Step.MODEL)["findings"]
    assert said == f"v {values[0]}; u {values[1]}"
    filmed.does("change_fit", fit=fit, curve="level")
    assert states(filmed, Step.MODEL)["findings"][0] == f"v {values[0]}; u: nothing yet"


def test_a_graph_of_different_units_asks_for_something(filmed: Tab) -> None:
    footage = filmed.view()["footage"]["id"]
    body = filmed.makes("add_body", footage=footage, name="cone")
    filmed.does("place_marks", body=body, marks=[[n, 50 + 4 * n, 100] for n in range(8)])
    filmed.does("set_graph", footage=footage, x="t", ys=["x", "vx"])
    assert not states(filmed, Step.GRAPH)["graph"][1]


def test_the_line_above_the_graph_says_that_a_curve_is_not_that_of_the_points(
    filmed: Tab,
) -> None:
    body = filmed.makes("add_body", footage=filmed.view()["footage"]["id"], name="cone")
    let_go = [[n, 50 + (n * 7) % 3, 20 + 0.4 * max(n - 10, 0) ** 2] for n in range(26)]
    filmed.does("place_marks", body=body, marks=let_go)
    fit = filmed.makes("add_fit", body=body, x="t", y="y", curve="quadratic")
    doubt = filmed.view()["fits"][0]["doubt"]
    assert doubt
    assert doubt in cards(Step.GRAPH, filmed.view(), {}).html["line"]
    filmed.does("change_fit", fit=fit, curve="cubic")
    assert doubt not in cards(Step.GRAPH, filmed.view(), {}).html["line"]


def test_a_reading_is_recorded_under_the_name_by_which_the_lab_asks_for_it(filmed: Tab) -> None:
    view = filmed.view()
    lab = fetch(Lab, view["lab"]["id"])
    assert lab is not None
    ask_for(lab, AskedFinding(name="a<sub>", quantity="Acceleration along the slope", unit="m/s²"))
    ask_for(lab, AskedFinding(name="w", quantity="mean acceleration", unit="km"))
    footage = view["footage"]["id"]
    body = filmed.makes("add_body", footage=footage, name="cone")
    marks = [[n, 50 + (n * 7) % 3, 20 + 0.2 * n * n] for n in range(26)]
    filmed.does("place_marks", body=body, marks=marks)
    fit = filmed.makes("add_fit", body=body, x="t", y="y", curve="quadratic")

    def names() -> list[str]:
        html = cards(Step.GRAPH, filmed.view(), {}).html
        return re.findall('data-name="([^"]*)"', html["line"] + html["fits"])

    assert names()[:3] == ["acceleration", "acceleration", "velocity at t = 0"]  # as yet in px
    known_length(filmed, footage)
    wanted = "a&lt;sub&gt;"
    assert names()[:3] == [wanted, wanted, "velocity at t = 0"]
    assert "parameter c" in names()[-1]
    filmed.does("add_finding", fit=fit, reading="acceleration", name="a<sub>")
    assert wanted not in names()


def test_what_is_done_is_folded_and_says_so(filmed: Tab) -> None:
    before = cards(Step.GROUND, filmed.view(), {}).html
    assert 'data-folds="false" open' in before["lengths"]
    known_length(filmed, filmed.view()["footage"]["id"])
    after = cards(Step.GROUND, filmed.view(), {}).html["lengths"]
    assert 'data-folds="true" >' in after
    assert '<span class="card-state">1 px is 20.0 mm</span>' in after
    assert 'id="card-lengths"' in after


def moving_evenly(tab: Tab) -> int:
    """A line through a body that moves evenly; gives the fit."""
    footage = tab.view()["footage"]["id"]
    known_length(tab, footage)
    body = tab.makes("add_body", footage=footage, name="cone")
    marks = [[n, 50 + 4 * n + 0.01 * (n % 2), 100] for n in range(8)]
    tab.does("place_marks", body=body, marks=marks)
    return tab.makes("add_fit", body=body, x="t", y="x", curve="line")


def said_of_findings(tab: Tab) -> str:
    return cards(Step.GRAPH, tab.view(), {"own_formulas": []}).html["findings"]


def test_of_several_findings_the_newest_is_open_and_what_is_split_is_told_in_full(
    filmed: Tab,
) -> None:
    fit = moving_evenly(filmed)
    first = filmed.makes("add_finding", fit=fit, reading="velocity", name="v")
    second = filmed.makes("add_finding", fit=fit, reading="velocity", name="again")
    said = said_of_findings(filmed)
    assert said.count('class="own-finding" open') == 1
    older, newest = said.split('data-finding="')[1:]
    assert 'own-finding" open' in newest
    assert said.count('class="finding brief"') == 1
    assert ">more</summary>" in older

    change = {"finding": first, "name": "v", "as_size": False, "symbol": ""}
    filmed.does("change_finding", **change, accepted="77", other=None)
    assert ">disagrees</summary>" in said_of_findings(filmed)
    filmed.does("change_finding", **change, accepted="77", other=second)
    said = said_of_findings(filmed)  # it agrees with the other one
    assert "Disagrees with 77" in said
    assert "Agrees with again" in said
    assert "finding brief" not in said


def test_what_adds_nothing_to_an_uncertainty_is_named_without_its_size(filmed: Tab) -> None:
    fit = moving_evenly(filmed)
    filmed.does("add_finding", fit=fit, reading="velocity", name="v")
    said = said_of_findings(filmed)
    assert re.search(r"· scale [0-9.]+ \(100 %\), fit, marks that err together \(0 %\)", said)


def test_what_moves_is_asked_for_only_by_laws_that_rest_on_it(filmed: Tab) -> None:
    footage = filmed.view()["footage"]["id"]
    known_length(filmed, footage)
    body = filmed.makes("add_body", footage=footage, name="cone")
    marks = [[n, 50.0 + n, 20.0 + 2 * n] for n in range(12)]
    filmed.does("place_marks", body=body, marks=marks)

    def at_model() -> set[str]:
        return {card.key for card in cards_of(Step.MODEL, filmed.view())}

    predicted(filmed, body, footage, "constant velocity", "steady")
    assert "legs" in at_model()
    assert "moves" not in at_model()
    predicted(filmed, body, footage, "quadratic drag", "with air")
    assert "moves" in at_model()
