"""The named curves: what each is called, its parameters and how many there are."""

from dataclasses import dataclass
from typing import Literal

from footing.core.units import Dimension

CurveKey = Literal["line", "quadratic", "cubic"]


@dataclass(frozen=True)
class Curve:
    """A polynomial y = Σ cₖ xᵏ.

    names : parameter names, highest power first, as the command line reports them
    symbols : the same parameters as they are printed, as (letter, subscript)
    """

    key: CurveKey
    title: str
    names: tuple[str, ...]
    symbols: tuple[tuple[str, str], ...]

    @property
    def degree(self) -> int:
        """Highest power of x."""
        return len(self.names) - 1

    def dimensions(self, x: Dimension, y: Dimension) -> tuple[Dimension, ...]:
        """Dimensions of the parameters for given dimensions of x and y."""
        return tuple(y / x**power for power in range(self.degree, -1, -1))


def _numbered(count: int) -> tuple[tuple[str, str], ...]:
    return tuple(("c", str(power)) for power in range(count - 1, -1, -1))


CURVES: dict[str, Curve] = {
    curve.key: curve
    for curve in (
        Curve("line", "straight line", ("m", "b"), (("m", ""), ("b", ""))),
        Curve("quadratic", "quadratic", ("a", "b", "c"), _numbered(3)),
        Curve("cubic", "cubic", ("a", "b", "c", "d"), _numbered(4)),
    )
}
