"""What a report of a study is made of."""

from dataclasses import dataclass, field

from footing.store.rows.base import NEW, Row


@dataclass(frozen=True, slots=True, kw_only=True)
class ReportBlock(Row):
    """One block of the report: something of the study, or words.

    place : its order, from the top
    kind, about : what it shows (`footing.studies.report_keys`); numbers are never stored
    words : of a heading or a text
    columns, first, last : of a table; all of them if empty
    shows : what is drawn over a frame or on a graph
    every : of the marks of a strobe picture, each so manieth
    """

    id: int = NEW
    study_id: int
    place: float
    kind: str
    about: str = ""
    words: str = ""
    caption: str = ""
    columns: list[str] = field(default_factory=list)
    first: int | None = None
    last: int | None = None
    shows: list[str] = field(default_factory=list)
    every: int = 1
