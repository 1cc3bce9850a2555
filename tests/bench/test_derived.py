"""What differs between two folders of derived values is found, and where."""

import json
from pathlib import Path

import pytest

from footing.bench.derived import compare, shown


@pytest.fixture
def folders(tmp_path: Path) -> tuple[Path, Path]:
    """The same files twice."""
    state = {"bodies": [{"marks": [[0, 1.5, 2.5], [1, 3.0, 4.0]]}], "title": "Icy sled"}
    for name in ("before", "after"):
        folder = tmp_path / name
        folder.mkdir()
        (folder / "study-01-state.json").write_text(json.dumps(state))
        (folder / "study-01-table.csv").write_text("t (s),x (m)\n0,1.5\n0.1,3\n")
    return tmp_path / "before", tmp_path / "after"


def test_the_same_is_no_difference(folders: tuple[Path, Path]) -> None:
    assert compare(*folders) == []
    assert shown([]) == "no difference"


def test_a_value_is_found_by_its_place(folders: tuple[Path, Path]) -> None:
    before, after = folders
    state = json.loads((after / "study-01-state.json").read_text())
    state["bodies"][0]["marks"][1][2] = 4.0001
    del state["title"]
    state["sheet"] = None
    (after / "study-01-state.json").write_text(json.dumps(state))
    assert compare(before, after) == [
        "study-01-state.json.bodies[0].marks[1][2]: '4.0' before, '4.0001' after",
        "study-01-state.json.sheet: only after",
        "study-01-state.json.title: only before",
    ]


def test_a_list_that_grew_differs(folders: tuple[Path, Path]) -> None:
    before, after = folders
    state = json.loads((after / "study-01-state.json").read_text())
    state["bodies"].append({})
    (after / "study-01-state.json").write_text(json.dumps(state))
    (difference,) = compare(before, after)
    assert difference.startswith("study-01-state.json.bodies: ")


def test_a_line_and_a_missing_file_are_found(folders: tuple[Path, Path]) -> None:
    before, after = folders
    (after / "study-01-table.csv").write_text("t (s),x (m)\n0,1.5\n0.1,3.1\n")
    (before / "study-02-state.json").write_text("{}")
    assert compare(before, after) == [
        "study-01-table.csv, line 3",
        "study-02-state.json: only before",
    ]


def test_many_differences_are_counted(folders: tuple[Path, Path]) -> None:
    many = [f"place {k}" for k in range(50)]
    assert shown(many).splitlines()[-1] == "… and 10 more"
    assert len(shown(many).splitlines()) == 41
