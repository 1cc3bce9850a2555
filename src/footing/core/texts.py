"""Texts as they may come in: without characters that nobody can see.

Control characters end programs that draw texts, NUL cannot be stored, lone surrogates cannot be
sent, and direction marks make a text look like another one. They are taken out at the door; line
ends and tabulators stay, because pasted tables have them. Categories are Unicode's (UAX 44, 5.7.1).
"""

import unicodedata

_KEPT = "\n\r\t"
_INVISIBLE = {"Cc", "Cf", "Cs", "Co", "Zl", "Zp"}
_NO_CHARACTERS = range(0xFDD0, 0xFDF0)  # beside the last two of each plane


def is_shown(character: str) -> bool:
    """Whether a character can be seen, or is white space that separates."""
    if character in _KEPT:
        return True
    code = ord(character)
    no_character = code in _NO_CHARACTERS or code & 0xFFFE == 0xFFFE
    return not no_character and unicodedata.category(character) not in _INVISIBLE


def cleaned(text: str) -> str:
    """The text without characters that cannot be seen."""
    if text.isascii() and text.isprintable():
        return text
    return "".join(character for character in text if is_shown(character))
