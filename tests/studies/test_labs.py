"""Labs: what they give, ask for and hold back; as files; the ready ones."""

import io
import json
import re
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from pydantic import TypeAdapter, ValidationError

from footing.core.errors import NotThere, Refused
from footing.settings import Settings
from footing.store import labs, tables
from footing.store.database import transaction
from footing.store.reading import read_study
from footing.store.records import fetch
from footing.store.rows import Answer, Lab
from footing.studies.films.follows import FollowRequest, ask_follow
from footing.studies.lesson import lab_files, lab_library
from footing.studies.packing.rows import Tables
from footing.studies.school import labs as making
from footing.studies.school.labs import AskedFinding, LabWords
from footing.studies.school.lists import start_study
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.studies.steps import Tab, all_rows

WORDS = LabWords(
    title="Sled run",
    task="How fast does it lose its speed?",
    instructions="- [scale] the fence\n- [20 marks] the sled\n- [fit] a line\n- plain",
    follows=True,
    tells_meanings=True,
    tells_verdicts=True,
)
ASKED = AskedFinding(name="a", quantity="acceleration", unit="m/s^2", accepted="2.5", shown=True)


@pytest.fixture
def lab(world: World) -> Lab:
    found = fetch(Lab, world.lab.id)
    assert found is not None
    return making.change_lab(found, WORDS)


def the(study_id: int) -> tables.Study:
    return tables.Study.get_by_id(study_id)


def starts(world: World, lab: Lab, **more: Any) -> Tab:
    study = start_study(world.heron, lab.school_class_id, lab_id=lab.id, **more)
    return Tab(the(study), world.heron)


def test_a_study_begins_as_a_copy_of_what_the_lab_gives(
    world: World, lab: Lab, measured: Measured
) -> None:
    given = read_study(measured.tab.study_id)
    making.start_from(lab, given_study(measured), world.teacher)
    tab = starts(world, fetched(lab))
    view, first = tab.view(), measured.tab.view()
    assert [one["name"] for one in view["bodies"]] == [one["name"] for one in first["bodies"]]
    assert view["bodies"][0]["marks"] == first["bodies"][0]["marks"]
    assert view["fits"][0]["line"] == first["fits"][0]["line"]
    before = all_rows(given.study_id)
    tab.does("place_mark", body=view["bodies"][0]["id"], frame=15, x=3.0, y=4.0)
    assert all_rows(given.study_id) == before


def test_each_line_of_the_instructions_is_asked_for_at_its_step(world: World, lab: Lab) -> None:
    tab = starts(world, lab)
    asked = tab.view()["lab"]["tasks"]
    assert [(one["step"], one["words"], one["done"]) for one in asked] == [
        ("ground", "the fence", False),
        ("mark", "the sled", False),
        ("graph", "a line", False),
    ]
    text = "- [finding] record *a*\n- [answers] why?\n- [model] it"
    making.change_lab(lab, WORDS.model_copy(update={"instructions": text}))
    assert [one["step"] for one in tab.view()["lab"]["tasks"]] == ["graph", "model"]
    # a finding that is asked for by name says so itself
    making.ask_for(lab, ASKED)
    assert [one["step"] for one in tab.view()["lab"]["tasks"]] == ["model"]


def given_study(measured: Measured) -> Any:
    return measured.tab.study.row


def fetched(lab: Lab) -> Lab:
    found = fetch(Lab, lab.id)
    assert found is not None
    return found


def test_a_layout_of_a_report_is_given_with_the_lab(
    world: World, lab: Lab, measured: Measured
) -> None:
    making.start_from(lab, given_study(measured), world.teacher)
    given = [(row.kind, row.words) for row in read_study(measured.tab.study_id).report]
    tab = starts(world, fetched(lab))
    assert given
    assert [(row.kind, row.words) for row in read_study(tab.study_id).report] == given


def test_one_of_their_own_begins_with_nothing(world: World, lab: Lab, measured: Measured) -> None:
    making.start_from(lab, given_study(measured), world.teacher)
    tab = starts(world, fetched(lab), own_clip=True)
    assert tab.view()["sources"] == []
    assert tab.view()["lab"]["title"] == "Sled run"


