"""Writes the types of the scripts from the shapes of the state: `python tools/shapes/make.py`.

With a path it writes them there instead. The result, `static/js/shapes.d.ts`, is kept beside the
scripts; a test holds it against this.
"""

import inspect
import sys
from collections.abc import Mapping, Sequence
from enum import StrEnum
from pathlib import Path
from types import NoneType, UnionType
from typing import Union, get_args, get_origin, get_type_hints

from typing_extensions import is_typeddict

from footing.store.rows import GivenParameter, OtherSeries, SeriesRule
from footing.studies.shapes.every import every_shape, every_union
from footing.studies.views import difference

TARGET = Path(__file__).parents[2] / "src/footing/web/static/js/shapes.d.ts"
_PLAIN = {str: "string", int: "number", float: "number", bool: "boolean", NoneType: "null"}
_LISTS = (list, Sequence)
_OBJECTS = (dict, Mapping)


def in_scripts(annotation: object) -> str:
    """A Python type as the scripts call it."""
    if annotation in _PLAIN:
        return _PLAIN[annotation]  # type: ignore[index]
    if annotation is object:
        return "any"
    if is_typeddict(annotation):
        return annotation.__name__  # type: ignore[attr-defined, no-any-return]
    if isinstance(annotation, type) and issubclass(annotation, StrEnum):
        return " | ".join(f'"{member}"' for member in annotation)
    origin, inner = get_origin(annotation), [in_scripts(one) for one in get_args(annotation)]
    if origin in (Union, UnionType):
        return " | ".join(dict.fromkeys(inner))
    if origin in _LISTS:
        return f"({inner[0]})[]" if " | " in inner[0] else f"{inner[0]}[]"
    if origin in _OBJECTS:
        return f"Record<{inner[0]}, {inner[1]}>"
    if origin is tuple:
        return f"[{', '.join(inner)}]"
    raise TypeError(f"{annotation} has no counterpart in the scripts.")


def interface(shape: type) -> str:
    """A shape as an interface; fields that may be missing have a question mark."""
    lines = [
        f"  {name}{'?' if name in shape.__optional_keys__ else ''}: {in_scripts(kind)};"  # type: ignore[attr-defined]
        for name, kind in get_type_hints(shape).items()
    ]
    said = " ".join((inspect.getdoc(shape) or "").split())
    return "\n".join([f"/** {said} */", f"export interface {shape.__name__} {{", *lines, "}"])


def made() -> str:
    """The whole file."""
    stored = [SeriesRule, OtherSeries, GivenParameter]
    every = dict.fromkeys([*stored, *every_shape(), difference.Change])
    unions = [f"export type {name} = {in_scripts(one)};" for name, one in every_union().items()]
    head = "// Made of studies/shapes by tools/shapes/make.py; what is changed here is lost."
    return "\n\n".join([head, *(interface(shape) for shape in every), *unions]) + "\n"


if __name__ == "__main__":
    target = Path(sys.argv[1]) if len(sys.argv) > 1 else TARGET
    target.write_text(made(), encoding="utf-8")
