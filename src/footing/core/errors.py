"""The tree of errors. Each says what was wrong, with which value, and what to do.

    FootingError            anything a person can put right
    ├── Refused             a value or an action that cannot be accepted (the field it belongs to)
    ├── NotThere            something asked for does not exist, or not for this person
    ├── Stale               an edit based on a state that has changed since
    ├── Unreadable          a file that cannot be used
    └── Busy                too much is asked for at once; try again in a moment

The web turns them into 422, 404, 409, 422 and 503; the command line into one line and exit
status 2.
"""


class FootingError(Exception):
    """Base of all errors whose text is meant for the person who caused them."""


class Refused(FootingError):
    """A value or an action that cannot be accepted.

    Parameters
    ----------
    text : one sentence: what was wrong, with which value, what to do
    field : name of the field that the text belongs beside, if any
    """

    def __init__(self, text: str, *, field: str | None = None) -> None:
        super().__init__(text)
        self.field = field


class NotThere(FootingError):
    """Something that was asked for does not exist (or is not for this person to see)."""


class Stale(FootingError):
    """An edit touches what somebody changed after the state that it was based on."""


class Unreadable(FootingError):
    """A file that cannot be used; the text says what it is or what is wrong with it."""


class Busy(FootingError):
    """Too much is asked for at once; the same request can succeed a moment later."""
