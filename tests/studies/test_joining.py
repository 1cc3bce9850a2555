"""How people come in: codes, PINs, the register, invitations, and what guessing comes to."""

import io
import json
import re
import zipfile
from datetime import UTC, datetime, timedelta

import pytest

from footing.core.errors import NotThere, Refused
from footing.store import pupils, tables
from footing.store.access import study_seen_by
from footing.store.records import fetch
from footing.store.rows import SchoolClass, Student
from footing.studies.school import (
    attempts,
    codes,
    invitations,
    joining,
    kept_data,
    people,
    register,
)
from footing.studies.school.joining import Device
from footing.studies.school.lists import start_study
from tests.conftest import World
from tests.studies.steps import Tab

HERE = "10.0.0.7"


def device(*known: int) -> Device:
    return Device(attempts.new_browser(), HERE, frozenset(known))


def room(world: World) -> SchoolClass:
    found = fetch(SchoolClass, world.school_class.id)
    assert found is not None
    return found


def joins(world: World, name: str, pin: str = "4711", of: Device | None = None) -> people.Person:
    return joining.join(room(world), name, kind="pin", secret=pin, device=of or device())


def test_codes_are_two_words_and_a_number_and_hardly_ever_the_same() -> None:
    made = {codes.new_class_code() for _ in range(500)}
    assert len(made) > 490
    assert all(re.fullmatch(r"[a-z]+-[a-z]+-[0-9]{2}", code) for code in made)


@pytest.mark.parametrize("typed", ["LARK 9K", "lark-9k", " Lark–9k ", "lark, 9K"])
def test_a_code_is_known_however_it_is_typed(typed: str, world: World) -> None:
    assert joining.enter_code(typed, device()).id == world.school_class.id


def test_a_student_comes_back_with_the_pin_and_nobody_else_does(world: World) -> None:
    first = joins(world, "Juniper Vale")
    assert joins(world, "juniper  vale").id == first.id
    with pytest.raises(Refused) as error:
        joins(world, "Juniper Vale", "1234")
    assert error.value.field == "secret"
    stored = fetch(Student, first.id)
    assert stored is not None
    assert "4711" not in (stored.secret_hash or "")


def test_pictures_count_in_their_order(world: World) -> None:
    chosen = "owl sled pine star"
    of = room(world)
    first = joining.join(of, "Juniper", kind="pictures", secret=chosen, device=device())
    assert joining.join(of, "Juniper", kind="pictures", secret=chosen, device=device()) == first
    with pytest.raises(Refused, match="four pictures"):
        joining.join(of, "Juniper", kind="pictures", secret="sled owl pine star", device=device())


@pytest.mark.parametrize("pin", ["", "12", "1234", "9876", "0000", "12a4", "123456789", "１２３５"])
def test_pins_that_are_none_or_guessed_at_once_are_refused(pin: str, world: World) -> None:
    with pytest.raises(Refused) as error:
        joins(world, "Juniper", pin)
    assert error.value.field == "secret"


@pytest.mark.parametrize("chosen", ["owl", "owl owl owl owl", "owl sled pine rocket"])
def test_picture_codes_that_are_none_are_refused(chosen: str, world: World) -> None:
    with pytest.raises(Refused):
        joining.join(room(world), "Juniper", kind="pictures", secret=chosen, device=device())


def test_a_name_on_the_list_is_picked_by_its_owner(world: World) -> None:
    assert (
        register.add_names(world.school_class.id, "Juniper Vale\n\n  Idris Holm \njuniper vale")
        == 2
    )
    waiting, joined = joining.names_to_pick(room(world))
    assert [one.name for one in waiting][:2] == ["Idris Holm", "Juniper Vale"]
    assert "Juniper Vale" not in [one.name for one in joined]
    joins(world, "Juniper Vale")
    waiting, joined = joining.names_to_pick(room(world))
    assert "Juniper Vale" in [one.name for one in joined]
    assert len(pupils.students_of(world.school_class.id)) == 4


def test_a_closed_class_lets_those_back_in_who_have_joined(world: World) -> None:
    joins(world, "Juniper")
    register.set_joining(room(world), minutes=None, joining=False)
    assert joins(world, "Juniper").name == "Juniper"
    with pytest.raises(Refused, match="closed to newcomers"):
        joins(world, "Idris")
    assert joining.names_to_pick(room(world))[0] == []


def test_a_code_for_a_lesson_ends_with_it(world: World) -> None:
    register.set_joining(room(world), minutes=45, joining=True)
    of = room(world)
    assert joining.is_open(of)
    assert of.joining_until is not None
    assert of.joining_until - datetime.now(UTC) < timedelta(minutes=46)
    tables.SchoolClass.update(joining_until=datetime.now(UTC) - timedelta(seconds=1)).execute()
    assert not joining.is_open(room(world))


