"""The edits: everything that a person can change in a study, one small model each.

An edit says in its fields what it does, in `label` how the history names it, and in `apply` which
rows change. It never changes rows except through `Work.changes`, so its inverse is known. A model
with a ``kind`` in a module of this package is an edit; no list names it besides.
"""

from collections.abc import Iterator
from importlib import import_module
from pkgutil import iter_modules
from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from footing.studies.edits.base import EditModel

__all__ = ["EDITS", "AnyEdit"]

for _module in sorted(iter_modules(__path__), key=lambda module: module.name):
    import_module(f"{__name__}.{_module.name}")


def _below(model: type[EditModel]) -> Iterator[type[EditModel]]:
    for subclass in model.__subclasses__():
        yield subclass
        yield from _below(subclass)


EDITS = tuple(model for model in _below(EditModel) if "kind" in model.model_fields)

if TYPE_CHECKING:
    AnyEdit = EditModel
else:
    AnyEdit = Annotated[Union[EDITS], Field(discriminator="kind")]  # noqa: UP007 - made of a tuple
