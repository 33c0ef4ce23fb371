"""The line model: the water table across a drain as one line, for sliders and for samples by the thousand."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from weirant.records import dataclass
from weirant.seepage.kernel.line import line_course
from weirant.seepage.line_cells import line_cells, radial_conductance
from weirant.seepage.medium import Medium
from weirant.seepage.rain import Rain
from weirant.seepage.section import Section

Array = NDArray[np.float64]
STEPS = 96
SETTLING = 24  # steps to the steady state before
EVEN = (np.arange(30) + 0.5) / 30
LONG = np.geomspace(3600.0, 3e9, SETTLING)  # s


@dataclass(frozen=True, eq=False)
class LineCourse:
    """Ends of the steps and their lengths s (steps,), depth to water at the place m (steps,), flow into the drain m²/s (steps,), what
    ran off m², and the thickness of water over the hard layer at the end m (cells,).
    """

    times: Array
    lengths: Array
    depth: Array
    flow: Array
    ran_off: float
    thickness: Array

    @property
    def volume(self) -> float:
        """What the drain took, m²."""
        return float(self.lengths @ self.flow)


def drainable_porosity(medium: Medium, depth: float) -> float:
    """Water given off per area when the table falls from the ground to a depth m, as a share of the depth; 0 to 1.

    The soil above the table being at rest over it; an even mean of the curve, van Genuchten 1980.
    """
    suction = EVEN * depth
    return max(float(np.mean(medium.saturated - medium.content(-suction))), 0.005)


def line_run(section: Section, rain: Rain, until: float, place: float, porosity: float | None = None, steps: int = STEPS, settle_rate: float | None = None) -> LineCourse:
    """The water table of a section as a line, from its steady state under ``settle_rate`` (the rain's last rate where None) on.

    until s, place m across. Layers lie below one another as in the section; walls and what lies over the water table are not seen. Valid
    where the flow is mostly along the layers: distances well over the saturated thickness.
    """
    width, x, catch = line_cells(section.upslope, section.downslope, section.covers, section.cut is not None)
    low, high, boundary = _layers(section)
    cut = section.cut
    level = section.depth - (cut.pipe.depth - max(cut.pipe.water, cut.pipe.lowest_hole)) if cut is not None and cut.pipe is not None else -1.0
    # a trench down to the hard layer takes the water over its whole height
    below = max(section.depth - cut.depth, 0.0) if cut is not None else 0.0
    drain = int(np.argmin(np.abs(x))) if level >= 0 else -1
    conductance = 2 * radial_conductance(max(low, high), below, cut.pipe.diameter) if cut is not None and cut.pipe is not None else 0.0
    yields = porosity if porosity is not None else drainable_porosity(section.strata[0].medium, min(section.depth, cut.depth if cut else section.depth))
    upper = section.depth - section.upper_table if section.upper_table is not None else -1.0
    lower = section.depth - section.lower_table if section.lower_table is not None else -1.0
    shared = (low, high, boundary, yields, section.depth, section.slope, catch, drain, level, conductance, upper, lower, section.runs_on, -1.0)
    watched = int(np.argmin(np.abs(x - place)))
    start = np.full(len(width), max(upper, lower, 0.6 * section.depth if max(upper, lower) < 0 else 0.0))
    before = rain.rates[-1] if settle_rate is None else settle_rate
    start = line_course(width, start, *shared, np.full(SETTLING, before), LONG, watched)[0]
    times, lengths, rates = time_steps(rain, until, steps)
    end, seen, flow, ran_off = line_course(width, start, *shared, rates, lengths, watched)
    return LineCourse(times, lengths, section.depth - seen, flow, ran_off, end)


def time_steps(rain: Rain, until: float, steps: int = STEPS) -> tuple[Array, Array, Array]:
    """Ends of even steps that also land on the breaks of the rain, their lengths, s, and the rain in each, m/s."""
    ends, lengths, index = _steps(rain.times, until, steps)
    return ends, lengths, np.array(rain.rates)[index]


@lru_cache(maxsize=16)
def _steps(times: tuple[float, ...], until: float, steps: int) -> tuple[Array, Array, NDArray[np.int64]]:
    """Ends and lengths of the steps, and which rate holds in each; samples of one storm share them."""
    ends = np.unique(np.concatenate((np.linspace(0, until, steps + 1)[1:], [t for t in times if 0 < t < until])))
    starts = np.concatenate(([0.0], ends[:-1]))
    return ends, ends - starts, np.searchsorted(times, starts + 1e-6, side="right") - 1


def _layers(section: Section) -> tuple[float, float, float]:
    """Conductivity along the lowest and the upper layers (their mean by thickness), and the thickness of the lowest, m."""
    tops = 0.0
    spans: list[tuple[float, float]] = []
    for stratum in section.strata:
        span = min(stratum.thickness, section.depth - tops)
        if span > 1e-9:
            spans.append((stratum.medium.conductivity * stratum.medium.sideways, span))
            tops += span
    if tops < section.depth - 1e-9:
        spans[-1] = (spans[-1][0], spans[-1][1] + section.depth - tops)
    lowest, above = spans[-1], spans[:-1]
    if not above:
        return lowest[0], lowest[0], section.depth
    return lowest[0], sum(k * d for k, d in above) / sum(d for _, d in above), lowest[1]
