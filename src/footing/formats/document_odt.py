"""A document for a word processor, as OpenDocument text (ISO 26300): ODT.

Headings are headings, captions belong to their tables and pictures, and formulas are objects of
their own that a word processor can edit.
"""

import io
import re
from collections.abc import Mapping, Sequence
from html import unescape
from itertools import count
from xml.etree import ElementTree

from odf import dc, math, meta
from odf.draw import Frame, Image, Object
from odf.element import Element
from odf.opendocument import OpenDocument, OpenDocumentText
from odf.style import (
    FontFace,
    Footer,
    GraphicProperties,
    ListLevelProperties,
    MasterPage,
    PageLayout,
    PageLayoutProperties,
    ParagraphProperties,
    Style,
    TableCellProperties,
    TableColumnProperties,
    TableProperties,
    TextProperties,
)
from odf.svg import Desc
from odf.table import Table, TableCell, TableColumn, TableHeaderRows, TableRow
from odf.text import (
    H,
    LineBreak,
    List,
    ListItem,
    ListLevelStyleBullet,
    ListLevelStyleNumber,
    ListStyle,
    P,
    PageCount,
    PageNumber,
    Span,
)

from footing.formats.document import (
    LANGUAGE,
    Break,
    Document,
    Equation,
    Formula,
    Grid,
    Heading,
    Listing,
    Missing,
    Paragraph,
    Part,
    Picture,
    PictureData,
    Runs,
    Title,
    Value,
)
from footing.formats.document_html import numeric_columns

MEDIA_TYPE = "application/vnd.oasis.opendocument.text"
_WIDTH = 17.0  # cm, of what is written on a page
_PICTURE_WIDTH = 15.0
_TALLEST = 8.8
_FONT = "Atkinson Hyperlegible Next"
_MATHML = "{http://www.w3.org/1998/Math/MathML}"
_ROOM_FOR_A_SIGN = 0.22  # cm, of a formula, by letters; a word processor measures it when it opens
_TEXT, _HEADING, _CAPTION = "Words", "Heading", "Caption"


def as_odt(document: Document, pictures: Mapping[str, PictureData]) -> bytes:
    """A document as a file for a word processor.

    Parameters
    ----------
    pictures : by the names of the pictures of the document; as PNG or JPEG
    """
    return _Writer(document, pictures).written()


