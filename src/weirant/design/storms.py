"""The storms of a job as rain in steps."""

from __future__ import annotations

from functools import cache

from weirant.errors import InputError
from weirant.job import Job
from weirant.job.rain import EVEN, OWN, PEAKED, Storm
from weirant.language import tr
from weirant.library.tables import rows_in
from weirant.methods.storms import alternating_blocks, depth_in, unit_shape
from weirant.seepage.rain import Rain, staircase

DESIGN = "design storm"
SHOWN = (DESIGN,)  # in the language of the reader
STEPS = 48  # in a shaped storm
RARE = 10.0  # years: the return period taken for a storm built from the rainfall table


def called_storm(storm: Storm) -> str:
    """The name of a storm; the design storm's in the language of the reader."""
    return tr(storm.name) if storm.name in SHOWN else storm.name


def storms_of(job: Job) -> dict[str, Storm]:
    """Every storm by its name: the job's own, and the one of the water step as even rain."""
    found = {DESIGN: Storm(DESIGN, EVEN, job.water.storm_depth, job.water.storm_duration)}
    return {**found, **{storm.name: storm for storm in job.storms}}


def storm_named(job: Job, name: str) -> Storm:
    """A storm of the job; InputError lists what there is."""
    found = storms_of(job)
    if name not in found:
        raise InputError("storm", tr("is not one of {found}", found=", ".join(found)), name)
    return found[name]


def rain_of(job: Job, storm: Storm) -> Rain:
    """A storm, and after it the wet-season seepage."""
    after = job.water.drainage_rate
    if storm.shape == OWN:
        return staircase(storm.readings, storm.step, after)
    if storm.shape == EVEN:
        return Rain((0.0, storm.duration), (storm.depth / storm.duration, after))
    step = storm.duration / STEPS
    if storm.shape == PEAKED:
        durations, depths = rainfall_curve(job, storm)
        return staircase(alternating_blocks(durations, depths, storm.duration, step), step, after)
    hours, shares = _shapes()
    return staircase(unit_shape(hours, shares[storm.shape], storm.depth, storm.duration, step), step, after)


def rainfall_curve(job: Job, storm: Storm) -> tuple[list[float], list[float]]:
    """Durations s and depths m that a peaked storm is built from, with the storm's own depth for its duration.

    The shape is that of the job's table where it has entries, at the return period nearest to ten years; else depth grows with
    the fourth root of the duration (common practice, no source).
    """
    years = sorted({entry.years for entry in job.rainfall}, key=lambda y: abs(y - RARE))
    entries = sorted((e.duration, e.depth) for e in job.rainfall if years and e.years == years[0])
    if len(entries) < 2:
        spans = [storm.duration / STEPS * 2**i for i in range(8)]
        return spans, [storm.depth * (s / storm.duration) ** 0.25 for s in spans]
    durations, depths = [d for d, _ in entries], [p for _, p in entries]
    whole = depth_in(durations, depths, storm.duration)
    return durations, [p * storm.depth / whole for p in depths]


@cache
def _shapes() -> tuple[list[float], dict[str, list[float]]]:
    rows = rows_in("storm_shapes.csv")
    hours = [float(row["hours"]) for row in rows]
    return hours, {name: [float(row[name]) for row in rows] for name in rows[0] if name != "hours"}
