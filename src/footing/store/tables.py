"""What is stored. Marks are pixels, moments are frames; nothing that can be computed is kept."""

from typing import TYPE_CHECKING, Any

from peewee import (
    SQL,
    BigIntegerField,
    BlobField,
    BooleanField,
    CharField,
    CompositeKey,
    DoubleField,
    ForeignKeyField,
    IntegerField,
    Model,
    TextField,
)
from playhouse.postgres_ext import ArrayField, BinaryJSONField, DateTimeTZField

from footing.store.database import database

_NOW = [SQL("DEFAULT now()")]


class Table(Model):
    """Base of all tables."""

    if TYPE_CHECKING:  # peewee makes keys and the columns of references by itself
        id: Any

        def __getattr__(self, name: str) -> Any: ...  # noqa: D105

    class Meta:
        """Bound when the process starts."""

        database = database
        legacy_table_names = False


class Teacher(Table):
    """A teacher; without a password hash nobody can sign in as them by password."""

    name = TextField()
    password_hash = TextField(null=True)


class SchoolClass(Table):
    """A class of a teacher, with the code by which its students join.

    series_look : how points are drawn where nobody chose: form, size, joined; dashed for its fits
    """

    teacher = ForeignKeyField(Teacher)
    name = TextField()
    code = CharField(unique=True)
    series_look = BinaryJSONField(index=False, default=dict)


class Group(Table):
    """Students of a class who work together."""

    school_class = ForeignKeyField(SchoolClass)
    name = TextField()

    class Meta:
        """``group`` is a word of SQL."""

        table_name = "student_group"


class Student(Table):
    """A student in a group."""

    group = ForeignKeyField(Group)
    name = TextField()


class Lab(Table):
    """A task that a teacher sets for a class.

    tells_meanings : whether fits say what their numbers mean; if not, students say it themselves
    """

    school_class = ForeignKeyField(SchoolClass)
    title = TextField()
    task = TextField()
    tells_meanings = BooleanField(default=True)


class SignIn(Table):
    """A session: the hash of a cookie's token, and who it stands for."""

    token_hash = CharField(primary_key=True)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    expires = DateTimeTZField()


class Study(Table):
    """The work of a group (or of the class's teacher, without a group) on a lab or a question.

    ``seq`` is the number of the latest edit.
    """

    school_class = ForeignKeyField(SchoolClass)
    lab = ForeignKeyField(Lab, null=True)
    group = ForeignKeyField(Group, null=True)
    title = TextField()
    seq = IntegerField(default=0)


class Media(Table):
    """An uploaded file, known by the SHA-256 of its content, with its index.

    The size of its picture and the number of its frames stand beside the index, because every mark
    is checked against them.

    kind : ``video`` or ``picture``
    survey : what looking through all frames found; empty until that was done
    """

    content = CharField(primary_key=True)
    size = BigIntegerField()
    frames = IntegerField()
    width = IntegerField()
    height = IntegerField()
    index = BinaryJSONField(index=False)
    kind = TextField()
    survey = BinaryJSONField(index=False, null=True)


class PhoneLink(Table):
    """A link by which a phone may send files into a study, in the name of who made it."""

    study = ForeignKeyField(Study)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    expires = DateTimeTZField()
    revoked = BooleanField(default=False)


class Upload(Table):
    """A file that is arriving, or has arrived.

    size : bytes announced; replaces : the footage whose file it takes the place of
    state : ``arriving``, ``used`` or ``refused`` (with the reason); made : the footage
    """

    id = CharField(primary_key=True)
    study = ForeignKeyField(Study)
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    link = ForeignKeyField(PhoneLink, null=True)
    name = TextField()
    size = BigIntegerField()
    replaces = IntegerField(null=True)
    state = TextField(default="arriving")
    reason = TextField(null=True)
    made = IntegerField(null=True)
    started_at = DateTimeTZField(constraints=_NOW)


class SigningKey(Table):
    """With what links are signed."""

    key = TextField()


class Edit(Table):
    """One change of a study, with its inverse: the row changes, each with before and after.

    touched : names of what it changed or relied on, see `footing.store.changes`
    target : for an undo or a redo, the ``seq`` of the edit that it acts on
    standing : false once it was undone (an edit) or redone (an undo)
    token : chosen by the sender, so that a repeated request is not a second edit
    run : what several edits belong to that are undone together
    """

    study = ForeignKeyField(Study)
    seq = IntegerField()
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    person_name = TextField()
    kind = TextField()
    label = TextField()
    payload = BinaryJSONField(index=False)
    changes = BinaryJSONField(index=False)
    touched = ArrayField(TextField, index=False)
    based_on = IntegerField()
    target = IntegerField(null=True)
    standing = BooleanField(default=True)
    token = TextField()
    run = TextField(null=True)
    made_at = DateTimeTZField(constraints=_NOW)


