"""The numbers of a study that a sentence can name: findings, and quantities that were typed."""

from collections.abc import Sequence
from typing import TypedDict

from footing.core.errors import Refused
from footing.core.units import read_number
from footing.studies.shapes.findings import FindingShape
from footing.studies.shapes.tables import StudyQuantityShape


class ValueShape(TypedDict):
    """A value by the name that goes into a sentence."""

    name: str
    text: str


class Values:
    """The values of a study by name or symbol; findings go before quantities of the same name."""

    def __init__(
        self, findings: Sequence[FindingShape], quantities: Sequence[StudyQuantityShape]
    ) -> None:
        self._by_name: dict[str, str] = {}
        self.offered: list[ValueShape] = []
        for finding in findings:
            if finding["reason"] is None:
                self._offer(finding["name"], finding["text"], finding["symbol"])
        for quantity in quantities:
            text = f"{_typed(quantity['typed'])} {quantity['unit']}".strip()
            self._offer(quantity["symbol"], text, quantity["name"])

    def text_of(self, name: str) -> str | None:
        """A value with its digits and unit; None if none has this name."""
        return self._by_name.get(name)

    def _offer(self, name: str, text: str, other: str) -> None:
        if name in self._by_name:
            return
        self.offered.append({"name": name, "text": text})
        self._by_name[name] = text
        if other:
            self._by_name.setdefault(other, text)


def _typed(text: str) -> str:
    """A number as it was typed, in print."""
    try:
        read_number(text, field="typed")
    except Refused:
        return text
    return text.replace("-", "−").replace("+/−", "±")