def test_a_renewed_code_shuts_the_old_one_out(world: World) -> None:
    register.renew_code(room(world))
    with pytest.raises(Refused, match="No class has this code"):
        joining.enter_code("LARK-9K", device())
    assert joining.enter_code(room(world).code, device()).id == world.school_class.id


def test_one_who_guesses_codes_is_slowed_down_and_the_class_beside_is_not(world: World) -> None:
    guesser, neighbour = device(), device()
    for _ in range(10):
        with pytest.raises(Refused, match="No class"):
            joining.enter_code("owl-owl-10", guesser)
    with pytest.raises(Refused, match="Too many"):
        joining.enter_code("LARK-9K", guesser)
    assert joining.enter_code("LARK-9K", neighbour).id == world.school_class.id


def test_throwing_the_browsers_token_away_makes_every_try_slow_and_none_impossible(
    world: World,
) -> None:
    tries = 0
    while attempts.pause_before_code(HERE) == 0 and tries < 1000:
        with pytest.raises(Refused):
            joining.enter_code("owl-owl-10", device())
        tries += 1
    assert 100 < tries <= 400
    assert attempts.pause_before_code("10.0.0.8") == 0
    assert joining.enter_code("LARK-9K", device()).id == world.school_class.id


def test_guessing_a_pin_is_slowed_down_and_its_owner_still_comes_in(world: World) -> None:
    own = device()
    owner = joins(world, "Juniper", of=own)
    for _ in range(12):
        with pytest.raises(Refused, match="not their PIN"):
            joins(world, "Juniper", "5823")
    with pytest.raises(Refused, match="Too many tries"):
        joins(world, "Juniper", "4711")
    mine = Device(own.browser, HERE, frozenset({owner.id}))
    assert joins(world, "Juniper", of=mine).id == owner.id
    assert joins(world, "Idris").name == "Idris"


def test_a_browser_shows_rightly_whom_it_knows() -> None:
    browser = attempts.new_browser()
    mark = attempts.known_mark(7, browser)
    assert attempts.is_known(7, browser, mark)
    assert not attempts.is_known(8, browser, mark)
    assert not attempts.is_known(7, attempts.new_browser(), mark)
    assert attempts.is_browser(browser)
    # The first letter: the last one of a signature has bits that stand for nothing.
    assert not attempts.is_browser(f"{'A' if browser[0] != 'A' else 'B'}{browser[1:]}")


def test_a_reset_pin_ends_sessions_and_is_chosen_anew(world: World) -> None:
    who = joins(world, "Juniper")
    session = people.sign_in(who, days=1)
    register.reset_secret(register.pupil(world.school_class.id, who.id))
    assert people.signed_in(session, idle_hours=9) is None
    assert joins(world, "Juniper", "9931").id == who.id


def test_random_groups_have_the_size_that_is_wanted_and_everybody_is_in_one(world: World) -> None:
    of = world.school_class.id
    for n in range(11):
        joins(world, f"Student {n}")
    register.make_groups(of, size=3, joined_only=True)
    made = register.register(of)
    assert sorted(len(members) for _, members in made.groups) == [2, 3, 3, 3]
    names = {one.name for _, members in made.groups for one in members}
    assert names == {f"Student {n}" for n in range(11)}
    assert {one.name for one in made.alone} == {"Ottilie", "Saoirse"}
    register.make_groups(of, size=3, joined_only=True)
    again = register.register(of)
    assert sorted(len(members) for _, members in again.groups) == [2, 3, 3, 3]
    assert {one.name for _, members in again.groups for one in members} == names


def test_yesterdays_group_is_gone_and_its_study_is_still_theirs(world: World) -> None:
    study = start_study(world.heron, world.school_class.id, lab_id=world.lab.id)
    register.make_groups(world.school_class.id, size=2, joined_only=False)
    assert study_seen_by(world.heron, study) is not None
    assert study_seen_by(world.wren, study) is None
    there = {group.id for group, _ in register.register(world.school_class.id).groups}
    assert world.study.group_id not in there


def test_students_make_groups_where_they_may(world: World) -> None:
    made = joining.make_group(world.heron, "The Otters")
    assert joining.join_group(world.wren, made.id).name == "The Otters"
    with pytest.raises(Refused, match="already"):
        joining.make_group(world.heron, "the otters")
    register.set_own_groups(room(world), own=False)
    with pytest.raises(Refused, match="teacher makes the groups"):
        joining.join_group(world.heron, made.id)
    other = tables.SchoolClass.get(tables.SchoolClass.teacher == world.stranger.id)
    foreign = tables.Group.create(school_class=other, name="Far")
    register.set_own_groups(room(world), own=True)
    with pytest.raises(NotThere):
        joining.join_group(world.heron, foreign.id)


