"""Open formats, in and out: tables as CSV, TSV, ODS and XLSX, and as they are copied and pasted.

- `reading`, `writing`: tables that come in and go out
- `headings`: name, symbol and unit above a column
"""
