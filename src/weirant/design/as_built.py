"""What a reading in the trench means for the rest of the run, in words, each way as a job that can be tried."""

from __future__ import annotations

import dataclasses

import numpy as np

from weirant.errors import InputError
from weirant.ground.as_built import BuiltProfile, Regrade, built_profile, regrades
from weirant.ground.inverts import invert_at, with_inverts
from weirant.ground.network import LaidRun, laid_run
from weirant.job import Job
from weirant.job.network import AsBuilt
from weirant.job.run_edits import with_run
from weirant.outcome.finding import Fix, Instead
from weirant.outcome.outcome import Outcome
from weirant.units.display import DEPTH, SECTION, SLOPE, STATION, System, shown


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
    """How the run can go on from an invert that stays as it is (a reading that is off, a rock): what each way does, in words.

    Those that keep every limit come first.
    """
    job, run = outcome.job, laid_run(outcome.job, identity)
    profile = profile_built(job, identity)
    below = max((r.station for r in profile.readings if r.station < station - 0.05 and r.within), default=0.0)
    fixes = []
    for way in sorted(regrades(run, station, level, below), key=lambda way: bool(_broken(outcome, run, way))):
        words = _words(outcome, run, way, station)
        try:
            graded = with_inverts(run, list(way.stations), list(way.levels))
        except InputError:
            fixes.append(Fix(f"{words}; it cannot be laid so", Instead(job)))
            continue
        fixes.append(Fix(words, Instead(with_run(job, dataclasses.replace(graded, held=tuple(h for h in graded.held if h.station <= below))))))
    return fixes


def _words(outcome: Outcome, run: LaidRun, way: Regrade, station: float) -> str:
    system = System(outcome.job.units)
    where = shown(station, STATION, system)
    above, below = (shown(s, SLOPE, system) for s in (way.slope_above, way.slope_below))
    if way.lift and way.name != "kept as built":
        head = f"{'Raise' if way.lift > 0 else 'Lower'} from {where} on by {shown(abs(way.lift), SECTION, system)}: slope above stays {above}"
    elif way.name == "top end kept":
        head = f"Keep the top end: slope above {where} becomes {above}"
    else:
        head = f"Keep the end at {where} as it is"
    return f"{head}, below it {below}; {'; '.join(_broken(outcome, run, way)) or 'still holds'}"


def _broken(outcome: Outcome, run: LaidRun, way: Regrade) -> list[str]:
    """What of slope and cover no longer holds on this way."""
    job, system = outcome.job, System(outcome.job.units)
    faults = []
    worst = min(way.slope_above, way.slope_below)
    if worst <= 0:
        faults.append("it runs backwards")
    else:
        for slope, middle in ((way.slope_above, way.stations[-1]), (way.slope_below, way.stations[0])):
            least = job.limits.least_slope_solid if run.is_solid_at(middle - 1e-3) else job.limits.least_slope
            if slope < least - 1e-9:
                faults.append(f"{shown(slope, SLOPE, system)} is under the least slope of {shown(least, SLOPE, system)}")
    found = outcome.site.run(run.id)
    if found is not None and found.grade is not None:
        grade = found.grade
        collecting = run.collects(grade.stations)
        invert = np.interp(grade.stations, way.stations, way.levels)
        cover = (grade.cover + grade.invert - invert)[collecting]
        if len(cover) and float(cover.min()) < job.limits.least_cover - 1e-9:
            faults.append(f"cover falls to {shown(float(cover.min()), DEPTH, system)}")
    return faults