class _Writer:
    """Writes a document from the top to the bottom."""

    def __init__(self, document: Document, pictures: Mapping[str, PictureData]) -> None:
        self.document = document
        self.pictures = pictures
        self.file: OpenDocument = OpenDocumentText()
        self._numbers = count(1)
        self._formula_style = Style(name="Formula", family="graphic")
        self._styles()

    def written(self) -> bytes:
        made = self.file
        made.meta.addElement(dc.Title(text=self.document.title))
        if self.document.names:
            made.meta.addElement(meta.InitialCreator(text=", ".join(self.document.names)))
        made.meta.addElement(dc.Language(text=LANGUAGE))
        for part in self.document.parts:
            for element in self._part(part):
                made.text.addElement(element)
        into = io.BytesIO()
        made.write(into)
        return into.getvalue()

    def _part(self, part: Part) -> Sequence[Element]:
        match part:
            case Title():
                return self._title(part)
            case Heading():
                return [
                    H(
                        outlinelevel=part.level - 1,
                        stylename=f"{_HEADING}{part.level}",
                        text=part.text,
                    )
                ]
            case Paragraph():
                return [self._paragraph(part.runs, "Quoted" if part.quoted else _TEXT)]
            case Listing():
                return [self._list(part)]
            case Equation():
                return [self._equation(part)]
            case Picture():
                return self._picture(part)
            case Grid():
                return self._grid(part)
            case Missing():
                return [P(stylename="Missing", text=part.text)]

    def _title(self, part: Title) -> Sequence[Element]:
        made = [P(stylename="Title", text=part.text)]
        made += [P(stylename="Of", text=text) for text in (", ".join(part.names), part.of) if text]
        return made

    def _paragraph(self, runs: Runs, style: str) -> Element:
        made = P(stylename=style)
        self._add_runs(made, runs)
        return made

    def _add_runs(self, to: Element, runs: Runs) -> None:
        for run in runs:
            match run:
                case Break():
                    to.addElement(LineBreak())
                case Formula():
                    to.addElement(self._formula(run))
                case Value():
                    to.addElement(Span(stylename="Value", text=run.text))
                case _:
                    named = "".join(("Strong" * run.strong, "Emphasised" * run.emphasised))
                    if named:
                        to.addElement(Span(stylename=named, text=run.text))
                    else:
                        to.addText(run.text)

    def _list(self, part: Listing) -> Element:
        made = List(stylename="Bullets" if part.first is None else "Numbers")
        for place, runs in enumerate(part.items):
            first = {} if part.first is None or place else {"startvalue": str(part.first)}
            item = ListItem(**first)
            item.addElement(self._paragraph(runs, "Item"))
            made.addElement(item)
        return made

    def _equation(self, part: Equation) -> Element:
        made = P(stylename="Equation")
        if part.said:
            made.addText(f"{part.said} ")
        if part.formula:
            made.addElement(self._formula(part.formula))
        return made

    def _formula(self, formula: Formula) -> Element:
        """A formula as an object within a line."""
        parsed = ElementTree.fromstring(
            re.sub(r"&(?!#|amp|lt|gt|quot)\w+;", _entity, formula.mathml)
        )
        frame = Frame(
            anchortype="as-char",
            width=f"{max(_letters(parsed) * _ROOM_FOR_A_SIGN, 0.4):.2f}cm",
            height="1.0cm" if parsed.find(f".//{_MATHML}mfrac") is not None else "0.5cm",
            stylename=self._formula_style,
        )
        held = Object()
        held.addElement(_copied(parsed), check_grammar=False)
        frame.addElement(held)
        frame.addElement(Desc(text=formula.text))
        return frame

    def _picture(self, part: Picture) -> Sequence[Element]:
        data = self.pictures[part.name]
        suffix = "png" if data.media_type == "image/png" else "jpg"
        name = f"Pictures/{next(self._numbers)}.{suffix}"
        reference = self.file.addPicture(name, data.media_type, data.raster)
        width = min(_PICTURE_WIDTH, _TALLEST / part.ratio)
        frame = Frame(
            anchortype="as-char",
            width=f"{width:.2f}cm",
            height=f"{width * part.ratio:.2f}cm",
            name=part.caption.number,
        )
        frame.addElement(Image(href=reference, type="simple", show="embed", actuate="onLoad"))
        frame.addElement(Desc(text=part.alt))
        held = P(stylename="Figure")
        held.addElement(frame)
        return [held, P(stylename=_CAPTION, text=str(part.caption))]

    def _grid(self, part: Grid) -> Sequence[Element]:
        made = Table(name=part.caption.number, stylename="Grid")
        made.addElement(TableColumn(numbercolumnsrepeated=len(part.headings), stylename="Column"))
        head = TableHeaderRows()
        numeric = numeric_columns(part)
        head.addElement(self._row(part.headings, "CellHead", "Head", numeric))
        made.addElement(head)
        for place, row in enumerate(part.rows):
            strong = "Head" if place in part.marked else ""
            made.addElement(self._row(row, "Cell", strong, numeric))
        return [P(stylename=_CAPTION, text=str(part.caption)), made, P(stylename=_TEXT)]

    @staticmethod
    def _row(cells: Sequence[str], style: str, strong: str, numeric: frozenset[int]) -> Element:
        made = TableRow()
        for place, text in enumerate(cells):
            cell = TableCell(stylename=style, valuetype="string")
            kind = ("Number" if place in numeric else "Letters") + strong
            cell.addElement(P(stylename=kind, text=text))
            made.addElement(cell)
        return made

    def _styles(self) -> None:
        made = self.file
        made.fontfacedecls.addElement(FontFace(name=_FONT, fontfamily=f"'{_FONT}'"))
        for name, paragraph, letters in _PARAGRAPHS:
            style = Style(name=name, family="paragraph")
            style.addElement(ParagraphProperties(**paragraph))
            style.addElement(TextProperties(fontname=_FONT, **letters))
            made.styles.addElement(style)
        for name, letters in _LETTERS:
            style = Style(name=name, family="text")
            style.addElement(TextProperties(**letters))
            made.styles.addElement(style)
        grid = Style(name="Grid", family="table")
        grid.addElement(TableProperties(width=f"{_WIDTH}cm", align="margins", keepwithnext="auto"))
        column = Style(name="Column", family="table-column")
        column.addElement(TableColumnProperties(useoptimalcolumnwidth="true"))
        self._formula_style.addElement(GraphicProperties(verticalpos="middle", verticalrel="text"))
        for style in (grid, column, self._formula_style):
            made.automaticstyles.addElement(style)
        for name, below in (("CellHead", "0.8pt solid #1E2723"), ("Cell", "0.3pt solid #D9D2C3")):
            style = Style(name=name, family="table-cell")
            style.addElement(
                TableCellProperties(padding="0.06cm", paddingright="0.25cm", borderbottom=below)
            )
            made.automaticstyles.addElement(style)
        bullets, numbers = ListStyle(name="Bullets"), ListStyle(name="Numbers")
        bullets.addElement(ListLevelStyleBullet(level=1, bulletchar="•"))
        numbers.addElement(ListLevelStyleNumber(level=1, numformat="1", numsuffix="."))
        for style in (bullets, numbers):
            style.childNodes[0].addElement(
                ListLevelProperties(spacebefore="0.3cm", minlabelwidth="0.5cm")
            )
            made.automaticstyles.addElement(style)
        layout = PageLayout(name="A4")
        layout.addElement(PageLayoutProperties(pagewidth="21cm", pageheight="29.7cm", margin="2cm"))
        made.automaticstyles.addElement(layout)
        page = MasterPage(name="Standard", pagelayoutname="A4")
        foot, line = Footer(), P(stylename="Foot")
        for element in (PageNumber(selectpage="current"), " / ", PageCount()):
            if isinstance(element, str):
                line.addText(element)
            else:
                line.addElement(element)
        foot.addElement(line)
        page.addElement(foot)
        made.masterstyles.addElement(page)


