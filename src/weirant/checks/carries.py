"""Carries: is the pipe large enough, quick enough, and do its openings let the water in?"""

from __future__ import annotations

from functools import partial

import numpy as np

from weirant.checks.judge import judge
from weirant.checks.larger import larger, own_exit
from weirant.ground.inverts import least_slope
from weirant.ground.network import LaidRun
from weirant.ground.stretches import LaidStretch
from weirant.hydraulics.pipes_along import full_conveyance, full_flow
from weirant.hydraulics.run_flow import DROP, RunFlow, StormFlow
from weirant.language import tr
from weirant.library import Pipe
from weirant.methods.intake import perforation_intake
from weirant.methods.pipe_flow import pipe_full_flow
from weirant.outcome.facts import Amount, Facts, Named, Times
from weirant.outcome.figure import Figure
from weirant.outcome.finding import WAITS, Finding, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.rows import level_for, rows_of
from weirant.outcome.site import RunOutcome
from weirant.outcome.standing import OVER, PART_FULL, Standing, standing_at
from weirant.outcome.water import RunWater
from weirant.units import display as k

LITTLE = 5e-3  # share that is told as none


def _tightest(found: RunOutcome, flow: RunFlow | StormFlow) -> tuple[int, LaidStretch]:
    """Index of the station where the pipe is fullest, and the stretch it is full in."""
    assert found.grade is not None
    fullest = int(flow.full_fraction.argmax())
    here = [s for s in found.stretches if s.holds(found.grade.stations[fullest : fullest + 1])[0]]
    return fullest, min(here, key=lambda s: full_conveyance(s.make.pipe))


