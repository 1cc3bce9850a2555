"""What the server tells a page about a new state, and what the page makes of it.

The page's own code is run here, by node.
"""

import json
import subprocess
from pathlib import Path

import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from footing.studies.views.difference import difference

SCRIPTS = Path(__file__).parents[2] / "src/footing/web/static/js"
APPLY = f"""
const {{ applied }} = await import("{(SCRIPTS / "changes.js").as_uri()}");
let text = "";
for await (const piece of process.stdin) text += piece;
const found = JSON.parse(text).map(([before, change]) => {{
  const copy = structuredClone(before);
  const after = applied(before, change);
  return [after, JSON.stringify(copy) === JSON.stringify(before)];
}});
process.stdout.write(JSON.stringify(found));
"""
JSON = st.recursive(
    st.none() | st.booleans() | st.integers(2, 5) | st.sampled_from(["", "a", "to", "rows"]),
    lambda inner: (
        st.lists(inner, max_size=6) | st.dictionaries(st.sampled_from("abc"), inner, max_size=3)
    ),
    max_leaves=12,
)


def applied_by_the_page(pairs: list[tuple[object, object]]) -> list[tuple[object, bool]]:
    """What the page makes of each first state and change; and whether it left the first alone."""
    done = subprocess.run(
        ["node", "--input-type=module", "-e", APPLY],
        input=json.dumps(pairs),
        capture_output=True,
        text=True,
        check=True,
    )
    return [(after, kept) for after, kept in json.loads(done.stdout)]


@settings(max_examples=25, phases=[Phase.generate])
@given(st.lists(st.tuples(JSON, JSON), min_size=40, max_size=40))
def test_the_page_comes_to_the_state_that_the_server_has(
    states: list[tuple[object, object]],
) -> None:
    changes = [(before, difference(before, after) or {}) for before, after in states]
    found = applied_by_the_page(changes)
    expected = [(json.loads(json.dumps(after)), True) for _, after in states]
    assert json.dumps(found, sort_keys=True) == json.dumps(expected, sort_keys=True)


@pytest.mark.parametrize(
    ("before", "after", "change"),
    [
        ({"a": 1}, {"a": 1}, None),
        ({"a": 1, "b": 2}, {"a": 1, "b": 3}, {"fields": {"b": {"to": 3}}}),
        ({"a": 1, "b": 2}, {"b": 2}, {"without": ["a"]}),
        ([1, 2, 3, 4], [1, 9, 3, 4], {"rows": (1, 1, [9])}),
        ([1, 2, 3], [1, 2, 3, 4], {"rows": (3, 0, [4])}),
        ([1, 1, 1], [1, 1], {"rows": (2, 1, [])}),
        (
            [{"id": 1, "n": 0}, {"id": 2, "n": 0}],
            [{"id": 1, "n": 0}, {"id": 2, "n": 5}],
            {"items": {"1": {"fields": {"n": {"to": 5}}}}},
        ),
        ({7: 1}, {7: 2}, {"fields": {"7": {"to": 2}}}),
    ],
)
def test_only_what_differs_is_told(before: object, after: object, change: object) -> None:
    assert difference(before, after) == change
