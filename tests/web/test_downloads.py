"""The name under which a browser saves a file."""

from urllib.parse import unquote

import pytest

from footing.web.downloads import file_of, saved_as


@pytest.mark.parametrize("name", ["sled run.csv", "Höhe über t.pdf", 'a "quoted" / name; x.zip'])
def test_any_title_is_a_file_name_and_nothing_else_of_the_header(name: str) -> None:
    header = saved_as(name)["Content-Disposition"]
    how, _, rest = header.partition("; filename*=UTF-8''")
    assert how == "attachment"
    assert unquote(rest) == name
    assert header.isascii()
    assert not set(rest) & set('"/; ')


def test_a_file_is_looked_at_or_saved_and_never_kept_by_what_lies_between() -> None:
    assert saved_as("a.pdf", inline=True)["Content-Disposition"].startswith("inline;")
    answer = file_of("a.csv", b"1,2\n", "text/csv")
    assert answer.body == b"1,2\n"
    assert answer.headers["content-type"].startswith("text/csv")
    assert answer.headers["cache-control"] == "no-store"
