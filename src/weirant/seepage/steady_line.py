"""The steady water table across a drain as one line, for several conductivities at once: quick enough for every step of a drag.

Dupuit's assumption with the flow in the capillary fringe added, on a sloping hard layer, through any layers; recharge, water that comes out at the
surface, and the narrow way into a drain that lies over the hard layer are in it. Sources: Boussinesq 1904; Bouwer 1964 for the fringe, in which
water flows as in so much more saturated depth; Ernst's radial flow (ILRI Publication 16 §8.2). All recalled.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from weirant.records import dataclass
from weirant.seepage.line_cells import FREE, line_cells, radial_conductance
from weirant.seepage.medium import Medium
from weirant.seepage.section import HARD, Cut, Section

Array = NDArray[np.float64]
HEIGHTS = 49  # even heights at which the transmissivity is kept
SKIN = 0.02  # m of soil through which water comes out at the surface
QUICK, STEPS = 20, ((1e4, 3), (1e6, 3), (1e8, 4), (1e10, 6), (math.inf, 40))  # turns at once; or else through time, s, with turns in each
CLOSE = 1e-9  # m by which the last turn may still move the line
SUCTIONS = np.concatenate(([0.0], np.geomspace(1e-3, 8.0, 160)))
# where the line is not trusted, found by the sweep that docs/line_model.md tells of
CONTRAST, RECHARGE, SURFACE, STEEP, LEANING = 10.0, 0.2, 1.5, 0.16, 0.09
LAYERED, VERY_LAYERED = 2.0, 4.0  # times faster along the layers


@dataclass(frozen=True, eq=False)
class SteadyLine:
    """Water table of each sample: places m across (cells,), height of the water over the hard layer m (samples, cells), what the drain takes m²/s
    (samples,), what comes out at the surface m²/s (samples,), and of each sample whether the line is to be trusted.
    """

    section: Section
    x: Array
    height: Array
    flow: Array
    seeps: Array
    is_sound: NDArray[np.bool_]
    level: float
    near: float

    def depth(self, places: Array | float) -> Array:
        """Depth of the water table m at places m across, shape (samples, ...); nought where it stands at the surface.

        Nearer to a drain over the hard layer than flow converges on it, the table comes down to the drain's level as the logarithm.
        """
        at, depth = np.asarray(places, dtype=float), self.section.depth
        found: Array = np.array([np.interp(at, self.x, line) for line in self.height])
        if self.near > 0:
            half, away = max(self.section.cut.width / 2 if self.section.cut is not None else 0.0, 0.1), np.abs(at)
            for side in (-1, 1):
                edge = np.array([np.interp(side * self.near, self.x, line) for line in self.height])
                falls = self.level + np.maximum(edge - self.level, 0.0).reshape(-1, *(1,) * at.ndim) * np.log1p(away / half) / math.log1p(self.near / half)
                found = np.where((away < self.near) & (np.sign(at) * side >= 0) & (found > self.level), np.minimum(found, falls), found)
        return np.asarray(np.maximum(depth - np.minimum(found, depth), 0.0))


def steady_line(section: Section, rate: float, factors: Sequence[float] = (1.0,)) -> SteadyLine:
    """The steady water table under a recharge m/s, for the conductivities of the section times each of the factors. Where it does not close it is not
    to be trusted.
    """
    line = _Line(section, rate, np.array(factors, dtype=float)[:, None])
    height = line.solved()
    flow, seeps = line.taken(height)
    if not line.is_close:  # at least about what must come: a pipe is sized by it
        flow = np.maximum(flow, rough_flow(section, rate) * line.factors[:, 0]) if line.takes else flow
    return SteadyLine(section, line.x, height, flow, seeps.sum(axis=1), line.trusted(height, seeps), line.level, line.near)


def rough_flow(section: Section, rate: float) -> float:
    """About what the drain takes, m²/s, by Darcy from what is held at the ends and what seeps between: enough to tell how deep water flows in its pipe."""
    assert section.cut is not None
    level = max(section.depth - section.cut.depth, 0.0)
    if section.slope > 0 and section.upper_table is not None:
        return _saturated(section, section.depth - section.upper_table) * section.slope + rate * section.upslope
    found = rate * (section.upslope + section.downslope)
    for table, distance in ((section.upper_table, section.upslope), (section.lower_table, section.downslope)):
        if table is not None:
            held = section.depth - table
            found += (_saturated(section, held) + _saturated(section, level)) / 2 * max(held - level, 0.0) / distance - rate * distance / 2
    return max(found, 0.0)


class _Line:
    """The equations of one section for several samples; the heights h of the water over the hard layer are of shape (samples, cells)."""

    def __init__(self, section: Section, rate: float, factors: Array) -> None:
        self.section, self.rate, self.factors, self.is_close = section, rate, factors, True
        self.width, self.x, catch = line_cells(section.upslope, section.downslope, section.covers, section.cut is not None)
        self.gap = (self.width[1:] + self.width[:-1]) / 2
        self.rain = rate * catch * self.width
        self.table, self.step = transmissivity(section), section.depth / (HEIGHTS - 1)
        self.curve = _smooth(self.table)
        self.skin = factors * section.strata[0].medium.conductivity / SKIN * self.width
        self.drain, self.level, self.takes, self.near = int(np.argmin(np.abs(self.x))), -1.0, 0.0, 0.0
        if section.cut is not None and section.cut.pipe is not None:
            self.level, self.takes, self.near = _drain(section, section.cut)
        held = [section.depth - table if table is not None else None for table in (section.upper_table, section.lower_table)]
        self.ends = tuple(None if level is None else (level, _saturated(section, level)) for level in held)  # above its table no water is held there

    def through(self, h: Array) -> tuple[Array, Array]:
        """Transmissivity m²/s at heights, and its slope; both of their shape."""
        at = np.minimum(np.maximum(h * (1 / self.step), 0.0), HEIGHTS - 1.000001)
        low = at.astype(np.intp)
        share, (first, by, by_square, by_cube) = at - low, self.curve[:, low]
        value = first + share * (by + share * (by_square + share * by_cube))
        slope = (by + share * (2 * by_square + 3 * share * by_cube)) * ((h > 0) & (h < self.section.depth))
        return self.factors * value, self.factors / self.step * slope

    def balance(self, h: Array) -> tuple[Array, Array, Array, Array]:
        """What each cell gains, m²/s, and how that changes with its own height, with that of the cell above it, and of the one below."""
        slope, (t, dt) = self.section.slope, self.through(h)
        fall, pace = (h[:, :-1] - h[:, 1:]) / self.gap, (t[:, 1:] + t[:, :-1]) / (2 * self.gap)
        # what slides down the slope goes by the water of both cells, more by the upper one where it is thin beside the fall between them
        lead = slope * np.minimum(np.maximum(1.0 - (h[:, 1:] + h[:, :-1]) / (2 * slope * self.gap), 0.5), 1.0) if slope > 0 else 0.0
        flow = pace * self.gap * fall + lead * t[:, :-1] + (slope - lead) * t[:, 1:]
        by_upper, by_lower = pace + dt[:, :-1] * (fall / 2 + lead), dt[:, 1:] * (fall / 2 + slope - lead) - pace
        own = np.zeros(h.shape)
        gains = own + self.rain
        gains[:, :-1] -= flow
        gains[:, 1:] += flow
        own[:, :-1] -= by_upper
        own[:, 1:] += by_lower
        self._ends(h, t, dt, gains, own)
        taken = self.factors[:, 0] * self.takes
        gains[:, self.drain] -= taken * np.maximum(h[:, self.drain] - self.level, 0.0)
        own[:, self.drain] -= taken * (h[:, self.drain] > self.level)
        over = h - self.section.depth
        gains -= self.skin * np.maximum(over, 0.0)
        own -= self.skin * (over > 0)
        return gains, own, by_upper, -by_lower

    def _ends(self, h: Array, t: Array, dt: Array, gains: Array, own: Array) -> None:
        slope, factors = self.section.slope, self.factors[:, 0]
        for cell, held in zip((0, -1), self.ends, strict=True):
            if held is not None:
                level, beyond = held
                pace = factors * beyond / (self.width[cell] / 2)
                gains[:, cell] += pace * (level - h[:, cell]) + slope * factors * beyond * (1 if cell == 0 else -1)
                own[:, cell] -= pace
        if self.section.runs_on:
            gains[:, -1] -= slope * t[:, -1]
            own[:, -1] -= slope * dt[:, -1]

    def solved(self) -> Array:
        """The heights at which every cell gives on what it gains; by Newton's turns, or through time where those do not close."""
        held = [level for level, _ in (end for end in self.ends if end is not None)]
        start = np.full((len(self.factors), len(self.x)), max(held, default=0.6 * self.section.depth))
        found, is_close = self._turned(start, math.inf, QUICK)
        if is_close:
            return found
        found = start
        for length, turns in STEPS:
            found, self.is_close = self._turned(found, length, turns)
        return found

    def _turned(self, start: Array, length: float, turns: int) -> tuple[Array, bool]:
        h, stored = start, 0.1 * self.width * self.factors / length
        # a dense solver on some dozens of cells is as quick as one for three diagonals, and comes with NumPy: SciPy takes a fifth of a second to load
        row, matrix = np.arange(h.shape[1]), np.zeros((*h.shape, h.shape[1]))
        for _ in range(turns):
            gains, own, upper, lower = self.balance(h)
            gains, own = gains - stored * (h - start), own - stored
            matrix[:, row, row], matrix[:, row[1:], row[:-1]], matrix[:, row[:-1], row[1:]] = own, upper, lower
            try:
                move = np.linalg.solve(matrix, -gains[:, :, None])[:, :, 0]
            except np.linalg.LinAlgError:
                return h, False
            if not np.all(np.isfinite(move)):
                return h, False
            most = self.section.depth / 2
            move = np.minimum(np.maximum(move, -most), most)
            h = h + move
            if np.abs(move).max() < CLOSE:
                return h, True
        return h, False

    def taken(self, h: Array) -> tuple[Array, Array]:
        """What the drain takes (samples,), and what comes out at the surface of each cell; open stone takes what comes down to it over the ground."""
        seeps = self.skin * np.maximum(h - self.section.depth, 0.0)
        flow = self.factors[:, 0] * self.takes * np.maximum(h[:, self.drain] - self.level, 0.0)
        return (flow + seeps[:, self.x < 0].sum(axis=1) if self.is_open else flow), seeps

    @property
    def is_open(self) -> bool:
        """Whether the stone is open to the surface."""
        return self.section.cut is not None and self.section.cut.stone_top <= 1e-9

    def trusted(self, h: Array, seeps: Array) -> NDArray[np.bool_]:
        """Whether nothing is so that the line is known to go wrong: see docs/line_model.md."""
        section = self.section
        soils = [s.medium for s in section.strata if s.medium.name != HARD] or [s.medium for s in section.strata]
        along, down = [soil.conductivity * soil.sideways for soil in soils], self.factors[:, 0] * min(soil.conductivity for soil in soils)
        layered, is_cut_in = max(soil.sideways for soil in soils), section.strata[-1].medium.name == HARD
        is_odd = (max(along) / min(along) > CONTRAST or section.slope > STEEP or (section.slope > LEANING and (layered > LAYERED or is_cut_in))
                  or (layered > VERY_LAYERED and is_cut_in))  # fmt: skip
        wet = seeps > 0
        near = (wet & (np.abs(self.x) < SURFACE * section.depth)).any(axis=1)
        comes_over = wet[:, self.x < 0].any(axis=1) & self.is_open
        return self.is_close & ~(is_odd | (self.rate > RECHARGE * down) | near | comes_over)


