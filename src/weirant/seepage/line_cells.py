"""What the line models share: the cells across a drain, and how hard flow finds it to converge on one."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from weirant.seepage.grid import Fineness, graded
from weirant.seepage.section import Cover

Array = NDArray[np.float64]
CELLS, FAR = Fineness(0.15, 1.2, 0.25), 25  # cells at the least from the drain to the farther side
FREE = 50.0  # multiple of the conductivity for a drain on the hard layer, where nothing has to converge on it


def radial_conductance(conductivity: float, below: float, diameter: float) -> float:
    """Conductance of the flow that converges on a drain, m²/s per m of head: π K/ln(D/(π r)) with D m of water below the drain.

    Ernst's radial resistance for a drain (ILRI Publication 16 §8.2, recalled); without depth below it, as good as free.
    """
    ratio = below / (math.pi * diameter / 2)
    return FREE * conductivity if ratio <= 1.02 else min(math.pi * conductivity / math.log(ratio), FREE * conductivity)


@lru_cache(maxsize=64)
def line_cells(upslope: float, downslope: float, covers: tuple[Cover, ...], has_drain: bool) -> tuple[Array, Array, Array]:
    """Widths and centres of the cells, m, and the share of rain each takes; samples of one section differ in their soil and share
    their cells.
    """
    half = CELLS.least / 2
    marks = [-upslope, downslope, *(e for c in covers for e in (c.start, c.end) if -upslope < e < downslope), *((-half, half) if has_drain else ())]
    edges = graded(marks, [0.0], Fineness(CELLS.least, max(CELLS.most, max(upslope, downslope) / FAR), CELLS.growth))
    x = (edges[1:] + edges[:-1]) / 2
    catch = np.ones(len(x))
    for cover in covers:
        catch[(x > cover.start) & (x < cover.end)] = 0.0
    return np.diff(edges), x, catch
