"""Cells that are small at trench and surface and grow away from them, with edges on everything that has an edge."""

from __future__ import annotations

import math
from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from weirant.records import dataclass
from weirant.seepage.section import HARD, Section

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Fineness:
    """Smallest and largest cell, m, and how fast cells grow away from what is fine, m per m."""

    least: float = 0.05
    most: float = 0.40
    growth: float = 0.16

    def times(self, factor: float) -> Fineness:
        """All cells by a factor; growth follows, so that the grid is the same but for the number of cells."""
        return Fineness(self.least * factor, self.most * factor, self.growth * factor)


SHEET = 0.25, 0.6  # least cells over a layer into which the trench is cut, at which there are edges too
USUAL, ROUGH = Fineness(), Fineness(0.07, 1.0, 0.40)


@dataclass(frozen=True)
class Grid:
    """Edges of columns (columns + 1,) along x and of rows (rows + 1,) by depth, m; columns and rows of the pipe's block."""

    x: Array
    depth: Array
    pipe_columns: tuple[int, int] = (0, 0)
    pipe_rows: tuple[int, int] = (0, 0)

    @property
    def shape(self) -> tuple[int, int]:
        """Number of columns and rows."""
        return len(self.x) - 1, len(self.depth) - 1


def graded(edges: Iterable[float], fine_at: Iterable[float], fineness: Fineness, even: tuple[float, float] | None = None) -> Array:
    """Edges through all the given ones, m, spaced by the distance to the nearest place that wants to be fine.

    ``even`` is a stretch that is cut into equal cells no larger than the least.
    """
    wanted = sorted({round(e, 9) for e in edges})
    fine = sorted(set(fine_at))
    out = [wanted[0]]
    for low, high in zip(wanted, wanted[1:], strict=False):
        if high - low < 1e-6:
            continue
        if even is not None and low >= even[0] - 1e-9 and high <= even[1] + 1e-9:
            count = max(1, round((high - low) / fineness.least))
            out.extend(low + (high - low) * i / count for i in range(1, count + 1))
        else:
            out.extend(_between(low, high, fine, fineness))
    return np.array(out)


def _between(low: float, high: float, fine: list[float], fineness: Fineness) -> list[float]:
    """Edges of an interval after its first, at equal shares of ∫ dx / size."""
    at = np.linspace(low, high, max(9, math.ceil((high - low) / fineness.least * 2) + 1))
    away = np.min(np.abs(at[:, None] - np.array(fine)[None, :]), axis=1) if fine else np.full(len(at), math.inf)
    size = np.minimum(fineness.most, fineness.least + fineness.growth * away)
    share = np.concatenate(([0.0], np.cumsum(np.diff(at) * (1 / size[:-1] + 1 / size[1:]) / 2)))
    count = max(1, math.ceil(share[-1] - 0.15))
    places = np.interp(np.arange(1, count + 1) * share[-1] / count, share, at)
    places[-1] = high
    return [float(p) for p in places]


def grid_of(section: Section, fineness: Fineness = USUAL) -> Grid:
    """The grid of a section."""
    x, fine_x = [-section.upslope, section.downslope], [0.0]
    depths, fine_depth = [0.0, section.depth], [0.0]
    below = 0.0
    sheets: list[float] = []
    for stratum, under in zip(section.strata, section.strata[1:], strict=False):
        below += stratum.thickness
        if below < section.depth:
            depths.append(below)
            fine_depth.append(below)
            if under.medium.name == HARD:  # water runs to the trench on it in a sheet that is thinner than a usual cell
                sheets = [below - share * fineness.least for share in SHEET if share * fineness.least < below]
    for cover in section.covers:
        for edge in (cover.start, cover.end):
            if -section.upslope < edge < section.downslope:
                x.append(edge)
                fine_x.append(edge)
        if 0 < cover.depth < section.depth:
            depths.append(cover.depth)
    cut, block_x, block_depth = section.cut, None, None
    kept_x: list[float] = []
    kept_depth: list[float] = []
    if cut is not None:
        x += [-cut.width / 2, cut.width / 2]
        fine_x += [-cut.width / 2, cut.width / 2]
        depths += [cut.depth, cut.stone_top]
        fine_depth += [cut.depth, cut.stone_top]
        if cut.pipe is not None:
            radius = cut.pipe.diameter / 2
            block_x, block_depth = (-radius, radius), (cut.pipe.depth - 2 * radius, cut.pipe.depth)
            cell = 2 * radius / max(1, round(2 * radius / fineness.least))
            kept_x = _ring(block_x, cell, (-cut.width / 2, cut.width / 2))
            kept_depth = _ring(block_depth, cell, (cut.stone_top, cut.depth))
            fine_x += kept_x
            fine_depth += kept_depth
    if block_x is None or block_depth is None:
        return Grid(graded(_apart(x, fineness.least, []), fine_x, fineness), graded(_apart(depths + sheets, fineness.least, []), fine_depth, fineness))
    edges_x = graded(_apart(x, fineness.least, kept_x), fine_x, fineness, (min(kept_x), max(kept_x)))
    edges_depth = graded(_apart(depths + sheets, fineness.least, kept_depth), fine_depth, fineness, (min(kept_depth), max(kept_depth)))
    return Grid(edges_x, edges_depth, _span(edges_x, block_x), _span(edges_depth, block_depth))


def _ring(block: tuple[float, float], cell: float, within: tuple[float, float]) -> list[float]:
    """The edges of the pipe's block and of two cells of the same size each side, as far as the trench has room for them: the
    pipe's radius is put right for even cells.
    """
    out = [*block]
    for count in (1, 2):
        out += [e for e in (block[0] - count * cell, block[1] + count * cell) if within[0] + cell / 2 < e < within[1] - cell / 2]
    return out


def _apart(edges: list[float], least: float, kept: list[float]) -> list[float]:
    """Edges without those nearer than a fifth of the least cell to another; ends and those round the pipe stay."""
    low, high = min(edges), max(edges)
    out = [low, high, *(e for e in kept if low < e < high)]
    for edge in edges:
        if low < edge < high and all(abs(edge - other) > least / 5 for other in out):
            out.append(edge)
    return out


def _span(edges: Array, block: tuple[float, float]) -> tuple[int, int]:
    return int(np.argmin(np.abs(edges - block[0]))), int(np.argmin(np.abs(edges - block[1])))