def _drain(section: Section, cut: Cut) -> tuple[float, float, float]:
    """Level m of the water in the drain over the hard layer, what it takes m²/s per m over that, and the distance m within which flow converges on it."""
    assert cut.pipe is not None
    level = section.depth - (cut.pipe.depth - max(cut.pipe.water, cut.pipe.lowest_hole))
    below, along = max(section.depth - cut.depth, 0.0), max(s.medium.conductivity * s.medium.sideways for s in section.strata)
    width = cut.width
    if cut.stone_top >= cut.depth:  # no stone: the pipe alone is the drain, and in the hard layer it still lies in its own height of soil
        below, width = max(section.depth - cut.pipe.depth, cut.pipe.diameter / 2), cut.pipe.diameter
    if below <= 0:
        return level, 2 * FREE * along, 0.0  # a trench down to the hard layer takes the water over its whole height
    medium = section.medium_at(min(cut.depth + below / 2, section.depth - 1e-6))
    wetted = width + 2 * max(level - below, 0.0)
    takes = 2 * radial_conductance(medium.conductivity * math.sqrt(medium.sideways), below, wetted / math.pi)
    return level, takes, below * math.sqrt(medium.sideways / 2)


def _smooth(table: Array) -> Array:
    """Coefficients (4, intervals) of cubics through even values that go over into one another without a corner, on which Newton would swing."""
    slope, gained = np.gradient(table), np.diff(table)
    return np.array([table[:-1], slope[:-1], 3 * gained - 2 * slope[:-1] - slope[1:], slope[:-1] + slope[1:] - 2 * gained])


