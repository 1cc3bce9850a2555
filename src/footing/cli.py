"""The command line: ``./footing <command>``."""

import csv
import json
import secrets
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, Any

import numpy as np
import typer

from footing.core.curves import CURVES, Curve, own_curve
from footing.core.errors import FootingError, Refused
from footing.core.fitting import Fit, Given, NoFit, fit_curve
from footing.core.following import run
from footing.core.formulas.syntax import WrongFormula
from footing.core.units import read_number
from footing.media.index import MediaIndex, index_media
from footing.media.luma import luma_frames
from footing.settings import Settings, settings
from footing.store.database import connected

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)

_SHORTEST_PASSWORD = 8
_CURVE_HELP = f"One of {', '.join(CURVES)}; or a formula in x, such as a*x^2 + b."
_PROJECT = Path(__file__).resolve().parents[2]


def main() -> None:
    """Run a command; an error is one line on standard error and exit status 2."""
    try:
        sys.exit(app(standalone_mode=False))
    except FootingError as error:
        print(f"footing: {error}", file=sys.stderr)
    except typer.TyperException as error:  # a missing or misspelt argument
        print(f"footing: {error.format_message()}", file=sys.stderr)
    sys.exit(2)


@app.command()
def demo(port: Annotated[int, typer.Option(help="Port on loopback.")] = 8750) -> None:
    """Run Footing with the demo data, on this machine only."""
    from footing import serving  # only this command needs the web and the database

    with _data_error(settings()):
        serving.run_demo(settings().model_copy(update={"demo": True}), port=port)


@app.command()
def serve(
    port: Annotated[int, typer.Option(help="Port to listen at.")] = 8750,
    lan: Annotated[
        bool, typer.Option("--lan", help="Listen to the classroom's network, too.")
    ] = False,
) -> None:
    """Run Footing without demo data."""
    from footing import serving

    with _data_error(settings()):
        serving.run_server(settings(), port=port, lan=lan)


@app.command()
def worker(
    beside: Annotated[
        int | None, typer.Option(help="Process of a server with which to end.", hidden=True)
    ] = None,
) -> None:
    """Run one more worker process beside a Footing that runs."""
    from footing import serving

    serving.run_worker(settings(), beside=beside)


@app.command()
def teacher(
    name: Annotated[str, typer.Argument(help="As it is shown, and typed to sign in.")],
    class_name: Annotated[
        str, typer.Option("--class", help="The teacher's first class.")
    ] = "My class",
) -> None:
    """Make an account for a teacher, or give them a new password; prints the password."""
    from footing import serving
    from footing.studies import lists, people

    if not name.strip():
        raise Refused("A teacher needs a name.")
    password = _new_password()
    with _data_error(settings()), serving.any_database(settings()), connected():
        row = people.add_teacher(name.strip(), password)
        lists.first_class(row, class_name)
    if not sys.stdin.isatty():
        print(f"The password of {name.strip()} is {password}")


@app.command(context_settings={"allow_extra_args": True, "ignore_unknown_options": True})
def test(context: typer.Context) -> None:
    """Run everything that CI runs: lint, types, import contract and all tests."""
    checks = [
        [sys.executable, "-m", "ruff", "check", "."],
        [sys.executable, "-m", "ruff", "format", "--check", "."],
        [sys.executable, "-m", "mypy"],
        [str(Path(sys.executable).with_name("lint-imports")), "--no-cache"],
        ["tsc", "-p", "src/footing/web/static/js/jsconfig.json"],
    ]
    pytest = [sys.executable, "-m", "pytest", *context.args]
    for command in [*([] if context.args else checks), pytest]:
        done = subprocess.run(command, cwd=_PROJECT, check=False)
        if done.returncode:
            print(f"footing: failed: {' '.join(command[1:])}", file=sys.stderr)
            sys.exit(done.returncode)


@app.command()
def bench(
    parts: Annotated[
        list[str] | None, typer.Argument(help="files, following, pages, tables; all if none")
    ] = None,
) -> None:
    """Measure speed as ratios within one run, each beside its limit."""
    from footing.bench import PARTS, run

    unknown = [part for part in parts or () if part not in PARTS]
    if unknown:
        raise typer.BadParameter(f"{unknown[0]} is none of {', '.join(PARTS)}")
    run(parts or PARTS)


