"""What an edit works with: the study's rows and the recorder of its changes."""

from dataclasses import dataclass, field
from typing import Any, TypeVar

from footing.core.errors import Refused, Stale
from footing.store.changes import Changes
from footing.store.tables import Body, Media, Passage, Sheet, Table, table_name

POINTS_ON_A_PICTURE = 10_000

SomeTable = TypeVar("SomeTable", bound=Table)


@dataclass
class Work:
    """One edit under way on one study, inside a transaction."""

    study_id: int
    changes: Changes = field(default_factory=Changes)
    _pictures: dict[str, Any] = field(default_factory=dict)

    def row(self, table: type[SomeTable], key: int) -> Any:
        """A row of this study.

        Raises
        ------
        Stale : if it is not there (any more).
        """
        found: Any = table.get_or_none(table._meta.primary_key == key)
        if found is None or found.study_id != self.study_id:
            what = table_name(table).replace("_", " ")
            raise Stale(f"This {what} is not there any more; somebody may have removed it.")
        return found

    def rows(self, table: type[SomeTable], **where: Any) -> list[Any]:
        """Rows of this study for which all fields have these values."""
        query = table.select().where(table.study == self.study_id)  # type: ignore[attr-defined]
        for name, value in where.items():
            query = query.where(getattr(table, name) == value)
        return list(query)

    def check_point(self, footage: Any, frame: int) -> None:
        """Refuse a mark in a frame that the source does not have; a picture has many points."""
        if self.picture(footage).kind != "picture":
            self.check_frame(footage, frame)
        elif not 0 <= frame < POINTS_ON_A_PICTURE:
            raise Refused(f"A picture has room for {POINTS_ON_A_PICTURE} points.", field="mark")

    def check_inside(self, footage: Any, x: float, y: float) -> None:
        """Refuse a place outside the picture."""
        picture = self.picture(footage)
        if not (-0.5 <= x <= picture.width - 0.5 and -0.5 <= y <= picture.height - 0.5):
            raise Refused(f"({x:.1f}, {y:.1f}) lies outside the picture.", field="mark")

    def check_frame(self, footage: Any, frame: float, *, field: str = "frame") -> None:
        """Refuse a frame number that the footage does not have."""
        last = self.picture(footage).frames - 1
        if not 0 <= frame <= last:
            raise Refused(f"There is no frame {frame:g}; the last one is {last}.", field=field)

    def picture(self, footage: Any) -> Any:
        """Kind, number of frames, width and height of a source, without its whole index."""
        content = footage.media_id
        if content not in self._pictures:
            columns = (Media.content, Media.kind, Media.frames, Media.width, Media.height)
            row = Media.select(*columns).where(Media.content == content).get()
            self._pictures[content] = row
        return self._pictures[content]

    def unique_sheet_name(self, name: str) -> str:
        """The name, with a number behind it where a sheet of the study has it already."""
        return self._unique(name, {row.name for row in self.rows(Sheet)})

    def unique_name(self, table: type[Body] | type[Passage], name: str, **source: Any) -> str:
        """The name, with a number behind it where the source has one of that name already."""
        return self._unique(name, {row.name for row in self.rows(table, **source)})

    @staticmethod
    def _unique(name: str, taken: set[str]) -> str:
        candidates = (name if n == 1 else f"{name} {n}" for n in range(1, len(taken) + 2))
        return next(candidate for candidate in candidates if candidate not in taken)
