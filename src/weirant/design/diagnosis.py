"""Which water is it? Kinds of water ranked by what was seen and measured, the drain each wants, and the next test."""

from __future__ import annotations

import dataclasses
import math
from functools import cache

import numpy as np

from weirant.checks.collects import collecting_from
from weirant.design.evidence import Question, ask_next, questions_of, ranked, said, with_answer
from weirant.job import Job
from weirant.job.water import ROOF_WATER
from weirant.language import tr
from weirant.library.tables import rows_in
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass

TABLE = "diagnosis.csv"


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


def questions() -> tuple[Question, ...]:
    """The questions in the order in which they are asked."""
    return questions_of(TABLE)


@cache
def kinds() -> tuple[WaterKind, ...]:
    """Every kind of water."""
    return tuple(WaterKind(r["kind"], tr(r["name"]), tr(r["drain"]), tr(r["test"])) for r in rows_in("waters.csv"))


def answered(job: Job, question: str, answer: str) -> Job:
    """The job with a question answered; an empty answer takes it out."""
    return dataclasses.replace(job, answers=with_answer(job.answers, question, answer))


def diagnose(outcome: Outcome) -> Diagnosis:
    """Rank the kinds of water."""
    of = {kind.key: kind for kind in kinds()}
    found = ranked(of, (*said(TABLE, outcome.job.answers), *measured(outcome)))
    told = tuple(Ranked(of[b.key], b.share, b.points_for, b.points_against) for b in found)
    return Diagnosis(told, ask_next(TABLE, outcome.job.answers, found[0].key, found[1].key))


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
