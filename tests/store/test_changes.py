from dataclasses import replace

import pytest

from footing.store.changes import Changes, as_json, from_json, in_conflict
from footing.store.reading import read_study
from footing.store.rows import Body, Footage, Mark
from footing.store.snapshot import Draft, StudyRows
from footing.store.tables import Media
from tests.conftest import World


@pytest.fixture
def rows(world: World) -> Draft:
    media = {"size": 1, "frames": 10, "width": 4, "height": 4, "index": {}, "kind": "video"}
    Media.insert(content="ab", **media).execute()
    return stored(world).draft()


@pytest.fixture
def footage(rows: Draft) -> Footage:
    changes = Changes(rows)
    return changes.insert(
        Footage(study_id=rows.study_id, content="ab", name="a", first=0, last=9, stride=1)
    )


def stored(world: World) -> StudyRows:
    """What a reader of the database finds."""
    return read_study(world.study.id)


def new_body(changes: Changes, footage: Footage) -> Body:
    return changes.insert(
        Body(study_id=footage.study_id, footage_id=footage.id, name="sled", look=0)
    )


def mark_of(body: Body, frame: int, x: float = 1.5) -> Mark:
    return Mark(body_id=body.id, frame=frame, study_id=body.study_id, x=x, y=2.5)


def test_changes_are_taken_back_and_made_again_as_they_were(
    world: World, rows: Draft, footage: Footage
) -> None:
    changes = Changes(rows)
    body = new_body(changes, footage)
    changes.insert(mark_of(body, 3))
    changes.update(replace(body, name="lamp"))
    changes.write()
    back = Changes(rows)
    back.reverse(from_json(as_json(changes.made)))
    for now in (rows, stored(world)):
        assert now.all(Body) == now.all(Mark) == ()
    again = Changes(rows)
    again.reverse(from_json(as_json(back.made)))
    for now in (rows, stored(world)):
        assert now.find(Body, body.id).name == "lamp"
        assert [mark.x for mark in now.marks_of(body)] == [1.5]


def test_what_is_written_is_what_the_rows_say(world: World, rows: Draft, footage: Footage) -> None:
    changes = Changes(rows)
    one, other = new_body(changes, footage), new_body(changes, footage)
    for frame in range(8):
        changes.insert(mark_of(one, frame))
        changes.insert(mark_of(other, frame, x=7.0))
    for frame in (2, 2, 5):  # twice in one statement
        changes.update(mark_of(one, frame, x=rows.marks_of(one)[frame].x + 1))
    changes.delete(mark_of(one, 0))
    changes.insert(mark_of(one, 0, x=9.0))
    changes.delete(mark_of(other, 7))
    changes.write()
    written = stored(world)
    assert [mark.x for mark in written.marks_of(one)] == [9.0, 1.5, 3.5, 1.5, 1.5, 2.5, 1.5, 1.5]
    for body in (one, other):
        assert written.marks_of(body) == rows.marks_of(body)


def test_a_thousand_marks_take_a_handful_of_statements(
    rows: Draft, footage: Footage, statements: list[str]
) -> None:
    changes = Changes(rows)
    body = new_body(changes, footage)
    statements.clear()
    for frame in range(1000):
        changes.insert(mark_of(body, frame))
    for frame in range(1000):
        changes.update(mark_of(body, frame, x=5.0))
    changes.write()
    assert len(statements) <= 4


def test_an_update_to_the_same_value_is_no_change(rows: Draft, footage: Footage) -> None:
    changes = Changes(rows)
    changes.update(replace(footage, first=0))
    assert changes.made == []


def test_names_tell_rows_fields_and_what_rests_on_what(rows: Draft, footage: Footage) -> None:
    changes = Changes(rows)
    body = new_body(changes, footage)
    changes.update(replace(body, name="lamp"))
    assert changes.touched == {
        f"body:{body.id}",
        f"body:{body.id}.name",
        f"footage:{footage.id}.by.body:{body.id}",
    }


@pytest.mark.parametrize(
    ("one", "other", "conflict"),
    [
        ("body:7", "body:7.by.mark:7/12", True),
        ("body:7.name", "body:7.by.mark:7/12", False),
        ("body:7", "body:71", False),
        ("mark:7/1", "mark:7/12", False),
        ("mark:7/12", "mark:7/12", True),
        ("ground:3.angle", "ground:3.zero_x", False),
        ("ground:3", "ground:3.zero_x", True),
    ],
)
def test_conflicts(one: str, other: str, conflict: bool) -> None:
    assert in_conflict([one], [other]) is conflict
    assert in_conflict([other], [one]) is conflict