def test_a_student_in_no_group_begins_alone(world: World) -> None:
    who = joins(world, "Juniper")
    study = start_study(who, world.school_class.id, lab_id=world.lab.id)
    assert study_seen_by(who, study) is not None
    assert study_seen_by(world.heron, study) is None


def test_a_removed_student_leaves_the_work_of_the_group_without_a_name(world: World) -> None:
    of = world.school_class.id
    who = joins(world, "Juniper")
    joining.join_group(who, world.study.group_id)
    together = start_study(who, of, lab_id=world.lab.id)
    Tab(fetch_study(together), who).does("add_sheet", name="slides")
    register.remove(register.pupil(of, who.id), with_work=True)
    assert study_seen_by(world.heron, together) is not None
    names = {edit.person_name for edit in tables.Edit.select().where(tables.Edit.study == together)}
    assert names == {register.FORMER}
    assert "Juniper" not in kept_data.exported(room(world)).decode("latin-1")


def test_a_removed_students_own_work_goes_with_them_where_that_is_wanted(world: World) -> None:
    of = world.school_class.id
    for name, with_work in (("Juniper", True), ("Idris", False)):
        who = joins(world, name)
        alone = start_study(who, of, lab_id=world.lab.id)
        register.remove(register.pupil(of, who.id), with_work=with_work)
        assert (tables.Study.get_or_none(tables.Study.id == alone) is None) is with_work


def fetch_study(study_id: int) -> tables.Study:
    return tables.Study.get_by_id(study_id)


def test_a_wiped_class_is_gone_whole_and_others_are_not(world: World) -> None:
    start_study(world.heron, world.school_class.id, lab_id=world.lab.id)
    with pytest.raises(Refused) as error:
        kept_data.wipe(room(world), typed="9K")
    assert error.value.field == "name"
    kept_data.wipe(room(world), typed="9K Physics")
    assert [row.name for row in tables.SchoolClass.select()] == ["8B Physics"]
    for table in (tables.Study, tables.Student, tables.Group, tables.Lab, tables.StudyMember):
        assert table.select().count() == 0, table
    assert tables.Teacher.select().count() == 2


def test_what_is_kept_is_counted_and_exported_without_secrets(world: World) -> None:
    joins(world, "Juniper")
    kept = kept_data.kept_of(world.school_class.id)
    assert (kept.students, kept.studies) == (3, 1)
    with zipfile.ZipFile(io.BytesIO(kept_data.exported(room(world)))) as archive:
        content = json.loads(archive.read("class.json"))
    assert content["class"] == "9K Physics"
    assert {one["name"] for one in content["student"]} == {"Juniper", "Ottilie", "Saoirse"}
    assert not any("secret" in key for one in content["student"] for key in one)
    assert "argon2" not in json.dumps(content)


def test_the_first_account_needs_the_code_of_the_latest_start(world: World) -> None:
    earlier = invitations.first_code()
    code = invitations.first_code()
    assert earlier is not None
    assert code is not None
    for wrong in (earlier, "0000 0000", ""):
        with pytest.raises(Refused) as error:
            invitations.first_teacher(wrong, "Ms Sandgate", "a long enough phrase")
        assert error.value.field == "code"
    made = invitations.first_teacher(code.replace(" ", ""), "Ms Sandgate", "a long enough phrase")
    assert made.role == "teacher"
    assert invitations.first_code() is None
    with pytest.raises(Refused):
        invitations.first_teacher(code, "Mr Else", "a long enough phrase")


def test_an_invitation_is_no_code_of_the_first_start(world: World) -> None:
    invited = invitations.invite(world.teacher, class_id=None)
    with pytest.raises(Refused):
        invitations.first_teacher(invited, "Mr Else", "a long enough phrase")


def test_a_co_teacher_teaches_until_taken_out(world: World) -> None:
    token = invitations.invite(world.teacher, class_id=world.school_class.id)
    invitations.accept_as(token, world.stranger)
    assert study_seen_by(world.stranger, world.study.id) is not None
    tables.CoTeacher.delete().execute()
    assert study_seen_by(world.stranger, world.study.id) is None


def test_another_password_ends_other_sessions(world: World) -> None:
    who = people.new_teacher("Ms Sandgate", "a long enough phrase")
    elsewhere = people.sign_in(who, days=1)
    with pytest.raises(Refused) as error:
        people.change_password(who, old="wrong", new="another long phrase")
    assert error.value.field == "old"
    people.change_password(who, old="a long enough phrase", new="another long phrase")
    assert people.signed_in(elsewhere, idle_hours=9) is None
    assert people.by_password("Ms Sandgate", "another long phrase") is not None
    assert people.by_password("Ms Sandgate", "a long enough phrase") is None