class Footage(Table):
    """A video or a picture that a study measures on, with its span and stride.

    digits : by the key of a measured column, how many digits are shown and of which kind
    """

    study = ForeignKeyField(Study)
    media = ForeignKeyField(Media, column_name="content", object_id_name="media_id")
    name = TextField()
    first = IntegerField()
    last = IntegerField()
    stride = IntegerField()
    digits = BinaryJSONField(index=False, default=dict)


class Ground(Table):
    """Zero, axes, up and clock of a footage. Angles are in radians.

    quarter, mirror : turn and mirror by hand
    levelled : ``level`` or ``plumb``, what up was set by; empty for up in the picture as seen
    height_x, height_y : zero of height; empty where it is zero itself
    clock : ``file``, ``capture`` (clock_typed is the capture rate) or ``moments`` (clock_typed is
        the true time between the frames clock_first and clock_last)
    readout : milliseconds in which the camera reads the picture, as typed
    camera_distance : metres from the camera to the motion, as typed
    """

    footage = ForeignKeyField(Footage, primary_key=True)
    study = ForeignKeyField(Study)
    zero_x = DoubleField()
    zero_y = DoubleField()
    zero_placed = BooleanField()
    angle = DoubleField()
    flip_x = BooleanField()
    flip_y = BooleanField()
    zero_frame = IntegerField()
    pixel_uncertainty = DoubleField()
    quarter = IntegerField(default=0)
    mirror = BooleanField(default=False)
    up = DoubleField()
    levelled = TextField(null=True)
    height_x = DoubleField(null=True)
    height_y = DoubleField(null=True)
    clock = TextField(default="file")
    clock_typed = TextField(null=True)
    clock_first = IntegerField(null=True)
    clock_last = IntegerField(null=True)
    readout = TextField(null=True)
    camera_distance = TextField(null=True)


class KnownLength(Table):
    """A line drawn in a frame; ``typed`` and ``unit`` are empty until somebody types a length.

    hidden : not drawn, but used as before
    nearer : metres by which it lies nearer to the camera than the motion, as typed
    """

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage)
    frame = IntegerField()
    start_x = DoubleField()
    start_y = DoubleField()
    end_x = DoubleField()
    end_y = DoubleField()
    typed = TextField(null=True)
    unit = TextField(null=True)
    hidden = BooleanField(default=False)
    nearer = TextField(null=True)


class Plane(Table):
    """An oblique view: a rectangle seen in a frame, and its two sides as typed."""

    footage = ForeignKeyField(Footage, primary_key=True)
    study = ForeignKeyField(Study)
    frame = IntegerField()
    across = TextField(null=True)
    along = TextField(null=True)
    unit = TextField()


class PlanePoint(Table):
    """A point of an oblique view. Places 0 to 3 are the corners, counter-clockwise.

    The others have their own place in the plane, as typed in the plane's unit.
    """

    study = ForeignKeyField(Study)
    plane = ForeignKeyField(Plane)
    place = IntegerField()
    x = DoubleField()
    y = DoubleField()
    across = TextField(null=True)
    along = TextField(null=True)


class Body(Table):
    """An object that is tracked. ``look`` numbers its colour and shape.

    background : a fixed spot that says how the camera moved
    kind : ``marked``; ``centre`` (of mass) or ``relative`` (the first of its members seen from the
        second), which have members instead of marks
    second_of : the body whose second spot this is; both together say how it turns
    first, last, stride : its own motion within the span; empty as in the span
    spot : which spot of it is marked, in words
    size : its diameter, as typed, in ``size_unit``
    """

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage)
    name = TextField()
    look = IntegerField()
    mass = TextField(null=True)
    mass_unit = TextField(null=True)
    background = BooleanField(default=False)
    kind = TextField(default="marked")
    second_of = ForeignKeyField("self", null=True)
    first = IntegerField(null=True)
    last = IntegerField(null=True)
    stride = IntegerField(null=True)
    spot = TextField(null=True)
    size = TextField(null=True)
    size_unit = TextField(null=True)


class Member(Table):
    """A body that another, derived one is made from, in their order."""

    body = ForeignKeyField(Body)
    other = ForeignKeyField(Body)
    study = ForeignKeyField(Study)
    place = IntegerField()

    class Meta:
        """One for each pair."""

        primary_key = CompositeKey("body", "other")


