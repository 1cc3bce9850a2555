"""Handing in: what was handed in never changes; comments, points, the return, what differs."""

from datetime import UTC, datetime, timedelta

import pytest
from peewee import PeeweeException

from footing.core.errors import NotThere, Refused, Stale
from footing.store import hand_ins, history, records, tables
from footing.store.access import class_study
from footing.store.database import database, transaction
from footing.store.reading import read_study
from footing.store.rows import FrozenBlock, HandIn
from footing.studies.report.report import report_of
from footing.studies.review import comments, judging, standing
from footing.studies.review.comments import NewComment
from footing.studies.review.handing_in import hand_in
from footing.studies.review.judging import Judgement, NewCriterion
from footing.studies.review.numbers import differing, differing_texts, numbers_of
from footing.studies.school import labs as making
from footing.studies.school import people, register
from footing.studies.school.labs import AskedFinding
from footing.studies.school.people import own_study, visible_study
from tests.conftest import World
from tests.studies.conftest import Measured
from tests.studies.steps import Tab, all_rows
from tests.studies.test_edits import EXAMPLES

BLOCKS: list[FrozenBlock] = [
    {"block": 7, "kind": "heading", "number": "", "html": "<h2>Result</h2>"},
    {"block": 8, "kind": "graph", "number": "Figure 1", "html": "<figure></figure>"},
]


def handed_in(tab: Tab) -> HandIn:
    return hand_in(tab.study, tab.person, report_of(tab.study, tab.person), BLOCKS)


def test_what_was_handed_in_stays_as_it_was_while_work_goes_on(
    measured: Measured, world: World
) -> None:
    tab = measured.tab
    made = handed_in(tab)
    study = class_study(made.copy_id)
    assert study is not None
    before = all_rows(made.copy_id)
    numbers = numbers_of(study, tab.person)
    assert made.numbers == numbers == numbers_of(tab.study, tab.person)
    assert world.heron.name in made.names
    tab.does("type_known_length", known_length=measured.length, length="2.00", unit="m")
    tab.does("remove_body", body=measured.body)
    assert all_rows(made.copy_id) == before
    assert numbers_of(study, tab.person) == numbers
    (stored,) = hand_ins.of_study(tab.study_id)
    assert (stored.numbers, stored.blocks) == (numbers, BLOCKS)


@pytest.mark.parametrize("who", ["heron", "teacher"])
def test_nobody_changes_what_was_handed_in(who: str, measured: Measured, world: World) -> None:
    made = handed_in(measured.tab)
    person = getattr(world, who)
    seen = visible_study(person, made.copy_id)
    assert seen.is_frozen
    assert not seen.mine
    with pytest.raises(Refused):
        own_study(person, made.copy_id)
    frozen = Tab(class_study(made.copy_id), person)
    rows = read_study(made.copy_id)
    before = all_rows(made.copy_id)
    for kind, fields in (
        ("set_unit", {"length": "cm"}),
        ("remove_finding", {"finding": rows.findings[0].id}),
        ("add_block", EXAMPLES["add_block"]),
    ):
        with pytest.raises(PeeweeException, match="does not change"):  # the database itself
            frozen.does(kind, **fields)
    assert all_rows(made.copy_id) == before
    with pytest.raises(PeeweeException, match="does not change"), transaction():
        tables.HandIn.update(numbers=[]).where(tables.HandIn.id == made.id).execute()
    with pytest.raises(PeeweeException, match="does not change"), transaction():
        tables.HandIn.update(blocks=[]).where(tables.HandIn.id == made.id).execute()
    with pytest.raises(PeeweeException, match="does not change"), transaction():
        tables.HandIn.update(late=True).where(tables.HandIn.id == made.id).execute()
    assert not database.is_closed()


def test_others_do_not_see_it(measured: Measured, world: World) -> None:
    made = handed_in(measured.tab)
    assert hand_ins.seen_by(world.heron, made.id) is not None
    assert hand_ins.seen_by(world.teacher, made.id) is not None
    assert hand_ins.seen_by(world.wren, made.id) is None
    assert hand_ins.seen_by(world.stranger, made.id) is None
    with pytest.raises(NotThere):
        visible_study(world.wren, made.copy_id)


