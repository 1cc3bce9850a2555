"""Rows as everything above the store takes and gives them: a frozen dataclass for each table.

Their fields are the columns of the tables, by name and type; a test holds them equal. A row with
changed fields is another row (`dataclasses.replace`), which an edit stores.
"""

from footing.store.rows.base import NEW, Key, Row, key_of_row
from footing.store.rows.bodies import Body, Doubt, Follow, HiddenFrame, Mark, Member
from footing.store.rows.files import Footage, Media, PhoneLink, Surveyed, Upload
from footing.store.rows.graphs import (
    Finding,
    Fit,
    GivenParameter,
    Graph,
    OtherSeries,
    Passage,
    Sketch,
)
from footing.store.rows.ground import Ground, KnownLength, Plane, PlanePoint, StudyUnit
from footing.store.rows.hand_ins import (
    Comment,
    Criterion,
    FrozenBlock,
    FrozenNumber,
    HandIn,
)
from footing.store.rows.history import Edit
from footing.store.rows.ledgers import EnergyLedger, Impact, MomentumLedger
from footing.store.rows.models import ModelParameter, MotionLeg, MotionModel, Weather
from footing.store.rows.people import (
    Answer,
    CoTeacher,
    FailedSignIn,
    Group,
    Invitation,
    Lab,
    LabFinding,
    LabQuestion,
    SchoolClass,
    SeriesRule,
    SignIn,
    SigningKey,
    Student,
    Study,
    StudyLink,
    StudyMember,
    StudyPlace,
    Teacher,
)
from footing.store.rows.reports import ReportBlock
from footing.store.rows.sheets import (
    AnyColumn,
    BodyColumn,
    Cells,
    RowAside,
    Sheet,
    SheetColumn,
    StudyQuantity,
)

__all__ = [
    "NEW",
    "Answer",
    "AnyColumn",
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
    "FrozenBlock",
    "FrozenNumber",
    "GivenParameter",
    "Graph",
    "Ground",
    "Group",
    "HandIn",
    "HiddenFrame",
    "Impact",
    "Invitation",
    "Key",
    "KnownLength",
    "Lab",
    "LabFinding",
    "LabQuestion",
    "Mark",
    "Media",
    "Member",
    "ModelParameter",
    "MomentumLedger",
    "MotionLeg",
    "MotionModel",
    "OtherSeries",
    "Passage",
    "PhoneLink",
    "Plane",
    "PlanePoint",
    "ReportBlock",
    "Row",
    "RowAside",
    "SchoolClass",
    "SeriesRule",
    "Sheet",
    "SheetColumn",
    "SignIn",
    "SigningKey",
    "Sketch",
    "Student",
    "Study",
    "StudyLink",
    "StudyMember",
    "StudyPlace",
    "StudyQuantity",
    "StudyUnit",
    "Surveyed",
    "Teacher",
    "Upload",
    "Weather",
    "key_of_row",
]
