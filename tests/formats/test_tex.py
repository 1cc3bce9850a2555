"""Formulas as TeX writes them, made into MathML."""

from html import unescape
from xml.etree.ElementTree import fromstring

import pytest

from footing.formats.tex import mathml_of


def as_read(tex: str) -> str:
    """Its signs in their order, with a blank wherever a space is drawn."""
    made = mathml_of(tex)
    assert made is not None
    math = fromstring(unescape(made))
    return "".join(" " if node.tag.endswith("mspace") else node.text or "" for node in math.iter())


@pytest.mark.parametrize(
    ("tex", "read"),
    [
        (r"a = g \sin 12°", "a=g sin 12°"),
        (r"2\cos\alpha\sin\beta", "2 cos α sin β"),
        (r"\sin^2 x", "sin2 x"),
        (r"(a)\cos b", "(a) cos b"),
        (r"\frac{m\ln x}{2}", "m ln x2"),
        (r"\begin{matrix}a\tan x\end{matrix}", "a tan x"),
    ],
)
def test_a_function_stands_apart_from_what_is_beside_it(tex: str, read: str) -> None:
    assert as_read(tex) == read


@pytest.mark.parametrize(
    ("tex", "read"),
    [
        (r"g\sin(\theta)", "g sin(θ)"),  # a bracket holds it together
        (r"-\sin\left(x\right)", "−sin(x)"),
        (r"\sin-x = 2", "sin−x=2"),
        (r"5\,\ln\,x", "5 ln x"),
        (r"F = m a", "F=ma"),
    ],
)
def test_no_other_space_is_added(tex: str, read: str) -> None:
    assert as_read(tex) == read


def test_functions_stand_upright_and_letters_do_not() -> None:
    made = mathml_of(r"a = g \sin \theta") or ""
    assert '<mi mathvariant="normal">sin</mi>' in made
    assert made.count("mathvariant") == 1


def test_signs_that_html_means_otherwise_stay_signs() -> None:
    assert mathml_of(r"a < b") == mathml_of(r"a \lt b")
    assert "&lt;" in (mathml_of("a < b") or "")
    assert mathml_of(r"\frac{1}{") is None
