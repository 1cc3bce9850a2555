"""Labs and studies to choose from, and starting a new study."""

from dataclasses import dataclass, replace
from datetime import UTC, datetime

from footing.core.errors import NotThere, Refused
from footing.store import classes, records
from footing.store.access import ClassStudy
from footing.store.classes import Listed
from footing.store.labs import start_of
from footing.store.lessons import groups_with_members
from footing.store.pupils import groups_of, move, note_members, students_of
from footing.store.rows import Group, SchoolClass, Student, Study
from footing.studies.school.codes import new_class_code
from footing.studies.school.copying import fill_from
from footing.studies.school.people import Person

_LOOKED_AT, _FORMULAS = 300, 12  # latest fits with a formula, and formulas that are offered
_LONGEST_TITLE = 80


@dataclass(frozen=True)
class StudyLine:
    """A study in a list.

    changed : when it was changed last, as it is shown
    waits : whether it was handed in and not returned yet
    """

    id: int
    title: str
    group: str | None
    state: str
    changed: str
    waits: bool = False


@dataclass(frozen=True)
class LabPart:
    """A lab with its studies; ``id`` is None for studies on questions of their own.

    due : as it is shown; given : whether there is something to start from
    picture : of which footage a frame shows what the lab is about, and in which study
    """

    id: int | None
    title: str
    task: str
    studies: tuple[StudyLine, ...]
    due: str = ""
    late: bool = False
    given: bool = False
    picture: classes.Picture | None = None

    @property
    def groups(self) -> int:
        """How many groups have begun."""
        return len({study.group for study in self.studies if study.group})

    @property
    def waiting(self) -> int:
        """How many hand-ins wait to be read."""
        return sum(study.waits for study in self.studies)


@dataclass(frozen=True)
class ClassPart:
    """A class with its labs, and the studies that were removed from it lately.

    shown : the study that the whole class looks at just now
    hands : names of the groups that ask for help
    groups : how many there are with somebody in them
    """

    id: int
    name: str
    labs: tuple[LabPart, ...]
    removed: tuple[StudyLine, ...]
    code: str = ""
    own_groups: bool = True
    shown: int | None = None
    hands: tuple[str, ...] = ()
    groups: int = 0


def classes_of(person: Person) -> list[ClassPart]:
    """The classes of a person, with labs and the studies that the person may see."""
    return [_class_part(row, person) for row in classes.classes_of(person)]


def first_class(teacher: Person, name: str) -> None:
    """Give a teacher a class, if they have none yet."""
    if not classes.has_class(teacher.id):
        records.add(SchoolClass(teacher_id=teacher.id, name=name, code=new_class_code()))


def start_study(
    person: Person, class_id: int, *, lab_id: int | None, own_clip: bool = False
) -> int:
    """Start a study: of the student's group, or of the class's teacher.

    Where the lab gives something to start from it is a copy of that, unless somebody wants to
    begin with a clip of their own. A student in no group works alone, in a group of their own.

    Raises
    ------
    NotThere : if the class or the lab is not the person's.
    """
    if class_id not in {row.id for row in classes.classes_of(person)}:
        raise NotThere("There is no such class here.")
    lab = next((lab for lab in classes.labs_of(class_id) if lab.id == lab_id), None)
    if lab_id is not None and lab is None:
        raise NotThere("There is no such lab in this class.")
    group = _group_of(person)
    study = records.add(
        Study(
            school_class_id=class_id,
            lab_id=lab_id,
            group_id=group,
            title=lab.title[:_LONGEST_TITLE] if lab else "A question of our own",
            made_at=datetime.now(UTC),
        )
    )
    if group is not None:
        together = [one.id for one in students_of(class_id) if one.group_id == group]
        note_members(study.id, together)
    start = start_of(lab) if lab and not own_clip else None
    if start is not None:
        fill_from(start, study.id, person)
    return study.id


def _group_of(person: Person) -> int | None:
    """The group of a student, made for them alone if they have none; None for a teacher."""
    row = records.fetch(Student, person.student_id) if person.student_id else None
    if row is None or row.group_id is not None:
        return row.group_id if row else None
    taken = {group.name.casefold() for group in groups_of(row.school_class_id)}
    name = row.name if row.name.casefold() not in taken else f"{row.name}, alone"
    group = records.add(Group(school_class_id=row.school_class_id, name=name))
    move([row.id], group.id)
    return group.id


