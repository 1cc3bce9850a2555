"""What differs between two states, so that a page which has the first can be told the second.

A `Change` is JSON and says how one value becomes another; what is not named in it stays. The page
applies it in `static/js/changes.js`, where what stays is the same object as before.

    {"to": value}                        another value altogether
    {"fields": {name: Change}}           fields of an object that change or come
    {"without": [name]}                  fields that go
    {"items": {place: Change}}           items of a list that change in their places
    {"rows": [first, count, [item]]}     so many items of a list give way to others
"""

from typing import TypedDict

JsonObject = dict[str, object]


class Change(TypedDict, total=False):
    """How a value becomes another one."""

    to: object
    fields: "dict[str, Change]"
    without: list[str]
    items: "dict[str, Change]"
    rows: tuple[int, int, list[object]]


def difference(before: object, after: object) -> Change | None:
    """How ``before`` becomes ``after``, both JSON-ready; None where they are the same.

    A place holds values of one type (`studies/shapes`), so that yes is never taken for 1.
    """
    if before is after:  # a part that was kept
        return None
    if isinstance(before, dict) and isinstance(after, dict):
        return _of_objects(before, after)
    if isinstance(before, list | tuple) and isinstance(after, list | tuple):
        return _of_lists(before, after)
    return None if before == after else Change(to=after)


def _of_objects(before: dict[object, object], after: dict[object, object]) -> Change | None:
    fields: dict[str, Change] = {}
    for name, value in after.items():
        change = difference(before[name], value) if name in before else Change(to=value)
        if change is not None:
            fields[str(name)] = change
    without = [str(name) for name in before if name not in after]
    made = Change()
    if fields:
        made["fields"] = fields
    if without:
        made["without"] = without
    return made or None


def _of_lists(
    before: list[object] | tuple[object, ...], after: list[object] | tuple[object, ...]
) -> Change | None:
    if len(before) == len(after) and all(isinstance(one, dict) for one in (*before, *after)):
        items: dict[str, Change] = {}
        for place, (one, other) in enumerate(zip(before, after, strict=True)):
            change = difference(one, other)
            if change is not None:
                items[str(place)] = change
        return Change(items=items) if items else None
    if before == after:
        return None
    shorter = min(len(before), len(after))
    first = alike = 0
    while first < shorter and before[first] == after[first]:
        first += 1
    while alike < shorter - first and before[-1 - alike] == after[-1 - alike]:
        alike += 1
    return Change(
        rows=(first, len(before) - first - alike, list(after[first : len(after) - alike]))
    )
