"""What an edit works with: the study's rows and the recorder of its changes."""

from typing import TypeVar

from footing.core.errors import Refused, Stale
from footing.media.index import MediaIndex
from footing.store.changes import Changes
from footing.store.mapping import table_name
from footing.store.rows import (
    BodyColumn,
    Footage,
    Key,
    Passage,
    Row,
    SeriesRule,
    Sheet,
    SheetColumn,
)
from footing.store.snapshot import Draft
from footing.studies.model.grounds import media_index
from footing.studies.model.kinds import FootageKind, kind_of

SomeRow = TypeVar("SomeRow", bound=Row)


class Work:
    """One edit under way on one study, inside a transaction.

    Parameters
    ----------
    rows : all that the study holds; changed with each change
    rule : how points are drawn in the study's class
    """

    def __init__(self, rows: Draft, rule: SeriesRule) -> None:
        self.rows = rows
        self.rule = rule
        self.study_id = rows.study_id
        self.changes = Changes(rows)

    def row(self, kind: type[SomeRow], key: Key) -> SomeRow:
        """A row of this study.

        Raises
        ------
        Stale : if it is not there (any more).
        """
        found = self.rows.get(kind, key)
        if found is None:
            what = table_name(kind).replace("_", " ")
            raise Stale(f"This {what} is not there any more; somebody may have removed it.")
        return found

    def column(self, key: int) -> SheetColumn | BodyColumn:
        """A column of a sheet, or one that is computed for every body of a footage.

        Raises
        ------
        Stale : if it is not there (any more).
        """
        return self.rows.get(BodyColumn, key) or self.row(SheetColumn, key)

    def check_point(self, footage: Footage, frame: int) -> None:
        """Refuse a mark in a frame that the source does not have; a picture has many points."""
        kind = self.kind(footage)
        if kind.has_time:
            self.check_frame(footage, frame)
        elif not 0 <= frame < kind.room:
            raise Refused(f"{kind.name} has room for {kind.room} points.", field="mark")

    def check_inside(self, footage: Footage, x: float, y: float) -> None:
        """Refuse a place outside the picture."""
        picture = self.picture(footage)
        if not (-0.5 <= x <= picture.width - 0.5 and -0.5 <= y <= picture.height - 0.5):
            raise Refused(f"({x:.1f}, {y:.1f}) lies outside the picture.", field="mark")

    def check_frame(self, footage: Footage, frame: float, *, field: str = "frame") -> None:
        """Refuse a frame number that the footage does not have."""
        last = self.picture(footage).frames - 1
        if not 0 <= frame <= last:
            raise Refused(f"There is no frame {frame:g}; the last one is {last}.", field=field)

    def kind(self, footage: Footage) -> FootageKind:
        """What kind of footage a source is, and what that has."""
        return kind_of(self.picture(footage))

    def picture(self, footage: Footage) -> MediaIndex:
        """What the file of a source is."""
        return media_index(footage.content)

    def unique_sheet_name(self, name: str) -> str:
        """The name, with a number behind it where a sheet of the study has it already."""
        return self.unique(name, {sheet.name for sheet in self.rows.all(Sheet)})

    def unique_body_name(self, name: str, footage: Footage) -> str:
        """The name, with a number behind it where a body of the source has it already."""
        return self.unique(name, {body.name for body in self.rows.bodies_of(footage)})

    def unique_passage_name(self, name: str, source: Footage | Sheet) -> str:
        """The name, with a number behind it where a passage of the source has it already."""
        passages: tuple[Passage, ...] = self.rows.passages_of(source)
        return self.unique(name, {passage.name for passage in passages})

    @staticmethod
    def unique(name: str, taken: set[str]) -> str:
        """The name, with a number behind it where it is taken already."""
        candidates = (name if n == 1 else f"{name} {n}" for n in range(1, len(taken) + 2))
        return next(candidate for candidate in candidates if candidate not in taken)
