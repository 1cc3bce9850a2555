"""Open formats, in and out: tables as CSV, TSV, ODS and XLSX and by the clipboard; reports.

- `reading`, `writing`: tables that come in and go out
- `document`: a report as data; `prose` and `tex`: its words and formulas; `document_html`,
  `document_pdf`, `document_odt`: as a page, on paper, for a word processor; `report_cleaning` of
  what comes from outside
- `headings`: name, symbol and unit above a column
"""
