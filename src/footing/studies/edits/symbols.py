"""Symbols that people give to columns, quantities and findings, so that formulas can name them."""

from footing.core.errors import Refused
from footing.core.formulas.functions import FUNCTIONS
from footing.formats.headings import is_symbol

_TAKEN = ("pi", "π")


def check_symbol(symbol: str) -> None:
    """Refuse what no formula could name, and what formulas have a meaning for already."""
    if not is_symbol(symbol) or symbol in FUNCTIONS or symbol in _TAKEN:
        raise Refused(
            f"“{symbol}” cannot be a symbol; use letters and digits, such as v or v_x, but not the "
            "name of a function, nor pi.",
            field="symbol",
        )