def test_answers_are_not_given_along_and_another_group_does_not_see_them(
    world: World, lab: Lab, measured: Measured
) -> None:
    measured.tab.does("answer_question", question=measured.question, words="It slides.")
    making.start_from(lab, given_study(measured), world.teacher)
    tab = starts(world, fetched(lab))
    assert read_study(tab.study_id).all(Answer) == ()
    assert tab.view()["lab"]["questions"][0]["words"] == ""
    assert measured.tab.view()["lab"]["questions"][0]["words"] == "It slides."


def test_the_study_says_what_of_the_instructions_it_has(lab: Lab, measured: Measured) -> None:
    checks = measured.tab.view()["lab"]["checks"]
    assert checks == {"scale": True, "20 marks": False, "fit": True}
    marks = [[n, 50 + n, 60] for n in range(12, 20)]
    measured.tab.does("place_marks", body=measured.body, marks=marks)
    assert measured.tab.view()["lab"]["checks"]["20 marks"] is True
    measured.tab.does("remove_known_length", known_length=measured.length)
    assert measured.tab.view()["lab"]["checks"]["scale"] is False


def test_a_finding_that_is_asked_for_is_known_by_its_name(lab: Lab, measured: Measured) -> None:
    making.ask_for(lab, ASKED)
    (asked,) = measured.tab.view()["lab"]["asked"]
    assert asked["accepted"] == "2.5"
    assert re.fullmatch(r"−1\.2\d+ ± 0\.\d+ m/s²|−1\.2\d* .*", asked["found"][0]), asked
    making.ask_no_more(lab, finding=labs.task_of(lab).findings[0].id)
    assert measured.tab.view()["lab"]["asked"] == []
    assert len(measured.tab.view()["findings"]) == 1


def test_what_is_accepted_is_told_only_where_it_is_shown(lab: Lab, measured: Measured) -> None:
    making.ask_for(lab, ASKED.model_copy(update={"shown": False}))
    (asked,) = measured.tab.view()["lab"]["asked"]
    assert (asked["accepted"], asked["tolerance"]) == (None, None)


def test_where_a_sketch_comes_first_the_points_wait_for_the_students(
    world: World, lab: Lab, measured: Measured
) -> None:
    making.change_lab(lab, WORDS.model_copy(update={"sketch_first": True}))
    teacher = Tab(world.study, world.teacher)
    assert measured.tab.view()["graphs"][0]["waits"] is True
    assert teacher.view()["graphs"][0]["waits"] is False
    graph = measured.tab.view()["graphs"][0]
    drawn = {"x": graph["x"], "y": graph["ys"][0], "line": [[0, 0], [1, 1]]}
    measured.tab.does("set_graph", footage=measured.footage, place=0, sketch=drawn)
    assert measured.tab.view()["graphs"][0]["waits"] is False


def test_where_marks_are_made_by_hand_students_have_nothing_followed(
    world: World, lab: Lab, measured: Measured
) -> None:
    making.change_lab(lab, WORDS.model_copy(update={"follows": False}))
    wanted = FollowRequest(bodies=[measured.body], frame=0, to=30)
    with pytest.raises(Refused, match="by hand"):
        ask_follow(measured.tab.study, world.heron, wanted)
    assert ask_follow(measured.tab.study, world.teacher, wanted) > 0
    assert measured.tab.view()["lab"]["follows"] is False


