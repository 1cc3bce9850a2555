"""Comments on what was handed in: at a place of it, answered, and used again."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Annotated

from pydantic import StringConstraints

from footing.core.errors import NotThere, Refused
from footing.store import hand_ins, records
from footing.store.reading import read_study
from footing.store.rows import Comment, HandIn
from footing.studies.received import Received
from footing.studies.review.places import CommentPlace, place_of
from footing.studies.school.people import Person

_MOST = 500  # comments on one hand-in


class NewComment(Received):
    """What somebody says.

    about : a place, see `footing.studies.review.places`; quote : words that are meant
    answers : the comment to which this is an answer
    """

    words: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=2000)]
    about: Annotated[str, StringConstraints(max_length=80)] = ""
    quote: Annotated[str, StringConstraints(strip_whitespace=True, max_length=300)] = ""
    answers: int | None = None


@dataclass(frozen=True)
class ShownComment:
    """A comment with its place, and the answers to it."""

    row: Comment
    place: CommentPlace
    answers: tuple[Comment, ...]
    mine: bool


def shown(hand_in: HandIn, person: Person) -> list[ShownComment]:
    """The comments that somebody sees: students what was returned to them."""
    if person.role != "teacher" and hand_in.returned_at is None:
        return []
    rows, numbers = read_study(hand_in.copy_id), numbers_of_blocks(hand_in)
    every = hand_ins.comments_on(hand_in.id)
    return [
        ShownComment(
            row,
            place_of(row.about, rows, numbers),
            tuple(one for one in every if one.answers_id == row.id),
            mine=_is_of(row, person),
        )
        for row in every
        if row.answers_id is None
    ]


def comment(hand_in: HandIn, person: Person, said: NewComment) -> Comment:
    """Say something. Teachers begin; students answer what was returned.

    Raises
    ------
    Refused : if there is no such place, or it is not for this person to begin.
    """
    every = hand_ins.comments_on(hand_in.id)
    if len(every) >= _MOST:
        raise Refused(f"There are {_MOST} comments already.")
    if said.answers is None:
        if person.role != "teacher":
            raise Refused("Answer one of the comments.", field="answers")
        place_of(said.about, read_study(hand_in.copy_id), numbers_of_blocks(hand_in))
    else:
        seen = [one.row.id for one in shown(hand_in, person)]
        if said.answers not in seen:
            raise NotThere("This comment is not there any more.")
    return records.add(
        Comment(
            hand_in_id=hand_in.id,
            answers_id=said.answers,
            about=said.about if said.answers is None else "",
            quote=said.quote if said.answers is None else "",
            words=said.words,
            teacher_id=person.teacher_id,
            student_id=person.student_id,
            person_name=person.name,
            made_at=datetime.now(UTC),
        )
    )


def take_back(hand_in: HandIn, person: Person, comment_id: int) -> None:
    """Take back what one said, with the answers to it.

    Raises
    ------
    NotThere : if it is not there, or somebody else's.
    """
    every: Sequence[Comment] = hand_ins.comments_on(hand_in.id)
    found = next((one for one in every if one.id == comment_id and _is_of(one, person)), None)
    if found is None:
        raise NotThere("This comment is not there, or somebody else's.")
    hand_ins.remove_comment(found)


def numbers_of_blocks(hand_in: HandIn) -> dict[int, str]:
    """What the blocks of a report are called."""
    return {one["block"]: one["number"] or f"a {one['kind']}" for one in hand_in.blocks}


def _is_of(row: Comment, person: Person) -> bool:
    if person.role == "teacher":
        return row.teacher_id == person.id
    return row.student_id is not None and row.student_id == person.student_id
