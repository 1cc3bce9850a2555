"""What a template can read of the state, found in its text.

A card for which that has not changed need not be made again.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache, lru_cache
from typing import get_type_hints

from jinja2 import nodes

from footing.studies.shapes.every import every_shape
from footing.studies.shapes.state import SharedShape
from footing.web.templating import templates

# what the context of a card takes from the state: parts, and names within them
_FROM_THE_STATE = {
    "unit_choices": ({"ground"}, {"known_lengths", "unit"}),
    "usual_curve": ({"graphs", "sheet"}, {"series", "x", "y"}),
}
_NOTHING: tuple[set[str], set[str]] = (set(), set())
_TREES = (
    8  # that are kept: of a template that is looked at in several ways, and of what all include
)


def parts_read(template: str) -> frozenset[str]:
    """The parts of the state that a template reads, with those that it includes."""
    found: set[str] = set()
    for tree in _trees(template):
        for attribute in tree.find_all(nodes.Getattr):
            if isinstance(attribute.node, nodes.Name) and attribute.node.name == "view":
                found.add(attribute.attr)
        for variable in tree.find_all(nodes.Name):
            found |= _FROM_THE_STATE.get(variable.name, _NOTHING)[0]
    return frozenset(found)


def names_read(template: str) -> frozenset[str]:
    """Every name by which a template could read a field of the state, with those it includes."""
    found: set[str] = set()
    for tree in _trees(template):
        for variable in tree.find_all(nodes.Name):
            found |= _FROM_THE_STATE.get(variable.name, _NOTHING)[1]
        found |= {attribute.attr for attribute in tree.find_all(nodes.Getattr)}
        # subscripts, and what filters such as map(attribute="name") are told
        for place in tree.find_all((nodes.Getitem, nodes.Filter)):
            found |= {str(text.value) for text in place.find_all(nodes.Const)}
    return frozenset(found)


def read_whole(template: str) -> frozenset[str]:
    """The names of fields of which a template can read everything: printed, or by any key."""
    found: set[str] = set()
    for tree in _trees(template):
        for subscript in tree.find_all(nodes.Getitem):
            if not isinstance(subscript.arg, nodes.Const):
                found |= _field(subscript.node, tree)
        for printed in tree.find_all(nodes.Filter):
            if printed.name == "tojson":
                found |= _field(printed.node, tree)
        for call in tree.find_all(nodes.Call):
            if isinstance(call.node, nodes.Getattr) and call.node.attr in ("items", "values"):
                found |= _field(call.node.node, tree)
    return frozenset(found)


def _field(node: nodes.Node | None, tree: nodes.Template) -> set[str]:
    """The name of the field that an expression is, or of that through which a loop goes."""
    if isinstance(node, nodes.Filter):
        return _field(node.node, tree)
    if isinstance(node, nodes.Getattr):
        return {node.attr}
    if not isinstance(node, nodes.Name):
        return set()
    found: set[str] = set()
    for loop in tree.find_all(nodes.For):
        bound, of = (getattr(one, "name", None) for one in (loop.target, loop.iter))
        if bound == node.name and of != node.name:
            found |= _field(loop.iter, tree)
    return found


@dataclass(frozen=True)
class Reads:
    """Parts of the state, fields that are named, and those that are read whole."""

    parts: frozenset[str]
    names: frozenset[str]
    whole: frozenset[str]


@cache
def reads_of(template: str) -> Reads:
    """What a template can read of the state; hundredths of a second of work, the first time."""
    parts = parts_read(template) & SharedShape.__annotations__.keys()
    return Reads(parts, names_read(template), read_whole(template))


def reads_the_same(template: str, before: SharedShape, after: SharedShape) -> bool:
    """Whether all that a template can read of two states is the same."""
    reads = reads_of(template)
    return all(
        before.get(part) == after.get(part)
        if part in reads.whole
        else _alike(before.get(part), after.get(part), reads)
        for part in reads.parts
    )


def _alike(before: object, after: object, reads: Reads) -> bool:
    """Whether two values are equal, apart from fields of shapes that nobody names."""
    if before is after:
        return True
    if isinstance(before, dict) and isinstance(after, dict):
        return before.keys() == after.keys() and all(
            value == after[key] if key in reads.whole else _alike(value, after[key], reads)
            for key, value in before.items()
            if key in reads.names or key not in _fields()
        )
    if isinstance(before, list) and isinstance(after, list):
        return len(before) == len(after) and all(
            _alike(one, other, reads) for one, other in zip(before, after, strict=True)
        )
    return before == after


@cache
def _fields() -> frozenset[str]:
    """All fields of the state's shapes; other keys of objects are somebody's own."""
    return frozenset(name for shape in every_shape() for name in get_type_hints(shape))


def _trees(template: str) -> Iterator[nodes.Template]:
    """The syntax trees of a template and of all that it includes or imports."""
    tree = syntax_tree(template)
    yield tree
    for other in tree.find_all((nodes.Include, nodes.FromImport, nodes.Extends)):
        name = getattr(other, "template", None)
        if isinstance(name, nodes.Const):
            yield from _trees(str(name.value))


@lru_cache(_TREES)
def syntax_tree(template: str) -> nodes.Template:
    """The syntax tree of a template alone."""
    source, _, _ = templates.env.loader.get_source(templates.env, template)  # type: ignore[union-attr]
    return templates.env.parse(source)
