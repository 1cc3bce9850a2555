"""Ready labs that ship with Footing, each with its clip, so that a class can begin without a film.

They are made of the clips of the winter fair, through the same edits that a teacher would make.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from uuid import uuid4

from pydantic import JsonValue, TypeAdapter

from footing.core.errors import NotThere
from footing.settings import Settings
from footing.store import records
from footing.store.rows import Lab, Study
from footing.studies.door import EditRequest, submit
from footing.studies.films import uploads
from footing.studies.model.keys import made_key
from footing.studies.school import labs
from footing.studies.school.labs import AskedFinding, LabWords
from footing.studies.school.people import Person

_CLIPS = Path(__file__).parents[2] / "demo" / "clips"
_EDIT = TypeAdapter(EditRequest)
Fields = Mapping[str, JsonValue]


@dataclass(frozen=True)
class ReadyLab:
    """A ready lab.

    clip : the file that all groups start from, and the name under which they see it
    prepared : edits that are made to it beforehand; each gets the footage
    columns : of a sheet without data that groups start from, where there is no clip
    """

    key: str
    title: str
    task: str
    instructions: str
    clip: tuple[str, str] | None = None
    prepared: tuple[Fields, ...] = ()
    columns: tuple[Fields, ...] = ()
    findings: tuple[AskedFinding, ...] = ()
    questions: tuple[str, ...] = ()
    switches: Mapping[str, bool] = field(
        default_factory=lambda: {"follows": True, "tells_meanings": True, "tells_verdicts": True}
    )


READY = (
    ReadyLab(
        key="sled-run",
        title="Sled run",
        task="A sled slides down a slope of 12°. The red and white pole beside the track is 2.00 m "
        "long. Turn the axes along the slope and find the acceleration.",
        instructions="- [scale] *Ground*: draw the known length along the pole, 2.00 m\n"
        "- [zero] *Ground*: put zero where the sled is let go, and turn the axes by −12°\n"
        "- [12 marks] *Mark*: click the same spot of the sled in every third frame\n"
        "- [fit] *Graph*: fit a quadratic to $x$ against $t$; what is $c_2$?\n"
        "- [finding] record the acceleration as *a*\n\n"
        "Without friction it would be $a = g \\sin 12°$. How large is the friction?",
        clip=("sled-run.mp4", "sled_run.mp4"),
        prepared=({"kind": "set_span", "first": 14, "last": 85, "stride": 3},),
        findings=(
            AskedFinding(
                name="a",
                quantity="acceleration along the slope",
                unit="m/s²",
                accepted="1.464",
                tolerance="5",
                shown=False,
            ),
        ),
        questions=("What else acts on the sled, and how do you know?",),
    ),
    ReadyLab(
        key="snowball-lob",
        title="Snowball lob",
        task="A snowball flies past a fence post that is 1.50 m high. Find the acceleration of "
        "free fall from its height against time.",
        instructions="- [scale] *Ground*: the post is 1.50 m high\n"
        "- [zero] *Ground*: zero at its foot\n"
        "- [10 marks] *Mark*: the middle of the snowball, from hand to snow\n"
        "- [fit] *Graph*: a quadratic through the height against time\n"
        "- [finding] record the acceleration as *g*; take its size",
        clip=("snowball-lob.mp4", "snowball_lob.mp4"),
        findings=(
            AskedFinding(
                name="g",
                quantity="acceleration of free fall",
                unit="m/s²",
                accepted="9.81",
                tolerance="3",
                shown=True,
            ),
        ),
        questions=("Does the horizontal speed change? Say what you looked at.",),
    ),
    ReadyLab(
        key="curling-stones",
        title="Curling stones",
        task="A stone with a red handle (19.1 kg) meets a resting one (18.6 kg). The blue ring is "
        "1.22 m across. What happens to the momentum of both together?",
        instructions="- [scale] *Ground*: the blue ring is 1.22 m across\n"
        "- [20 marks] *Mark*: both stones; have the computer follow them\n"
        "- [impact] *Ledger*: place the impact where the velocities break\n"
        "- [answers] say what is conserved, and what is not",
        clip=("curling-stones.mp4", "rink_from_above.mp4"),
        questions=(
            "Is momentum conserved in both directions?",
            "Which share of the kinetic energy is left, and where did the rest go?",
        ),
        switches={"follows": True, "tells_meanings": True},
    ),
    ReadyLab(
        key="snowball-bounce",
        title="Snowball bounce",
        task="An icy snowball is tossed onto the rink. The board is 1.00 m long. By which laws "
        "does it move, and how much of its speed does the ice give back?",
        instructions="- [scale] *Ground*: the board is 1.00 m long\n"
        "- [20 marks] *Mark*: the middle of the ball\n"
        "- [model] *Model*: free fall, an impact, free fall again\n"
        "- [finding] record the restitution as *e*",
        clip=("snowball-bounce.mp4", "snowball_bounce.mp4"),
        findings=(AskedFinding(name="e", quantity="restitution", accepted="0.62", tolerance="5"),),
    ),
    ReadyLab(
        key="kick-sled",
        title="Kick-sled",
        task="Once the kicking stops, a kick-sled glides on. How does the stopping distance depend "
        "on the speed? Find the coefficient of friction.",
        instructions="Type what you measured into the sheet, one run a row.\n\n"
        "- [source] the sheet is there\n"
        "- [fit] *Graph*: which form is straight? Fit a line to it\n"
        "- [finding] record the coefficient of friction as *mu*\n\n"
        "$$d = \\frac{v^2}{2 \\mu g}$$",
        columns=(
            {"name": "speed", "symbol": "v", "unit": "m/s"},
            {"name": "stopping distance", "symbol": "d", "unit": "m"},
        ),
        findings=(AskedFinding(name="mu", quantity="coefficient of friction", shown=True),),
    ),
)


def ready_labs() -> tuple[ReadyLab, ...]:
    """All ready labs."""
    return READY


def take_ready(key: str, class_id: int, person: Person, settings: Settings) -> Lab:
    """Make a ready lab in a class, with what groups start from.

    Raises
    ------
    NotThere : if there is none of this name.
    """
    ready = next((one for one in READY if one.key == key), None)
    if ready is None:
        raise NotThere("There is no such ready lab.")
    lab = labs.new_lab(class_id, ready.title)
    words = LabWords(
        title=ready.title, task=ready.task, instructions=ready.instructions, **ready.switches
    )
    lab = labs.change_lab(lab, words)
    for asked in ready.findings:
        labs.ask_for(lab, asked)
    for question in ready.questions:
        labs.ask_in_words(lab, question)
    start = Study(
        school_class_id=class_id,
        lab_id=lab.id,
        title=ready.title,
        made_at=datetime.now(UTC),
    )
    made = records.add(start)
    _make(ready, made.id, person, settings)
    return labs.begin_with(lab, made.id)


def _make(ready: ReadyLab, study_id: int, person: Person, settings: Settings) -> None:
    """The edits of what groups start from."""
    done = 0

    def does(fields: Fields) -> int:
        nonlocal done
        asked = {"edit": dict(fields), "based_on": done, "token": uuid4().hex}
        accepted = submit(study_id, person, _EDIT.validate_python(asked))
        done = accepted.seq
        return made_key(accepted.made) or 0

    if ready.clip is not None:
        file, name = ready.clip
        content = uploads.take_in(_CLIPS / file, settings)
        footage = does({"kind": "add_footage", "content": content, "name": name})
        for fields in ready.prepared:
            does({**fields, "footage": footage})
    if ready.columns:
        does(
            {
                "kind": "add_sheet",
                "name": ready.title.lower(),
                "columns": [dict(column) for column in ready.columns],
            }
        )
