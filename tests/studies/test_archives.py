"""Archives of studies and classes: out, read by others, in again, equal; hostile ones refused."""

import csv
import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import jsonschema
import pytest

from footing.core.errors import Refused
from footing.settings import Settings
from footing.store import hand_ins, labs, pupils, records, tables
from footing.store.access import class_study
from footing.store.class_archives import members_of
from footing.store.classes import labs_of
from footing.store.database import transaction
from footing.store.reading import read_study
from footing.store.rows import Lab, SchoolClass
from footing.studies.archives import class_reading, class_writing, study_archive
from footing.studies.archives.schemas import Kind, schema
from footing.studies.report.report import report_of
from footing.studies.review import comments, judging
from footing.studies.review.comments import NewComment
from footing.studies.review.handing_in import hand_in
from footing.studies.review.judging import Judgement, NewCriterion
from footing.studies.review.numbers import numbers_of
from footing.studies.school import labs as making
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.studies.steps import Tab

SCHEMAS = Path(__file__).parents[2] / "docs/schema"
BLOCKS: Any = [{"block": 7, "kind": "text", "number": "", "html": "<p>It falls.</p>"}]


@pytest.fixture
def full(measured: Measured) -> Measured:
    """A study with something of everything, a laid-out report and an answer in words."""
    tab = measured.tab
    tab.does("answer_question", question=measured.question, words="It rubs.")
    tab.makes("add_block", block="answer", about=str(measured.question))
    tab.makes("add_block", block="graph", about=f"{measured.footage}/0", caption="Fall")
    tab.makes("add_block", block="table", about=f"b{measured.body}", columns=["t", "y"])
    return measured


def written(measured: Measured, settings: Settings) -> bytes:
    name, path = study_archive.write_study(measured.tab.study_id, measured.tab.person, settings)
    assert name.endswith(".footing-study.zip")
    content = path.read_bytes()
    path.unlink()
    return content


def elsewhere(world: World) -> int:
    found: SchoolClass = tables.SchoolClass.get(tables.SchoolClass.teacher == world.stranger.id)
    return found.id


def taken_in(content: bytes, world: World, settings: Settings, **to: Any) -> Tab:
    made = study_archive.read_in(
        io.BytesIO(content), elsewhere(world), world.stranger, settings, **to
    )
    return Tab(class_study(made), world.stranger)


def test_a_study_goes_out_and_in_again_equal_in_every_number(
    full: Measured, world: World, settings: Settings
) -> None:
    ours, theirs = full.tab, taken_in(written(full, settings), world, settings)
    ours = Tab(ours.study, world.teacher)
    assert numbers_of(theirs.study, theirs.person) == numbers_of(ours.study, ours.person)
    sources = [
        (one["id"], two["id"])
        for one, two in zip(ours.view()["sources"], theirs.view()["sources"], strict=True)
    ]
    assert len(sources) == 4
    for mine, other in sources:
        before, after = ours.view(mine), theirs.view(other)
        for one, two in zip(before["bodies"], after["bodies"], strict=True):
            for part in ("name", "marks", "table", "lanes", "vectors", "odd", "doubts"):
                if part == "table" and one[part]:
                    assert one[part]["rows"] == two[part]["rows"]
                else:
                    assert one[part] == two[part], part
        for one, two in zip(before["fits"], after["fits"], strict=True):
            assert (one["line"], one["parameters"]) == (two["line"], two["parameters"])
        for one, two in zip(before["graphs"], after["graphs"], strict=True):
            assert [s["points"] for s in one["series"]] == [s["points"] for s in two["series"]]
            assert one["ranges"] == two["ranges"]
        assert [one["reason"] for one in before["checks"]] == [
            one["reason"] for one in after["checks"]
        ]
        if before["ledger"]:
            assert before["ledger"]["energy"]["changes"] == after["ledger"]["energy"]["changes"]
        if before["models"]:
            assert [one["results"] for one in before["models"]["models"]] == [
                one["results"] for one in after["models"]["models"]
            ]
    assert len(ours.view()["sources"]) == 4


