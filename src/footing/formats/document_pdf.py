"""A document as PDF: tagged, with real text and drawings (WeasyPrint).

It takes a second to load, and belongs into a process of its own.
"""

from footing.core.errors import Refused


def as_pdf(html: str) -> bytes:
    """Lay out a document on pages; its HTML holds all that it shows, and nothing else is read.

    Raises
    ------
    Refused : if it cannot be laid out.
    """
    from weasyprint import HTML, URLFetcher
    from weasyprint.text.fonts import FontConfiguration

    fetcher = URLFetcher(allowed_protocols=("data",))
    made = HTML(string=html, url_fetcher=fetcher)
    pdf = made.write_pdf(font_config=FontConfiguration(), pdf_variant="pdf/ua-1")
    if not isinstance(pdf, bytes):
        raise Refused("The report could not be laid out on pages.")
    return pdf