class Mark(Table):
    """Where a body is in one frame, in pixels.

    On a picture ``frame`` is the point's number in the order of marking.

    quality : from 0 to 1 where it was made by following; empty where it was made by hand
    aside : set aside, because it is doubtful; it stays, but does not count
    reason : why it was, if somebody said so
    """

    body = ForeignKeyField(Body)
    frame = IntegerField()
    study = ForeignKeyField(Study)
    x = DoubleField()
    y = DoubleField()
    quality = DoubleField(null=True)
    aside = BooleanField(default=False)
    reason = TextField(null=True)

    class Meta:
        """One mark for a body in a frame."""

        primary_key = CompositeKey("body", "frame")


class HiddenFrame(Table):
    """A frame in which somebody said that a body is hidden."""

    body = ForeignKeyField(Body)
    frame = IntegerField()
    study = ForeignKeyField(Study)

    class Meta:
        """Said once."""

        primary_key = CompositeKey("body", "frame")


class Doubt(Table):
    """A frame that following left open, with what it would have marked, if anything."""

    body = ForeignKeyField(Body)
    frame = IntegerField()
    study = ForeignKeyField(Study)
    x = DoubleField(null=True)
    y = DoubleField(null=True)
    quality = DoubleField()

    class Meta:
        """One for a body in a frame."""

        primary_key = CompositeKey("body", "frame")


class Follow(Table):
    """Following some bodies through frames, asked for by a person; done in the background.

    first, last : frames, both included; backwards where the first is larger
    stop_level : quality under which a frame is left open
    over_hand : whether marks made by hand are replaced, too
    reach, search : pixels of the patch and of the search area; chosen if empty
    state : ``waiting``, ``running``, ``paused``, ``stopped`` or ``done``
    at : the last frame that was looked at
    said : how it went
    """

    study = ForeignKeyField(Study)
    footage_id = IntegerField()
    teacher = ForeignKeyField(Teacher, null=True)
    student = ForeignKeyField(Student, null=True)
    bodies = ArrayField(IntegerField, index=False)
    first = IntegerField()
    last = IntegerField()
    stop_level = DoubleField()
    over_hand = BooleanField(default=False)
    reach = IntegerField(null=True)
    search = IntegerField(null=True)
    state = TextField(default="waiting")
    at = IntegerField(null=True)
    said = TextField(null=True)
    asked_at = DateTimeTZField(constraints=_NOW)


class Sheet(Table):
    """Columns of numbers.

    kind : ``typed`` for a table of its own; ``eye`` for one whose rows are moments of a footage,
        read by eye; ``bodies`` for the columns that are computed for every body of a footage
    rows : how many rows it has; those of ``bodies`` are the marks of each
    """

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage, null=True)
    kind = TextField(default="typed")
    name = TextField()
    rows = IntegerField(default=0)


class SheetColumn(Table):
    """A column of a sheet.

    place : its order; symbol : what formulas call it; unit : as printed
    formula : what it is computed by; empty for a typed column
    digits, digits_as : how many are shown, as ``decimals`` or ``significant``; as in the data if
        empty
    uncertainty : of each value, as typed, in the unit; that of the last digit if empty
    scatter, seed : of practice data, the size of what is added by chance, as typed
    blocks : the cells of a typed column, so many in each block, by the key of `Cells`
    """

    study = ForeignKeyField(Study)
    sheet = ForeignKeyField(Sheet)
    place = IntegerField()
    name = TextField()
    symbol = TextField()
    unit = TextField()
    formula = TextField(null=True)
    digits = IntegerField(null=True)
    digits_as = TextField(null=True)
    uncertainty = TextField(null=True)
    scatter = TextField(null=True)
    seed = IntegerField(null=True)
    blocks = ArrayField(TextField, index=False, default=list)


class RowAside(Table):
    """A row of a sheet that is set aside, and why; it stays, but does not count."""

    sheet = ForeignKeyField(Sheet)
    row = IntegerField()
    study = ForeignKeyField(Study)
    reason = TextField(default="")

    class Meta:
        """Once for each row."""

        primary_key = CompositeKey("sheet", "row")


class StudyQuantity(Table):
    """A quantity of the study that formulas can name: a mass, an angle, g; as typed."""

    study = ForeignKeyField(Study)
    symbol = TextField()
    name = TextField()
    typed = TextField()
    unit = TextField()


class Cells(Table):
    """Cells as they were typed, one a line, compressed; known by their hash and never changed.

    wrong : place (from 0) and text of each cell that is no number; null where nobody looked yet
    """

    key = CharField(primary_key=True)
    texts = BlobField()
    wrong = BinaryJSONField(index=False, null=True)