def _class_part(row: SchoolClass, person: Person) -> ClassPart:
    listed = classes.listed_studies(row.id, person)
    pictures = classes.pictures_of(row.id, person)
    with_members = groups_with_members(row.id)
    now = datetime.now(UTC)
    studies = [one for one in listed if one.study.removed_at is None]
    gone = [(one.study.removed_at, one) for one in listed if one.study.removed_at is not None]
    gone.sort(key=lambda pair: pair[0], reverse=True)
    labs = classes.labs_of(row.id)
    known = {lab.id for lab in labs}
    parts = [
        LabPart(
            lab.id,
            lab.title,
            lab.task,
            tuple(_line(one) for one in studies if one.study.lab_id == lab.id),
            due=moment_text(lab.due) if lab.due else "",
            late=lab.due is not None and lab.due < now,
            given=lab.start_id is not None,
            picture=pictures.get(lab.id),
        )
        for lab in labs
    ]
    own = tuple(_line(one) for one in studies if one.study.lab_id not in known)
    parts.append(LabPart(None, "Questions of our own", "Anything that moves.", own))
    return ClassPart(
        row.id,
        row.name,
        tuple(parts),
        tuple(_line(one) for _, one in gone),
        code=row.code,
        own_groups=row.own_groups,
        shown=row.shown_study_id,
        hands=tuple(group.name for group in with_members if group.hand_at is not None),
        groups=len(with_members),
    )


def moment_text(moment: datetime) -> str:
    """A moment as it is shown: ``16 Jan, 15:30``."""
    local = moment.astimezone()
    return f"{local.day} {local:%b, %H:%M}"


def _line(listed: Listed) -> StudyLine:
    if listed.marks:
        state = f"{listed.marks} marks"
    elif listed.footages:
        state = "footage, no marks yet"
    else:
        state = f"tables with {listed.rows} rows" if listed.rows else "empty"
    if listed.handed is not None:
        state += f" · {listed.handed}"
    changed = listed.changed.astimezone()
    study = listed.study
    return StudyLine(
        study.id,
        study.title,
        listed.group,
        state,
        f"{changed.day} {changed:%b %Y, %H:%M}",
        waits=listed.handed == "handed in",
    )


def rename_study(study: ClassStudy, title: str) -> None:
    """Give a study another title.

    Raises
    ------
    Refused : for one that is empty or too long.
    """
    title = title.strip()
    if not 0 < len(title) <= _LONGEST_TITLE:
        raise Refused(f"A title has 1 to {_LONGEST_TITLE} characters.", field="title")
    records.change(study.row, replace(study.row, title=title))


def remove_study(study: ClassStudy) -> None:
    """Take a study out of sight; it can be taken back until it is tidied away."""
    records.change(study.row, replace(study.row, removed_at=datetime.now(UTC)))


def take_back_study(person: Person, study_id: int) -> None:
    """Bring a removed study back.

    Raises
    ------
    NotThere : if the person has removed none of this key.
    """
    study = classes.removed_study(study_id, person)
    if study is None:
        raise NotThere("There is no such study here; it may belong to another group.")
    records.change(study, replace(study, removed_at=None))


@dataclass(frozen=True)
class OwnGroup:
    """A student's group with its members, and the other groups that they could go into."""

    name: str | None
    members: tuple[str, ...]
    others: tuple[tuple[int, str, int], ...]


def own_group(person: Person) -> OwnGroup:
    """The group of a student, and the others of the class: key, name and number of members."""
    row = records.fetch(Student, person.student_id or 0)
    if row is None:
        raise NotThere("Only students are in groups.")
    students, groups = students_of(row.school_class_id), groups_of(row.school_class_id)
    name = next((group.name for group in groups if group.id == row.group_id), None)
    return OwnGroup(
        name,
        tuple(one.name for one in students if name is not None and one.group_id == row.group_id),
        tuple(
            (group.id, group.name, sum(one.group_id == group.id for one in students))
            for group in groups
            if group.id != row.group_id
        ),
    )


def own_formulas(person: Person) -> list[str]:
    """Formulas that were fitted in the studies that somebody sees, the latest first."""
    return list(dict.fromkeys(classes.fitted_formulas(person, latest=_LOOKED_AT)))[:_FORMULAS]
