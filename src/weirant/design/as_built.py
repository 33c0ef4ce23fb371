"""What a reading in the trench means for the rest of the run, each way as a job that can be tried."""

from __future__ import annotations

import dataclasses

import numpy as np

from weirant.errors import InputError
from weirant.ground.as_built import KEPT, TOP_KEPT, BuiltProfile, Regrade, built_profile, regrades
from weirant.ground.inverts import invert_at, with_inverts
from weirant.ground.network import LaidRun, laid_run
from weirant.job import Job
from weirant.job.network import AsBuilt
from weirant.job.run_edits import with_run
from weirant.outcome.commands import Instead
from weirant.outcome.facts import Amount, Fact
from weirant.outcome.finding import Fix
from weirant.outcome.outcome import Outcome
from weirant.units.display import DEPTH, SECTION, SLOPE, STATION


def profile_built(job: Job, run: str) -> BuiltProfile:
    """The run of an identity as built so far."""
    return built_profile(laid_run(job, run), job.as_built, job.limits.tolerance)


def with_reading(job: Job, run: str, station: float, level: float) -> Job:
    """The job with an invert as built entered, and what is planned there now; one entered before at the station is replaced, but for what was
    first planned.
    """
    before = next((b for b in job.as_built if (b.run, round(b.station, 2)) == (run, round(station, 2))), None)
    planned = before.planned if before is not None and before.planned is not None else round(float(invert_at(laid_run(job, run), np.array(station))), 6)
    kept = tuple(b for b in job.as_built if (b.run, round(b.station, 2)) != (run, round(station, 2)))
    built = tuple(sorted((*kept, AsBuilt(run, station, level, planned)), key=lambda b: (b.run, b.station)))
    return dataclasses.replace(job, as_built=built)


def without_reading(job: Job, run: str, station: float) -> Job:
    """The job with a reading taken out."""
    return dataclasses.replace(job, as_built=tuple(b for b in job.as_built if (b.run, round(b.station, 2)) != (run, round(station, 2))))


def ways_on(outcome: Outcome, identity: str, station: float, level: float) -> list[Fix]:
    """How the run can go on from an invert that stays as it is (a reading that is off, a rock), and what each way does.

    Those that keep every limit come first.
    """
    job, run = outcome.job, laid_run(outcome.job, identity)
    profile = profile_built(job, identity)
    below = max((r.station for r in profile.readings if r.station < station - 0.05 and r.within), default=0.0)
    ways = sorted(((way, _broken(outcome, run, way)) for way in regrades(run, station, level, below)), key=lambda pair: bool(pair[1]))
    return [_way_on(job, run, way, station, below, broken) for way, broken in ways]


def _way_on(job: Job, run: LaidRun, way: Regrade, station: float, below: float, broken: dict[str, Fact]) -> Fix:
    facts: dict[str, Fact] = {"where": Amount(station, STATION), "above": Amount(way.slope_above, SLOPE), "below": Amount(way.slope_below, SLOPE),
                              "lift": Amount(abs(way.lift), SECTION), "holds": not broken, **broken}  # fmt: skip
    moves = way.lift and way.name != KEPT
    code = ("raise-from" if way.lift > 0 else "lower-from") if moves else "keep-top" if way.name == TOP_KEPT else "keep-end"
    try:
        graded = with_inverts(run, list(way.stations), list(way.levels))
    except InputError:
        return Fix(code, Instead(job), {**facts, "unlaid": True, "holds": False})
    return Fix(code, Instead(with_run(job, dataclasses.replace(graded, held=tuple(h for h in graded.held if h.station <= below)))), facts)


def _broken(outcome: Outcome, run: LaidRun, way: Regrade) -> dict[str, Fact]:
    """What of slope and cover no longer holds on this way."""
    limits, broken = outcome.job.limits, dict[str, Fact]()
    if min(way.slope_above, way.slope_below) <= 0:
        broken["backwards"] = True
    else:
        for name, slope, middle in (("above", way.slope_above, way.stations[-1]), ("below", way.slope_below, way.stations[0])):
            least = limits.least_slope_solid if run.is_solid_at(middle - 1e-3) else limits.least_slope
            if slope < least - 1e-9:
                broken |= {f"flat_{name}": Amount(slope, SLOPE), f"least_{name}": Amount(least, SLOPE)}
    found = outcome.site.run(run.id)
    if found is not None and found.grade is not None:
        invert = np.interp(found.grade.stations, way.stations, way.levels)
        cover = (found.grade.cover + found.grade.invert - invert)[run.collects(found.grade.stations)]
        if len(cover) and float(cover.min()) < limits.least_cover - 1e-9:
            broken["cover"] = Amount(float(cover.min()), DEPTH)
    return broken
