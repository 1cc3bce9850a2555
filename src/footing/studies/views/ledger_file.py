"""The ledgers as a table to be taken out: what changed over passages, momenta around impacts."""

from collections.abc import Iterator

from footing.formats.writing import lines_as_csv
from footing.studies.shapes.ledgers import EnergyShape, MomentumShape, MomentumSideShape, TotalShape
from footing.studies.shapes.state import LedgerShape

_SIDES = ("before", "after")
Cells = list[str]


def as_csv(ledger: LedgerShape) -> bytes:
    """All accounts, one below the other, as they are shown."""
    momenta = (line for one in ledger["momenta"] for line in ([], *_momenta(one)))
    return lines_as_csv([*_energies(ledger["energy"]), *momenta])


def _energies(energy: EnergyShape) -> Iterator[Cells]:
    if not energy["changes"]:
        return
    columns = [f"{name} ({energy['unit']})" for name in ("start", "end", "change")]
    yield ["passage", "time", "energy", *columns, "total", "mean friction", "mean power"]
    for change in energy["changes"]:
        for row in change["rows"]:
            cells = [row["name"], row["start"], row["end"], row["change"]]
            whole = [change["said"], change["force"], change["power"]] if row["total"] else []
            yield [change["name"], change["text"], *cells, *whole]


def _momenta(one: MomentumShape) -> Iterator[Cells]:
    unit = one["unit_text"]
    quantities = (("v", "m/s"), ("p", unit))
    columns = [f"{what} {side} ({of})" for side in _SIDES for what, of in quantities]
    yield [one["title"], "component", *columns, f"impulse ({unit})"]
    for row in one["rows"]:
        if row["counts"]:
            for axis, impulse in (("x", row["impulse_x"]), ("y", row["impulse_y"])):
                cells = [*_of(row["before"], axis), *_of(row["after"], axis)]
                yield [row["name"], axis, *cells, impulse]
    for axis, change in (("x", one["change_x"]), ("y", one["change_y"])):
        cells = [*_of_total(one["total_before"], axis), *_of_total(one["total_after"], axis)]
        yield ["total", axis, *cells, change]
    for name, text in (
        ("change", one["said"]),
        ("restitution", one["restitution"]),
        ("kinetic energy kept", one["kept"]),
        ("kind", one["happened"]),
    ):
        if text:
            yield [name, text]


def _of(side: MomentumSideShape | None, axis: str) -> Cells:
    if side is None:
        return ["", ""]
    return [side["vx"], side["px"]] if axis == "x" else [side["vy"], side["py"]]


def _of_total(total: TotalShape | None, axis: str) -> Cells:
    if total is None:
        return ["", ""]
    if axis == "x":
        return [total["centre_x"], total["x"]]
    return [total["centre_y"], total["y"]]
