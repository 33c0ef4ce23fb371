"""What makes a pipe that is too small carry the water that comes to it."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import shapely

from weirant.checks.judge import can_be
from weirant.errors import WeirantError
from weirant.ground.daylight_places import daylight_places
from weirant.ground.inverts import invert_at, least_slope
from weirant.ground.own_exit import EARTH, land_of, with_own_exit
from weirant.ground.stretches import LaidStretch
from weirant.hydraulics.pipes_along import full_flow
from weirant.hydraulics.run_flow import RunFlow, StormFlow
from weirant.methods.pipe_flow import pipe_full_flow
from weirant.outcome.commands import Set, do
from weirant.outcome.facts import Amount
from weirant.outcome.finding import Fix
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

MOST_PIPES = 4  # side by side, as a run takes them
HEADINGS, STEP, FARTHEST = 24, 0.5, 45.0  # how finely a way out is looked for, and how far off, m
APART = 1.0  # m that it keeps from all other pipe but where it leaves its own
NEAR_END = 3.0  # m from either end within which a run is not cut


def larger(outcome: Outcome, found: RunOutcome, discharge: float, tight: LaidStretch) -> tuple[Fix, ...]:
    """The two smallest pipes of the library that carry the flow, for the whole run; or as many of its own side by side; where solid pipe is the narrow part,
    the smallest that carries it there alone.
    """
    run, wanted, slope = found.run, discharge / outcome.job.limits.fullest / found.run.run.pipes, least_slope(found.run)[0]
    fits = [p for p in outcome.library.pipes.values() if pipe_full_flow(p.inner_diameter, p.roughness_n, slope).discharge >= wanted]
    fits.sort(key=lambda p: p.inner_diameter)
    ways = [Fix("take-product", Set(f"runs.{found.id}.pipe", p.key), {"product": p.name}) for p in fits[:2]]
    if tight.is_solid and all(full_flow(run, s)[0] * outcome.job.limits.fullest >= discharge for s in found.stretches if s.id != tight.id) and len(found.stretches) > 1:
        here = least_slope(run, tight.low, tight.high)[0]
        leg = next((p for p in sorted(fits, key=lambda p: (p.inner_diameter, p.roughness_n)) if pipe_full_flow(p.inner_diameter, p.roughness_n, here).discharge >= wanted), None)
        if leg is not None:
            ways.insert(0, Fix("solid-leg", Set(f"runs.{found.id}.stretches.{tight.id}.pipe", leg.key), {"product": leg.name}))
    one = min(pipe_full_flow(s.make.pipe.inner_diameter, s.make.pipe.roughness_n, slope).discharge for s in found.stretches)
    count = math.ceil(discharge / outcome.job.limits.fullest / one - 1e-9)
    if run.run.pipes < count <= MOST_PIPES:
        ways.append(Fix("more-pipes", Set(f"runs.{found.id}.pipes", count), {"count": count}))
    return tuple(ways)


def own_exit(outcome: Outcome, found: RunOutcome, flow: RunFlow | StormFlow) -> tuple[Fix, ...]:
    """The run cut where half of its water has come in, what lies above led to daylight by itself; where each half then is carried and there is a way out."""
    run, surface, grade = found.run, outcome.site.surface, found.grade
    if surface is None or grade is None or outcome.site.network.run(run.id).run.trench_of or any(r.trench_of == run.id for r in outcome.job.runs):
        return ()
    most, inner = float(flow.discharge.max()), (grade.stations > NEAR_END) & (grade.stations < run.length - NEAR_END)
    for below in run.node_stations:  # there the earth between has no room
        inner &= (grade.stations < below) | (grade.stations > below + EARTH + APART)
    if not inner.any() or most <= 0:
        return ()
    at = int(np.where(inner, np.abs(flow.discharge - most / 2), np.inf).argmin())
    carried = float(flow.full_fraction.max()) / most * max(float(flow.discharge[at]), most - float(flow.discharge[at]))
    if carried > outcome.job.limits.fullest:
        return ()
    station, make = float(grade.stations[at]), found.make(float(grade.stations[at]))
    here, land = run.alignment.point(station), land_of(outcome.job)
    pipes = tuple(shapely.difference(shapely.buffer(shapely.linestrings(r.alignment.points), APART), shapely.buffer(shapely.points(here), 3 * APART)) for r in outcome.site.network.runs)
    try:
        places = daylight_places(surface, here, float(invert_at(run, np.array(station))), outcome.job.limits.least_slope_solid, make.section.width, make.below,
                                 dataclasses.replace(land, barred=(*land.barred, *pipes)), headings=HEADINGS, step=STEP, farthest=FARTHEST)  # fmt: skip
    except WeirantError:
        return ()
    if not places:
        return ()
    edit = do(with_own_exit, identity=run.id, station=station, place=places[0])
    if not can_be(edit, outcome.job):
        return ()
    return (Fix("own-exit", edit, {"from": Amount(station, k.STATION), "length": Amount(places[0].length, k.STATION)}),)
