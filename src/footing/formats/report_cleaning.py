"""The HTML of a report that came from outside: nothing is left in it but what a report has."""

import re

import nh3

from footing.formats.tex import MATH_ATTRIBUTES, MATH_TAGS

_TAGS = {
    *("header", "h1", "h2", "h3", "h4", "p", "br", "em", "strong", "b", "span", "blockquote"),
    *("ul", "ol", "li", "figure", "figcaption", "img", "table", "caption", "thead", "tbody"),
    *("tr", "th", "td"),
}
_CLASSES = {"paper-title", "names", "of", "equation", "missing", "number", "marked", "value"}
_ATTRIBUTES = {
    "img": {"src", "alt"},
    "ol": {"start"},
    "th": {"scope", "class"},
    **{tag: {"class"} for tag in ("header", "p", "td", "tr")},
    "span": {"class", "title"},
    **MATH_ATTRIBUTES,
}
_PICTURE = re.compile(r"data:image/(svg\+xml|png|jpeg);base64,[A-Za-z0-9+/=]+")


def cleaned_report(html: str) -> str:
    """Blocks of a report without scripts, styles, links, or pictures from elsewhere.

    A drawing within a picture runs no scripts, and fetches nothing (SVG as an image).
    """

    def kept(tag: str, attribute: str, value: str) -> str | None:
        if (tag, attribute) == ("img", "src"):
            return value if _PICTURE.fullmatch(value) else None
        if attribute == "class":
            return " ".join(one for one in value.split() if one in _CLASSES) or None
        return value

    return nh3.clean(
        html,
        tags=_TAGS | MATH_TAGS,
        attributes=_ATTRIBUTES,
        attribute_filter=kept,
        url_schemes={"data"},
        link_rel=None,
    )