class Passage(Table):
    """A named stretch of a footage, in frame numbers (halves allowed), or of the rows of a sheet.

    Both ends are included. Rows count from 1.
    """

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage, null=True)
    sheet = ForeignKeyField(Sheet, null=True)
    name = TextField()
    first = DoubleField()
    last = DoubleField()


class Graph(Table):
    """What is plotted against what, on one of the graphs of a source.

    place : its order among those of the source, from the top
    x, ys : keys of columns; as many ys as there are series
    title, x_title, y_title : empty for those that follow from the columns
    x_low … y_high : typed limits, empty where they follow from the data
    hidden : bodies that are not shown
    looks : how series are drawn, by the key of the column: form, size, joined
    others : series of other sheets that are shown with them: sheet, x, y
    sketch : what was expected before the data were seen: x, y, and a line as points
    legend : whether it says what stands for what
    """

    study = ForeignKeyField(Study)
    footage = ForeignKeyField(Footage, null=True)
    sheet = ForeignKeyField(Sheet, null=True)
    place = IntegerField(default=0)
    x = TextField()
    ys = ArrayField(TextField, index=False)
    include_zero = BooleanField(default=False)
    title = TextField(null=True)
    x_title = TextField(null=True)
    y_title = TextField(null=True)
    x_low = DoubleField(null=True)
    x_high = DoubleField(null=True)
    y_low = DoubleField(null=True)
    y_high = DoubleField(null=True)
    error_bars = BooleanField(default=False)
    hidden = ArrayField(IntegerField, index=False, default=list)
    looks = BinaryJSONField(index=False, default=dict)
    others = BinaryJSONField(index=False, default=list)
    sketch = BinaryJSONField(index=False, default=dict)
    legend = BooleanField(default=True)


class StudyUnit(Table):
    """The unit in which a study shows its lengths; metres without a row."""

    study = ForeignKeyField(Study, primary_key=True)
    length = TextField()


class Fit(Table):
    """A curve through a series: the y of a body or a sheet against its x.

    curve, formula : a named curve, or ``own`` with its formula
    passages : those it goes over; all points if there are none
    points : frames or rows that were selected instead
    given : by parameter: start, fixed, low, high
    label : what it is called on the graph; dashed, colour : how its line is drawn
    box : where on the graph its results stand, as shares of its width and height; by itself if
        empty
    """

    study = ForeignKeyField(Study)
    body = ForeignKeyField(Body, null=True)
    sheet = ForeignKeyField(Sheet, null=True)
    x = TextField()
    y = TextField()
    curve = TextField()
    formula = TextField(null=True)
    passages = ArrayField(IntegerField, index=False, default=list)
    points = ArrayField(IntegerField, index=False, null=True)
    given = BinaryJSONField(index=False, default=dict)
    label = TextField(null=True)
    dashed = BooleanField(default=False)
    colour = TextField(null=True)
    box = BinaryJSONField(index=False, null=True)


class Finding(Table):
    """A result, and what it is compared with.

    fit, reading : read from a fit, by the key of the reading
    formula : computed from the parameters of the fit and from quantities and findings of the study
    symbol : by which formulas call it
    unit : in which a computed one is wanted; the one that follows if empty
    column : of whose values it is the mean
    other : a second finding that it is compared with
    """

    study = ForeignKeyField(Study)
    fit = ForeignKeyField(Fit, null=True)
    reading = TextField(null=True)
    formula = TextField(null=True)
    symbol = TextField(null=True)
    unit = TextField(null=True)
    column = ForeignKeyField(SheetColumn, null=True)
    other = ForeignKeyField("self", null=True)
    name = TextField()
    as_size = BooleanField()
    accepted = TextField(null=True)
    accepted_uncertainty = TextField(null=True)


# What edits change, in the order in which rows rest on each other.
CONTENT: tuple[type[Table], ...] = (
    *(Footage, Ground, KnownLength, Plane, PlanePoint, Body, Member, Mark, HiddenFrame, Doubt),
    *(Sheet, SheetColumn, RowAside, StudyQuantity, Passage, Graph, Fit, Finding, StudyUnit),
)
ALL: tuple[type[Table], ...] = (
    *(Teacher, SchoolClass, Group, Student, Lab, SignIn, Study, Media, PhoneLink, Upload),
    *(SigningKey, Edit, Follow, Cells),
    *CONTENT,
)


def table_name(table: type[Table]) -> str:
    """Name of a table in the database."""
    meta: Any = table._meta
    return str(meta.table_name)
