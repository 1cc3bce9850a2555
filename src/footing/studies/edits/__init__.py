"""The edits: everything that a person can change in a study, one small model each.

An edit says in its fields what it does, in `label` how the history names it, and in `apply` which
rows change. It never changes rows except through `Work.changes`, so its inverse is known.
"""

from typing import Annotated

from pydantic import Field

from footing.studies.edits.bodies import (
    AddBody,
    ChangeBody,
    PlaceMark,
    RemoveBody,
    RemoveMark,
)
from footing.studies.edits.findings import AddFinding, ChangeFinding, RemoveFinding
from footing.studies.edits.footage import AddFootage, RemoveFootage, SetSpan
from footing.studies.edits.graphs import AddFit, ChangeFit, RemoveFit, SetGraph
from footing.studies.edits.ground import (
    AddKnownLength,
    MoveKnownLength,
    RemoveKnownLength,
    SetPixelUncertainty,
    SetZero,
    SetZeroFrame,
    TurnAxes,
    TypeKnownLength,
)
from footing.studies.edits.passages import AddPassage, ChangePassage, RemovePassage

AnyEdit = Annotated[
    AddFootage
    | RemoveFootage
    | SetSpan
    | AddKnownLength
    | MoveKnownLength
    | TypeKnownLength
    | RemoveKnownLength
    | SetZero
    | TurnAxes
    | SetZeroFrame
    | SetPixelUncertainty
    | AddBody
    | ChangeBody
    | RemoveBody
    | PlaceMark
    | RemoveMark
    | AddPassage
    | ChangePassage
    | RemovePassage
    | SetGraph
    | AddFit
    | ChangeFit
    | RemoveFit
    | AddFinding
    | ChangeFinding
    | RemoveFinding,
    Field(discriminator="kind"),
]

__all__ = ["AnyEdit"]
