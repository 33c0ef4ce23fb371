"""A storm on the section of a job, with and without its drain, and what it says."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Callable, Iterator

import numpy as np
from numpy.typing import NDArray

from weirant.design.across import GroundSample, section_at, stand_at
from weirant.design.storms import rain_of
from weirant.errors import SolverError
from weirant.job.rain import Storm
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass
from weirant.seepage.flow import FlowState, Means, at_rest, carried_over, settle
from weirant.seepage.grid import USUAL, Fineness
from weirant.seepage.mesh import Laid, lay_out
from weirant.seepage.results import depth_to_water
from weirant.seepage.steady_line import steady_line
from weirant.seepage.storm import Course, courses

Array = NDArray[np.float64]
HOURS = 72.0
MOST, LEAST, HALVINGS = 3.0, 1e-3, 12  # times the usual seepage that is believed, and that counts (cp); halvings until it fits
NEAR = 0.01  # m to which it is made to fit
NEARLY = 1e6  # s: the first step from what is nearly steady
FITS = 0.05  # m by which water in the ground without a drain may stand otherwise than was measured


@dataclass(frozen=True, eq=False)
class Simulation:
    """A course with the place that it is judged at: its name, distance across m, depth to be dry m and time after the rain in which it is to be
    so, s; ``start`` is the state before, in the wet season's seepage, m/s: where there is no drain that with which water stands as deep at the place as
    was measured, ``measured`` m, as near as may be.
    """

    course: Course
    storm: Storm
    name: str
    place: float
    dry_depth: float
    dry_within: float
    start: FlowState
    seepage: float
    measured: float | None = None

    @property
    def after_rain(self) -> float | None:
        """Time from the end of the storm until the place is dry to its depth, s; 0 where it is by then; None: not within the time."""
        dry = self.course.dry_after(self.place, self.dry_depth)
        return None if dry is None else max(0.0, dry - self.storm_ends)

    @property
    def in_time(self) -> bool:
        """Whether the place is dry as soon after the rain as is wanted."""
        return self.after_rain is not None and self.after_rain <= self.dry_within

    @property
    def storm_ends(self) -> float:
        """When the storm is over, s."""
        return self.course.rain.times[-1]

    @property
    def wet_before(self) -> bool:
        """Whether the place was too wet already before the storm."""
        return bool(self.course.depth_at(self.place)[0] < self.dry_depth)

    @property
    def misses(self) -> float | None:
        """How much deeper than was measured water stands at the place before the storm, m, where there is no drain; None where that fits."""
        by = None if self.measured is None else float(self.course.depth_at(self.place)[0]) - self.measured
        return by if by is not None and abs(by) > FITS else None

    @property
    def volume(self) -> float:
        """What the pipe took, m² (per metre of drain)."""
        return self.course.total("pipe")


@dataclass(frozen=True)
class Wish:
    """What is to be simulated: station m of a run (None: where it keeps its place dry; no run named: the first that keeps one), hours after the
    storm began, with the drain or without.
    """

    storm: Storm
    station: float | None = None
    hours: float = HOURS
    drained: bool = True
    ground: GroundSample | None = None
    fineness: Fineness = USUAL
    run: str = ""


def steady_state(laid: Laid, rate: float, guess: tuple[Laid, FlowState] | None = None) -> FlowState:
    """The wet season's steady state under a rate of seepage, m/s; quicker still where the state of a like section is given as a guess than from the line."""
    section = laid.section
    near = carried_over(guess[0], guess[1].head, laid) if guess is not None else at_rest(laid, _by_line(laid, rate))
    try:
        settle(laid, near, rate, first=NEARLY)
        return near
    except SolverError:  # from farther off, which takes longer and gets there
        table = section.upper_table if section.upper_table is not None else section.lower_table
        state = at_rest(laid, section.depth * 0.6 if table is None else table)
        settle(laid, state, rate)
        return state


def _by_line(laid: Laid, rate: float) -> Array:
    """Depth of the water table m in each column (columns,) by the steady line, and in the trench as deep as in the pipe."""
    section = laid.section
    table = steady_line(section, rate).depth(laid.x)[0]
    if section.cut is not None and section.cut.pipe is not None:
        pipe = section.cut.pipe
        within = np.abs(laid.x) < section.cut.width / 2
        table = np.where(within, np.maximum(table, pipe.depth - max(pipe.water, pipe.lowest_hole)), table)
    return np.asarray(np.minimum(table, section.depth))


