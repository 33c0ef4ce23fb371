"""Carries: is the pipe large enough, quick enough, and do its openings let the water in?"""

from __future__ import annotations

from functools import partial

from weirant.checks.judge import judge, say
from weirant.ground.inverts import least_slope
from weirant.job.paths import with_value
from weirant.library import shipped
from weirant.methods.intake import perforation_intake
from weirant.methods.pipe_flow import pipe_full_flow
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.units import display as k

LEAST_VELOCITY = 0.43  # m/s full, where silt may settle: 1.4 ft/s (NRCS 606, recalled)
HEAD_ON_LOW_HOLES, HEAD_ALL_ROUND = (
    0.75,
    0.5,
)  # share of the pipe's height over the openings, trench full to its crown (cp)
MOST_VELOCITY = 3.0  # m/s full, before joints and bedding suffer (common practice, no source)


def capacity(outcome: Outcome) -> Finding | None:
    """The largest expected flow against what the pipe carries."""
    flow, job = outcome.flow_high, outcome.job
    if flow is None:
        return None
    fullest = int(flow.full_fraction.argmax())
    share = float(flow.full_fraction[fullest])
    state = judge(share, job.limits.fullest, at_most=True)
    reason = (f"At the outlet up to {say(outcome, float(flow.discharge[0]), k.DISCHARGE)} are expected; the pipe carries "
              f"{say(outcome, flow.capacity, k.DISCHARGE)} full{'' if not job.line.breaks else ' where it is flattest'}.")  # fmt: skip
    figure = Figure("Full-pipe capacity", flow.capacity, k.DISCHARGE, "pipe-full-flow",
                    {"diameter": outcome.pipe.inner_diameter, "roughness_n": outcome.pipe.roughness_n, "slope": least_slope(job.line)[0]}, "discharge",
                    None, f"{job.choice.pipe_count} pipe(s)")  # fmt: skip
    fixes = _larger(outcome, float(flow.discharge[0])) if state == State.FAILS else ()
    return Finding("capacity", "carries", "Size of the pipe", state, reason, "chow1959 user", share, job.limits.fullest, k.SHARE,
                   figure=figure, station=float(outcome.grade.stations[fullest]) if outcome.grade else 0.0, fixes=fixes, elements=("choice.pipe", "line.slope"))  # fmt: skip


def _larger(outcome: Outcome, discharge: float) -> tuple[Fix, ...]:
    """The two smallest pipes of the library that carry the flow."""
    job, wanted = outcome.job, discharge / outcome.job.limits.fullest / outcome.job.choice.pipe_count
    fits = [
        p
        for p in shipped().pipes.values()
        if pipe_full_flow(p.inner_diameter, p.roughness_n, least_slope(job.line)[0]).discharge >= wanted
    ]
    fits.sort(key=lambda p: p.inner_diameter)
    return tuple(Fix(p.name, with_value(job, "choice.pipe", p.key)) for p in fits[:2])


def velocity(outcome: Outcome) -> Finding | None:
    """Quick enough that silt moves on, not so quick that it scours."""
    flow = outcome.flow
    if flow is None:
        return None
    v, job = flow.full_velocity, outcome.job
    figure = Figure("Full-pipe velocity", v, k.VELOCITY, "pipe-full-flow",
                    {"diameter": outcome.pipe.inner_diameter, "roughness_n": outcome.pipe.roughness_n, "slope": least_slope(job.line)[0]}, "velocity")  # fmt: skip
    found = partial(
        Finding,
        key="velocity",
        family="carries",
        title="Keeps itself clean",
        source="nrcs606",
        value=v,
        kind=k.VELOCITY,
        figure=figure,
        elements=("line.slope",),
    )
    if v > MOST_VELOCITY:
        return found(
            state=State.FAILS,
            limit=MOST_VELOCITY,
            reason=f"Full, it runs {say(outcome, v, k.VELOCITY)}; so quick a line wants tight joints and anchoring.",
        )
    state = judge(v, LEAST_VELOCITY, at_most=False)
    if state == State.FAILS:
        state = State.TIGHT  # slow is a matter of upkeep, not of failure
    words = "silt moves on" if v >= LEAST_VELOCITY else "silt may settle; plan a clean-out and flushing"
    return found(
        state=state,
        limit=LEAST_VELOCITY,
        at_most=False,
        reason=f"Full, it runs {say(outcome, v, k.VELOCITY)}; {words}.",
    )


def intake(outcome: Outcome) -> Finding | None:
    """The openings let in what comes, with part of them blocked."""
    water, job, pipe = outcome.water, outcome.job, outcome.pipe
    if water is None or water.inflow is None:
        return None
    comes = (water.inflow.band or (0.0, water.inflow.value))[1] + water.storm.value / max(
        job.line.length - job.line.solid_length, 0.1
    )
    head = pipe.outer_diameter * (HEAD_ON_LOW_HOLES if pipe.openings == "down" else HEAD_ALL_ROUND)
    arguments = {
        "open_area_per_length": pipe.open_area_per_length,
        "head": head,
        "blocked_fraction": job.limits.blocked,
    }
    takes = perforation_intake(**arguments) * job.choice.pipe_count
    state = judge(comes, takes, at_most=True)
    figure = Figure("Intake of the openings", takes, k.INFLOW, "perforation-intake", arguments, "inflow_per_length")
    times = takes / comes if comes > 0 else float("inf")
    words = (
        f"{times:.0f} times what comes"
        if 1 <= times < 1e6
        else "more than comes"
        if times >= 1e6
        else "less than comes"
    )
    return Finding("intake", "carries", "Openings of the pipe", state,
                   f"With {say(outcome, job.limits.blocked, k.SHARE)} of them blocked the openings take {say(outcome, takes, k.INFLOW)}, {words}.",
                   "hec22 aashto_m252", comes, takes, k.INFLOW, figure=figure, elements=("choice.pipe",))  # fmt: skip


CHECKS = (capacity, velocity, intake)