def test_it_is_handed_in_again_until_it_is_returned(measured: Measured, world: World) -> None:
    tab = measured.tab
    assert [handed_in(tab).number, handed_in(tab).number] == [1, 2]
    latest = judging.give_back(hand_ins.of_study(tab.study_id)[-1], world.teacher, again=False)
    with pytest.raises(Refused, match="settled"):
        handed_in(tab)
    judging.give_back(latest, world.teacher, again=True)
    assert handed_in(tab).number == 3


def test_without_a_report_there_is_nothing_to_hand_in(tab: Tab) -> None:
    with pytest.raises(Refused, match="no report"):
        handed_in(tab)


def test_a_report_that_is_not_the_latest_is_not_frozen(measured: Measured) -> None:
    tab = measured.tab
    report = report_of(tab.study, tab.person)
    tab.does("rename_footage", footage=measured.footage, name="later")
    with pytest.raises(Stale):
        hand_in(tab.study, tab.person, report, BLOCKS)
    assert hand_ins.of_study(tab.study_id) == []
    assert history.all_of(tab.study_id)[0].kind == "rename_footage"


@pytest.mark.parametrize(("hours", "late"), [(1, False), (-1, True), (None, False)])
def test_late_is_said(hours: int | None, late: bool, measured: Measured, world: World) -> None:
    due = None if hours is None else datetime.now(UTC) + timedelta(hours=hours)
    tables.Lab.update(due=due).where(tables.Lab.id == world.lab.id).execute()
    assert handed_in(measured.tab).late is late


def test_students_see_comments_when_they_are_returned_and_answer_them(
    measured: Measured, world: World
) -> None:
    made = handed_in(measured.tab)
    rows = read_study(made.copy_id)
    footage = rows.footages[0]
    body = next(one for one in rows.bodies_of(footage) if one.name == "cone")
    fit = rows.fits_of(body)[0]
    for about in (
        *("", "block/8", f"frame/{footage.id}/4", f"mark/{body.id}/4", f"point/{body.id}/4"),
        *(f"fit/{fit.id}", f"finding/{rows.findings[0].id}", f"cell/b{body.id}/4/vx"),
        f"cell/s{rows.sheets[0].id}/2/c1",
    ):
        comments.comment(made, world.teacher, NewComment(words="Look again.", about=about))
    for about in ("block/9", f"frame/{footage.id + 99}/4", "mark/1", "fit/x", "elsewhere/1"):
        with pytest.raises(Refused):
            comments.comment(made, world.teacher, NewComment(words="?", about=about))
    seen = comments.shown(made, world.teacher)
    assert [one.place.said for one in seen[:4]] == [
        *("the whole", "Figure 1", "frame 4 of plain.mp4", "mark of cone in frame 4"),
    ]
    assert seen[3].place.frame == 4
    assert comments.shown(made, world.heron) == []
    with pytest.raises(NotThere):
        comments.comment(made, world.heron, NewComment(words="Why?", answers=seen[3].row.id))
    returned = judging.give_back(made, world.teacher, again=False)
    assert len(comments.shown(returned, world.heron)) == 9
    with pytest.raises(Refused):
        comments.comment(returned, world.heron, NewComment(words="I begin"))
    answer = NewComment(words="We moved it.", answers=seen[3].row.id)
    comments.comment(returned, world.heron, answer)
    answered = comments.shown(returned, world.teacher)[3]
    assert [(one.person_name, one.words) for one in answered.answers] == [
        (world.heron.name, "We moved it.")
    ]
    with pytest.raises(NotThere):  # somebody else's
        comments.take_back(returned, world.heron, seen[0].row.id)
    comments.take_back(returned, world.teacher, seen[0].row.id)
    assert len(comments.shown(returned, world.heron)) == 8


def test_remarks_are_used_again_the_most_used_first(measured: Measured, world: World) -> None:
    made = handed_in(measured.tab)
    for words in ("Units!", "Why this curve?", "Units!"):
        comments.comment(made, world.teacher, NewComment(words=words))
    assert hand_ins.remarks_of(world.teacher.id) == ["Units!", "Why this curve?"]
    assert hand_ins.remarks_of(world.stranger.id) == []


