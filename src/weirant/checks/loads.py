"""What goes over the pipe: enough cover under wheels, and a ring that keeps its shape; and pits that water in the ground may lift."""

from __future__ import annotations

from functools import partial

import numpy as np

from weirant.ground.stretches import LaidStretch
from weirant.job.network import IN_THE_OPEN
from weirant.job.section import CARS, TRUCKS
from weirant.language import tr
from weirant.methods.loads import WATER, ring_deflection, wheel_pressure
from weirant.outcome.facts import Amount, Fact
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

WHEEL = {CARS: 500.0, TRUCKS: 16_000 * 0.45359237}  # kg on a wheel: a car (common practice, no source); AASHTO HS20
DENSITY, LAG = 1900.0, 1.5  # kg/m³ of earth and stone over the pipe; by which earth settles on (pipe handbooks, recalled)
BESIDE_STONE, BESIDE_SOIL = 6.9e6, 1.4e6  # Pa, E′ of crushed stone as it is tipped, and of soil tamped a little (Howard 1977, recalled)
LIGHT_LIFT = 5.0  # kg of water displaced that lift no pit


def wheels(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Under wheels: the least cover of each stretch, and how its ring stands it; told of the worst."""
    asked = [_under(outcome, found, stretch) for stretch in found.stretches if stretch.make.section.traffic in WHEEL]
    told = [finding for finding in asked if finding is not None]
    return min(told, key=lambda f: (f.state.rank, f.margin if f.margin is not None else 0.0), default=None)


def _under(outcome: Outcome, found: RunOutcome, stretch: LaidStretch) -> Finding | None:
    grade = found.grade
    if grade is None or not (here := stretch.holds(grade.stations)).any():
        return None
    section, pipe = stretch.make.section, stretch.make.pipe
    limit = outcome.rules.cover_under_trucks if section.traffic == TRUCKS else outcome.rules.cover_under_cars
    if found.run.outlet is not None and found.run.outlet.kind in IN_THE_OPEN:  # where it comes out of the ground to let go, nothing drives
        deep = np.nonzero(grade.cover >= limit)[0]
        here &= ~((np.arange(len(here)) < (deep[0] if len(deep) else 0)) & (grade.stations <= found.run.solid_length))
        if not here.any():
            return None
    lowest = int(np.argmin(np.where(here, grade.cover, np.inf)))
    cover, station = float(grade.cover[lowest]), float(grade.stations[lowest])
    facts: dict[str, Fact] = {"truck": section.traffic == TRUCKS, "section": section.name}
    said = partial(Finding, source="astm_d2321 aashto_lrfd watkins_spangler1958", station=station, piece=stretch.id, caution="no-permission", at_most=False,
                   elements=(f"sections.{section.id}.traffic", f"runs.{found.id}.invert"))  # fmt: skip
    if cover < limit:
        return said(State.FAILS, "shallow" if cover >= 0 else "out", facts={**facts, "out": Amount(-cover, k.DEPTH)}, value=cover, limit=limit, kind=k.COVER)
    if pipe.stiffness is None:
        return said(State.UNKNOWN, "stiffness", facts={**facts, "pipe": stretch.make.pipe_name})
    arguments = {"cover": cover, "soil_density": DENSITY, "live_pressure": wheel_pressure(WHEEL[section.traffic], cover), "pipe_stiffness": pipe.stiffness,
                 "soil_modulus": BESIDE_SOIL if stretch.is_solid or not stretch.make.section.has_stone else BESIDE_STONE, "lag": LAG}  # fmt: skip
    gives = ring_deflection(**arguments).deflection
    figure = Figure(tr("How far the pipe flattens"), gives, k.SHARE, "ring-deflection", arguments, "deflection")
    facts |= {"gives": Amount(gives, k.SHARE), "most": Amount(outcome.rules.most_deflection, k.SHARE), "soil": stretch.is_solid}
    return said(State.HOLDS if gives <= outcome.rules.most_deflection else State.TIGHT, "flattens" if gives > outcome.rules.most_deflection else "", facts=facts, value=cover,
                limit=limit, kind=k.COVER, figure=figure)  # fmt: skip


def uplift(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """A pit at the low end of a run that stands in wet ground floats when it is pumped empty."""
    pit, grade = outcome.site.pumps.get(found.run.nodes[0][0].id), found.grade
    depth = found.soil(0.0).water_table_depth
    if pit is None or grade is None or depth is None:
        return None
    over = float(grade.ground[0]) - depth - pit.floor
    said = partial(Finding, source="geometry cp", station=0.0, piece=pit.node, elements=(f"nodes.{pit.node}.basin.sump",))
    lifted = WATER * pit.area * over
    if lifted < LIGHT_LIFT:
        return said(State.HOLDS, "dry")
    return said(State.TIGHT, "floats", facts={"over": Amount(over, k.DEPTH), "lifted": Amount(lifted, k.WEIGHT)})


RUN = {"wheels": wheels, "pit-uplift": uplift}
