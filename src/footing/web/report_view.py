"""A report as the page shows it and a program gets it, and what was handed in."""

from typing import TypedDict

from footing.formats.document import Picture
from footing.formats.document_html import part_html
from footing.store.rows import HandIn
from footing.studies.report.report import Report, ShownBlock
from footing.studies.report.values import ValueShape
from footing.studies.school.lists import moment_text


class BlockShape(TypedDict):
    """A block of a report.

    number : ``Figure 2``; html : what it shows; picture : its address, empty where there is none
    problem : why it shows nothing
    """

    id: int
    kind: str
    about: str
    words: str
    caption: str
    columns: list[str]
    first: int | None
    last: int | None
    shows: list[str]
    every: int
    number: str
    html: str
    picture: str
    problem: str


class OfferShape(TypedDict):
    """Something that can be put in, as an edit wants it."""

    group: str
    name: str
    block: str
    about: str
    shows: list[str]
    columns: list[str]
    every: int


class ReportShape(TypedDict):
    """A report. named_values : what sentences can name in braces"""

    title: str
    names: list[str]
    blocks: list[BlockShape]
    named_values: list[ValueShape]
    offers: list[OfferShape]


def report_view(report: Report) -> ReportShape:
    """A report, JSON-ready."""
    return {
        "title": report.title,
        "names": list(report.names),
        "blocks": [_block(report.study_id, block) for block in report.blocks],
        "named_values": list(report.values),
        "offers": [
            {
                "group": one.group,
                "name": one.name,
                "block": one.block.value,
                "about": one.about,
                "shows": list(one.shows),
                "columns": list(one.columns),
                "every": one.every,
            }
            for one in report.offers
        ],
    }


def _block(study_id: int, block: ShownBlock) -> BlockShape:
    row, figure = block.row, block.shows.figure
    picture = ""
    if figure is not None:
        picture = f"/api/studies/{study_id}/report/blocks/{row.id}.svg?of={figure.version}"

    def source_of(_picture: Picture) -> str:
        return picture

    return {
        "id": row.id,
        "kind": row.kind,
        "about": row.about,
        "words": row.words,
        "caption": row.caption,
        "columns": row.columns,
        "first": row.first,
        "last": row.last,
        "shows": row.shows,
        "every": row.every,
        "number": block.number,
        "html": "".join(part_html(part, source_of) for part in block.shows.parts),
        "picture": picture,
        "problem": block.shows.problem or "",
    }


class HandInShape(TypedDict):
    """What was handed in. at : when, in words of the school's clock"""

    id: int
    number: int
    at: str
    by: str
    names: list[str]
    late: bool
    returned: bool
    again: bool


def hand_in_view(hand_in: HandIn) -> HandInShape:
    """What was handed in, JSON-ready, without what it holds."""
    return {
        "id": hand_in.id,
        "number": hand_in.number,
        "at": moment_text(hand_in.made_at),
        "by": hand_in.person_name,
        "names": hand_in.names,
        "late": hand_in.late,
        "returned": hand_in.returned_at is not None,
        "again": hand_in.again,
    }
