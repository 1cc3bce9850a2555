"""Codes: of a class to join it, and of a student to come back.

A class code is two plain words and a number, so that it can be said across a room; none of the
words is rude, also not beside another. A student comes back with a PIN of four digits or more, or
with four pictures in their order.
"""

import hashlib
import secrets
from functools import cache
from pathlib import Path
from typing import Literal

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerifyMismatchError

from footing.core.errors import Refused

SecretKind = Literal["pin", "pictures"]
PICTURES = (
    *("owl", "sled", "pine", "star", "boat", "key"),
    *("bell", "fish", "leaf", "moon", "cup", "kite"),
)
CHOSEN = 4  # pictures of a code, in their order
_SHORTEST, _LONGEST = 4, 8  # digits of a PIN
_NUMBERS = range(10, 100)

# Ten thousand PINs are tried in no time by whoever has the database, whatever the hash costs; it
# must not cost a class that joins at once half a minute. What limits guessing is `attempts`.
_HASHER = PasswordHasher(time_cost=1, memory_cost=8192, parallelism=1)


@cache
def _words() -> tuple[str, ...]:
    text = Path(__file__).with_name("code_words.txt").read_text(encoding="utf-8")
    return tuple(text.split())


def new_class_code() -> str:
    """A code that nobody can foresee, such as ``raven-plum-27``."""
    first, second = secrets.choice(_words()), secrets.choice(_words())
    return f"{first}-{second}-{secrets.choice(_NUMBERS)}"


def as_code(typed: str) -> str:
    """A class code as it is stored, of what somebody typed: however it is spaced or capitalised."""
    return "-".join("".join(c if c.isalnum() else " " for c in typed.casefold()).split())


def checked_secret(kind: SecretKind, typed: str) -> str:
    """A PIN or a picture code as it is hashed.

    Raises
    ------
    Refused : if it is none, or guessed at once.
    """
    if kind == "pin":
        digits = typed.strip()
        if not (digits.isascii() and digits.isdigit() and _SHORTEST <= len(digits) <= _LONGEST):
            raise Refused(f"A PIN has {_SHORTEST} to {_LONGEST} digits.", field="secret")
        if len(set(digits)) == 1 or digits in "0123456789" or digits in "9876543210":
            raise Refused("This PIN is guessed at once; choose another.", field="secret")
        return digits
    chosen = typed.split()
    if len(chosen) != CHOSEN or not set(chosen) <= set(PICTURES):
        raise Refused(f"Choose {CHOSEN} pictures, one after the other.", field="secret")
    if len(set(chosen)) == 1:
        raise Refused("Four times the same is guessed at once; choose others.", field="secret")
    return " ".join(chosen)


def hashed_secret(secret: str) -> str:
    """What is kept of a PIN or a picture code."""
    return _HASHER.hash(secret)


def is_secret(typed: str, hashed: str) -> bool:
    """Whether a PIN or a picture code is the one that was hashed."""
    try:
        return _HASHER.verify(hashed, " ".join(typed.split()))
    except (VerifyMismatchError, InvalidHashError):
        return False


def token_hash(token: str) -> str:
    """What is kept of a token that is too long to be guessed."""
    return hashlib.sha256(token.encode()).hexdigest()
