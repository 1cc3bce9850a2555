"""Predicting motions in tests: models, their legs and parameters."""

from typing import Any

from tests.studies.conftest import legs_of
from tests.studies.steps import Tab

Throw = tuple[Tab, int, int]
G = 9.80665


def printed(text: str) -> float:
    """A number that may be printed with a power of ten."""
    plain = text.translate(str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹⁻−", "0123456789--"))
    return float(plain.replace("×10", "e"))


def models(tab: Tab) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = tab.view()["models"]["models"]
    return found


def parameters(leg: dict[str, Any]) -> dict[str, dict[str, Any]]:
    return {one["name"]: one for one in leg["parameters"]}


def predicted(tab: Tab, body: int, footage: int, law: str, name: str = "theory") -> int:
    return tab.makes("add_model", footage=footage, body=body, name=name, law=law)


def passage(tab: Tab, footage: int, name: str, first: float, last: float) -> int:
    return tab.makes("add_passage", footage=footage, name=name, first=first, last=last)


def legs_over(tab: Tab, model: int, law: str, passages: list[int]) -> list[int]:
    """Legs of a model by one law, one over each passage."""
    legs = legs_of(tab, model)
    tab.does("change_leg", leg=legs[0], law=law, passage=passages[0], goes_on="free")
    legs += [tab.makes("add_leg", model=model, law=law, passage=key) for key in passages[1:]]
    return legs
