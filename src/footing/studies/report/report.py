"""A report as it stands: its blocks with what they show, and the document that they make."""

from dataclasses import dataclass
from functools import cached_property

from footing.formats.document import Document, Grid, Picture
from footing.store import pupils
from footing.store.access import ClassStudy
from footing.store.rows import ReportBlock
from footing.studies.report.blocks import Reader, Shows
from footing.studies.report.figures import Figure
from footing.studies.report.offers import Offer, offers
from footing.studies.report.values import ValueShape
from footing.studies.report_keys import BlockKind
from footing.studies.school.people import Person


@dataclass(frozen=True)
class ShownBlock:
    """A block with what it shows."""

    row: ReportBlock
    shows: Shows

    @property
    def number(self) -> str:
        """Its number: ``Figure 2``; empty where it has none."""
        numbered = (part for part in self.shows.parts if isinstance(part, Picture | Grid))
        return next((part.caption.number for part in numbered), "")


@dataclass(frozen=True)
class Report:
    """The report of a study as one person sees it.

    seq : of the latest edit that it shows
    values : what sentences can name; offers : what can be put in
    """

    study_id: int
    seq: int
    title: str
    names: tuple[str, ...]
    blocks: tuple[ShownBlock, ...]
    values: tuple[ValueShape, ...]
    offers: tuple[Offer, ...]

    @cached_property
    def document(self) -> Document:
        """All blocks as one document."""
        parts = [part for block in self.blocks for part in block.shows.parts]
        return Document(self.title, self.names, parts)

    @property
    def figures(self) -> dict[str, Figure]:
        """What its pictures are made of, by their names."""
        return {
            str(block.row.id): block.shows.figure
            for block in self.blocks
            if block.shows.figure is not None
        }

    def figure(self, block_id: int) -> Figure | None:
        """What the picture of a block is made of."""
        return self.figures.get(str(block_id))


def report_of(study: ClassStudy, person: Person, *, handed_in: str = "") -> Report:
    """The report of a study; ``handed_in`` is said below its title.

    What a lab does not tell this person is not in it either.
    """
    names = names_of(study)
    lab = study.lab.title if study.lab is not None else ""
    parts = (study.school_class.name, lab, handed_in)
    reader = Reader(study, person, names, " · ".join(part for part in parts if part))
    blocks = tuple(ShownBlock(row, reader.shows(row)) for row in reader.rows.report)
    titled = (row.words.strip() for row in reader.rows.report if row.kind == BlockKind.TITLE)
    return Report(
        study_id=study.id,
        seq=reader.rows.seq,
        title=next((words for words in titled if words), study.title),
        names=names,
        blocks=blocks,
        values=tuple(reader.values.offered),
        offers=tuple(offers(reader.rows, reader.task)),
    )


def names_of(study: ClassStudy) -> tuple[str, ...]:
    """Who works on a study: the students of its group and whoever worked on it."""
    group = study.row.group_id
    return tuple(pupils.names_at_work(study.id, group))
