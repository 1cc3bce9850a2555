"""Keys: one way to write each, one reader, and nothing read that is no key."""

import pytest

from footing.core.errors import NotThere
from footing.studies.model.keys import OwnerKey, SourceKey, made_key


@pytest.mark.parametrize("key", [OwnerKey("body", 7), OwnerKey("sheet", 3)])
def test_an_owner_is_read_as_it_is_written(key: OwnerKey) -> None:
    assert OwnerKey.read(str(key)) == key
    assert key.fields == {key.kind: key.id}


@pytest.mark.parametrize("text", ["", "b", "7", "x7", "b-7", "b7.5", "s٣", "body7", "bb7"])
def test_what_is_no_owner_is_refused(text: str) -> None:
    with pytest.raises(NotThere):
        OwnerKey.read(text)


@pytest.mark.parametrize("key", [SourceKey("footage", 7), SourceKey("sheet", 3)])
def test_a_source_is_read_as_it_is_written(key: SourceKey) -> None:
    assert SourceKey.read(str(key)) == key


def test_a_footage_may_be_named_by_its_number() -> None:
    assert SourceKey.read(7) == SourceKey("footage", 7)


@pytest.mark.parametrize("text", [None, "", "s", "ss3", "b7", "7s", "-1", "٣"])
def test_what_is_no_source_is_none(text: str | None) -> None:
    assert SourceKey.read(text) is None


@pytest.mark.parametrize(
    ("made", "key"), [("body:7", 7), (None, None), ("", None), ("mark:7/3", None), ("body", None)]
)
def test_the_key_of_what_an_edit_made(made: str | None, key: int | None) -> None:
    assert made_key(made) == key