def capacity(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The largest expected flow against what the pipe carries, with all that joins above; not decided where that is not known.

    It is that of the design storm, where that was simulated, or of the short, hard rain in the wet season where that is more; before, the latter serves
    where the pipe would even carry all of the storm's rain as it falls.
    """
    flow, storm, job, run = found.flow_high, found.storm, outcome.job, found.run
    if flow is None or storm is None or found.grade is None:
        return None
    most: RunFlow | StormFlow = storm if storm.is_simulated and float(storm.full_fraction.max()) >= float(flow.full_fraction.max()) else flow
    limit, discharge = job.limits.fullest, float(np.abs(most.discharge).max())
    discharge = discharge if discharge > DROP else 0.0
    comes, all_rain = Amount(discharge, k.DISCHARGE), Amount(float(np.abs(storm.discharge).max()), k.DISCHARGE)
    fullest, stretch = _tightest(found, most)
    pipe, path = stretch.make.pipe, f"runs.{run.id}.stretches.{stretch.id}.pipe"
    said = partial(Finding, source="chow1959 user", piece=stretch.id, elements=(path, f"runs.{run.id}.slope"))
    if not outcome.site.carries[run.id]:
        return said(State.UNKNOWN, "nothing")
    if flow.capacity <= 0:
        return _level(found, flow, storm, said, {"comes": comes, "storm": most is storm, "rain": all_rain})
    share, station = float(most.full_fraction[fullest]), float(found.grade.stations[fullest])
    state = judge(share, limit, at_most=True)
    if flow.missing and state != State.FAILS:
        return said(State.UNKNOWN, "missing", facts={"missing": flow.missing, "comes": comes})
    if flow.shared and state != State.HOLDS:
        return said(State.UNKNOWN, "shared", facts={"why": flow.shared, "comes": comes})
    could_be = float(storm.full_fraction.max())
    if state != State.FAILS and could_be > share + 1e-9 and judge(could_be, limit, at_most=True) != State.HOLDS:
        return said(State.UNKNOWN, WAITS, facts={"comes": comes, "rain": all_rain})
    slope = least_slope(run, stretch.low, stretch.high)[0]
    carries = full_flow(run, stretch)[0]
    figure = Figure(tr("Full-pipe capacity"), carries, k.DISCHARGE, "pipe-full-flow",
                    {"diameter": pipe.inner_diameter, "roughness_n": pipe.roughness_n, "slope": slope}, "discharge", None, tr("{pipes} pipe(s)", pipes=run.run.pipes))  # fmt: skip
    facts: Facts = {"comes": comes, "carries": Amount(carries, k.DISCHARGE), "outlet": run.outlet is not None, "shared": bool(flow.shared), "breaks": bool(run.breaks),
             "narrow": stretch.make.pipe_name if len({s.make.pipe for s in found.stretches}) > 1 else None, "storm": most is storm,
             "rain": all_rain if not storm.is_simulated and discharge < all_rain.value else None}  # fmt: skip
    fixes = (*larger(outcome, found, discharge, stretch), *own_exit(outcome, found, most)) if state == State.FAILS else ()
    return said(state, facts=facts, value=share, limit=limit, kind=k.SHARE, figure=figure, station=station, fixes=fixes)


def _level(found: RunOutcome, flow: RunFlow, storm: StormFlow, said: partial[Finding], facts: Facts) -> Finding:
    """Of a run that lies level somewhere: how high its water stands, by what flows through it and what stands at its ends."""
    assert found.grade is not None
    if flow.missing:
        return said(State.UNKNOWN, "missing", facts={"missing": flow.missing, "comes": facts["comes"]})
    if flow.shared or storm.surface is None:
        return said(State.UNKNOWN, "level")
    grade = found.grade
    bound, now = (standing_at(found, grade, surface, most.discharge, most.full_fraction) for surface, most in ((storm.surface, storm), (flow.surface, flow)))
    is_of_storm = storm.is_simulated and _height(bound) >= _height(now)  # or the short, hard rain brings more
    stands = bound if is_of_storm else now
    state, worst = _state(stands), stands.worst
    if not storm.is_simulated and _state(bound).rank < state.rank:
        return said(State.UNKNOWN, WAITS, facts=facts)
    of_it: Facts = {"storm": is_of_storm, "comes": Amount(float(np.abs(stands.flow).max()), k.DISCHARGE)}
    top = min(float(stands.surface[worst]), max(float(stands.ground[worst]), float(stands.crown[worst])))  # pressed higher, it runs off elsewhere
    deep = top - float(stands.invert[worst])
    if state == State.FAILS:
        return said(state, "stands", facts={**facts, **of_it, "over": True}, station=float(grade.stations[worst]))
    return said(state, "stands", facts={**facts, **of_it, "deep": Amount(deep, k.SECTION), "full": state == State.TIGHT, "over": False}, value=deep,
                limit=float(stands.crown[worst] - stands.invert[worst]), kind=k.SECTION, station=float(grade.stations[worst]))  # fmt: skip


def _height(stands: Standing) -> float:
    """How high water stands over the crown at its worst, m."""
    return float(stands.surface[stands.worst] - stands.crown[stands.worst])


def _state(stands: Standing) -> State:
    """Of a level run: within the pipe it holds, over its crown it is tight, and where water comes out over the ground it fails."""
    word = stands.stands[stands.worst]
    return State.HOLDS if word == PART_FULL else State.FAILS if word == OVER else State.TIGHT


def velocity(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Quick enough that silt moves on, not so quick that it scours."""
    flow, run = found.flow, found.run
    if flow is None or flow.full_velocity <= 0:
        return None
    v = flow.full_velocity
    slowest, slope = min(((s.make.pipe, least_slope(run, s.low, s.high)[0]) for s in found.stretches), key=lambda p: _full_velocity(*p))
    figure = Figure(tr("Full-pipe velocity"), v, k.VELOCITY, "pipe-full-flow",
                    {"diameter": slowest.inner_diameter, "roughness_n": slowest.roughness_n, "slope": slope}, "velocity")  # fmt: skip
    said = partial(Finding, source="nrcs606", value=v, kind=k.VELOCITY, figure=figure, elements=(f"runs.{run.id}.slope",))
    if v > outcome.rules.most_velocity:
        return said(State.FAILS, limit=outcome.rules.most_velocity)
    slow = partial(said, limit=outcome.rules.least_velocity, at_most=False)
    state = judge(v, outcome.rules.least_velocity, at_most=False)
    if v < outcome.rules.least_velocity:
        return slow(State.TIGHT, "slow")  # slow is a matter of upkeep, not of failure
    return slow(state)


def _full_velocity(pipe: Pipe, slope: float) -> float:
    return pipe_full_flow(pipe.inner_diameter, pipe.roughness_n, slope).velocity


def intake(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The openings let in the most that comes in the design storm, with part of them blocked; of the stretches the one whose openings take least."""
    water, job, run = found.water, outcome.job, found.run
    if water is None or run.collecting_length < 0.1 or any(part.inflow is None for part in water.parts):
        return None
    comes = max(seep.rate for seep in water.inflow_storm.seeps)
    found_least: tuple[float, dict[str, float], LaidStretch] | None = None
    for stretch in found.stretches:
        pipe = stretch.make.pipe
        head = pipe.outer_diameter * (outcome.rules.head_on_low_holes if pipe.openings == "down" else outcome.rules.head_all_round)
        arguments = {"open_area_per_length": pipe.open_area_per_length, "head": head, "blocked_fraction": job.limits.blocked}
        takes = perforation_intake(**arguments) * run.run.pipes
        if not stretch.is_solid and (found_least is None or takes < found_least[0]):
            found_least = takes, arguments, stretch
    assert found_least is not None
    takes, arguments, stretch = found_least
    state = judge(comes, takes, at_most=True)
    is_bound, steady = found.storm is not None and not found.storm.is_simulated, _steady_rate(water, run)
    if is_bound and state != State.HOLDS and comes > steady * (1 + 1e-9) and judge(steady, takes, at_most=True) != State.FAILS:
        return Finding(State.UNKNOWN, WAITS, source="hec22", piece=stretch.id)
    figure = Figure(tr("Intake of the openings"), takes, k.INFLOW, "perforation-intake", arguments, "inflow_per_length")
    share = takes / comes if comes > 0 else float("inf")
    rows, below = rows_of(job, stretch.make.pipe), stretch.make.below
    stands = level_for(rows, comes / run.run.pipes, job.limits.blocked, stretch.make.above) if comes > 0 else None
    facts: Facts = {"begins": Amount(below + rows[0].height, k.SECTION) if rows else None, "stands": Amount(below + stands, k.SECTION) if stands is not None else None,
                    "blocked": Amount(job.limits.blocked, k.SHARE), "takes": Amount(takes, k.INFLOW), "times": Times(share) if 1 <= share < 1e6 else None,
             "more": share >= 1e6, "less": share < 1}  # fmt: skip
    return Finding(state, source="hec22 aashto_m252", facts=facts, value=comes, limit=takes, kind=k.INFLOW, figure=figure, piece=stretch.id,
                   elements=(f"runs.{run.id}.stretches.{stretch.id}.pipe",))  # fmt: skip


def _steady_rate(water: RunWater, run: LaidRun) -> float:
    return max(seep.rate for seep in water.inflow_high.seeps) + water.storm_flow / run.collecting_length


def shares_stone(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Of a run that collects in one trench with others: how much of the groundwater there it takes, the lower ones first."""
    share = outcome.site.stone_shares.get(found.id)
    if share is None:
        return None
    facts: Facts = {"comes": Amount(share.comes, k.DISCHARGE), "share": Amount(share.share, k.SHARE), "others": tuple(Named(run) for run in share.beside)}
    return Finding(State.HOLDS, "spare" if share.share < LITTLE else "", source="cp", facts=facts)


RUN = {"shares-stone": shares_stone, "capacity": capacity, "velocity": velocity, "intake": intake}
