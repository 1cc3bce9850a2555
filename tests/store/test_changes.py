import pytest

from footing.store.changes import Changes, as_json, from_json, in_conflict
from footing.store.tables import Body, Footage, Mark, Media
from tests.conftest import World


@pytest.fixture
def footage(world: World) -> Footage:
    media = {"size": 1, "frames": 10, "width": 4, "height": 4, "index": {}, "kind": "video"}
    Media.insert(content="ab", **media).execute()
    return Footage.create(study=world.study, media="ab", name="a", first=0, last=9, stride=1)


def new_body(changes: Changes, footage: Footage) -> Body:
    return changes.insert(
        Body, study=footage.study, footage=footage, name="sled", look=0, mass=None, mass_unit=None
    )


def test_changes_are_taken_back_and_made_again_as_they_were(footage: Footage) -> None:
    changes = Changes()
    body = new_body(changes, footage)
    changes.insert(Mark, body=body, frame=3, study=footage.study, x=1.5, y=2.5)
    changes.update(body, name="lamp")
    stored = from_json(as_json(changes.made))
    back = Changes()
    back.reverse(stored)
    assert Body.select().count() == Mark.select().count() == 0
    again = Changes()
    again.reverse(from_json(as_json(back.made)))
    assert Body.get_by_id(body.id).name == "lamp"
    assert Mark.get().x == 1.5


def test_an_update_to_the_same_value_is_no_change(footage: Footage) -> None:
    changes = Changes()
    changes.update(footage, first=0)
    assert changes.made == []


def test_names_tell_rows_fields_and_what_rests_on_what(footage: Footage) -> None:
    changes = Changes()
    body = new_body(changes, footage)
    changes.update(body, name="lamp")
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