def test_a_removed_lab_lets_its_studies_be(lab: Lab, measured: Measured) -> None:
    making.change_lab(lab, WORDS.model_copy(update={"follows": False, "tells_meanings": False}))
    making.remove_lab(fetched(lab))
    view = measured.tab.view()
    assert view["lab"] is None
    assert view["rules"]["tells_meanings"] is True
    assert len(view["bodies"]) == 2


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"title": " "}, "title"),
        ({"title": "x" * 81}, "title"),
        ({"task": "x" * 601}, "task"),
        ({"due": "tomorrow"}, "due"),
    ],
)
def test_words_that_cannot_be_are_refused_at_their_place(
    change: dict[str, str], field: str, lab: Lab
) -> None:
    with pytest.raises(Refused) as error:
        making.change_lab(lab, WORDS.model_copy(update=change))
    assert error.value.field == field
    assert fetched(lab).title == "Sled run"


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": ""}, "name"),
        ({"name": "A"}, "name"),
        ({"unit": "m^x"}, "unit"),
        ({"accepted": "ten"}, "accepted"),
        ({"tolerance": "a lot"}, "tolerance"),
    ],
)
def test_findings_that_cannot_be_asked_for_are_refused(
    change: dict[str, str], field: str, lab: Lab
) -> None:
    making.ask_for(lab, ASKED)
    with pytest.raises(Refused) as error:
        making.ask_for(lab, ASKED.model_copy(update={"name": "b", **change}))
    assert error.value.field == field
    assert len(labs.task_of(lab).findings) == 1


def test_a_copy_of_a_lab_asks_and_gives_the_same_and_is_one_of_its_own(
    world: World, lab: Lab, measured: Measured
) -> None:
    making.ask_for(lab, ASKED)
    making.start_from(lab, given_study(measured), world.teacher)
    copy = making.duplicate_lab(fetched(lab), world.teacher, class_id=lab.school_class_id)
    assert copy.title == "Sled run, copy"
    assert [one.name for one in labs.task_of(copy).findings] == ["a"]
    start, copied = labs.start_of(fetched(lab)), labs.start_of(fetched(copy))
    assert start is not None
    assert copied is not None
    assert start.id != copied.id
    making.ask_no_more(copy, finding=labs.task_of(copy).findings[0].id)
    assert len(labs.task_of(lab).findings) == 1


@pytest.fixture
def file(world: World, lab: Lab, measured: Measured, settings: Settings) -> bytes:
    """The lab with findings, a question and a start, as a file."""
    making.ask_for(lab, ASKED)
    making.start_from(lab, given_study(measured), world.teacher)
    return lab_files.taken_out(fetched(lab), settings)


def test_a_lab_goes_out_and_in_again_with_all_that_it_gives(
    world: World, lab: Lab, measured: Measured, file: bytes, settings: Settings
) -> None:
    other = tables.SchoolClass.get(tables.SchoolClass.teacher == world.stranger.id)
    taken = lab_files.taken_in(io.BytesIO(file), other.id, world.stranger, settings)
    was, now = labs.task_of(fetched(lab)), labs.task_of(fetched(taken))
    assert (now.lab.title, now.lab.instructions) == (was.lab.title, was.lab.instructions)
    assert [(one.name, one.unit, one.accepted) for one in now.findings] == [("a", "m/s^2", "2.5")]
    assert [one.words for one in now.questions] == [one.words for one in was.questions]
    start = labs.start_of(fetched(taken))
    assert start is not None
    theirs, ours = Tab(start, world.stranger), measured.tab
    for source in ("footage", "second", "sheet"):
        key = getattr(measured, source)
        before = ours.view(f"s{key}" if source == "sheet" else key)
        place = [one["id"] for one in before["sources"]].index(key)
        there = theirs.view()["sources"][place]
        after = theirs.view(f"s{there['id']}" if source == "sheet" else there["id"])
        assert [one["line"] for one in after["fits"]] == [one["line"] for one in before["fits"]]
        assert [one["text"] for one in after["findings"]] == [
            one["text"] for one in before["findings"]
        ]
        for new, old in zip(after["bodies"], before["bodies"], strict=True):
            assert new["marks"] == old["marks"]


def changed(file: bytes, change: Callable[[dict[str, Any]], object]) -> bytes:
    """The file with another ``lab.json``."""
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(file)) as old, zipfile.ZipFile(made, "w") as new:
        content = json.loads(old.read("lab.json"))
        change(content)
        new.writestr("lab.json", json.dumps(content))
        for name in old.namelist():
            if name != "lab.json":
                new.writestr(name, old.read(name))
    return made.getvalue()


