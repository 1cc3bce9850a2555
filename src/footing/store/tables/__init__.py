"""What is stored. Marks are pixels, moments are frames; nothing that can be computed is kept."""

from footing.store.tables.base import Table, table_name
from footing.store.tables.bodies import Body, Doubt, Follow, HiddenFrame, Mark, Member
from footing.store.tables.files import Footage, Media, PhoneLink, Upload
from footing.store.tables.findings import Finding
from footing.store.tables.graphs import Fit, Graph, Passage
from footing.store.tables.ground import Ground, KnownLength, Plane, PlanePoint, StudyUnit
from footing.store.tables.hand_ins import Comment, Criterion, HandIn
from footing.store.tables.history import Edit
from footing.store.tables.ledgers import EnergyLedger, Impact, MomentumLedger
from footing.store.tables.models import MotionLeg, MotionModel, Weather
from footing.store.tables.people import (
    Answer,
    CoTeacher,
    FailedSignIn,
    Group,
    Invitation,
    Lab,
    LabFinding,
    LabQuestion,
    SchoolClass,
    SignIn,
    SigningKey,
    Student,
    Study,
    StudyLink,
    StudyMember,
    StudyPlace,
    Teacher,
)
from footing.store.tables.reports import ReportBlock
from footing.store.tables.sheets import (
    BodyColumn,
    Cells,
    RowAside,
    Sheet,
    SheetColumn,
    StudyQuantity,
)

__all__ = [
    "ALL",
    "CONTENT",
    "Answer",
    "Body",
    "BodyColumn",
    "Cells",
    "CoTeacher",
    "Comment",
    "Criterion",
    "Doubt",
    "Edit",
    "EnergyLedger",
    "FailedSignIn",
    "Finding",
    "Fit",
    "Follow",
    "Footage",
    "Graph",
    "Ground",
    "Group",
    "HandIn",
    "HiddenFrame",
    "Impact",
    "Invitation",
    "KnownLength",
    "Lab",
    "LabFinding",
    "LabQuestion",
    "Mark",
    "Media",
    "Member",
    "MomentumLedger",
    "MotionLeg",
    "MotionModel",
    "Passage",
    "PhoneLink",
    "Plane",
    "PlanePoint",
    "ReportBlock",
    "RowAside",
    "SchoolClass",
    "Sheet",
    "SheetColumn",
    "SignIn",
    "SigningKey",
    "Student",
    "Study",
    "StudyLink",
    "StudyMember",
    "StudyPlace",
    "StudyQuantity",
    "StudyUnit",
    "Table",
    "Teacher",
    "Upload",
    "Weather",
    "table_name",
]

# What edits change, in the order in which rows rest on each other.
CONTENT: tuple[type[Table], ...] = (
    *(Footage, Ground, KnownLength, Plane, PlanePoint, Body, Member, Mark, HiddenFrame, Doubt),
    *(BodyColumn, Sheet, SheetColumn, RowAside, StudyQuantity),
    *(Passage, Graph, Fit, MotionModel, MotionLeg, Weather, Finding, StudyUnit),
    *(Impact, EnergyLedger, MomentumLedger, Answer, ReportBlock),
)
ALL: tuple[type[Table], ...] = (
    *(Teacher, SchoolClass, CoTeacher, Invitation, Group, Student, Lab, LabFinding, LabQuestion),
    *(Study, StudyLink, SignIn, Media, PhoneLink, Upload),
    *(SigningKey, FailedSignIn, Edit, Follow, Cells, StudyPlace, StudyMember),
    *(HandIn, Comment, Criterion),
    *CONTENT,
)
