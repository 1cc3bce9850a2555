"""What a page shows of the bodies, so that nothing is computed that nobody looks at.

Tables, lanes and arrows of a body rest on every quantity of its motion, and a page shows few of
them at a time. It names those; who names nothing gets all.
"""

import re
from dataclasses import dataclass
from typing import Literal

Arrows = Literal["v", "a"]
ModelGraph = Literal["most", "x", "y", "h", "vx", "vy", "v", "path"]

_NAME = re.compile(
    r"table:\d{1,18}|lane:[a-z]{1,8}|arrows:[va]|ledger|models(:(most|x|y|h|vx|vy|v|path))?"
)
_USUAL_GRAPH: ModelGraph = "most"
_MOST = 64  # names


@dataclass(frozen=True)
class Shown:
    """The parts that are shown: ``table:7``, ``lane:x``, ``arrows:v``, ``ledger``, ``models:vy``.

    None for all. Of models the graph of that quantity against time (``path`` of y against x,
    ``most`` of the coordinate that tells most) is shown with them; ``models`` alone are their lines
    on other graphs.
    """

    names: tuple[str, ...] | None = None

    @classmethod
    def read(cls, text: str | None) -> "Shown":
        """From names with spaces between them; what is no such name is left out."""
        if text is None:
            return cls()
        return cls(tuple(sorted({name for name in text.split() if _NAME.fullmatch(name)})[:_MOST]))

    def table(self, body: int) -> bool:
        """Whether the table of a body is shown."""
        return self._is_shown(f"table:{body}")

    def lane(self, key: str) -> bool:
        """Whether the lanes show a quantity."""
        return self._is_shown(f"lane:{key}")

    def arrows(self, of: Arrows) -> bool:
        """Whether velocities or accelerations are shown as arrows."""
        return self._is_shown(f"arrows:{of}")

    @property
    def ledger(self) -> bool:
        """Whether the ledgers are shown."""
        return self._is_shown("ledger")

    @property
    def models(self) -> bool:
        """Whether the predicted motions are shown."""
        return self.names is None or any(name.startswith("models") for name in self.names)

    @property
    def models_graph(self) -> str | None:
        """The quantity of which their own graph is shown; None where it is not."""
        if self.names is None:
            return _USUAL_GRAPH
        named = (name.partition(":")[2] for name in self.names if name.startswith("models:"))
        return next(named, None)

    def _is_shown(self, name: str) -> bool:
        return self.names is None or name in self.names


EVERYTHING = Shown()
NO_PARTS = Shown(())
AT_FIRST = Shown(("lane:x", "lane:y"))  # what a page shows before it has said anything
LEDGER = Shown(("ledger",))
AT_LEDGER = Shown(("lane:x", "lane:y", "ledger"))
MODELS = Shown(("models:most",))
AT_MODEL = Shown(("lane:x", "lane:y", "models:most"))
AT_GRAPH = Shown(("lane:x", "lane:y", "models"))