TOO_MANY: list[dict[str, Any]] = [{}] * 1_000_001


def test_too_many_rows_are_refused_before_any_is_looked_at() -> None:
    with pytest.raises(ValidationError, match="too many rows"):
        TypeAdapter(Tables).validate_python({"mark": TOO_MANY[1:], "body": [{}]})
    assert TypeAdapter(Tables).validate_python({"mark": [{}], "body": [{}]})


HOSTILE: dict[str, Callable[[dict[str, Any]], object]] = {
    "a later format": lambda lab: lab.update(format=2),
    "a field that is none": lambda lab: lab.update(teacher="me"),
    "a table that is none": lambda lab: lab["start"].update(teacher=[{"id": 1}]),
    "a student": lambda lab: lab["start"].update(student=[{"id": 1, "name": "x"}]),
    "marks of no body": lambda lab: lab["start"].pop("body"),
    "a film that is not there": lambda lab: lab["start"]["footage"][0].update(content="0" * 64),
    "a film by a path": lambda lab: lab["start"]["footage"][0].update(content="../../etc/passwd"),
    "a number that is none": lambda lab: lab["start"]["mark"][0].update(x="NaN"),
    "a text where a number is": lambda lab: lab["start"]["mark"][0].update(frame="first"),
    "the same key twice": lambda lab: lab["start"]["body"].append(lab["start"]["body"][0]),
    "a frame far beyond": lambda lab: lab["start"]["footage"][0].update(last=10**9),
    "a title too long": lambda lab: lab["lab"].update(title="x" * 1000),
    "no title": lambda lab: lab["lab"].pop("title"),
    "too many rows": lambda lab: lab["start"].update(mark=TOO_MANY),
}


@pytest.mark.parametrize("how", HOSTILE)
def test_a_hostile_lab_is_refused_and_leaves_nothing(
    how: str, world: World, file: bytes, settings: Settings
) -> None:
    before = tables.Lab.select().count(), tables.Study.select().count()
    with pytest.raises(Refused) as error, transaction():
        lab_files.taken_in(
            io.BytesIO(changed(file, HOSTILE[how])), world.school_class.id, world.teacher, settings
        )
    assert error.value.field in ("file", "title")
    assert (tables.Lab.select().count(), tables.Study.select().count()) == before


@pytest.mark.parametrize("content", [b"", b"PK\x03\x04", b"a film", b"PK\x05\x06" + b"\0" * 18])
def test_what_is_no_lab_is_refused(content: bytes, world: World, settings: Settings) -> None:
    with pytest.raises(Refused):
        lab_files.taken_in(io.BytesIO(content), world.school_class.id, world.teacher, settings)


def test_a_clip_that_is_not_the_one_it_says_is_refused(
    world: World, file: bytes, settings: Settings, plain_film: Path
) -> None:
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(file)) as old, zipfile.ZipFile(made, "w") as new:
        films = [name for name in old.namelist() if name.startswith("media/")]
        for name in old.namelist():
            wrong = films[-1] if name == films[0] else name
            new.writestr(name, old.read(wrong))
    with pytest.raises(Refused, match="not the one"), transaction():
        lab_files.taken_in(made, world.school_class.id, world.teacher, settings)


@pytest.mark.parametrize("ready", [one.key for one in lab_library.READY])
def test_every_ready_lab_is_ready(ready: str, world: World, settings: Settings) -> None:
    lab = lab_library.take_ready(ready, world.school_class.id, world.teacher, settings)
    study = start_study(world.heron, world.school_class.id, lab_id=lab.id)
    view = Tab(the(study), world.heron).view()
    assert len(view["sources"]) == 1
    assert view["lab"]["question"]
    assert view["lab"]["checks"]
    assert not any(view["lab"]["checks"][one] for one in view["lab"]["checks"] if one == "fit")
    assert view["lab"]["asked"] or view["lab"]["questions"]


def test_there_is_no_ready_lab_of_another_name(world: World, settings: Settings) -> None:
    with pytest.raises(NotThere):
        lab_library.take_ready("nothing", world.school_class.id, world.teacher, settings)
