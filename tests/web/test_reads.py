"""What a template can read of the state is found in its text."""

from copy import deepcopy
from typing import Any

import pytest
from jinja2 import DictLoader

from footing.web import reads
from footing.web.templating import templates

STATE: Any = {
    "graphs": [
        {
            "title": "Height",
            "x_title": "time (s)",
            "typed_ranges": {"x": [0.0, 2.0], "y": []},
            "series": [{"name": "cone", "points": [[0, 1.0]]}],
        }
    ],
    "bodies": [{"name": "cone", "reasons": {3: "slipped"}, "marks": [[0, 1.0, 2.0]]}],
    "findings": [],
}
TITLE = ("graphs", 0, "title")
RANGE = ("graphs", 0, "typed_ranges", "x", 1)
POINT = ("graphs", 0, "series", 0, "points", 0, 1)
NAME = ("graphs", 0, "series", 0, "name")
REASON = ("bodies", 0, "reasons", 3)
MARK = ("bodies", 0, "marks", 0, 1)
TEXTS = {
    "plain": "{% for graph in view.graphs %}{{ graph.title }}{% endfor %}",
    "subscript": "{% for graph in view.graphs %}{{ graph['title'] }}{% endfor %}",
    "filter": "{{ view.graphs | map(attribute='title') | join }}",
    "any key": "{% for axis in ('x', 'y') %}{{ view.graphs[0].typed_ranges[axis] }}{% endfor %}",
    "printed": "{{ view.graphs[0].typed_ranges | tojson }}",
    "one by one": "{% for graph in view.graphs %}{{ graph | tojson }}{% endfor %}",
    "items": "{% for frame, reason in view.bodies[0].reasons.items() %}{{ reason }}{% endfor %}",
    "within": "{% include 'plain' %}{{ view.bodies | length }}",
}


@pytest.mark.parametrize(
    ("text", "read", "unread"),
    [
        ("plain", [TITLE], [RANGE, POINT, NAME, MARK]),
        ("subscript", [TITLE], [RANGE, POINT]),
        ("filter", [TITLE], [RANGE, POINT]),
        ("any key", [RANGE], [TITLE, POINT]),
        ("printed", [RANGE], [TITLE, POINT]),
        ("one by one", [TITLE, RANGE, POINT], [MARK]),
        ("items", [REASON], [MARK]),
        ("within", [TITLE], [MARK]),
    ],
)
def test_what_a_template_reads_is_found_and_nothing_else(
    text: str,
    read: list[tuple[Any, ...]],
    unread: list[tuple[Any, ...]],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(templates.env, "loader", DictLoader(TEXTS))
    forget_what_was_read()
    assert reads.reads_the_same(text, STATE, deepcopy(STATE))
    for place in read:
        assert not reads.reads_the_same(text, STATE, with_another(place))
    for place in unread:
        assert reads.reads_the_same(text, STATE, with_another(place))


def forget_what_was_read() -> None:
    for kept in (reads.reads_of, reads.syntax_tree):
        kept.cache_clear()


def with_another(place: tuple[Any, ...]) -> Any:
    """The state with another value in a place."""
    state = deepcopy(STATE)
    *way, last = place
    within = state
    for step in way:
        within = within[step]
    within[last] = "another" if isinstance(within[last], str) else within[last] + 1
    return state


def test_a_list_that_grows_is_another_for_whoever_counts_it(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(templates.env, "loader", DictLoader(TEXTS))
    forget_what_was_read()
    more = STATE | {"bodies": STATE["bodies"] * 2}
    assert not reads.reads_the_same("within", STATE, more)
