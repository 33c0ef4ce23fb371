"""What grows in a drain, crusts it or bursts it: iron slime, lime and frost, by a few facts of the site and by where water is left standing."""

from __future__ import annotations

from functools import partial

import numpy as np

from weirant.ground.inverts import slope_at
from weirant.job.network import EXISTING
from weirant.methods.pipe_flow import silted_share
from weirant.outcome.commands import Set
from weirant.outcome.facts import Amount, Facts
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass
from weirant.units import display as k

NARROW = 2e-3  # m under which openings grow shut with slime soonest (common practice, no source)
HAIR = 1e-3  # m of water that count as standing
A_QUARTER, TWO_THIRDS = 0.25, 2 / 3  # of its height from which on sediment is flushed out, and from which on nothing is counted on to go through (cp)
LEVEL = 1e-5  # m/m under which a pipe is level


@dataclass(frozen=True)
class Rests:
    """Water left standing in a run when nothing comes: from and to a station m, and how deep m under the ground its surface lies at the least."""

    low: float
    high: float
    depth: float


def left_standing(outcome: Outcome, found: RunOutcome, *, in_openings: bool = False) -> Rests | None:
    """Up to the rim of an outlet that rises or the water outside it, and where the pipe lies level; where it collects alone if only water ``in_openings`` counts.
    None where nothing stands, or no levels are known.
    """
    grade = found.grade
    if grade is None:
        return None
    levels = np.full(len(grade.stations), -np.inf)
    way = outcome.site.outlets.get(found.run.nodes[0][0].id) if found.run.outlet is not None else None
    if way is not None and way.passage is not None and way.soaks is None:
        levels = np.maximum(levels, way.crest)
    if found.run.outlet is not None and found.run.outlet.water_level is not None:
        levels = np.maximum(levels, found.run.outlet.water_level)
    middles = (grade.stations[:-1] + grade.stations[1:]) / 2
    flat = np.abs(slope_at(found.run, middles)) < LEVEL
    level_at = np.concatenate([flat, [False]]) | np.concatenate([[False], flat])
    levels = np.where(level_at, np.maximum(levels, grade.invert + HAIR), levels)
    here = levels - grade.invert >= HAIR
    if in_openings:
        here &= np.any([stretch.holds(grade.stations) for stretch in found.stretches if not stretch.is_solid] or [np.zeros_like(here)], axis=0)
    if not here.any():
        return None
    stations = grade.stations[here]
    return Rests(float(stations[0]), float(stations[-1]), float((grade.ground - np.minimum(levels, grade.ground))[here].min()))


def slime(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Iron in the water grows slime in openings where air and water meet; unknown where water is left standing and nobody has looked."""
    if found.run.collecting_length < 0.1:
        return None
    iron, make, rests = outcome.job.exposure.iron, found.collecting.make, left_standing(outcome, found, in_openings=True)
    said = partial(Finding, source="cp", elements=("exposure.iron",), station=rests.low if rests else None)
    if iron is None:
        return said(State.UNKNOWN, facts={"to": Amount(rests.high, k.STATION)}) if rests is not None else None
    if not iron:
        return said(State.HOLDS)
    narrow, sock = make.pipe.opening < NARROW, make.section.is_socked
    facts: Facts = {"narrow": narrow, "sock": sock, "stands": rests is not None, "opening": Amount(make.pipe.opening, k.OPENING)}
    wider = [p for p in outcome.library.pipes.values() if p.opening >= NARROW and p.open_area_per_length > 0 and abs(p.inner_diameter - make.pipe.inner_diameter) < 0.01]
    fixes = tuple(Fix("take-product", Set(f"runs.{found.id}.pipe", p.key), {"product": p.name}) for p in wider[:1]) if narrow else ()
    return said(State.FAILS if sock else State.TIGHT, "iron", facts=facts, fixes=fixes)


def lime(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Crushed concrete and limestone give off lime that crusts openings and cloth."""
    if found.run.collecting_length < 0.1 or outcome.job.exposure.lime is None:
        return None
    return Finding(State.TIGHT if outcome.job.exposure.lime else State.HOLDS, source="cp", elements=("exposure.lime", f"sections.{found.collecting.make.section.id}.aggregate"))


def frost(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Water that is left standing lies deeper than the ground freezes: ice bursts pipe and shuts outlets."""
    limit = outcome.job.exposure.frost_depth
    if limit is None or found.grade is None:
        return None
    rests = left_standing(outcome, found)
    said = partial(Finding, source="cp", at_most=False, kind=k.DEPTH, limit=limit, elements=("exposure.frost_depth",))
    if rests is None:
        return said(State.HOLDS, "drains", value=None)
    state = State.HOLDS if rests.depth >= limit else State.TIGHT
    return said(state, value=rests.depth, station=rests.low, facts={"to": Amount(rests.high, k.STATION)})


def sediment(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """What sediment leaves of an old pipe."""
    run = found.run.run
    if run.status != EXISTING or run.sediment <= 0:
        return None
    pipe = min((outcome.library.pipe(stretch.pipe) for stretch in run.stretches), key=lambda p: p.inner_diameter)
    filled = min(run.sediment / pipe.inner_diameter, 1.0)
    state = State.HOLDS if filled <= A_QUARTER else State.TIGHT if filled <= TWO_THIRDS else State.FAILS
    return Finding(state, source="cp", facts={"share": Amount(silted_share(filled), k.SHARE)}, value=filled, limit=A_QUARTER if filled <= TWO_THIRDS else TWO_THIRDS, kind=k.SHARE,
                   elements=(f"runs.{run.id}.sediment",))  # fmt: skip


RUN = {"sediment": sediment, "slime": slime, "lime": lime, "frost": frost}
