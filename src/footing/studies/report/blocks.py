"""What each block of a report shows, as parts of a document, from the study as it is now.

Everything comes from the same state that the page shows, so that no number can be another one.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import islice

from footing.core.errors import FootingError, NotThere
from footing.core.formulas.printing import split_symbol
from footing.formats.document import (
    Caption,
    Equation,
    Formula,
    Grid,
    Heading,
    Missing,
    Paragraph,
    Part,
    Picture,
    Text,
    Title,
)
from footing.formats.prose import prose
from footing.store import labs
from footing.store.access import ClassStudy
from footing.store.reading import read_study
from footing.store.rows import Answer, Body, Fit, Footage, Impact, MotionModel, ReportBlock
from footing.store.snapshot import StudyRows
from footing.studies.class_rules import tells_verdicts
from footing.studies.model.keys import OwnerKey
from footing.studies.queries.table_parts import Wanted, chosen
from footing.studies.queries.tables_out import any_table
from footing.studies.queries.working import working
from footing.studies.report import accounts
from footing.studies.report.figures import Figure, GraphFigure, StrobeFigure
from footing.studies.report.frames import frame_figure
from footing.studies.report.values import Values
from footing.studies.report_keys import BlockKind, keys_of
from footing.studies.school.people import Person
from footing.studies.shapes.findings import FindingShape
from footing.studies.shapes.fits import FitShape, FitWith
from footing.studies.shapes.graphs import GraphShape
from footing.studies.shapes.state import StateShape
from footing.studies.views import graph_file
from footing.studies.views.shown import LEDGER, MODELS, NO_PARTS, Shown
from footing.studies.views.view import study_view

_GRAPH_WIDTH = 620  # of a graph on a page: larger letters than on the screen
_MOST_ROWS = 400  # of a table in a report
_RATIO = 0.68  # height over width of a graph with its title and axes


@dataclass(frozen=True)
class Shows:
    """What a block shows.

    parts : of the document; figure : of which its picture is made, where it has one
    problem : why it shows nothing
    """

    parts: tuple[Part, ...]
    figure: Figure | None = None
    problem: str | None = None


class Reader:
    """Reads the blocks of a study's report, from the top, for one person.

    Parameters
    ----------
    names : who works on it
    of : class and lab, as they stand below the title
    """

    def __init__(self, study: ClassStudy, person: Person, names: tuple[str, ...], of: str) -> None:
        self.study = study
        self.person = person
        self.names = names
        self.of = of
        self.rows: StudyRows = read_study(study.id)
        self.task = labs.task_of(study.lab) if study.lab is not None else None
        self._figures = self._tables = 0
        self._views: dict[tuple[str | None, Shown], StateShape] = {}
        view = self._view(None)
        self.findings: list[FindingShape] = view["findings"]
        self.values = Values(self.findings, view["study_quantities"])
        self.tells = tells_verdicts(study, person)

    def shows(self, block: ReportBlock) -> Shows:
        """What a block shows; one of something that is gone says so."""
        kind = BlockKind(block.kind)
        try:
            return _READERS[kind](self, block, *keys_of(kind, block.about))
        except FootingError as error:
            return Shows((Missing(str(error)),), problem=str(error))
        except (KeyError, ValueError, StopIteration):
            gone = "What this showed is not in the study any more."
            return Shows((Missing(gone),), problem=gone)

    def _view(self, source: str | None, shown: Shown = NO_PARTS) -> StateShape:
        key = (source, shown)
        if key not in self._views:
            found = study_view(self.study, self.person, source=source, shown=shown)
            self._views[key] = found
        return self._views[key]

    def _footage_view(self, footage: str, shown: Shown = NO_PARTS) -> StateShape:
        """The state as seen from a footage; the state itself would show another one instead."""
        self.rows.find(Footage, int(footage))
        return self._view(footage, shown)

    def _figure_caption(self, text: str) -> Caption:
        self._figures += 1
        return Caption(f"Figure {self._figures}", text)

    def _table_caption(self, text: str) -> Caption:
        self._tables += 1
        return Caption(f"Table {self._tables}", text)

    # words

    def _title(self, block: ReportBlock) -> Shows:
        return Shows((Title(block.words.strip() or self.study.title, self.names, self.of),))

    def _heading(self, block: ReportBlock) -> Shows:
        return Shows((Heading(" ".join(block.words.split())),) if block.words.strip() else ())

    def _text(self, block: ReportBlock) -> Shows:
        return Shows(tuple(prose(block.words, self.values.text_of)))

    def _question(self, _block: ReportBlock) -> Shows:
        if self.task is None:
            raise NotThere("The study belongs to no lab that asks a question.")
        return Shows(tuple(prose(self.task.lab.task, self.values.text_of, quoted=True)))

    def _answer(self, _block: ReportBlock, key: str) -> Shows:
        questions = self.task.questions if self.task else ()
        question = next(one for one in questions if one.id == int(key))
        answers = (row for row in self.rows.all(Answer) if row.question_id == question.id)
        words = next((row.words for row in answers), "")
        asked = Paragraph((Text(question.words, strong=True),))
        if not words:
            return Shows((asked, Missing("This question is not answered yet.")))
        return Shows((asked, *prose(words, self.values.text_of)))

    # pictures

    def _frame(self, block: ReportBlock, footage: str, frame: str) -> Shows:
        view = self._footage_view(footage)
        figure = frame_figure(view, int(frame), block.shows)
        film = view["footage"]
        assert film is not None
        when = f", {film['times'][int(frame)]:.3f} s" if film["has_time"] else ""
        said = block.caption or f"Frame {frame} of {film['name']}{when}"
        alt = f"Frame {frame} of {film['name']}" + (
            f" with {' and '.join(block.shows)} drawn over it" if block.shows else ""
        )
        ratio = figure.height / figure.width
        return Shows((Picture(str(block.id), alt, self._figure_caption(said), ratio),), figure)

    def _strobe(self, block: ReportBlock, body: str) -> Shows:
        row = self.rows.find(Body, int(body))
        footage = self.rows.footage_of(row)
        film = self._view(str(footage.id))["footage"]
        assert film is not None
        marks = tuple((mark.frame, mark.x, mark.y) for mark in self.rows.marks_of(row))
        if len(marks) < 2:
            raise NotThere(f"{row.name} has no two marks for a strobe picture.")
        every = f"each of its {block.every}th marks" if block.every > 1 else "each of its marks"
        said = block.caption or f"{row.name} in {every}"
        figure = StrobeFigure(row.id, footage.content, block.every, marks)
        alt = f"{row.name} where it was in {every}, in one picture"
        ratio = film["height"] / film["width"]
        return Shows((Picture(str(block.id), alt, self._figure_caption(said), ratio),), figure)

    def _graph(self, block: ReportBlock, source: str, place: str) -> Shows:
        view = self._source_view(source)
        shown = next(one for one in view["graphs"] if one["place"] == int(place))
        boxes = graph_file.Boxes("results" in block.shows, "large" in block.shows)
        spec = graph_file.filled(shown, view["fits"], width=_GRAPH_WIDTH, boxes=boxes)
        return self._drawn(block, shown, spec)

    def _source_view(self, source: str) -> StateShape:
        view = self._view(source)
        seen = view["sheet"] or view["footage"]
        key = f"s{view['sheet']['id']}" if view["sheet"] else str(seen["id"] if seen else "")
        if key != source:
            raise NotThere("This source is not in the study any more.")
        return view

    def _energies(self, block: ReportBlock, footage: str) -> Shows:
        ledger = self._footage_view(footage, LEDGER)["ledger"]
        if ledger is None or ledger["graph"] is None:
            raise NotThere("There are no energies to be drawn.")
        spec = graph_file.filled(ledger["graph"], [], width=_GRAPH_WIDTH)
        return self._drawn(block, ledger["graph"], spec)

    def _drawn(
        self, block: ReportBlock, graph: GraphShape, spec: dict[str, object], *more: Part
    ) -> Shows:
        """A graph without its title, which stands in the caption."""
        caption = self._figure_caption(block.caption or graph["title"])
        titles = " and ".join(title for title in (graph["y_title"], graph["x_title"]) if title)
        alt = f"Graph: {graph['title']}" + (f". Axes: {titles}" if titles else "")
        spec.pop("title", None)
        picture = Picture(str(block.id), alt, caption, _RATIO)
        return Shows((picture, *more), GraphFigure(spec))

    # numbers

    def _table(self, block: ReportBlock, owner: str) -> Shows:
        table = any_table(self.study.id, str(OwnerKey.read(owner)))
        wanted = Wanted(tuple(block.columns), block.first, block.last, block.every)
        headings, rows = chosen(table, wanted)
        cells = tuple(islice(rows, _MOST_ROWS + 1))
        said = block.caption or f"Data of {table.owner.name}"
        if len(cells) > _MOST_ROWS:
            said += f" (the first {_MOST_ROWS} of these rows)"
        elif block.every > 1 and not block.caption:
            said += f", each {block.every}th row"
        grid = Grid(
            tuple(
                f"{letter}{below}{f' ({one.unit})' if one.unit else ''}"
                for one in headings
                for letter, below in (split_symbol(one.symbol or one.name),)
            ),
            cells[:_MOST_ROWS],
            self._table_caption(said),
        )
        return Shows((grid,))

    def _fit(self, block: ReportBlock, fit: str) -> Shows:
        row = self.rows.find(Fit, int(fit))
        source = f"s{row.sheet_id}" if row.sheet_id is not None else self._footage_of(row)
        shown = next(one for one in self._view(source)["fits"] if one["id"] == row.id)
        if shown["reason"] is not None:
            raise NotThere(f"{_name_of(shown)}: {shown['reason']}")
        lines = [Equation("", Formula(one, shown["plain_equation"])) for one in shown["equations"]]
        rows = [
            (_said_of(one["label"], one["formula"]), one["text"], one["interval"])
            for one in (*shown["parameters"], *shown["readings"])
        ]
        rows += _quality(shown)
        said = block.caption or f"{shown['title']} through {_name_of(shown)}"
        grid = Grid(("quantity", "value", "95 %"), tuple(rows), self._table_caption(said))
        return Shows((*lines, grid))

    def _footage_of(self, row: Fit) -> str:
        return str(self.rows.footage_of(self.rows.find(Body, row.body_id or 0)).id)

    def _choice(self, _block: ReportBlock, source: str) -> Shows:
        view = self._source_view(source)
        said = [one["said"] for one in view["choices"]]
        models = self._view(source, MODELS)["models"]
        said += models["compared"] if models is not None and self.tells else []
        if not said:
            raise NotThere("There are no two curves or models of the same to be compared.")
        return Shows(tuple(Paragraph((Text(one),)) for one in said))

    def _finding(self, block: ReportBlock, finding: str) -> Shows:
        shown = next(one for one in self.findings if one["id"] == int(finding))
        if shown["reason"] is not None:
            raise NotThere(f"{shown['name']}: {shown['reason']}")
        result = Paragraph((Text(f"{shown['name']} = "), Text(shown["text"], strong=True)))
        said = block.caption or f"What the uncertainty of {shown['name']} comes from"
        rows = tuple((one["source"], one["text"], f"{one['share']} %") for one in shown["budget"])
        grid = Grid(
            ("source", f"± ({shown['unit']})" if shown["unit"] else "±", "share"),
            rows,
            self._table_caption(said),
        )
        compared = [Paragraph((Text(text),)) for text in (_agreement(shown),) if text]
        return Shows((result, *compared, grid))

    def _findings(self, block: ReportBlock) -> Shows:
        rows = [
            (one["name"], one["text"], one["interval"], _accepted(one), _agrees(one))
            for one in self.findings
            if one["reason"] is None
        ]
        if not rows:
            raise NotThere("The study has no findings yet.")
        headings = ("finding", "value", "95 %", "accepted", "agrees")
        keep = [n for n in range(len(headings)) if n < 3 or any(row[n] for row in rows)]
        grid = Grid(
            tuple(headings[n] for n in keep),
            tuple(tuple(row[n] for n in keep) for row in rows),
            self._table_caption(block.caption or "Findings"),
        )
        return Shows((grid,))

    def _budgets(self, block: ReportBlock) -> Shows:
        rows = [
            (one["name"] if place == 0 else "", part["source"], part["text"], f"{part['share']} %")
            for one in self.findings
            if one["reason"] is None
            for place, part in enumerate(one["budget"])
        ]
        if not rows:
            raise NotThere("The study has no findings with an uncertainty yet.")
        said = block.caption or "Sources of uncertainty, with their share of its square"
        headings = ("finding", "source", "±", "share")
        return Shows((Grid(headings, tuple(rows), self._table_caption(said)),))

    def _model(self, block: ReportBlock, model: str) -> Shows:
        row = self.rows.find(MotionModel, int(model))
        source = str(row.footage_id) if row.footage_id is not None else None
        models = self._view(source, MODELS)["models"]
        shown = next(one for one in models["models"] if one["id"] == row.id) if models else None
        if models is None or shown is None:
            raise NotThere("This model is not in the study any more.")
        numbers = tuple(
            accounts.model(
                shown, self._table_caption(f"The model {shown['name']}"), tells=self.tells
            )
        )
        if models["graph"] is None:
            return Shows(numbers)
        spec = graph_file.filled(models["graph"], [], width=_GRAPH_WIDTH)
        return self._drawn(block, models["graph"], spec, *numbers)

    def _accounts(self, block: ReportBlock, footage: str) -> Shows:
        ledger = self._footage_view(footage, LEDGER)["ledger"]
        if ledger is None or not ledger["energy"]["changes"]:
            raise NotThere((ledger and ledger["energy"]["problem"]) or "There are no energies yet.")
        caption = self._table_caption(block.caption or "Energies")
        return Shows(tuple(accounts.energies(ledger["energy"], caption, tells=ledger["tells"])))

    def _momenta(self, block: ReportBlock, impact: str) -> Shows:
        row = self.rows.find(Impact, int(impact))
        ledger = self._footage_view(str(row.footage_id), LEDGER)["ledger"]
        found = ledger["momenta"] if ledger is not None else []
        account = next(one for one in found if one["impact"] == row.id)
        if account["problem"]:
            raise NotThere(account["problem"])
        caption = self._table_caption(block.caption or account["title"])
        assert ledger is not None
        return Shows(tuple(accounts.momenta(account, caption, tells=ledger["tells"])))

    def _working(self, block: ReportBlock, source: str, *of: str) -> Shows:
        found = working(self.study, self.person, "/".join(of), source)
        lines = [
            Equation(
                line["said"], Formula(line["mathml"], line["text"]) if line["mathml"] else None
            )
            for line in found["lines"]
        ]
        return Shows((Heading(block.caption or found["title"], level=3), *lines))


_READERS: dict[BlockKind, Callable[..., Shows]] = {
    kind: vars(Reader)[f"_{kind.value}"] for kind in BlockKind
}


def _name_of(fit: FitShape) -> str:
    return fit["label_text"] or f"{fit['series']} of {fit['owner_name']}"


def _said_of(label: str, pieces: list[list[str]]) -> str:
    letters = "".join("".join(part) for part in pieces)
    return f"{label} = {letters}" if label and letters else label or letters


def _quality(fit: FitWith) -> Iterator[tuple[str, str, str]]:
    """How well a curve fits: correlation, scatter, how many points."""
    if fit["r"]:
        yield ("correlation r", fit["r"], "")
    if fit["r_squared"]:
        yield ("R²", fit["r_squared"], "")
    yield ("scatter of the points", fit["scatter"], "")
    yield ("points", str(fit["n"]), "")


def _accepted(finding: FindingShape) -> str:
    if finding["reason"] is not None or not finding["comparison"]:
        return ""
    return finding["comparison"].get("accepted", "")


def _agrees(finding: FindingShape) -> str:
    if finding["reason"] is not None or not finding["comparison"]:
        return ""
    compared = finding["comparison"]
    if compared.get("needs"):
        return ""
    parts = [compared.get("verdict", ""), compared.get("percent") or ""]
    return ", ".join(part for part in parts if part)


def _agreement(finding: FindingShape) -> str:
    """How a finding compares with what it is compared with, in a sentence."""
    accepted, agrees = _accepted(finding), _agrees(finding)
    if not accepted or not agrees:
        return ""
    begun = agrees[0].upper() + agrees[1:]
    return f"Beside the accepted {accepted}: {begun}."
