import pytest
from hypothesis import given
from hypothesis import strategies as st

from footing.core.texts import cleaned


@pytest.mark.parametrize(
    "character",
    ["\x00", "\x01", "\x0b", "\x7f", "\x85", "\ud800", "\ufffe", "\ufdd0", "\U0001ffff"],
)
def test_what_cannot_be_drawn_stored_or_sent_is_taken_out(character: str) -> None:
    assert cleaned(f"a{character}b") == "ab"


@pytest.mark.parametrize("mark", ["\u202e", "\u200f", "\u2066", "\u200b", "\ufeff", "\u2028"])
def test_marks_that_nobody_sees_are_taken_out(mark: str) -> None:
    assert cleaned(f"2{mark}3") == "23"


@pytest.mark.parametrize(
    "text", ["a\tb\nc\r\n", "−9.81 m/s² ± 0.03", "Zoë Ångström 雪 😀", "½ ½", ""]
)
def test_what_can_be_read_stays(text: str) -> None:
    assert cleaned(text) == text


@given(st.text(alphabet=st.characters()))
def test_what_was_cleaned_is_clean_and_can_be_sent(text: str) -> None:
    once = cleaned(text)
    assert cleaned(once) == once
    assert "\x00" not in once
    once.encode()
