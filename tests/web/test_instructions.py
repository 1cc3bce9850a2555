"""Instructions of labs: Markdown with formulas in, nothing but text and formulas out."""

import pytest

from footing.web.instructions import rendered, rendered_line

HOSTILE = [
    "<script>alert(1)</script>",
    "<img src=x onerror=alert(1)>",
    "[click](javascript:alert(1))",
    "[click](data:text/html;base64,PHNjcmlwdD4=)",
    "![a](https://example.org/spy.png)",
    "<iframe src='//example.org'></iframe>",
    "$\\href{javascript:alert(1)}{x}$",
    "$\\text{<script>alert(1)</script>}$",
    "<a href='https://example.org' onclick='alert(1)'>x</a>",
    "<form action=/classes/1/wipe method=post><button>x</button></form>",
    "<style>body{display:none}</style>",
    "- [scale] <b onmouseover=alert(1)>x</b>",
    "\ue0005 marks\ue001<script>alert(1)</script>",
    "$$\\begin{matrix} <svg onload=alert(1)> \\end{matrix}$$",
]


@pytest.mark.parametrize("text", HOSTILE)
def test_nothing_in_instructions_can_act(text: str) -> None:
    html = str(rendered(text)) + str(rendered_line(text))
    for tag in ("<script", "<img", "<iframe", "<form", "<style", "<svg", "<b ", "<button"):
        assert tag not in html
    within_tags = "".join(part.split(">")[0] for part in html.split("<")[1:])
    for word in ("javascript:", "data:", "onclick", "onerror", "onload", "onmouseover"):
        assert word not in within_tags


def test_text_and_formulas_are_rendered() -> None:
    html = str(
        rendered(
            "# Run\n\nFind *a* from $x = \\frac{1}{2} a t^2$.\n\n| t | x |\n|---|---|\n| 1 | 2 |"
        )
    )
    assert "<h3>Run</h3>" in html
    assert "<em>a</em>" in html
    assert "<mfrac>" in html
    assert "<msup>" in html
    assert "<td>1</td>" in html


@pytest.mark.parametrize("formula", ["\\frac{1}{", "\\", "}{", "\\begin{x}", "a_", "\\left("])
def test_a_formula_that_is_none_stands_there_as_it_was_typed(formula: str) -> None:
    html = str(rendered(f"before ${formula}$ after"))
    assert "before" in html
    assert "after" in html


def test_a_check_says_whether_the_study_has_it() -> None:
    text = "- [scale] draw\n- [20 marks] mark\n- [nothing] else"
    html = str(rendered(text, {"scale": True, "20 marks": False}))
    assert html.count('class="tick"') == 2
    assert html.index('data-done="true"') < html.index('data-done="false"')
    assert "[nothing] else" in html
    assert "[scale]" not in html


def test_a_single_line_stands_within_a_line() -> None:
    assert rendered_line("*Ground*: the $x$ & the post") == rendered_line(
        "*Ground*: the $x$ &amp; the post"
    )
    html = str(rendered_line("*Ground*: the $x$"))
    assert html.startswith("<em>Ground</em>: the ")
    assert "<mi>x</mi>" in html
    assert "<p>" not in html


def test_links_lead_outside_with_no_way_back() -> None:
    html = str(rendered("[why](https://example.org/ice)"))
    assert 'href="https://example.org/ice"' in html
    assert "noopener" in html
