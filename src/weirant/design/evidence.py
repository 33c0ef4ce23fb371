"""Ranks what may be by what was seen and measured: questions with answers, each of which weighs for or against some of it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from functools import cache

from weirant.job.answers import Answer
from weirant.language import tr
from weirant.library.tables import rows_in
from weirant.records import dataclass

CAUTION = 0.5  # pieces of evidence often tell the same thing twice, so each counts for half
Weights = dict[str, float]


@dataclass(frozen=True)
class Question:
    """A question with the answers offered."""

    key: str
    text: str
    answers: tuple[str, ...]


@dataclass(frozen=True)
class Belief:
    """What may be, by its key, with its share of belief (0 to 1) and the evidence for and against it, the strongest first."""

    key: str
    share: float
    points_for: tuple[str, ...]
    points_against: tuple[str, ...]


@cache
def questions_of(name: str) -> tuple[Question, ...]:
    """The questions of a table in the order in which they are asked."""
    texts: dict[str, str] = {}
    answers: dict[str, dict[str, None]] = {}
    for row in rows_in(name):
        texts.setdefault(row["question"], tr(row["text"]))
        answers.setdefault(row["question"], {})[row["answer"]] = None
    return tuple(Question(key, text, tuple(answers[key])) for key, text in texts.items())


@cache
def weights_of(name: str) -> dict[tuple[str, str], Weights]:
    """What each answer to each question weighs, by the keys of what may be."""
    found: dict[tuple[str, str], Weights] = {}
    for row in rows_in(name):
        of = found.setdefault((row["question"], row["answer"]), {})
        if row["kind"]:
            of[row["kind"]] = float(row["weight"])
    return found


def with_answer(answers: Sequence[Answer], question: str, answer: str) -> tuple[Answer, ...]:
    """Answers with a question answered anew; an empty answer takes it out."""
    kept = tuple(a for a in answers if a.question != question)
    return (*kept, Answer(question, answer)) if answer else kept


def said(name: str, answers: Iterable[Answer]) -> list[tuple[Weights, str]]:
    """What the answers weigh, each with its words."""
    weights, texts = weights_of(name), {q.key: q.text for q in questions_of(name)}
    return [(weights[a.question, a.answer], f"{texts[a.question].rstrip('?')}: {tr(a.answer)}") for a in answers if (a.question, a.answer) in weights]


def ranked(keys: Iterable[str], evidence: Iterable[tuple[Weights, str]]) -> list[Belief]:
    """What may be, from the likeliest down. Weights add up like logarithms of odds (common practice, no source)."""
    scores = dict.fromkeys(keys, 0.0)
    told: dict[str, list[tuple[float, str]]] = {key: [] for key in scores}
    for weights, words in evidence:
        for key, weight in weights.items():
            scores[key] += weight
            told[key].append((weight, words))
    most = max(scores.values())
    beliefs = {key: math.exp(CAUTION * (score - most)) for key, score in scores.items()}
    found = [Belief(key, beliefs[key] / sum(beliefs.values()), tuple(w for weight, w in sorted(told[key], reverse=True) if weight > 0),
                    tuple(w for weight, w in sorted(told[key]) if weight < 0)) for key in scores]  # fmt: skip
    return sorted(found, key=lambda belief: -belief.share)


def ask_next(name: str, answers: Iterable[Answer], first: str, second: str) -> Question | None:
    """The open question whose answers part two of them the most; None where all are answered."""
    done, weights = {a.question for a in answers}, weights_of(name)

    def parts(question: Question) -> float:
        gaps = [weights[question.key, a].get(first, 0.0) - weights[question.key, a].get(second, 0.0) for a in question.answers]
        return max(gaps) - min(gaps)

    return max((q for q in questions_of(name) if q.key not in done), key=parts, default=None)
