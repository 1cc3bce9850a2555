"""What is in archives of studies and classes, as JSON schemas (2020-12)."""

import json
from typing import Literal

from pydantic import JsonValue

from footing.studies.archives.class_archive import ClassFile
from footing.studies.archives.study_archive import StudyFile
from footing.studies.packing.rows import TYPES

Kind = Literal["study", "class"]
_DIALECT = "https://json-schema.org/draft/2020-12/schema"


def schema(kind: Kind) -> str:
    """The schema of ``study.json`` or ``class.json``, as it is published."""
    made = (StudyFile if kind == "study" else ClassFile).model_json_schema()
    if kind == "study":
        made["properties"]["rows"] = _rows(made.setdefault("$defs", {}))
    made |= {"$schema": _DIALECT, "title": f"Footing {kind}, format 1"}
    return json.dumps(made, indent=1, ensure_ascii=False, sort_keys=True) + "\n"


def _rows(definitions: dict[str, JsonValue]) -> JsonValue:
    """The rows by table, each table with its fields."""
    tables: dict[str, JsonValue] = {}
    for table, (_, adapter) in TYPES.items():
        of_row = adapter.json_schema(ref_template="#/$defs/{model}")
        definitions.update(of_row.pop("$defs", {}))
        definitions[f"row_of_{table}"] = of_row
        tables[table] = {"type": "array", "items": {"$ref": f"#/$defs/row_of_{table}"}}
    return {"type": "object", "properties": tables, "additionalProperties": False}
