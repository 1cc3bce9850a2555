"""All rows of a class: counted, read as plain data, removed."""

from pydantic import JsonValue

from footing.store import tables
from footing.store.clearing import remove_whole
from footing.store.sql import asked
from footing.store.tables.base import table_name

_STUDIES = "SELECT id FROM study WHERE school_class_id = %(of)s"
_SECRET = ("secret_hash", "secret_kind", "password_hash")


def counted(class_id: int) -> tuple[int, int, int, int, float]:
    """How many students, studies, edits and files a class has, and the megabytes of these."""
    ((students, studies, edits, films, size),) = asked(
        f"""
        SELECT (SELECT count(*) FROM student WHERE school_class_id = %(of)s),
            (SELECT count(*) FROM study WHERE school_class_id = %(of)s
                AND frozen_from_id IS NULL),
            (SELECT count(*) FROM edit WHERE study_id IN ({_STUDIES})),
            count(*), coalesce(sum(size), 0)
        FROM media WHERE content IN (
            SELECT content FROM footage WHERE study_id IN ({_STUDIES}))
        """,
        of=class_id,
    )
    return students, studies, edits, films, float(size) / 1e6


def plain_rows(class_id: int) -> dict[str, list[dict[str, JsonValue]]]:
    """The rows of a class by table, as the database says them in JSON; without secrets."""
    wanted = {
        "student_group": "school_class_id = %(of)s",
        "student": "school_class_id = %(of)s",
        "lab": "school_class_id = %(of)s",
        "lab_finding": "lab_id IN (SELECT id FROM lab WHERE school_class_id = %(of)s)",
        "lab_question": "lab_id IN (SELECT id FROM lab WHERE school_class_id = %(of)s)",
        "study": "school_class_id = %(of)s",
        "study_member": f"study_id IN ({_STUDIES})",
        "study_place": f"study_id IN ({_STUDIES})",
        "edit": f"study_id IN ({_STUDIES})",
        "hand_in": f"study_id IN ({_STUDIES})",
        "comment": f"hand_in_id IN (SELECT id FROM hand_in WHERE study_id IN ({_STUDIES}))",
        "criterion": "lab_id IN (SELECT id FROM lab WHERE school_class_id = %(of)s)",
    }
    wanted |= {table_name(table): f"study_id IN ({_STUDIES})" for table in tables.CONTENT}
    found = {}
    for table, condition in wanted.items():
        rows = asked(
            f"SELECT to_jsonb({table}) - %(secret)s::text[] FROM {table} WHERE {condition}",
            of=class_id,
            secret=list(_SECRET),
        )
        found[table] = [row for (row,) in rows]
    return found


def remove(class_id: int) -> None:
    """Remove a class with all that belongs to it."""
    own = tables.SchoolClass.id == class_id
    tables.SchoolClass.update(shown_study_id=None).where(own).execute()
    tables.Lab.update(start_id=None).where(tables.Lab.school_class == class_id).execute()
    remove_whole([study for (study,) in asked(_STUDIES, of=class_id)])
    for table in (tables.Lab, tables.Student, tables.Group):
        table.delete().where(table.school_class == class_id).execute()
    tables.SchoolClass.delete().where(own).execute()
