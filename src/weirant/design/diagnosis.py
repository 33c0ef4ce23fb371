"""Which water is it? Kinds of water ranked by what was seen and measured, the drain each wants, and the next test."""

from __future__ import annotations

import csv
import dataclasses
import math
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np

from weirant.checks.collects import collecting_from
from weirant.job import Job
from weirant.job.answers import Answer
from weirant.job.water import ROOF_WATER
from weirant.language import tr
from weirant.outcome.outcome import Outcome

CAUTION = 0.5  # pieces of evidence often tell the same thing twice, so each counts for half


@dataclass(frozen=True)
class Question:
    """A question with the answers offered."""

    key: str
    text: str
    answers: tuple[str, ...]


@dataclass(frozen=True)
class WaterKind:
    """A kind of water: the drain it wants and the test that would settle it."""

    key: str
    name: str
    drain: str
    test: str


@dataclass(frozen=True)
class Ranked:
    """A kind with its share of belief (0 to 1) and the evidence for and against it, the strongest first."""

    kind: WaterKind
    share: float
    points_for: tuple[str, ...]
    points_against: tuple[str, ...]


@dataclass(frozen=True)
class Diagnosis:
    """Kinds from the likeliest down, and the question whose answer would tell the first two apart best; None where all are answered."""

    ranked: tuple[Ranked, ...]
    ask_next: Question | None


@cache
def questions() -> tuple[Question, ...]:
    """The questions in the order in which they are asked."""
    texts: dict[str, str] = {}
    answers: dict[str, dict[str, None]] = {}
    for row in _rows("diagnosis.csv"):
        texts.setdefault(row["question"], tr(row["text"]))
        answers.setdefault(row["question"], {})[row["answer"]] = None
    return tuple(Question(key, text, tuple(answers[key])) for key, text in texts.items())


@cache
def kinds() -> tuple[WaterKind, ...]:
    """Every kind of water."""
    return tuple(WaterKind(r["kind"], tr(r["name"]), tr(r["drain"]), tr(r["test"])) for r in _rows("waters.csv"))


@cache
def _weights() -> dict[tuple[str, str], dict[str, float]]:
    found: dict[tuple[str, str], dict[str, float]] = {}
    for row in _rows("diagnosis.csv"):
        found.setdefault((row["question"], row["answer"]), {})[row["kind"]] = float(row["weight"])
    return found


@cache
def _rows(name: str) -> list[dict[str, str]]:
    with resources.files("weirant.library").joinpath(name).open(encoding="utf-8") as lines:
        return list(csv.DictReader(lines))


def answered(job: Job, question: str, answer: str) -> Job:
    """The job with a question answered; an empty answer takes it out."""
    kept = tuple(a for a in job.answers if a.question != question)
    return dataclasses.replace(job, answers=(*kept, Answer(question, answer)) if answer else kept)


def diagnose(outcome: Outcome) -> Diagnosis:
    """Rank the kinds of water. Weights add up like logarithms of odds (common practice, no source)."""
    scores = {kind.key: 0.0 for kind in kinds()}
    told: dict[str, list[tuple[float, str]]] = {kind.key: [] for kind in kinds()}
    for weights, words in (*_said(outcome.job), *measured(outcome)):
        for kind, weight in weights.items():
            scores[kind] += weight
            told[kind].append((weight, words))
    most = max(scores.values())
    beliefs = {key: math.exp(CAUTION * (score - most)) for key, score in scores.items()}
    ranked = [Ranked(kind, beliefs[kind.key] / sum(beliefs.values()),
                     tuple(w for weight, w in sorted(told[kind.key], reverse=True) if weight > 0),
                     tuple(w for weight, w in sorted(told[kind.key]) if weight < 0)) for kind in kinds()]  # fmt: skip
    ranked.sort(key=lambda r: -r.share)
    return Diagnosis(tuple(ranked), _next(outcome.job, ranked[0].kind.key, ranked[1].kind.key))


def _said(job: Job) -> list[tuple[dict[str, float], str]]:
    texts = {q.key: q.text for q in questions()}
    return [(_weights()[a.question, a.answer], f"{texts[a.question].rstrip('?')}: {tr(a.answer)}") for a in job.answers if (a.question, a.answer) in _weights()]


def measured(outcome: Outcome) -> list[tuple[dict[str, float], str]]:
    """Evidence that the job's own figures give, as weights by kind and words."""
    job, found = outcome.job, []
    soil, place = outcome.chosen().part.soil, outcome.chosen().part.place
    if soil.water_table_depth is not None and f"soils.{soil.id}.water_table_depth" not in job.assumed and place is not None and place.dry_depth is not None:
        if soil.water_table_depth < place.dry_depth:
            found.append(({"seep": 1.0, "sideways": 0.7, "surface": -0.3}, tr("water stands in the test hole above the depth to be dry")))
        else:
            found.append(({"seep": -1.0, "sideways": -0.7, "surface": 0.5}, tr("water in the test hole stays below the depth to be dry")))
    if soil.water_table_slope is not None and soil.water_table_slope >= 0.03:
        found.append(({"sideways": 1.0, "flat": -1.0}, tr("the water table slopes {slope:.0f} %", slope=100 * soil.water_table_slope)))
    if soil.hard_layer_depth is not None and soil.hard_layer_depth < 1.2 and f"soils.{soil.id}.hard_layer_depth" not in job.assumed:
        found.append(({"sideways": 0.7}, tr("a hard layer lies within 4 ft (1.2 m)")))
    if outcome.soil(soil).conductivity.best < 3e-7:
        found.append(({"surface": 0.7, "flat": 0.7}, tr("the soil lets next to nothing through")))
    if any(s.kind == ROOF_WATER and (not s.node or collecting_from(outcome.site.network, s.node) is not None) for s in job.sources):
        found.append(({"roof": 1.5}, tr("roof water has no pipe of its own")))
    fall = fall_at_place(outcome)
    if fall is not None and abs(fall) > 0.005:
        found.append(({"grading": 0.7, "sideways": 0.5}, tr("the ground falls {slope:.1f} % from the drain to the place", slope=100 * fall)) if fall > 0 else
                     ({"grading": -0.5, "sideways": -0.7}, tr("the ground rises {slope:.1f} % from the drain to the place", slope=-100 * fall)))  # fmt: skip
    return found


def fall_at_place(outcome: Outcome) -> float | None:
    """How the ground falls from the drain to the place that it keeps dry, m/m; None where there are no shots round it."""
    surface, found = outcome.site.surface, outcome.chosen()
    run, at, lie = found.run, found.part.station, found.part.lie
    if surface is None or lie is None:
        return None
    x, y = run.alignment.point(at)
    turn = run.alignment.bearing(at) + lie.sign * math.pi / 2
    out = max(lie.judged, 0.1)
    levels, inside = surface.at(np.array([[x, y], [x + out * math.cos(turn), y + out * math.sin(turn)]]))
    return float((levels[0] - levels[1]) / out) if inside.all() else None


def _next(job: Job, first: str, second: str) -> Question | None:
    """The open question whose answers part two kinds the most."""
    done = {a.question for a in job.answers}
    open_questions = [q for q in questions() if q.key not in done]

    def parts(question: Question) -> float:
        gaps = [_weights()[question.key, a].get(first, 0.0) - _weights()[question.key, a].get(second, 0.0) for a in question.answers]
        return max(gaps) - min(gaps)

    return max(open_questions, key=parts) if open_questions else None
