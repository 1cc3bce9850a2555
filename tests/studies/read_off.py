"""What a study shows, read off as numbers."""

from typing import Any

from tests.studies.steps import Tab


def cells(tab: Tab, column: str, *, body: int = 0) -> list[float]:
    """A column of a table as it is shown."""
    table = tab.view()["bodies"][body]["table"]
    place = next(
        k for k, one in enumerate(table["columns"]) if one["symbol"] + one["subscript"] == column
    )
    return [float(row[place].replace("−", "-")) for row in table["rows"] if row[place]]


def check(tab: Tab, key: str) -> dict[str, Any]:
    """A check of soundness."""
    found: dict[str, Any] = next(one for one in tab.view()["checks"] if one["key"] == key)
    return found


def acceleration(tab: Tab) -> float:
    """The acceleration that the first fit says."""
    fit = tab.view()["fits"][0]
    return float(fit["readings"][0]["text"].split(" ")[0].replace("−", "-").strip("("))
