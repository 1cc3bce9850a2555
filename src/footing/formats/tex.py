"""Formulas as TeX writes them, made into MathML that holds nothing else."""

from functools import lru_cache
from html import unescape
from xml.etree.ElementTree import Element, tostring

import nh3
from latex2mathml import exceptions
from latex2mathml.converter import convert_to_element

MATH_TAGS = frozenset(
    {
        *("math", "mrow", "mi", "mn", "mo", "mtext", "mspace", "msup", "msub", "msubsup", "mfrac"),
        *("msqrt", "mroot", "mover", "munder", "munderover", "mtable", "mtr", "mtd", "mstyle"),
    }
)
MATH_ATTRIBUTES = {
    "math": {"display", "xmlns"},
    "mo": {"stretchy", "fence", "form"},
    "mi": {"mathvariant"},
    "mspace": {"width"},
}
_THIN = "0.167em"
_CLOSING = frozenset(")]}!")
_NOT_TEX: tuple[type[Exception], ...] = (  # its errors have no base; the last is of a lone \\
    *(one for one in vars(exceptions).values() if isinstance(one, type)),
    IndexError,
)


@lru_cache(maxsize=512)
def mathml_of(tex: str, *, block: bool = False) -> str | None:
    """A ``<math>`` element; None for what is no formula."""
    try:
        made = convert_to_element(tex.strip(), display="block" if block else "inline")
    except _NOT_TEX:
        return None
    for node in list(made.iter()):
        node.text = unescape(node.text or "")  # it writes its signs as entities already
        if node.tag == "mi" and len(node.text) > 1:
            node.set("mathvariant", "normal")  # a name of several letters stands upright
    for row in list(made.iter()):
        _set_apart(row)
    written = tostring(made, encoding="unicode")
    return nh3.clean(written, tags=set(MATH_TAGS), attributes=MATH_ATTRIBUTES)


def _set_apart(row: Element) -> None:
    """Put the thin spaces of TeX around the functions of a row, as in "g sin 12°".

    MathML has none of its own beside a name: it would be read as "gsin12°".
    """
    if row.tag not in {"mrow", "math", "mtd", "mstyle"}:
        return
    spaced: list[Element] = []
    for here in row:
        if spaced and _stand_apart(spaced[-1], here):
            spaced.append(Element("mspace", width=_THIN))
        spaced.append(here)
    row[:] = spaced


def _stand_apart(before: Element, here: Element) -> bool:
    if _is_function(here):
        return before.tag not in {"mo", "mspace"} or (before.text or "") in _CLOSING
    return _is_function(before) and here.tag != "mspace" and not _opens(here)


def _is_function(node: Element) -> bool:
    """Whether it is the name of a function, perhaps with a power or an index."""
    name = node[0] if node.tag in {"msup", "msub", "msubsup"} else node
    return name.tag == "mi" and len(name.text or "") > 1


def _opens(node: Element) -> bool:
    first = node[0] if node.tag == "mrow" and len(node) else node
    return first.tag == "mo"
