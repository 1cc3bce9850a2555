"""What is in archives of studies and classes, as JSON schemas (2020-12)."""

import json
from typing import Literal

from pydantic import BaseModel, JsonValue

from footing.studies.archives.class_file import ClassFile, HandInFile
from footing.studies.archives.study_archive import StudyFile
from footing.studies.packing.rows import TYPES

Kind = Literal["study", "class", "hand-in"]
_MODELS: dict[Kind, type[BaseModel]] = {
    "study": StudyFile,
    "class": ClassFile,
    "hand-in": HandInFile,
}
_DIALECT = "https://json-schema.org/draft/2020-12/schema"


def schema(kind: Kind) -> str:
    """The schema of ``study.json``, ``class.json`` or a hand-in, as it is published."""
    made = _MODELS[kind].model_json_schema()
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
