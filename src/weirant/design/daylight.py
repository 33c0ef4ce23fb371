"""Where a run of the job could come to daylight."""

from __future__ import annotations

import math

import numpy as np

from weirant.errors import InputError
from weirant.ground.daylight_places import DaylightPlace, daylight_places
from weirant.ground.inverts import invert_at
from weirant.ground.network import laid_run
from weirant.ground.own_exit import land_of
from weirant.outcome.outcome import Outcome


def places_for(outcome: Outcome, identity: str, slope: float | None = None) -> list[DaylightPlace]:
    """Places where a run could come out, from the low end of what collects (its top end where nothing does) at a slope (the least of solid pipe if none)."""
    site, job = outcome.site, outcome.job
    if site.surface is None:
        raise InputError("ground", site.no_surface)
    run = laid_run(job, identity)
    start = run.alignment.point(run.solid_length)
    level = float(invert_at(run, np.array(run.solid_length)))
    make = outcome.run(identity).stretches[0].make
    return daylight_places(site.surface, start, level, slope or job.limits.least_slope_solid, make.section.width, make.below, land_of(job))


def heading_words(bearing: float) -> str:
    """A bearing (rad anticlockwise from east) as a point of the compass."""
    names = ("E", "NE", "N", "NW", "W", "SW", "S", "SE")
    return names[round(math.degrees(bearing) / 45) % 8]
