"""Guessing is limited where it comes from, so that nobody keeps others out.

A whole class sits behind one address, and one of them may try codes for fun. So failures count for
the *browser* that they come from, which carries a signed token from its first visit. Tokens can be
thrown away, so very many failures of one address make every further try from there slow, but never
impossible: the class beside a guesser waits for seconds, and the guesser for weeks. A student's PIN
is limited for browsers from which they never came before; the one that they use stays open to them.
"""

import secrets
from datetime import UTC, datetime, timedelta

from itsdangerous import BadSignature, Signer

from footing.core.errors import Refused
from footing.store import accounts
from footing.store.links import signing_key

_TIME = timedelta(minutes=10)
_OF_A_BROWSER = 10  # wrong codes or PINs
_OF_AN_ADDRESS = 400  # wrong codes by all browsers of a school, after which each try takes long
_PAUSE = 3.0  # seconds that it takes then
_OF_A_STUDENT = 12  # wrong PINs from browsers that are new to them


def new_browser() -> str:
    """A token for a browser; it says nothing but that it comes from here."""
    return _signer().sign(secrets.token_urlsafe(9)).decode()


def is_browser(token: str) -> bool:
    """Whether a browser's token is one that was given out."""
    try:
        _signer().unsign(token)
    except BadSignature:
        return False
    return True


def check_code_attempts(browser: str) -> None:
    """Refuse another try of a class code.

    Raises
    ------
    Refused : after too many that were wrong.
    """
    own, _ = accounts.failures("code", browser, since=datetime.now(UTC) - _TIME)
    if own >= _OF_A_BROWSER:
        raise Refused(
            "Too many wrong codes from this device; ask your teacher, or try again in ten minutes.",
            field="code",
        )


def pause_before_code(address: str) -> float:
    """How many seconds another try of a class code from an address has to wait; 0 as a rule."""
    since = datetime.now(UTC) - _TIME
    everywhere, _ = accounts.failures("code", f"all of {address}", since=since)
    return _PAUSE if everywhere >= _OF_AN_ADDRESS else 0.0


def note_wrong_code(browser: str, address: str) -> None:
    """Note that a class code was wrong."""
    accounts.note_failure("code", browser)
    accounts.note_failure("code", f"all of {address}")


def check_first_attempts(address: str) -> None:
    """Refuse another try of the code of the first start.

    Raises
    ------
    Refused : after too many that were wrong.
    """
    wrong, _ = accounts.failures("first", f"all of {address}", since=datetime.now(UTC) - _TIME)
    if wrong >= _OF_A_BROWSER:
        raise Refused("Too many wrong codes; start Footing again for a new one.", field="code")


def note_wrong_first(address: str) -> None:
    """Note that the code of the first start was wrong."""
    accounts.note_failure("first", f"all of {address}")


def check_secret_attempts(student_id: int, browser: str, *, known: bool) -> None:
    """Refuse another try of a PIN or a picture code.

    known : whether this student has come from this browser before

    Raises
    ------
    Refused : after too many that were wrong.
    """
    since = datetime.now(UTC) - _TIME
    own, _ = accounts.failures(_of(student_id), browser, since=since)
    anywhere, _ = accounts.failures(_of(student_id), "anywhere", since=since)
    if own >= _OF_A_BROWSER or (not known and anywhere >= _OF_A_STUDENT):
        raise Refused(
            "Too many tries for this name; try again in ten minutes, or ask your teacher to reset "
            "the PIN.",
            field="secret",
        )


def note_wrong_secret(student_id: int, browser: str) -> None:
    """Note that a PIN or a picture code was wrong."""
    accounts.note_failure(_of(student_id), browser)
    accounts.note_failure(_of(student_id), "anywhere")


def known_mark(student_id: int, browser: str) -> str:
    """What a browser keeps to show that a student came from it."""
    return _signer().get_signature(f"{student_id} {browser}").decode()


def is_known(student_id: int, browser: str, mark: str) -> bool:
    """Whether a browser shows rightly that a student came from it."""
    return _signer().verify_signature(f"{student_id} {browser}", mark)


def _of(student_id: int) -> str:
    return f"student {student_id}"


def _signer() -> Signer:
    return Signer(signing_key(secrets.token_urlsafe(32)), salt="browser")