_PARAGRAPHS: tuple[tuple[str, dict[str, str], dict[str, str]], ...] = (
    ("Title", {"marginbottom": "0.1cm"}, {"fontsize": "20pt", "fontweight": "bold"}),
    ("Of", {"marginbottom": "0.1cm"}, {"fontsize": "10pt", "color": "#5C665F"}),
    (_TEXT, {"marginbottom": "0.2cm"}, {"fontsize": "11pt"}),
    ("Quoted", {"marginleft": "0.6cm", "marginbottom": "0.2cm"}, {"fontsize": "11pt"}),
    ("Item", {"marginbottom": "0.1cm"}, {"fontsize": "11pt"}),
    ("Missing", {"marginbottom": "0.2cm"}, {"fontsize": "10pt", "color": "#8F5A00"}),
    ("Equation", {"marginleft": "0.6cm", "marginbottom": "0.15cm"}, {"fontsize": "11pt"}),
    ("Figure", {"margintop": "0.3cm", "keepwithnext": "always"}, {}),
    (_CAPTION, {"marginbottom": "0.2cm", "keepwithnext": "always"}, {"fontsize": "10pt"}),
    ("Foot", {"textalign": "center"}, {"fontsize": "9pt", "color": "#5C665F"}),
    ("Letters", {}, {"fontsize": "10pt"}),
    ("LettersHead", {}, {"fontsize": "10pt", "fontweight": "bold"}),
    ("Number", {"textalign": "end"}, {"fontsize": "10pt"}),
    ("NumberHead", {"textalign": "end"}, {"fontsize": "10pt", "fontweight": "bold"}),
    *(
        (
            f"{_HEADING}{level}",
            {"margintop": "0.5cm", "marginbottom": "0.15cm", "keepwithnext": "always"},
            {"fontsize": size, "fontweight": "bold"},
        )
        for level, size in ((2, "15pt"), (3, "12pt"), (4, "11pt"))
    ),
)
_LETTERS: tuple[tuple[str, dict[str, str]], ...] = (
    ("Strong", {"fontweight": "bold"}),
    ("Emphasised", {"fontstyle": "italic"}),
    ("StrongEmphasised", {"fontweight": "bold", "fontstyle": "italic"}),
    ("Value", {}),
)


def _entity(found: re.Match[str]) -> str:
    return unescape(found.group())


def _copied(element: ElementTree.Element) -> Element:
    """An element of MathML as one of the document's, without what only browsers read."""
    local = element.tag.removeprefix(_MATHML)
    made = Element(qname=(math.MATHNS, local), qattributes={}, check_grammar=False)
    if element.text:
        made.addText(element.text, check_grammar=False)
    for child in element:
        made.addElement(_copied(child), check_grammar=False)
        if child.tail:
            made.addText(child.tail, check_grammar=False)
    return made


def _letters(element: ElementTree.Element) -> float:
    """About how many letters a formula is wide: a fraction as its wider part."""
    local = element.tag.removeprefix(_MATHML)
    parts = [_letters(child) for child in element]
    if local == "mfrac":
        return max(parts, default=0.0) + 0.3
    if local in ("msup", "msub"):
        return parts[0] + 0.65 * sum(parts[1:])
    own = len((element.text or "").strip())
    room = 1.6 if local == "mo" else 1.0
    return own * room + sum(parts) + (0.9 if local == "msqrt" else 0.0)