def _saturated(section: Section, level: float) -> float:
    """Transmissivity m²/s along the layers up to a height m over the hard layer, without the fringe."""
    top, found = section.depth, 0.0
    for index, stratum in enumerate(section.strata):
        bottom = 0.0 if index == len(section.strata) - 1 else max(top - stratum.thickness, 0.0)
        found += stratum.medium.conductivity * stratum.medium.sideways * max(min(level, top) - bottom, 0.0)
        top = bottom
    return found


def transmissivity(section: Section) -> Array:
    """Transmissivity m²/s along the layers with the water at even heights over the hard layer, shape (HEIGHTS,): of what is saturated, and of the
    fringe at rest over it.
    """
    heights, top, found = np.linspace(0.0, section.depth, HEIGHTS), section.depth, np.zeros(HEIGHTS)
    for index, stratum in enumerate(section.strata):
        bottom = 0.0 if index == len(section.strata) - 1 else max(top - stratum.thickness, 0.0)
        held = _fringe(stratum.medium)
        wet = np.clip(heights, bottom, top) - bottom
        over = np.interp(np.maximum(top - heights, 0.0), SUCTIONS, held) - np.interp(np.maximum(bottom - heights, 0.0), SUCTIONS, held)
        found += stratum.medium.conductivity * stratum.medium.sideways * (wet + over)
        top = bottom
        if top <= 0:
            break
    return found


@lru_cache(maxsize=256)
def _fringe(medium: Medium) -> Array:
    """Saturated depth m that lets through as much as the soil from the water table up to each of the suctions, shape (suctions,)."""
    middle = (SUCTIONS[1:] + SUCTIONS[:-1]) / 2
    return np.concatenate(([0.0], np.cumsum(np.diff(SUCTIONS) * medium.permeability(-middle))))