def test_answers_go_to_the_same_question_or_into_the_report(
    full: Measured, world: World, settings: Settings
) -> None:
    content = written(full, settings)
    alone = taken_in(content, world, settings)
    texts = [row.words for row in read_study(alone.study_id).report]
    assert any("Why does it slow down?" in words and "It rubs." in words for words in texts)
    lab = making.new_lab(elsewhere(world), "The same")
    making.ask_in_words(lab, "Why does it slow down?")
    asked = taken_in(content, world, settings, lab_id=lab.id)
    (answer,) = asked.view()["lab"]["questions"]
    assert answer["words"] == "It rubs."
    shown = report_of(asked.study, asked.person)
    assert [block.shows.problem for block in shown.blocks if block.row.kind == "answer"] == [None]


def test_others_read_the_archive_with_nothing_but_the_published_schema(
    full: Measured, settings: Settings
) -> None:
    with zipfile.ZipFile(io.BytesIO(written(full, settings))) as archive:
        assert archive.testzip() is None
        study = json.loads(archive.read("study.json"))
        published = json.loads((SCHEMAS / "study-1.json").read_text())
        jsonschema.Draft202012Validator(published).validate(study)
        study["rows"]["mark"][0]["x"] = "left"
        with pytest.raises(jsonschema.ValidationError):
            jsonschema.Draft202012Validator(published).validate(study)
        numbers = json.loads(archive.read("numbers.json"))
        assert numbers == numbers_of(full.tab.study, full.tab.person)
        text = archive.read("tables/cone.csv").decode("utf-8-sig")
        head, *rows = csv.reader(io.StringIO(text))
        assert "time: t (s)" in head
        assert len(rows) == 12
        films = {name for name in archive.namelist() if name.startswith("media/")}
        assert films == {f"media/{one.content}" for one in read_study(full.tab.study_id).footages}


@pytest.mark.parametrize("kind", ["study", "class", "hand-in"])
def test_the_published_schemas_are_those_of_the_program(kind: Kind) -> None:
    assert (SCHEMAS / f"{kind}-1.json").read_text() == schema(kind)


def changed(content: bytes, change: Callable[[dict[str, Any]], object]) -> bytes:
    made = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as old, zipfile.ZipFile(made, "w") as new:
        for name in old.namelist():
            entry = old.read(name)
            if name == "study.json":
                plain = json.loads(entry)
                change(plain)
                entry = json.dumps(plain).encode()
            new.writestr(name, entry)
    return made.getvalue()


HOSTILE: dict[str, Callable[[dict[str, Any]], object]] = {
    "a later format": lambda study: study.update(format=2),
    "no format": lambda study: study.pop("format"),
    "a field that is none": lambda study: study.update(teacher="me"),
    "a table that is none": lambda study: study["rows"].update(sign_in=[{"token_hash": "x"}]),
    "marks of no body": lambda study: study["rows"].pop("body"),
    "a film that is not there": lambda study: study["rows"]["footage"][0].update(content="0" * 64),
    "a film by a path": lambda study: study["rows"]["footage"][0].update(
        content="../../../etc/passwd"
    ),
    "a number that is none": lambda study: study["rows"]["mark"][0].update(x="NaN"),
    "the same key twice": lambda study: study["rows"]["body"].append(study["rows"]["body"][0]),
    "a frame far beyond": lambda study: study["rows"]["footage"][0].update(last=10**9),
    "a block of no kind": lambda study: study["rows"]["report_block"][0].update(kind="script"),
    "a block of no thing": lambda study: study["rows"]["report_block"][0].update(about="a/b/c/d"),
    "no title": lambda study: study.pop("title"),
}


@pytest.mark.parametrize("how", HOSTILE)
def test_a_hostile_study_is_refused_and_leaves_nothing(
    how: str, full: Measured, world: World, settings: Settings
) -> None:
    content = changed(written(full, settings), HOSTILE[how])
    before = tables.Study.select().count(), tables.Mark.select().count()
    with pytest.raises(Refused) as error, transaction():
        taken_in(content, world, settings)
    assert error.value.field == "file"
    assert (tables.Study.select().count(), tables.Mark.select().count()) == before


@pytest.mark.parametrize("content", [b"", b"PK\x03\x04", b"a film", b"PK\x05\x06" + b"\0" * 18])
def test_what_is_no_archive_is_refused(content: bytes, world: World, settings: Settings) -> None:
    with pytest.raises(Refused):
        taken_in(content, world, settings)


