"""Open formats, in and out: tables as CSV, TSV, ODS and XLSX, and as they are copied and pasted."""