@app.command()
def inspect(
    file: Path, as_json: Annotated[bool, typer.Option("--json", help="As JSON.")] = False
) -> None:
    """Say what a video (or a picture) holds."""
    index = _index(file)
    rhythm = index.cadence
    found = {
        "frames": index.frames,
        "width": index.width,
        "height": index.height,
        "rotation": index.rotation,
        "rate": rhythm.rate,
        "variable_rate": rhythm.variable,
        "duration": rhythm.duration,
        "times": [float(time) for time in index.times],
        "codec": index.codec,
    }
    if as_json:
        print(json.dumps(found))
        return
    for name, value in found.items():
        if name != "times":
            print(f"{name.replace('_', ' ')}: {value}")


@app.command()
def follow(
    file: Path,
    frame: Annotated[int, typer.Option(help="Frame in which the point is known.")],
    at: Annotated[str, typer.Option(help="The point there, as X,Y in upright pixels.")],
    as_json: Annotated[bool, typer.Option("--json", help="As JSON.")] = False,
) -> None:
    """Follow a point of an object through a video, from a frame on."""
    index = _index(file)
    if index.kind == "picture":
        raise Refused("A picture does not move; following is for a video.")
    if not 0 <= frame < index.frames:
        raise Refused(f"There is no frame {frame}; the last one is {index.frames - 1}.")
    x, y = _point(at)
    if not (-0.5 <= x <= index.width - 0.5 and -0.5 <= y <= index.height - 0.5):
        raise Refused(f"({x:g}, {y:g}) lies outside the picture of {index.width} × {index.height}.")
    pictures = luma_frames(
        file, index, range(frame, index.frames), seconds=settings().survey_seconds
    )
    found: dict[int, tuple[float, float, float]] = {frame: (x, y, 1.0)}
    stopped: dict[str, object] | None = None
    for told in run.follow(pictures, {0: run.Start(frame, (x, y))}):
        for step in told:
            if isinstance(step, run.Ended):
                stopped = {"frame": step.frame, "reason": step.reason}
            elif step.sure and step.place:
                found[step.frame] = (*step.place, min(step.quality, 1.0))
            else:
                found.pop(step.frame, None)
    points = [
        {"frame": number, "t": float(index.times[number]), "x": px, "y": py, "quality": quality}
        for number, (px, py, quality) in sorted(found.items())
    ]
    if as_json:
        print(json.dumps({"points": points, "stopped": stopped}))
        return
    for point in points:
        print("{frame:6d} {t:10.4f} {x:10.2f} {y:10.2f} {quality:6.2f}".format_map(point))
    if stopped:
        print("stopped at frame {frame}: {reason}".format_map(stopped))


@app.command()
def fit(
    file: Path,
    x: Annotated[str, typer.Option("--x", help="Column across.")],
    y: Annotated[str, typer.Option("--y", help="Column up.")],
    curve: Annotated[str, typer.Option(help=_CURVE_HELP)],
    start: Annotated[str, typer.Option(help="Starting values: a=1,b=2.")] = "",
    as_json: Annotated[bool, typer.Option("--json", help="As JSON.")] = False,
) -> None:
    """Fit a curve to two columns of a CSV file."""
    chosen = _curve(curve)
    given = _starting_values(start, chosen)
    columns = _read_columns(file, (x, y))
    outcome = fit_curve(columns[x], columns[y], chosen, given=given)
    found = _fit_as_json(chosen, curve, len(columns[x]), outcome)
    if as_json:
        print(json.dumps(found))
        return
    if isinstance(outcome, NoFit):
        raise Refused(outcome.reason)
    for name, parameter in found["parameters"].items():
        print(f"{name} = {parameter['value']:.10g} ± {parameter['stderr']:.3g}")
    print(f"scatter {found['rmse']:.6g}, n = {found['n']}")