def test_an_archive_that_swells_is_refused_before_it_fills_the_disk(
    full: Measured, world: World, settings: Settings
) -> None:
    small = settings.model_copy(update={"upload_megabytes": 1})
    made = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(written(full, settings))) as old,
        zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as new,
    ):
        for name in old.namelist():
            swollen = name.startswith("media/")
            new.writestr(name, b"\0" * 50_000_000 if swollen else old.read(name))
    assert len(made.getvalue()) < 1_000_000
    with pytest.raises(Refused, match="too large"), transaction():
        taken_in(made.getvalue(), world, small)
    assert list(settings.made_folder.iterdir()) == []


def test_an_entry_that_is_longer_than_it_says_is_refused(
    full: Measured, world: World, settings: Settings
) -> None:
    content = bytearray(written(full, settings))
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        entry = next(one for one in archive.infolist() if one.filename.startswith("media/"))
    honest = entry.file_size.to_bytes(4, "little")
    while (at := content.find(honest)) >= 0:
        content[at : at + 4] = (1000).to_bytes(4, "little")
    with pytest.raises(Refused, match="no study"), transaction():
        taken_in(bytes(content), world, settings)
    assert list(settings.made_folder.iterdir()) == []


def test_a_film_that_is_not_the_one_it_says_is_refused(
    full: Measured, world: World, settings: Settings
) -> None:
    made = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(written(full, settings))) as old,
        zipfile.ZipFile(made, "w") as new,
    ):
        films = [name for name in old.namelist() if name.startswith("media/")]
        for name in old.namelist():
            new.writestr(name, old.read(films[-1] if name == films[0] else name))
    with pytest.raises(Refused, match="not the one"), transaction():
        taken_in(made.getvalue(), world, settings)


@pytest.fixture
def whole_class(full: Measured, world: World) -> SchoolClass:
    """The class with a criterion, a hand-in with comments and an answer, and a start of the lab."""
    tab = full.tab
    pupils.note_members(tab.study_id, [world.heron.id])
    lab = tab.study.lab
    assert lab is not None
    criterion = judging.add_criterion(lab, NewCriterion(name="graph", most=4))
    made = hand_in(tab.study, tab.person, report_of(tab.study, tab.person), BLOCKS)
    body = next(
        one
        for of in read_study(made.copy_id).footages
        for one in read_study(made.copy_id).bodies_of(of)
        if one.name == "cone"
    )
    said = NewComment(words="On the body?", about=f"mark/{body.id}/4")
    first = comments.comment(made, world.teacher, said)
    judged = judging.judge(made, lab, Judgement(points={criterion.id: 3}, grade="2"))
    returned = judging.give_back(judged, world.teacher, again=True)
    comments.comment(returned, world.heron, NewComment(words="Yes.", answers=first.id))
    found = records.fetch(SchoolClass, world.school_class.id)
    assert found is not None
    return found


def class_taken_in(school_class: SchoolClass, world: World, settings: Settings) -> SchoolClass:
    _, path = class_writing.write_class(school_class.id, settings)
    with transaction():
        made = class_reading.read_in(path, world.stranger, settings)
    path.unlink()
    return made


def test_a_class_goes_out_and_in_again_with_all_that_belongs_to_it(
    whole_class: SchoolClass, full: Measured, world: World, settings: Settings
) -> None:
    made = class_taken_in(whole_class, world, settings)
    assert made.teacher_id == world.stranger.id
    assert made.code != whole_class.code
    for of in (pupils.students_of, pupils.every_group_of, labs_of):
        before, after = of(whole_class.id), of(made.id)
        assert [getattr(one, "name", getattr(one, "title", "")) for one in before] == [
            getattr(one, "name", getattr(one, "title", "")) for one in after
        ]
    assert all(one.secret_hash is None for one in pupils.students_of(made.id))
    (lab,) = (one for one in labs_of(made.id) if labs.task_of(one).questions)
    (handed,) = hand_ins.latest_of_lab(lab.id)
    (ours,) = hand_ins.of_study(full.tab.study_id)
    assert (handed.names, handed.grade, handed.numbers) == (ours.names, ours.grade, ours.numbers)
    assert judging.total(handed, hand_ins.criteria_of(lab.id)) == 3
    (shown,) = comments.shown(handed, world.stranger)
    assert shown.place.said == "mark of cone in frame 4"
    assert [answer.words for answer in shown.answers] == ["Yes."]
    copy = class_study(handed.copy_id)
    assert copy is not None
    assert copy.is_frozen
    assert numbers_of(copy, world.stranger) == ours.numbers
    named = {one.id: one.name for one in pupils.students_of(made.id)}
    assert world.heron.name in {named[key] for key in members_of(handed.study_id)}


