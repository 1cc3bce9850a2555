"""The command line: ``./footing <command>``."""

import secrets
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from footing.core.errors import FootingError, Refused

if TYPE_CHECKING:
    from footing.settings import Settings

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)

_CURVE_HELP = "A named curve such as line (a wrong name lists them all), or a formula in x."
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
    from footing import serving  # here and below: what others do not need takes time to load
    from footing.settings import settings

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
    from footing.settings import settings

    with _data_error(settings()):
        serving.run_server(settings(), port=port, lan=lan)


@app.command()
def worker() -> None:
    """Run one more worker process beside a Footing that runs."""
    from footing.settings import settings
    from footing.working import run_worker

    run_worker(settings())


@app.command()
def teacher(
    name: Annotated[str, typer.Argument(help="As it is shown, and typed to sign in.")],
    class_name: Annotated[
        str, typer.Option("--class", help="The teacher's first class.")
    ] = "My class",
) -> None:
    """Make an account for a teacher, or give them a new password; prints the password."""
    if not name.strip():
        raise Refused("A teacher needs a name.")
    from footing.databases import any_database
    from footing.settings import settings
    from footing.store.database import connected
    from footing.studies.school import lists, people

    password = _new_password()
    with _data_error(settings()), any_database(settings()), connected():
        row = people.add_teacher(name.strip(), password)
        lists.first_class(row, class_name)
    if not sys.stdin.isatty():
        print(f"The password of {name.strip()} is {password}")


@app.command()
def backup(file: Annotated[Path, typer.Argument(help="A new file.")]) -> None:
    """Write all that this Footing holds to one file; it may run meanwhile."""
    from footing import backups
    from footing.settings import settings

    with _data_error(settings()):
        said = backups.back_up(settings(), file)
    print(
        f"{file} holds the database and {said.files} films and pictures ({said.bytes / 1e6:.0f} MB)"
    )


@app.command()
def restore(
    file: Annotated[Path, typer.Argument(help="A file that `backup` made.")],
    replace: Annotated[
        bool,
        typer.Option("--replace", help="What is here now goes, and the backup takes its place."),
    ] = False,
) -> None:
    """Have this Footing be as it was when a backup was made; it must not run meanwhile."""
    from footing import backups
    from footing.settings import settings

    with _data_error(settings()):
        said = backups.restore(settings(), file, replace=replace)
    made = said.made_at.astimezone()
    print(f"This Footing is as it was on {made.day} {made:%b %Y, %H:%M}")


@app.command(context_settings={"allow_extra_args": True, "ignore_unknown_options": True})
def test(context: typer.Context) -> None:
    """Run everything that CI runs: lint, types, import contract and all tests."""
    from footing import testing

    testing.run(_PROJECT, context.args)


@app.command()
def bench(
    parts: Annotated[
        list[str] | None,
        typer.Argument(
            help="files, following, hard, walkers, pages, tables, ledgers, models, reports, class, "
            "endurance; all if none"
        ),
    ] = None,
) -> None:
    """Measure speed as ratios within one run, each beside its limit."""
    from footing.bench import PARTS, run

    unknown = [part for part in parts or () if part not in PARTS]
    if unknown:
        raise typer.BadParameter(f"{unknown[0]} is none of {', '.join(PARTS)}")
    run(parts or PARTS)


@app.command()
def derived(
    folder: Annotated[Path, typer.Argument(help="Where it is written.")],
    against: Annotated[
        Path | None, typer.Option(help="A folder that was written before; what differs is printed.")
    ] = None,
) -> None:
    """Write all that follows from the demo's studies, to see that a rebuilding changes nothing."""
    from footing.bench import derived as all_derived
    from footing.bench import in_a_folder

    with in_a_folder() as (settings, _):
        print(f"{all_derived.write(settings, folder)} files in {folder}")
    if against is not None:
        differences = all_derived.compare(against, folder)
        print(all_derived.shown(differences))
        sys.exit(1 if differences else 0)


@app.command()
def inspect(
    file: Path, as_json: Annotated[bool, typer.Option("--json", help="As JSON.")] = False
) -> None:
    """Say what a video (or a picture) holds."""
    from footing import films_cli

    films_cli.inspect(file, as_json=as_json)


@app.command()
def follow(
    file: Path,
    frame: Annotated[int, typer.Option(help="Frame in which the point is known.")],
    at: Annotated[str, typer.Option(help="The point there, as X,Y in upright pixels.")],
    as_json: Annotated[bool, typer.Option("--json", help="As JSON.")] = False,
) -> None:
    """Follow a point of an object through a video, from a frame on."""
    from footing import films_cli

    films_cli.follow(file, frame, at, as_json=as_json)


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
    from footing import fits_cli

    fits_cli.fit(file, x, y, curve, start, as_json=as_json)


@app.command()
def ledger(
    file: Annotated[Path, typer.Argument(help="A specification: JSON, see docs/ledgers.md.")],
    as_json: Annotated[bool, typer.Option("--json", help="As JSON.")] = False,
) -> None:
    """Account for the momentum of a collision, or for energies, from marks in CSV files."""
    from footing import ledgers_cli

    ledgers_cli.ledger(file, as_json=as_json)


@app.command()
def model(
    file: Annotated[Path, typer.Argument(help="A specification: JSON, see docs/models.md.")],
    data: Annotated[Path | None, typer.Option(help="Marks: CSV with columns t, x, y.")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="As JSON.")] = False,
) -> None:
    """Predict a motion leg by leg; find its parameters from marks."""
    from footing import models_cli

    models_cli.model(file, data, as_json=as_json)


@app.command()
def air(
    temperature: Annotated[float, typer.Option(help="In °C.")],
    pressure: Annotated[float, typer.Option(help="In Pa.")],
    dew_point: Annotated[float | None, typer.Option(help="In °C.")] = None,
    relative_humidity: Annotated[float | None, typer.Option(help="In percent.")] = None,
    as_json: Annotated[bool, typer.Option("--json", help="As JSON.")] = False,
) -> None:
    """The density of moist air (CIPM-2007)."""
    from footing import models_cli

    models_cli.air(temperature, pressure, dew_point, relative_humidity, as_json=as_json)


def _new_password() -> str:
    """A password typed twice; where nobody can type, one made up."""
    if not sys.stdin.isatty():
        return secrets.token_urlsafe(9)
    typed: str = typer.prompt("Password", hide_input=True, confirmation_prompt=True)
    return typed


@contextmanager
def _data_error(used: "Settings") -> Iterator[None]:
    """Say in a sentence where the data folder cannot be used."""
    try:
        yield
    except PermissionError as error:
        raise Refused(
            f"The data folder {used.data} cannot be written ({error.filename})."
        ) from error
