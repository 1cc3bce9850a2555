"""The styles know one scale of letters and one of distances."""

import re
from pathlib import Path

import pytest

from footing.web.static_files import STATIC

# a report is print: its sizes are points and millimetres on paper; some only put others together
_OTHERS = {STATIC / "css" / name for name in ("paper.css", "theme.css", "workbench.css")}
STYLES = sorted(set((STATIC / "css").glob("*.css")) - _OTHERS)
LETTERS, DISTANCES = (12, 14, 15, 18, 24), (4, 8, 12, 16, 24)
_DECLARED = re.compile(
    r"(?<![\w-])(font-size|padding(?:-\w+)?|margin(?:-\w+)?|(?:row-|column-)?gap): ?([^;{}]+)"
)
_OF_ITS_OWN = re.compile(r"var\(--(?:base|t\d+)\)|inherit|1em")
_APART = re.compile(r"(?:calc\(-1 \* )?var\(--d\d+\)\)?|0|auto")


@pytest.mark.parametrize("style", STYLES, ids=lambda path: path.stem)
def test_letters_and_distances_are_those_of_the_scale(style: Path) -> None:
    declared = _DECLARED.findall(style.read_text())
    assert declared
    for name, value in declared:
        rest = (_OF_ITS_OWN if name == "font-size" else _APART).sub("", value)
        assert not rest.strip(), f"{name}: {value}"


def test_the_scale_is_as_it_is_called() -> None:
    text = (STATIC / "css" / "look.css").read_text()
    (base,) = re.findall(r"--base: (15)px", text)
    found = re.findall(r"--([td])(\d+): ([\d.]+)rem", text)
    assert sorted((kind, int(size)) for kind, size, _ in found) == sorted(
        [("t", size) for size in LETTERS] + [("d", size) for size in DISTANCES]
    )
    for _, size, in_base in found:
        assert float(in_base) * int(base) == pytest.approx(int(size), abs=0.02)
