"""Links by which a phone sends files into a study without a sign-in.

A link is a signed number: nobody can make one up, it expires, and it can be revoked.
"""

import secrets
from datetime import UTC, datetime, timedelta
from typing import Any

from itsdangerous import BadSignature, URLSafeSerializer

from footing.core.errors import NotThere
from footing.store.tables import PhoneLink, SigningKey, Student, Study, Teacher
from footing.studies import people
from footing.studies.people import Person
from footing.studies.uploads import Sender

_THE_KEY = 1  # there is one row


def make_link(study_id: int, person: Person, *, hours: float) -> Any:
    """The link of this person for a study: the one that is open, or a new one."""
    present = open_link(study_id, person)
    if present is not None:
        return present
    expires = datetime.now(UTC) + timedelta(hours=hours)
    return PhoneLink.create(study=study_id, expires=expires, **person.as_columns)


def open_link(study_id: int, person: Person) -> Any:
    """The link of this person for a study that has neither expired nor been revoked, or None."""
    who = PhoneLink.teacher if person.role == "teacher" else PhoneLink.student
    found = PhoneLink.select().where(
        (PhoneLink.study == study_id)
        & (who == person.id)
        & ~PhoneLink.revoked
        & (PhoneLink.expires > datetime.now(UTC))
    )
    return found.order_by(PhoneLink.id.desc()).first()


def revoke_links(study_id: int) -> None:
    """Revoke every link of a study."""
    PhoneLink.update(revoked=True).where(PhoneLink.study == study_id).execute()


def token_of(link: Any) -> str:
    """What stands in the link's address."""
    token = _serializer().dumps(link.id)
    return token if isinstance(token, str) else token.decode()


def sender_of(token: str) -> Sender:
    """Who sends by this link, and where to.

    Raises
    ------
    NotThere : if it is not a link of ours, has expired or was revoked.
    """
    try:
        key = _serializer().loads(token)
    except BadSignature as error:
        raise NotThere("This link is not complete; scan the code again.") from error
    link: Any = PhoneLink.get_or_none(PhoneLink.id == key)
    if link is None or link.revoked or link.expires <= datetime.now(UTC):
        raise NotThere("This link has expired or was closed; ask for a new code on the laptop.")
    if link.teacher_id:
        person = people.teacher(Teacher.get_by_id(link.teacher_id))
    else:
        person = people.student(Student.get_by_id(link.student_id))
    return Sender(link.study_id, person, link.id)


def study_of(sender: Sender) -> Any:
    """The study into which a sender sends."""
    return Study.get_by_id(sender.study_id)


def _serializer() -> URLSafeSerializer:
    SigningKey.insert(id=_THE_KEY, key=secrets.token_urlsafe(32)).on_conflict_ignore().execute()
    return URLSafeSerializer(SigningKey.get_by_id(_THE_KEY).key, salt="phone")
