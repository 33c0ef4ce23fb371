"""Where a pipe can be got into with a hose or a camera, and how far from there it goes on."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import NamedTuple

from weirant.ground.joining import node_at
from weirant.ground.network import LaidRun, laid_run
from weirant.job import Job
from weirant.job.geometry import APART
from weirant.job.network import (
    CLEAN_OUT,
    FALLS_INTO_WATER,
    INLET,
    PLAIN,
    PUMP_PIT,
    RISER,
    RISES,
    ROOF_ENTRY,
    VENT,
    Node,
)
from weirant.job.run_edits import of_node_kind, with_node

LET_IN = (CLEAN_OUT, INLET, RISER, VENT, ROOF_ENTRY, PUMP_PIT)
SHARP = 67.5  # degrees of a bend that a hose does not go round (common practice, no source)
SPARE = 0.99  # of the distance that is made use of: a run that follows another's trench moves by a hair


class Between(NamedTuple):
    """What lies between two ways into a pipe, or an end or a sharp bend without one: stations m, and whether there is one at its low and its high end."""

    low: float
    high: float
    is_open_below: bool
    is_open_above: bool

    @property
    def farthest(self) -> float:
        """How far m from a way in it goes; endless where there is none."""
        length = self.high - self.low
        return length / 2 if self.is_open_below and self.is_open_above else length if self.is_open_below or self.is_open_above else math.inf


def lets_in(node: Node) -> bool:
    """Whether the pipe can be got into at a node: what is set there lets in, or the water leaves where somebody gets at it."""
    return node.kind in LET_IN or (node.outlet is not None and node.outlet.kind in (*FALLS_INTO_WATER, *RISES))


def betweens(run: LaidRun) -> list[Between]:
    """The pieces of a run between its ways in, its ends and its sharp bends, from the low end up."""
    sharp = [station for station, turn in run.bends if abs(turn) > SHARP]
    last = len(run.nodes) - 1
    cuts = [(station, is_open) for i, (node, station) in enumerate(run.nodes)
            if (is_open := lets_in(node)) or i in (0, last) or any(abs(station - at) < APART for at in sharp)]  # fmt: skip
    return [Between(low, high, below, above) for (low, below), (high, above) in zip(cuts, cuts[1:], strict=False)]


def with_clean_outs(job: Job, identity: str, within: float) -> Job:
    """The job with clean-outs set into a run so that it goes on no farther than ``within`` m from a way in: at its top end, at sharp bends, and evenly between."""
    run = laid_run(job, identity)
    joint = run.nodes[0][0].id if run.outlet is None else ""
    for between in reversed(betweens(run)):
        for end in (between.high, between.low):
            node = next(n for n in job.nodes if n.id == next(name.id for name, station in run.nodes if station == end))
            if between.farthest > within and node.kind == PLAIN and node.outlet is None and node.id != joint:
                job = with_node(job, of_node_kind(node, CLEAN_OUT))
                between = between._replace(**{"is_open_above" if end == between.high else "is_open_below": True})
    for between in betweens(laid_run(job, identity)):
        for station in _stations(between, within * SPARE) if between.farthest > within else ():
            job, name = node_at(job, identity, station)
            job = with_node(job, of_node_kind(next(n for n in job.nodes if n.id == name), CLEAN_OUT))
    return job


def _stations(between: Between, within: float) -> Iterator[float]:
    """Where new ways in have to be between two ends."""
    low, high = (between.low, between.high)
    if not between.is_open_below:
        low += within if between.is_open_above else 0.0
    if not between.is_open_above:
        high -= within if between.is_open_below else 0.0
    length = high - low
    if length <= 0:
        return
    if not (between.is_open_below or between.is_open_above):
        yield from (low + length * (i + 0.5) / n for n in [math.ceil(length / (2 * within))] for i in range(n))
        return
    count = math.ceil(length / (2 * within) - 1e-9)
    yield from (low + length * i / count for i in range(0 if not between.is_open_below else 1, count + (0 if between.is_open_above else 1)))
