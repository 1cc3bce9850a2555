"""Answers in words to the questions of a lab."""

from dataclasses import replace
from typing import Annotated, Literal

from pydantic import StringConstraints

from footing.core.errors import Refused
from footing.store import labs
from footing.store.rows import Answer
from footing.studies.edits.base import EditModel
from footing.studies.work import Work


class AnswerQuestion(EditModel):
    """Answer a question of the lab in words; an empty text takes the answer back."""

    kind: Literal["answer_question"] = "answer_question"
    question: int
    words: Annotated[str, StringConstraints(max_length=5000)]

    @property
    def label(self) -> str:
        """In the history."""
        return "an answer"

    def apply(self, work: Work) -> None:
        """Keep what was written."""
        words = self.words.strip()
        if not labs.is_asked(work.study_id, self.question):
            raise Refused("The lab does not ask this (any more).", field="question")
        rows = work.rows.all(Answer)
        present = next((row for row in rows if row.question_id == self.question), None)
        if present is None:
            if words:
                new = Answer(study_id=work.study_id, question_id=self.question, words=words)
                work.changes.insert(new)
        elif words:
            work.changes.update(replace(present, words=words))
        else:
            work.changes.delete(present)
