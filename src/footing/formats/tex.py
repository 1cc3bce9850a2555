"""Formulas as TeX writes them, made into MathML that holds nothing else."""

from functools import lru_cache

import nh3
from latex2mathml import exceptions
from latex2mathml.converter import convert

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
_NOT_TEX: tuple[type[Exception], ...] = (  # its errors have no base; the last is of a lone \\
    *(one for one in vars(exceptions).values() if isinstance(one, type)),
    IndexError,
)


@lru_cache(maxsize=512)
def mathml_of(tex: str, *, block: bool = False) -> str | None:
    """A ``<math>`` element; None for what is no formula."""
    try:
        made = convert(tex.strip(), display="block" if block else "inline")
    except _NOT_TEX:
        return None
    return nh3.clean(made, tags=set(MATH_TAGS), attributes=MATH_ATTRIBUTES)
