"""Words with formulas and named values, as paragraphs and lists of a document.

They are written as Markdown (CommonMark): paragraphs, lists, ``*emphasis*``, ``**strong**``;
formulas stand between dollars as TeX writes them; ``{name}`` puts a value in. Nothing of it is ever
taken for HTML.
"""

import re
from collections.abc import Callable, Iterator, Sequence

from markdown_it import MarkdownIt
from markdown_it.token import Token
from mdit_py_plugins.dollarmath import dollarmath_plugin

from footing.formats.document import (
    Break,
    Equation,
    Formula,
    Heading,
    Listing,
    Paragraph,
    Part,
    Run,
    Text,
    Value,
)
from footing.formats.tex import mathml_of

_NAMED = re.compile(r"\{([^{}\n]{1,60})\}")
_MARKDOWN = (
    MarkdownIt("commonmark", {"html": False})
    .use(dollarmath_plugin, double_inline=True)
    .disable(["image", "link", "autolink", "html_block", "html_inline", "code", "fence"])
)
ValueOf = Callable[[str], str | None]


def prose(words: str, value_of: ValueOf, *, quoted: bool = False) -> list[Part]:
    """Words as parts of a document; ``value_of`` gives the text of a value by its name."""
    return list(_Reader(_MARKDOWN.parse(words), value_of, quoted).parts())


def formula(tex: str) -> Formula | None:
    """A formula as TeX writes it; None for what is none."""
    found = mathml_of(tex)
    return None if found is None else Formula(found, tex.strip())


class _Reader:
    """Reads the tokens of a text from the first to the last."""

    def __init__(self, tokens: Sequence[Token], value_of: ValueOf, quoted: bool) -> None:
        self._tokens = iter(tokens)
        self._value_of = value_of
        self._quoted = quoted

    def parts(self) -> Iterator[Part]:
        for token in self._tokens:
            if token.type == "heading_open":
                text = "".join(_plain(run) for run in self._inline(next(self._tokens)))
                yield Heading(text, level=min(3 + int(token.tag[1:]) // 3, 4))
            elif token.type == "inline":
                yield from self._paragraph(token)
            elif token.type == "math_block":
                yield from self._equation(token.content)
            elif token.type in ("bullet_list_open", "ordered_list_open"):
                first = int(token.attrGet("start") or 1)
                numbered = token.type == "ordered_list_open"
                yield Listing(tuple(self._items(token.type)), first if numbered else None)

    def _paragraph(self, token: Token) -> Iterator[Part]:
        """A paragraph; a formula that is all of it stands on a line of its own."""
        children = token.children or []
        if len(children) == 1 and children[0].type in ("math_inline_double", "math_block"):
            yield from self._equation(children[0].content)
        else:
            yield Paragraph(tuple(self._inline(token)), quoted=self._quoted)

    def _equation(self, tex: str) -> Iterator[Part]:
        found = formula(tex)
        yield Equation("" if found else tex, found)

    def _items(self, opened: str) -> Iterator[tuple[Run, ...]]:
        """The items of a list; lists within one are told in the same line."""
        closed, depth = opened.replace("_open", "_close"), 1
        runs: list[Run] = []
        for token in self._tokens:
            depth += (token.type == opened) - (token.type == closed)
            if depth == 0:
                return
            if token.type == "inline":
                runs += [*([Text(" ")] if runs else []), *self._inline(token)]
            elif token.type == "list_item_close" and depth == 1:
                yield tuple(runs)
                runs = []

    def _inline(self, token: Token) -> Iterator[Run]:
        strong = emphasised = 0
        for child in token.children or []:
            match child.type:
                case "strong_open" | "strong_close":
                    strong += child.nesting
                case "em_open" | "em_close":
                    emphasised += child.nesting
                case "softbreak":
                    yield Text(" ")
                case "hardbreak":
                    yield Break()
                case "math_inline" | "math_inline_double":
                    yield formula(child.content) or Text(f"${child.content}$")
                case _:
                    yield from self._text(child.content, bool(strong), bool(emphasised))

    def _text(self, text: str, strong: bool, emphasised: bool) -> Iterator[Run]:
        """Letters, and values that they name in braces."""
        for place, part in enumerate(_NAMED.split(text)):
            if place % 2:
                found = self._value_of(part.strip())
                yield Value(part.strip(), found or part.strip(), missing=found is None)
            elif part:
                yield Text(part, strong, emphasised)


def _plain(run: Run) -> str:
    return "" if isinstance(run, Break) else run.text
