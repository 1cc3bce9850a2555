"""The commands, as a person types them."""

import csv
import json
import sys
from pathlib import Path

import pytest

from footing.cli import main
from tests.commands import footing, refused
from tests.films import numbered_film


def test_inspect_says_what_a_file_holds(films: Path) -> None:
    film = numbered_film(films / "inspected.mp4", frames=26, rate=25, rotation=90)
    found = json.loads(footing("inspect", film, "--json").stdout)
    times = found.pop("times")
    assert times == pytest.approx([n / 25 for n in range(26)], abs=1e-3)
    assert found.pop("rate") == pytest.approx(25)
    assert found.pop("duration") == pytest.approx(1)
    assert found == {
        "frames": 26,
        "width": 320,
        "height": 180,
        "rotation": 90,
        "variable_rate": False,
        "codec": "h264",
    }


def test_inspect_refuses_what_is_no_video(tmp_path: Path) -> None:
    notes = tmp_path / "notes.mp4"
    notes.write_text("height, time\n")
    assert "text file" in refused("inspect", notes, "--json")
    assert "There is no file" in refused("inspect", tmp_path / "none.mp4", "--json")


@pytest.fixture
def table(tmp_path: Path) -> Path:
    """y = 2 − 3 x + 0.5 x² without scatter, beside a column with a word in it."""
    path = tmp_path / "table.csv"
    with path.open("w", newline="") as file:
        writer = csv.writer(file)
        writer.writerow(["x", "y", "note"])
        writer.writerows([n, 2 - 3 * n + 0.5 * n**2, "late"] for n in range(8))
    return path


def test_fit_answers_in_json(table: Path) -> None:
    done = footing("fit", table, "--x", "x", "--y", "y", "--curve", "quadratic", "--json")
    found = json.loads(done.stdout)
    values = {name: parameter["value"] for name, parameter in found["parameters"].items()}
    assert values == pytest.approx({"a": 0.5, "b": -3, "c": 2}, abs=1e-9)
    assert (found["curve"], found["n"], found["converged"]) == ("quadratic", 8, True)
    assert set(found) == {"curve", "n", "parameters", "rss", "rmse", "r_squared", "converged"}


def test_fit_of_too_few_points_does_not_converge(tmp_path: Path) -> None:
    short = tmp_path / "short.csv"
    short.write_text("x,y\n1,2\n2,3\n")
    done = footing("fit", short, "--x", "x", "--y", "y", "--curve", "line", "--json")
    found = json.loads(done.stdout)
    assert not found["converged"]
    assert found["parameters"]["m"] == {"value": None, "stderr": None}


def test_fit_refuses_in_one_line(
    table: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    """In this process: the start of one, and its exit status, are tested above."""

    def said(file: Path, *arguments: str) -> str:
        monkeypatch.setattr(sys, "argv", ["footing", "fit", str(file), *arguments])
        with pytest.raises(SystemExit) as ended:
            main()
        assert ended.value.code == 2
        (line,) = capsys.readouterr().err.strip().splitlines()
        return str(line)

    line = ("--curve", "line", "--json")
    assert "no column “z”" in said(table, "--x", "x", "--y", "z", *line)
    assert "column note: “late”" in said(table, "--x", "x", "--y", "note", *line)
    columns = ("--x", "x", "--y", "y")
    assert "neither a named curve" in said(table, *columns, "--curve", "wave")
    assert "write 2*x" in said(table, *columns, "--curve", "a+2x")
    assert "no starting value" in said(table, *columns, *line, "--start", "k=2")
    assert "no file" in said(table.with_name("none.csv"), "--x", "x", "--y", "y", *line)
    assert "--y" in said(table, "--x", "x", *line)
