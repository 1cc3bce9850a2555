"""Links by which a phone sends files into a study without a sign-in.

A link is a signed number: nobody can make one up, it expires, and it can be revoked.
"""

import secrets
from datetime import UTC, datetime, timedelta

from itsdangerous import BadSignature, URLSafeSerializer

from footing.core.errors import NotThere
from footing.store import links, records
from footing.store.access import ClassStudy, class_study
from footing.store.rows import PhoneLink
from footing.studies.films.uploads import Sender
from footing.studies.school.people import Person, person_of


def make_link(study_id: int, person: Person, *, hours: float) -> PhoneLink:
    """The link of this person for a study: the one that is open, or a new one."""
    present = open_link(study_id, person)
    if present is not None:
        return present
    expires = datetime.now(UTC) + timedelta(hours=hours)
    return records.add(
        PhoneLink(
            study_id=study_id,
            teacher_id=person.teacher_id,
            student_id=person.student_id,
            expires=expires,
        )
    )


def open_link(study_id: int, person: Person) -> PhoneLink | None:
    """The link of this person for a study that has neither expired nor been revoked, or None."""
    return links.open_link(study_id, person, now=datetime.now(UTC))


def revoke_links(study_id: int) -> None:
    """Revoke every link of a study."""
    links.revoke(study_id)


def token_of(link: PhoneLink) -> str:
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
    link = records.fetch(PhoneLink, key)
    if link is None or link.revoked or link.expires <= datetime.now(UTC):
        raise NotThere("This link has expired or was closed; ask for a new code on the laptop.")
    return Sender(link.study_id, person_of(link), link.id)


def study_of(sender: Sender) -> ClassStudy:
    """The study into which a sender sends."""
    study = class_study(sender.study_id)
    if study is None:
        raise NotThere("The study is not there any more.")
    return study


def _serializer() -> URLSafeSerializer:
    return URLSafeSerializer(links.signing_key(secrets.token_urlsafe(32)), salt="phone")
