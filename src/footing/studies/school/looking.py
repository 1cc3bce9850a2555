"""Links by which a study can be looked at, without a sign-in, until they are closed.

A link is a signed number, as those of phones: nobody can make one up.
"""

import secrets
from datetime import UTC, datetime

from itsdangerous import BadSignature, URLSafeSerializer

from footing.core.errors import NotThere
from footing.store import links, records
from footing.store.rows import StudyLink
from footing.studies.school.people import Person, guest


def make_link(study_id: int, person: Person) -> StudyLink:
    """The open link of a study, or a new one."""
    present = open_link(study_id)
    if present is not None:
        return present
    return records.add(
        StudyLink(
            study_id=study_id,
            teacher_id=person.teacher_id,
            student_id=person.student_id,
            made_at=datetime.now(UTC),
        )
    )


def open_link(study_id: int) -> StudyLink | None:
    """The link of a study that is not closed, or None."""
    return links.open_to_look(study_id)


def close_links(study_id: int) -> None:
    """Whoever has a link sees the study no more, also not in a page that is open."""
    links.close_to_look(study_id, now=datetime.now(UTC))


def token_of(link: StudyLink) -> str:
    """What stands in the link's address."""
    token = _serializer().dumps(link.id)
    return token if isinstance(token, str) else token.decode()


def looker(token: str) -> tuple[Person, int]:
    """Who looks by this link, and at which study.

    Raises
    ------
    NotThere : if it is not a link of ours, or was closed.
    """
    try:
        key = _serializer().loads(token)
    except BadSignature as error:
        raise NotThere("This link is not complete; copy it again.") from error
    link = records.fetch(StudyLink, key)
    if link is None or link.closed_at is not None:
        raise NotThere("This link was closed by those who made it.")
    return guest(link.id), link.study_id


def study_of(link_id: int) -> int:
    """The study that is looked at by a link.

    Raises
    ------
    NotThere : if the link was closed.
    """
    link = records.fetch(StudyLink, link_id)
    if link is None or link.closed_at is not None:
        raise NotThere("This link was closed by those who made it.")
    return link.study_id


def _serializer() -> URLSafeSerializer:
    return URLSafeSerializer(links.signing_key(secrets.token_urlsafe(32)), salt="look")
