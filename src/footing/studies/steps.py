"""The steps of the work on a study, by name."""

from enum import StrEnum


class Step(StrEnum):
    """The steps of the rail, in order."""

    SOURCES = "sources"
    GROUND = "ground"
    MARK = "mark"
    GRAPH = "graph"
    MODEL = "model"
    LEDGER = "ledger"
    REPORT = "report"
