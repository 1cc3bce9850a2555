"""Instructions of a lab: Markdown with formulas, made into HTML that holds nothing else.

Formulas stand between dollars, as TeX writes them, and become MathML. A line of a list that begins
with a check in brackets, such as ``- [scale] Draw …`` or ``- [5 marks] …``, shows whether the study
has that already.
"""

import re
from collections.abc import Mapping
from functools import lru_cache
from types import MappingProxyType

import nh3
from markdown_it import MarkdownIt
from markupsafe import Markup, escape
from mdit_py_plugins.dollarmath import dollarmath_plugin

from footing.formats.tex import MATH_ATTRIBUTES, MATH_TAGS, mathml_of
from footing.studies.views.lab_view import CHECK

_TEXT_TAGS = {
    *("p", "br", "hr", "em", "strong", "s", "code", "pre", "blockquote"),
    *("h3", "h4", "h5", "ul", "ol", "li", "table", "thead", "tbody", "tr", "th", "td", "a"),
}
_ATTRIBUTES = {"a": {"href"}, "ol": {"start"}, **MATH_ATTRIBUTES}
_HELD = re.compile("\ue000(.+?)\ue001")  # a check, while all else is cleaned


def _formula(tex: str, options: Mapping[str, bool]) -> str:
    block = bool(options.get("display_mode"))
    return mathml_of(tex, block=block) or f"<code>{escape(tex)}</code>"


_MARKDOWN = MarkdownIt("commonmark", {"html": False}).enable(["table", "strikethrough"])
_MARKDOWN.use(dollarmath_plugin, renderer=_formula, double_inline=True)


def rendered(text: str, done: Mapping[str, bool] = MappingProxyType({})) -> Markup:
    """Instructions as HTML; ``done`` says of each check whether the study has it."""

    def tick(check: re.Match[str]) -> str:
        has = done.get(check[1], False)
        said = "done" if has else "not done yet"
        kept = f'data-done="{str(has).lower()}" role="img" aria-label="{said}"'
        return f'<span class="tick" {kept}></span>'

    return Markup(_HELD.sub(tick, _html(text)))


@lru_cache(maxsize=256)
def rendered_line(words: str) -> Markup:
    """One line of instructions, without its check, as HTML within a line."""
    return Markup(_cleaned(_MARKDOWN.renderInline(words)))


@lru_cache(maxsize=256)
def _html(text: str) -> str:
    plain = text.replace("\ue000", "").replace("\ue001", "")
    held = CHECK.sub(lambda check: f"{check['bullet']}\ue000{check['check']}\ue001 ", plain)
    html = _MARKDOWN.render(held)
    return _cleaned(re.sub(r"<(/?)h([12])>", r"<\1h3>", html))  # the page has its own headings


def _cleaned(html: str) -> str:
    return nh3.clean(
        html,
        tags=_TEXT_TAGS | MATH_TAGS,
        attributes=_ATTRIBUTES,
        url_schemes={"http", "https"},
        link_rel="noopener noreferrer",
    )
