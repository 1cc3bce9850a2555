"""The edits: everything that a person can change in a study, one small model each.

An edit says in its fields what it does, in `label` how the history names it, and in `apply` which
rows change. It never changes rows except through `Work.changes`, so its inverse is known.
"""

from typing import Annotated

from pydantic import Field

from footing.studies.edits.bodies import (
    AddBody,
    ChangeBody,
    RemoveBody,
    SetBodySpan,
)
from footing.studies.edits.clock import SetClock, SetReadout, SetZeroFrame
from footing.studies.edits.columns import (
    AddColumn,
    ChangeColumn,
    FillColumn,
    FreezeColumn,
    MoveColumn,
    RemoveColumn,
    SetFormula,
)
from footing.studies.edits.derived import AddCentre, AddRelative, AddSecondSpot
from footing.studies.edits.digits import SetDigits
from footing.studies.edits.findings import AddFinding, ChangeFinding, RemoveFinding
from footing.studies.edits.fits import AddFit, ChangeFit, PlaceBox, RemoveFit
from footing.studies.edits.following import DecideDoubt, FollowMarks
from footing.studies.edits.footage import (
    AddFootage,
    CopyGround,
    RemoveFootage,
    RenameFootage,
    ReplaceFootage,
    SetSpan,
    TurnView,
)
from footing.studies.edits.graphs import RemoveGraph, SetGraph
from footing.studies.edits.ground import (
    AlignAxes,
    LevelUp,
    ResetUp,
    SetHeightZero,
    SetZero,
    SetZeroOnMark,
    TurnAxes,
)
from footing.studies.edits.highlights import Highlight
from footing.studies.edits.lengths import (
    AddKnownLength,
    HideKnownLength,
    MoveKnownLength,
    RemoveKnownLength,
    SetCameraDistance,
    SetDepth,
    SetPixelUncertainty,
    SetUnit,
    TypeKnownLength,
)
from footing.studies.edits.marks import (
    HideBody,
    PlaceMark,
    PlaceMarks,
    RemoveMark,
    RemoveMarks,
    SetMarkAside,
    ShiftMarks,
    SwapMarks,
)
from footing.studies.edits.passages import AddPassage, ChangePassage, RemovePassage
from footing.studies.edits.plane import (
    AddPlanePoint,
    DrawPlane,
    MovePlanePoint,
    RemovePlane,
    RemovePlanePoint,
    TypePlane,
    TypePlanePoint,
)
from footing.studies.edits.quantities import RemoveQuantity, SetQuantity
from footing.studies.edits.sheets import (
    AddReading,
    AddSheet,
    InsertRows,
    PasteCells,
    ReadByEye,
    RemoveRows,
    RemoveSheet,
    RenameSheet,
    SetCells,
    SetRowAside,
)
from footing.studies.edits.straighten import Straighten

AnyEdit = Annotated[
    AddFootage
    | RenameFootage
    | ReplaceFootage
    | CopyGround
    | TurnView
    | RemoveFootage
    | SetSpan
    | AddKnownLength
    | MoveKnownLength
    | TypeKnownLength
    | HideKnownLength
    | SetDepth
    | SetCameraDistance
    | RemoveKnownLength
    | SetPixelUncertainty
    | SetUnit
    | SetZero
    | SetZeroOnMark
    | TurnAxes
    | AlignAxes
    | LevelUp
    | ResetUp
    | SetHeightZero
    | DrawPlane
    | TypePlane
    | AddPlanePoint
    | MovePlanePoint
    | TypePlanePoint
    | RemovePlanePoint
    | RemovePlane
    | SetClock
    | SetZeroFrame
    | SetReadout
    | AddBody
    | ChangeBody
    | SetBodySpan
    | AddCentre
    | AddRelative
    | AddSecondSpot
    | RemoveBody
    | PlaceMark
    | PlaceMarks
    | RemoveMark
    | HideBody
    | SetMarkAside
    | FollowMarks
    | DecideDoubt
    | ShiftMarks
    | RemoveMarks
    | SwapMarks
    | AddPassage
    | ChangePassage
    | RemovePassage
    | AddSheet
    | RenameSheet
    | RemoveSheet
    | ReadByEye
    | AddReading
    | SetCells
    | PasteCells
    | InsertRows
    | RemoveRows
    | SetRowAside
    | AddColumn
    | ChangeColumn
    | SetFormula
    | FreezeColumn
    | FillColumn
    | MoveColumn
    | RemoveColumn
    | SetQuantity
    | RemoveQuantity
    | SetGraph
    | Straighten
    | RemoveGraph
    | AddFit
    | ChangeFit
    | PlaceBox
    | SetDigits
    | Highlight
    | RemoveFit
    | AddFinding
    | ChangeFinding
    | RemoveFinding,
    Field(discriminator="kind"),
]

__all__ = ["AnyEdit"]