def test_a_class_is_read_with_the_published_schema(
    whole_class: SchoolClass, settings: Settings
) -> None:
    _, path = class_writing.write_class(whole_class.id, settings)
    with zipfile.ZipFile(path) as archive:
        found = json.loads(archive.read("class.json"))
        entries = {
            kind: json.loads(archive.read(name))
            for kind, name in (
                *(("class", "class.json"), ("study", "studies/0.json")),
                ("hand-in", "hand_ins/0.json"),
            )
        }
    for kind, entry in entries.items():
        published = json.loads((SCHEMAS / f"{kind}-1.json").read_text())
        jsonschema.Draft202012Validator(published).validate(entry)
    assert "secret" not in json.dumps(found)


CLASS_HOSTILE: dict[str, Callable[[dict[str, Any]], object]] = {
    "a later format": lambda found: found.update(format=9),
    "a group that is not there": lambda found: found["students"][0].update(group=99),
    "a lab that is not there": lambda found: found["studies"][0].update(lab=99),
    "a study that is not there": lambda found: found["studies"][0].update(number=99),
    "handed in of nothing": lambda found: found["hand_in"].update(study=99),
    "more handed in than there is": lambda found: found.update(hand_ins=7),
    "a secret": lambda found: found["students"][0].update(secret_hash="x"),
    "a comment on another": lambda found: found["hand_in"]["comments"][0].update(answers=7),
}


def class_changed(path: Path, change: Callable[[dict[str, Any]], object]) -> io.BytesIO:
    """The archive with another ``class.json``, or another first hand-in."""
    made = io.BytesIO()
    with zipfile.ZipFile(path) as old, zipfile.ZipFile(made, "w") as new:
        plain = json.loads(old.read("class.json"))
        plain["hand_in"] = json.loads(old.read("hand_ins/0.json"))
        change(plain)
        new.writestr("hand_ins/0.json", json.dumps(plain.pop("hand_in")))
        new.writestr("class.json", json.dumps(plain))
        for name in old.namelist():
            if name not in ("class.json", "hand_ins/0.json"):
                new.writestr(name, old.read(name))
    return made


@pytest.mark.parametrize("how", CLASS_HOSTILE)
def test_a_hostile_class_is_refused_and_leaves_nothing(
    how: str, whole_class: SchoolClass, world: World, settings: Settings
) -> None:
    _, path = class_writing.write_class(whole_class.id, settings)
    before = tables.SchoolClass.select().count(), tables.Study.select().count()
    with pytest.raises(Refused), transaction():
        class_reading.read_in(class_changed(path, CLASS_HOSTILE[how]), world.stranger, settings)
    assert (tables.SchoolClass.select().count(), tables.Study.select().count()) == before


def test_a_report_that_comes_in_brings_no_script(
    whole_class: SchoolClass, world: World, settings: Settings
) -> None:
    bad = (
        '<p onclick="x()">It <b>falls</b>.</p><script>alert(1)</script>'
        '<img src="https://example.org/x.png" alt="a"><img src="data:text/html;base64,xx" alt="b">'
        '<img src="data:image/png;base64,AAAA" alt="c"><a href="javascript:x">y</a>'
        '<p style="position:fixed">z</p>'
    )

    def put(found: dict[str, Any]) -> None:
        found["hand_in"]["blocks"][0]["html"] = bad

    _, path = class_writing.write_class(whole_class.id, settings)
    with transaction():
        made = class_reading.read_in(class_changed(path, put), world.stranger, settings)
    lab: Lab = next(one for one in labs_of(made.id) if hand_ins.latest_of_lab(one.id))
    html = hand_ins.latest_of_lab(lab.id)[0].blocks[0]["html"]
    for begun in ("script", "onclick", "example.org", "text/html", "javascript", "style", "href"):
        assert begun not in html
    assert "<b>falls</b>" in html
    assert "data:image/png;base64,AAAA" in html
