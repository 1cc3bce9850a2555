"""Ledgers and models as tables and sentences of a report."""

from collections.abc import Iterator

from footing.formats.document import Caption, Grid, Paragraph, Part, Text
from footing.studies.shapes.ledgers import EnergyShape, MomentumShape, MomentumSideShape, TotalShape
from footing.studies.shapes.models import ModelParameterShape, ModelShape


def energies(account: EnergyShape, caption: Caption, *, tells: bool) -> Iterator[Part]:
    """What each kind of energy was at the start and the end of each passage."""
    headings = (
        "passage",
        "energy",
        *(f"{end} ({account['unit']})" for end in ("start", "end", "change")),
    )
    rows: list[tuple[str, ...]] = []
    totals: set[int] = set()
    for change in account["changes"]:
        for place, row in enumerate(change["rows"]):
            if row["total"]:
                totals.add(len(rows))
            name = change["name"] if place == 0 else ""
            rows.append((name, row["name"], row["start"], row["end"], row["change"]))
    yield Grid(headings, tuple(rows), caption, frozenset(totals))
    for change in account["changes"]:
        parts = [change["force"], change["power"]] if tells else []
        said = [f"{change['name']}: {change['said']}"] if tells and change["said"] else []
        if text := ". ".join(part.rstrip(".") for part in [*said, *parts] if part):
            yield Paragraph((Text(f"{text}."),))
    if account["words"]:
        yield Paragraph((Text(account["words"]),))


def momenta(account: MomentumShape, caption: Caption, *, tells: bool) -> Iterator[Part]:
    """The momenta before and after an impact, and what became of their sum."""
    unit = account["unit_text"]
    sides = [f"p{axis} {side} ({unit})" for side in ("before", "after") for axis in ("x", "y")]
    rows = [
        (row["name"], row["mass"], *_momenta_of(row["before"]), *_momenta_of(row["after"]))
        for row in account["rows"]
        if row["counts"]
    ]
    total = ("total", "", *_totals(account["total_before"]), *_totals(account["total_after"]))
    rows.append(total)
    yield Grid(("body", "mass", *sides), tuple(rows), caption, frozenset({len(rows) - 1}))
    said = [account["said"]] if tells else []
    said += [
        f"{name}: {text}"
        for name, text in (
            ("change of the total", " and ".join((account["change_x"], account["change_y"]))),
            ("coefficient of restitution", account["restitution"]),
            ("kinetic energy kept", account["kept"]),
        )
        if text and text != " and "
    ]
    if said:
        yield Paragraph((Text(". ".join(one.rstrip(".") for one in said) + "."),))
    if account["words"]:
        yield Paragraph((Text(account["words"]),))


def _momenta_of(side: MomentumSideShape | None) -> tuple[str, str]:
    return ("", "") if side is None else (side["px"], side["py"])


def _totals(total: TotalShape | None) -> tuple[str, str]:
    return ("", "") if total is None else (total["x"], total["y"])


def model(shown: ModelShape, caption: Caption, *, tells: bool) -> Iterator[Part]:
    """The parameters of a predicted motion with where they come from, and how well it matches."""
    rows = [_parameter(one, "") for one in shown["common"]]
    for number, leg in enumerate(shown["legs"], 1):
        rows += [_parameter(one, f"leg {number}") for one in leg["parameters"]]
    yield Grid(("parameter", "of", "value", "how known"), tuple(rows), caption)
    said = [f"{one['title']} {one['text']}" for one in shown["results"] if one["text"]]
    said += [f"root mean square deviation {shown['rms']}"] if shown["rms"] else []
    said += [shown["stops"]] if tells and shown["stops"] else []
    if said:
        yield Paragraph((Text(". ".join(one.rstrip(".") for one in said) + "."),))


def _parameter(one: ModelParameterShape, of: str) -> tuple[str, str, str, str]:
    source = next((how["text"] for how in one["hows"] if how["value"] == one["how"]), "")
    symbol = "".join("".join(pieces) for pieces in one["symbol"])
    return (f"{one['title']} {symbol}".strip(), of, one["text"], source)
