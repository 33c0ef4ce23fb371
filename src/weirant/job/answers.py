"""What was seen on the walk over the site: answers to the short questions, by the question's key."""

from __future__ import annotations

from weirant.job.fields import plain
from weirant.records import dataclass


@dataclass(frozen=True)
class Answer:
    """The answer to one question, in the words that were offered."""

    question: str = plain("question")
    answer: str = plain("answer")
