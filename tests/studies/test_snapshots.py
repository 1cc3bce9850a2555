"""All rows of a study at one moment, read once and kept up to date by what edits changed."""

import threading
from dataclasses import replace

import pytest

from footing.core.errors import NotThere
from footing.store import reading
from footing.store.database import connected
from footing.store.mapping import CONTENT
from footing.store.reading import read_study
from footing.store.rows import Body, Mark
from footing.store.snapshot import StudyRows
from tests.studies.conftest import Measured
from tests.studies.steps import Tab


def read_anew(study_id: int) -> StudyRows:
    reading._kept.pop(study_id, None)
    return read_study(study_id)


def everything(rows: StudyRows) -> dict[str, object]:
    return {kind.__name__: rows.all(kind) for kind in CONTENT}


def test_what_is_kept_is_what_the_database_holds(measured: Measured) -> None:
    kept = read_study(measured.tab.study_id)
    assert everything(kept) == everything(read_anew(measured.tab.study_id))
    assert len(kept.marks_of(kept.find(Body, measured.body))) > 5


def test_edits_of_another_process_are_caught_up_with(measured: Measured) -> None:
    """What this process knows is put back to before the edits, as if others had made them."""
    tab, body = measured.tab, measured.body
    before = read_study(tab.study_id)
    tab.does("place_mark", body=body, frame=1, x=31.0, y=17.0)
    tab.does("place_mark", body=body, frame=1, x=32.0, y=17.0)
    tab.does("rename_footage", footage=measured.footage, name="Renamed")
    tab.does("remove_mark", body=body, frame=2)
    tab.does("undo")
    after = everything(read_study(tab.study_id))
    reading._kept[tab.study_id] = before
    assert everything(read_study(tab.study_id)) == after == everything(read_anew(tab.study_id))
    kept = before.find(Body, body)
    assert before.get(Mark, (body, 1)) != read_study(tab.study_id).get(Mark, (body, 1))
    assert before.marks_of(kept) == before.marks_of(kept)


def test_a_state_is_read_with_few_statements(measured: Measured, statements: list[str]) -> None:
    tab = measured.tab
    read_study(tab.study_id)
    statements.clear()
    read_study(tab.study_id)
    assert len(statements) == 1


def test_rows_of_another_history_are_not_believed(measured: Measured) -> None:
    """A database that was put back to an older state counts on from there."""
    tab = measured.tab
    true = read_study(tab.study_id)
    draft = true.draft()
    draft.put(replace(true.find(Body, measured.body), name="of another time"))
    reading._kept[tab.study_id] = draft.finished(true.seq - 1, "another-token")
    assert everything(read_study(tab.study_id)) == everything(true)
    reading._kept[tab.study_id] = draft.finished(true.seq, "another-token")
    assert everything(read_study(tab.study_id)) == everything(true)


def test_a_refused_edit_leaves_no_trace(tab: Tab, measured: Measured) -> None:
    before = read_study(tab.study_id)
    with pytest.raises(Exception, match="outside the picture"):
        tab.does("shift_marks", body=measured.body, dx=9000.0, dy=0.0)
    assert read_study(tab.study_id) is before


def test_what_did_not_change_is_the_same_object(measured: Measured) -> None:
    tab = measured.tab
    before = read_study(tab.study_id)
    tab.does("place_mark", body=measured.body, frame=0, x=30.0, y=18.0)
    after = read_study(tab.study_id)
    rival, body = (after.find(Body, key) for key in (measured.rival, measured.body))
    assert after.marks_of(rival) is before.marks_of(rival)
    assert after.marks_of(body) is not before.marks_of(body)
    assert after.footages is before.footages


def test_a_study_that_is_not_there(measured: Measured) -> None:
    with pytest.raises(NotThere):
        read_study(10**6)


def test_an_edit_made_while_rows_are_read_is_seen_whole_or_not_at_all(measured: Measured) -> None:
    tab = measured.tab
    before = everything(read_anew(tab.study_id))

    def another_person() -> None:
        with connected():
            tab.does("remove_body", body=measured.rival)

    with reading._one_moment():
        rows = iter(reading._all_rows(tab.study_id))
        read = [next(rows)]  # a footage; the marks come later
        other = threading.Thread(target=another_person)
        other.start()
        other.join()
        read += rows
    assert everything(StudyRows(tab.study_id, 0, None, read)) == before
    assert everything(read_study(tab.study_id)) != before