def test_points_count_by_criterion_and_are_limited(measured: Measured, world: World) -> None:
    lab, made = measured.tab.study.lab, handed_in(measured.tab)
    assert lab is not None
    graph = judging.add_criterion(lab, NewCriterion(name="graph", most=4))
    words = judging.add_criterion(lab, NewCriterion(name="words", most=2))
    assert judging.total(made, [graph, words]) is None
    with pytest.raises(Refused, match="4 points at most"):
        judging.judge(made, lab, Judgement(points={graph.id: 4.5}))
    judged = judging.judge(
        made,
        lab,
        Judgement(points={graph.id: 3.5, words.id: None, 999: 9}, grade="2", words="Well."),
    )
    assert judging.total(judged, [graph, words]) == 3.5
    judging.remove_criterion(lab, graph.id)
    assert judging.total(judged, hand_ins.criteria_of(lab.id)) is None
    (listed,) = standing.listed(lab)
    assert (listed.group, listed.state) == ("Heron", "to be read")
    judging.give_back(judged, world.teacher, again=True)
    assert standing.listed(lab)[0].state == "returned, asked for again"


def test_what_differs_between_two_hand_ins_is_told_by_name(measured: Measured) -> None:
    tab = measured.tab
    first = handed_in(tab)
    assert differing(first.numbers, handed_in(tab).numbers) == []
    tab.does("type_known_length", known_length=measured.length, length="2.00", unit="m")
    tab.does("remove_mark", body=measured.body, frame=11)
    now = differing(first.numbers, numbers_of(tab.study, tab.person))
    by_name = {(one.of, one.name): (one.before, one.after) for one in now}
    assert by_name["ground", "known length 1 of plain.mp4"] == ("1.00 m", "2.00 m")
    assert by_name["marks", "cone, plain.mp4"] == ("12", "11")
    assert ("finding", "a") in by_name


def test_words_that_were_written_anew_are_told(measured: Measured) -> None:
    tab = measured.tab
    first = handed_in(tab)
    before = read_study(first.copy_id)
    assert differing_texts(before, read_study(tab.study_id)) == []
    text = next(row for row in before.report if row.kind == "text")
    block = next(row.id for row in read_study(tab.study_id).report if row.kind == "text")
    tab.does("change_block", block=block, words="It falls freely.")
    tab.makes("add_block", block="heading", words="Why")
    found = differing_texts(before, read_study(tab.study_id))
    assert [(one.before, one.after) for one in found] == [
        (text.words, "It falls freely."),
        ("", "Why"),
    ]


def test_a_teacher_sees_how_what_was_asked_for_agrees(measured: Measured, world: World) -> None:
    tab = measured.tab
    lab = tab.study.lab
    assert lab is not None
    for name, accepted in (("a", "-1.25"), ("speed", "2")):
        asked = AskedFinding(name=name, unit="m/s^2", accepted=accepted, tolerance="5")
        making.ask_for(lab, asked)
    beside = standing.beside(handed_in(tab), world.teacher)
    assert [[well for _, well in one.found] for one in beside.expected] == [[True], []]
    tab.does("type_known_length", known_length=measured.length, length="2.00", unit="m")
    later = standing.beside(handed_in(tab), world.teacher)
    assert [[well for _, well in one.found] for one in later.expected] == [[False], []]
    assert {check["key"] for check in beside.checks} == {check["key"] for check in later.checks}


def test_hand_ins_are_in_no_list_of_studies_and_go_with_their_study(
    measured: Measured, world: World
) -> None:
    from footing.store import classes, lessons
    from footing.store.clearing import remove_whole

    tab = measured.tab
    made = handed_in(tab)
    class_id = world.school_class.id
    listed = classes.listed_studies(class_id, world.teacher)
    assert made.copy_id not in {one.study.id for one in listed}
    assert next(one.handed for one in listed if one.study.id == tab.study_id) == "handed in"
    assert made.copy_id not in {one.study.id for one in lessons.studies_of_lab(world.lab.id)}
    with transaction():
        remove_whole([tab.study_id])
    assert hand_ins.seen_by(world.teacher, made.id) is None
    assert class_study(made.copy_id) is None


def test_a_student_who_leaves_takes_only_the_name_along(measured: Measured, world: World) -> None:
    made = handed_in(measured.tab)
    judging.give_back(made, world.teacher, again=False)
    student = register.pupil(world.school_class.id, world.heron.id)
    register.remove(student, with_work=False)
    kept = records.fetch(HandIn, made.id)
    assert kept is not None
    assert kept.student_id is None
    assert people.visible_study(world.teacher, made.copy_id).is_frozen
