"""Upkeep that a layout allows or bars: ways in for a hose, and joints that solids settle in."""

from __future__ import annotations

import math
from functools import partial

from weirant.ground.inverts import least_slope
from weirant.ground.joining import led_in_slanting, room_to_slant
from weirant.ground.network import SLANTING, LaidRun
from weirant.ground.ways_in import betweens, with_clean_outs
from weirant.hydraulics.losses import turn_into
from weirant.job.network import BASINS
from weirant.outcome.commands import do
from weirant.outcome.facts import Amount, Facts, Named
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

SHORT = 3.0  # m of pipe that is dug up sooner than flushed (common practice, no source)


def clean_outs(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """A hose gets into every part of a run, from no farther off than is usual; told of the part that is farthest."""
    run, within = found.run, outcome.rules.way_in_within
    asked = [between for between in betweens(run) if between.high - between.low > SHORT or not math.isinf(between.farthest)]
    if not asked:
        return None
    worst = max(asked, key=lambda between: (between.farthest, between.high - between.low))
    said = partial(Finding, source="cp", station=worst.low, kind=k.DISTANCE, limit=within, elements=(f"runs.{run.id}.nodes",))
    facts: Facts = {"to": Amount(worst.high, k.STATION), "every": Amount(2 * within, k.DISTANCE), "top": worst.high > run.length - 1e-6}
    if worst.farthest <= within * (1 + 1e-6):
        return said(State.HOLDS, value=worst.farthest, facts=facts)
    fixes = (Fix("clean-outs", do(with_clean_outs, identity=run.id, within=within), facts),)
    shut = math.isinf(worst.farthest)
    return said(State.TIGHT, value=None if shut else worst.farthest, facts={**facts, "shut": shut}, fixes=fixes)


def wye(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """A run comes into another the way the water goes, by a wye, where no box is set; in level pipe it goes either way."""
    run, network = found.run, outcome.site.network
    low = run.nodes[0][0]
    into: list[tuple[LaidRun, float]] = network.drains_to(run)
    if low.kind in BASINS or not into or least_slope(run)[0] <= 0 or all(at > other.length - 1e-6 for other, at in into):
        return None
    turn = turn_into(run, into)
    facts: Facts = {"other": Named(into[0][0].id), "turn": Amount(turn, k.ANGLE)}
    said = partial(Finding, source="hec22 cp", station=0.0, piece=low.id, facts=facts, elements=(f"runs.{run.id}.nodes",))
    if turn <= SLANTING:
        return said(State.HOLDS)
    shares = run.run.trench_of or any(other.trench_of == run.id for other in outcome.job.runs)
    fixes = () if shares or room_to_slant(run, *into[0]) is None else (Fix("wye-for-tee", do(led_in_slanting, identity=run.id), facts),)
    return said(State.TIGHT, "against" if turn > 180 - SLANTING else "", fixes=fixes)


RUN = {"clean-outs": clean_outs, "wye": wye}
