"""What the sources of water bring in the course of a storm: the ground by the section simulator, roofs and paving by the rational method in time."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from weirant.design.across import GroundSample, Stand, section_at
from weirant.design.simulation import steady_state
from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.storms import curve_number_runoff
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass
from weirant.seepage.flow import BRISK
from weirant.seepage.grid import ROUGH
from weirant.seepage.mesh import lay_out
from weirant.seepage.rain import Rain
from weirant.seepage.storm import Course, simulate

Array = NDArray[np.float64]
WITHIN = 4  # moments within a step of a course
FINE = 60.0  # s between the moments of what runs off, at the least
Told = Callable[[float], bool]
Answer = TypeVar("Answer")
Known = dict[object, "Hydrograph"]
KEPT = 512  # answers kept, so that what does not touch the water is not simulated again


@dataclass(frozen=True, eq=False)
class Hydrograph:
    """What has come by moments s, both (t,): m³, or m² from a metre of drain; ``before`` is the rate before the storm, which goes on in it."""

    moments: Array
    volumes: Array
    before: float = 0.0


def runs_off(rain: Rain, area: float, share: float, concentrates: float, curve_number: float | None = None) -> Hydrograph:
    """What rain in its first to last but one rate runs off an area m² (over 0) at a share, each moment the mean of the rain in the time that it takes
    to come from its far end, ``concentrates`` s (over 0). Its peak is that of the rational method for rain of that duration.

    Where a curve number is given, what runs off is what it leaves of all that has fallen by then, in the place of the share.
    Source: the modified rational method, Chow, Maidment and Mays 1988, §15.4 (recalled); USDA TR-55 and NEH 630 ch. 10 for the curve number.
    """
    edges = np.array(rain.times)
    ends = float(edges[-1])
    step = max(FINE, ends / 2000)
    fallen = np.concatenate(([0.0], np.cumsum(np.diff(edges) * np.array(rain.rates[:-1]))))
    moments = np.unique(np.concatenate((edges, edges + concentrates, np.arange(0.0, ends + concentrates, step))))
    # the depth fallen, straight between the edges, summed once more: its mean over the last moments is a difference of that
    at = np.unique(np.concatenate((moments, np.maximum(moments - concentrates, 0.0))))
    if curve_number is None:
        depth = share * np.interp(at, edges, fallen)
    else:  # it bends with what has fallen, also between the edges
        at = np.unique(np.concatenate((at, np.linspace(0.0, at[-1], 4001))))
        depth = np.array([curve_number_runoff(curve_number, d) for d in np.interp(at, edges, fallen).tolist()])
    summed = np.concatenate(([0.0], np.cumsum(np.diff(at) * (depth[1:] + depth[:-1]) / 2)))
    mean = (np.interp(moments, at, summed) - np.interp(np.maximum(moments - concentrates, 0.0), at, summed)) / concentrates
    return Hydrograph(moments, area * mean)


def of_course(course: Course) -> Hydrograph:
    """What a pipe takes in the course of a storm on a section; smooth between its steps, at whose ends it is exact."""
    from scipy.interpolate import PchipInterpolator

    steps = list(course.steps)
    ends = np.array([0.0, *(step.time for step in steps)])
    taken = np.concatenate(([0.0], np.cumsum([step.length * step.pipe for step in steps])))
    moments = np.unique(np.concatenate([np.linspace(a, b, WITHIN, endpoint=False) for a, b in zip(ends, ends[1:], strict=False)] + [ends[-1:]]))
    return Hydrograph(moments, PchipInterpolator(ends, taken)(moments), course.pipe_before)


def gives_off(outcome: Outcome, stand: Stand, rain: Rain, until: float, told: Told | None, known: Known) -> Hydrograph | None:
    """What the ground beside a drain gives off in a storm, for the high end of its conductivity; None where ``told``, given the share done, says to leave.

    ``known`` keeps what was found for a section. Raises InputError or SolverError where the ground does not say enough or cannot be solved.
    """
    band = outcome.soil(stand.part.soil).conductivity
    if stand.part.soil.hard_layer_depth is None:
        raise InputError("", tr("how deep the hard layer lies is not known"))
    section = section_at(outcome, stand.station, run=stand.found.id, ground=GroundSample(band.high / band.best))
    asked = (section, rain, until, outcome.job.water.drying)
    if asked not in known:
        laid = lay_out(section, ROUGH)
        course = simulate(laid, rain, until, steady_state(laid, rain.rates[-1]), means=dataclasses.replace(BRISK, drying=outcome.job.water.drying), told=told)
        if not course.is_whole:
            return None
        keep(known, asked, of_course(course))
    return known[asked]


def keep(known: dict[object, Answer], asked: object, answer: Answer) -> None:
    """Keep an answer, and not too many of them."""
    while len(known) >= KEPT:
        known.pop(next(iter(known)), None)
    known[asked] = answer
