"""What sheets show, for tests of them."""

from typing import Any

from footing.studies.queries import tables_out
from tests.studies.steps import Tab


def seen(tab: Tab, sheet: int) -> dict[str, Any]:
    return tab.view(f"s{sheet}")  # type: ignore[arg-type]


def column(tab: Tab, sheet: int, symbol: str) -> dict[str, Any]:
    found: dict[str, Any] = next(
        one for one in seen(tab, sheet)["columns"] if one["symbol"] == symbol
    )
    return found


def texts(tab: Tab, sheet: int, symbol: str) -> list[str]:
    key = column(tab, sheet, symbol)["key"]
    window = tables_out.window(tab.study, sheet, 0, 500, [])
    found: list[str] = window["cells"][key]
    return found


def fit_of(tab: Tab, sheet: int, fit: int) -> dict[str, Any]:
    found: dict[str, Any] = next(one for one in seen(tab, sheet)["fits"] if one["id"] == fit)
    return found
