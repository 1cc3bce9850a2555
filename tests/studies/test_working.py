"""How numbers were worked out: formula, what is put in, result, and where it came from."""

import re

import pytest

from footing.core.errors import NotThere, Refused
from footing.core.formulas.computing import compute
from footing.core.formulas.parsing import parse
from footing.studies.queries.working import working
from tests.studies.conftest import Measured
from tests.studies.motions import value
from tests.studies.steps import Tab


def test_workings(collision: tuple[Tab, int, int, int]) -> None:
    tab, left, _, impact = collision

    def text(of: str) -> str:
        return working(tab.study, tab.person, of)["text"]

    product = text(f"momentum/{impact}/b{left}.before.x")
    assert "px = m · vx = 0.5000 kg · " in product
    assert "a line through 15 marks before it" in product
    assert "Δp = px2 − px1 = " in text(f"momentum/{impact}/total.change.x")
    assert "e = (u2 − u1)/(v1 − v2) = " in text(f"momentum/{impact}/restitution")
    assert "r = Ek2/Ek1" in text(f"momentum/{impact}/kept")
    assert "Ek = m · (vx² + vy²)/2 = 0.5000 kg · ((" in text(f"cell/{left}/5/ek")
    between = working(tab.study, tab.person, f"between/{left}/2/8")
    assert "vx = (x2 − x1)/(t2 − t1)" in between["text"]
    assert [place["frame"] for place in between["places"]] == [2, 8]
    assert between["mathml"].count("<math>") == 2
    assert "One-sided" in text(f"cell/{left}/14/vx")
    assert "One-sided: the second derivative" in text(f"cell/{left}/14/ax")
    assert "a = √(ax² + ay²)" in text(f"cell/{left}/5/a").replace("sqrt", "√")
    since = working(tab.study, tab.person, f"cell/{left}/5/mx")
    assert "v̄x = (x2 − x1)/(t2 − t1) = " in since["text"]
    assert [place["frame"] for place in since["places"]] == [0, 5]
    since = working(tab.study, tab.person, f"cell/{left}/20/mx")
    assert [place["frame"] for place in since["places"]] == [15, 20]  # the impact begins it anew
    with pytest.raises(NotThere):
        text("weather/3")
    with pytest.raises(Refused):
        text(f"cell/{left}/99/vx")


@pytest.mark.parametrize("key", ["vx", "vy", "ax", "ay"])
@pytest.mark.parametrize("frame", [0, 6, 14])
def test_what_is_put_into_a_working_gives_its_result(
    throw: tuple[Tab, int, int], frame: int, key: str
) -> None:
    """Worked out by hand from what is printed: as the table has it."""
    tab, body, _ = throw
    shown = working(tab.study, tab.person, f"cell/{body}/{frame}/{key}")
    _, _, with_numbers, result = shown["text"].splitlines()[-1].split(" = ")
    bare = re.sub(r" (1/s²|1/s|m|s)(?![\w/])", "", with_numbers)
    typed = bare.replace("−", "-").replace(" · ", "*")
    by_hand = float(compute(parse(typed), {}, rows=1).values[0])
    assert by_hand == pytest.approx(value(result), rel=0.02, abs=0.05)


def test_working_of_a_finding_and_its_percent_error(measured: Measured) -> None:
    tab = measured.tab
    tab.does("change_finding", finding=measured.finding, name="g", as_size=True, accepted="1.30")
    found = working(tab.study, tab.person, f"finding/{measured.finding}")
    assert "ay = 2 · a = 2 · (" in found["text"]
    assert "the size" in found["text"]
    error = working(tab.study, tab.person, f"error/{measured.finding}")["text"]
    assert "e = (x − x0)/|x0| = " in error
    assert error.endswith(" %")