def _new_password() -> str:
    """A password typed twice; where nobody can type, one made up."""
    if not sys.stdin.isatty():
        return secrets.token_urlsafe(9)
    typed: str = typer.prompt("Password", hide_input=True, confirmation_prompt=True)
    if len(typed) < _SHORTEST_PASSWORD:
        raise Refused(f"A password needs at least {_SHORTEST_PASSWORD} characters.")
    return typed


def _curve(text: str) -> Curve:
    """A named curve, or a formula in x."""
    if text in CURVES:
        return CURVES[text]
    try:
        curve = own_curve(text, constants={"pi": np.pi})
    except WrongFormula as error:
        begin, end = error.span
        raise Refused(
            f"“{text}” is neither a named curve ({', '.join(CURVES)}) nor a formula: {error} "
            f"(characters {begin + 1} to {max(end, begin + 1)})"
        ) from error
    if "x" not in curve.formula.names:
        raise Refused(
            f"“{text}” is neither a named curve ({', '.join(CURVES)}) nor a formula in x."
        )
    return curve


def _starting_values(text: str, curve: Curve) -> dict[str, Given]:
    found = {}
    for part in filter(None, (one.strip() for one in text.split(","))):
        name, sign, value = (one.strip() for one in part.partition("="))
        if not sign or name not in curve.names:
            raise Refused(
                f"“{part}” is no starting value; write name=number for some of "
                f"{', '.join(curve.names)}."
            )
        found[name] = Given(start=read_number(value, field=name).value)
    return found


def _fit_as_json(chosen: Curve, curve: str, n: int, outcome: Fit | NoFit) -> dict[str, Any]:
    names = chosen.names
    if isinstance(outcome, NoFit):
        return {
            "curve": curve,
            "n": n,
            "parameters": {name: {"value": None, "stderr": None} for name in names},
            "rss": None,
            "rmse": None,
            "r_squared": None,
            "converged": False,
        }
    return {
        "curve": curve,
        "n": n,
        "parameters": {
            name: {"value": float(value), "stderr": float(error)}
            for name, value, error in zip(
                names, outcome.values, outcome.standard_errors, strict=True
            )
        },
        "rss": outcome.rss,
        "rmse": outcome.scatter,
        "r_squared": outcome.r_squared,
        "converged": True,
    }


def _read_columns(file: Path, names: tuple[str, ...]) -> dict[str, np.ndarray]:
    try:
        text = file.read_text(encoding="utf-8-sig")
    except FileNotFoundError as error:
        raise Refused(f"There is no file {file}.") from error
    except (OSError, UnicodeDecodeError) as error:
        raise Refused(f"{file} cannot be read as a text file.") from error
    reader = csv.DictReader(text.splitlines(), skipinitialspace=True)
    header = reader.fieldnames or []
    for name in names:
        if name not in header:
            raise Refused(f"{file} has no column “{name}”; it has: {', '.join(header)}.")
    values: dict[str, list[float]] = {name: [] for name in names}
    for row in reader:
        for name in names:
            try:
                values[name].append(read_number(row[name] or "", field=name).value)
            except Refused as error:
                raise Refused(f"{file}, line {reader.line_num}, column {name}: {error}") from error
    return {name: np.array(column) for name, column in values.items()}


@contextmanager
def _data_error(used: Settings) -> Iterator[None]:
    """Say in a sentence where the data folder cannot be used."""
    try:
        yield
    except PermissionError as error:
        raise Refused(
            f"The data folder {used.data} cannot be written ({error.filename})."
        ) from error


def _index(file: Path) -> MediaIndex:
    if not file.is_file():
        raise Refused(f"There is no file {file}.")
    limits = settings()
    return index_media(
        file,
        seconds=limits.decode_seconds,
        frame_count=limits.frame_count,
        frame_pixels=limits.frame_pixels,
    )


def _point(text: str) -> tuple[float, float]:
    parts = text.split(",")
    try:
        x, y = (float(part) for part in parts)
    except ValueError as error:
        raise Refused(f"“{text}” is no point; write it as X,Y, such as 312.5,208.") from error
    if not (np.isfinite(x) and np.isfinite(y)):
        raise Refused(f"“{text}” is no point; write it as X,Y, such as 312.5,208.")
    return x, y