def running(outcome: Outcome, wish: Wish) -> Iterator[Simulation]:
    """Simulate step by step, giving the growing result after each; leave it at any time.

    Raises InputError where the job does not say enough, SolverError where the flow cannot be solved.
    """
    stand = stand_at(outcome, wish.station, wish.run)
    place = stand.place
    section = section_at(outcome, wish.station, run=wish.run, drained=wish.drained, ground=wish.ground)
    laid, rate, measured = lay_out(section, wish.fineness), outcome.job.water.drainage_rate, None
    if not wish.drained and stand.part.soil.water_table_depth is not None:
        measured = min(stand.part.soil.water_table_depth, section.depth)
        rate, state = fitting_seepage(laid, stand.place_across(section), measured, rate)
    else:
        state = steady_state(laid, rate)
    rain = rain_of(outcome.job, wish.storm)
    rain = dataclasses.replace(rain, rates=(*rain.rates[:-1], rate))
    start, means = state.copy(), Means(drying=outcome.job.water.drying)
    for course in courses(laid, rain, wish.hours * 3600.0, state, means):
        yield Simulation(course, wish.storm, place.name, stand.place_across(section), place.dry_depth or 0.0, place.dry_within, start, rate, measured)


def fitting_seepage(laid: Laid, place: float, measured: float, usual: float) -> tuple[float, FlowState]:
    """The seepage m/s, from none to ``MOST`` times the usual, with which water stands nearest to as deep as was measured, m, at a place in ground
    without a drain, and the steady state under it. Between lines, where no water goes off sideways, what stands there is what was measured.
    """
    if laid.section.upper_table is None:
        return 0.0, at_rest(laid, measured)
    tried: dict[float, FlowState] = {}

    def depth(rate: float) -> float:
        guess = next(reversed(tried.values()), None)
        tried[rate] = steady_state(laid, rate, None if guess is None else (laid, guess))
        return float(np.interp(place, laid.x, depth_to_water(laid, tried[rate].head)))

    low, high = 0.0, MOST * usual
    if depth(low) > measured + NEAR:  # without any seepage it is driest
        middle = high
        for _ in range(HALVINGS):
            stands = depth(middle)
            low, high = (middle, high) if stands > measured else (low, middle)
            if abs(stands - measured) <= NEAR or (low == high):
                break
            middle = math.sqrt(max(low, LEAST * usual) * high)  # it may be a hundredth of the usual
    rate = next(reversed(tried))
    return rate, tried[rate]


def simulated(outcome: Outcome, wish: Wish, told: Callable[[float], bool] | None = None) -> Simulation:
    """The whole simulation; ``told`` is given the share done now and then and answers whether to go on."""
    last = None
    for last in running(outcome, wish):
        if told is not None and not told(last.course.steps[-1].time / (wish.hours * 3600.0)):
            break
    assert last is not None
    return last


@dataclass(frozen=True)
class Refined:
    """The same section on cells half as large: volume of the pipe, m², on both and the change as a share."""

    usual: float
    halved: float

    @property
    def change(self) -> float:
        """Change of the volume as a share of it."""
        return abs(self.halved - self.usual) / max(abs(self.halved), 1e-12)


def refined(outcome: Outcome, wish: Wish, usual: Simulation) -> Refined:
    """How far the pipe's volume hangs on the size of the cells; ``usual`` is what the wish gave on the cells it asks for."""
    return Refined(usual.volume, simulated(outcome, dataclasses.replace(wish, fineness=wish.fineness.times(0.5))).volume)


def peak_bracket(course: Course) -> tuple[float, float]:
    """A bracket of the peak flow, m²/s: its hourly mean, and the largest rate of the steps with what rain fell on open stone.

    The moment's peak hangs on how stone gives off its water, which is not known better than that.
    """
    steps = list(course.steps)
    if not steps:
        return 0.0, 0.0
    ends, flow, lengths = (np.array([getattr(s, name) for s in steps]) for name in ("time", "pipe", "length"))
    volumes = np.concatenate(([0.0], np.cumsum(flow * lengths)))
    at = np.concatenate(([0.0], ends))
    moments = np.arange(0.0, ends[-1], 300.0)
    hour = (np.interp(moments + 3600.0, at, volumes) - np.interp(moments, at, volumes)) / 3600.0
    return float(hour.max(initial=0.0)), float(max(flow.max(), hour.max(initial=0.0)))
