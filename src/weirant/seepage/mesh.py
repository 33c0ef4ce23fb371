"""From a section and its grid to the arrays of the kernel."""

from __future__ import annotations

import math
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.intake import GRAVITY, ORIFICE_COEFFICIENT
from weirant.records import dataclass
from weirant.seepage.grid import USUAL, Fineness, Grid, grid_of
from weirant.seepage.kernel.step import Mesh
from weirant.seepage.medium import Medium
from weirant.seepage.section import Opening, Section

Array = NDArray[np.float64]
WORK = 1.5e7  # columns · rows³, what one turn of Newton costs: eight times the usual section, some 30 ms
FAR = 75  # cells that the farther side is at least as wide as: beyond 30 m cells may be larger
COARSER = 12  # times the cells may be made half as large again

# Radius of the round drain that a block of m × m fixed cells of a square grid stands for, in cells: from the lattice's own
# Green's function; 0.1985 = e^−γ/(2√2) for one cell, towards 0.5902 m for many.
BLOCK_RADIUS = (0.1985, 0.7179, 1.2846, 1.8624, 2.4442, 3.0285, 3.6135, 4.1999)


@dataclass(frozen=True)
class Laid:
    """A section on its grid: the kernel's mesh, with what is needed to read results.

    media (columns, rows) index into ``materials``; ``solid`` (columns, rows) where no water can be; rain_width (columns,) m that
    catches rain, 0 under cover; on_stone (columns,) where the ground is open stone.
    """

    section: Section
    grid: Grid
    mesh: Mesh
    materials: tuple[Medium, ...]
    media: NDArray[np.int64]
    solid: NDArray[np.bool_]
    rain_width: Array
    on_stone: NDArray[np.bool_]

    @cached_property
    def x(self) -> Array:
        """Centres of the columns, m."""
        return (self.grid.x[1:] + self.grid.x[:-1]) / 2

    @cached_property
    def depth(self) -> Array:
        """Centres of the rows, m below ground."""
        return (self.grid.depth[1:] + self.grid.depth[:-1]) / 2


def lay_out(section: Section, fineness: Fineness = USUAL) -> Laid:
    """Put a section on a grid of a fineness; far from the trench coarser where the section is so large that it could not be worked out in time."""
    fineness = Fineness(fineness.least, max(fineness.most, max(section.upslope, section.downslope) / FAR), fineness.growth)
    grid = grid_of(section, fineness)
    columns, rows = grid.shape
    for _ in range(COARSER):
        if columns * rows**3 <= WORK:
            break
        fineness = Fineness(fineness.least, fineness.most * 1.5, fineness.growth * 1.5)
        grid = grid_of(section, fineness)
        columns, rows = grid.shape
    dx, dd = np.diff(grid.x), np.diff(grid.depth)
    x, depth = (grid.x[1:] + grid.x[:-1]) / 2, (grid.depth[1:] + grid.depth[:-1]) / 2
    materials, media = _media(section, x, depth)
    solid = np.zeros((columns, rows), dtype=bool)
    for cover in section.covers:
        if cover.depth > 0:
            solid |= ((x > cover.start) & (x < cover.end))[:, None] & (depth < cover.depth)[None, :]
    tilt = math.atan(section.slope)
    elevation = -x[:, None] * math.sin(tilt) - depth[None, :] * math.cos(tilt)
    k_down = np.array([m.conductivity for m in materials])[media]
    k_side = k_down * np.array([m.sideways for m in materials])[media]
    sheet = _sheet(section, x, depth)
    beside, over = _wrap_resistance(section, sheet, grid.depth)
    across = dd[None, :] / (dx[:-1, None] / 2 / k_side[:-1] + dx[1:, None] / 2 / k_side[1:] + beside)
    down = dx[:, None] / (dd[None, :-1] / 2 / k_down[:, :-1] + dd[None, 1:] / 2 / k_down[:, 1:] + over)
    across[solid[1:] | solid[:-1]] = 0.0
    down[solid[:, 1:] | solid[:, :-1]] = 0.0
    covered = np.zeros(columns, dtype=bool)
    for cover in section.covers:
        covered |= (x > cover.start) & (x < cover.end)
    top = np.where(covered | solid[:, 0], 0.0, dx / (dd[0] / 2 / k_down[:, 0]))
    sinks = _pipe(section, grid, elevation, across, down, k_side, k_down)
    heads = _ends(section, elevation, depth, dd, dx, k_side, solid)
    runs = _free_end(section, rows, columns, dd, k_side, tilt, solid)
    mesh = Mesh(columns, rows, np.where(solid, 0.0, dx[:, None] * dd[None, :]).ravel(), elevation.ravel(), media.ravel(), np.array([m.row() for m in materials]),
                across, down, *_leads(materials, media, dx, dd), top, -x * math.sin(tilt), *sinks, *heads, *runs)  # fmt: skip
    is_stone = np.zeros(columns, dtype=bool) if section.cut is None else media[:, 0] == materials.index(section.cut.stone)
    return Laid(section, grid, mesh, materials, media, solid, np.where(top > 0, dx * math.cos(tilt), 0.0), is_stone)


def _media(section: Section, x: Array, depth: Array) -> tuple[tuple[Medium, ...], NDArray[np.int64]]:
    """Every medium once, and which of them fills each cell."""
    found: list[Medium] = []

    def index(medium: Medium) -> int:
        if medium not in found:
            found.append(medium)
        return found.index(medium)

    media = np.tile([index(section.medium_at(float(d))) for d in depth], (len(x), 1))
    cut = section.cut
    if cut is not None:
        inside = _sheet(section, x, depth, whole=True)
        media[inside & (depth < cut.stone_top)[None, :]] = index(cut.fill)
        media[inside & (depth >= cut.stone_top)[None, :]] = index(cut.stone)
    return tuple(found), media.astype(np.int64)


def _sheet(section: Section, x: Array, depth: Array, whole: bool = False) -> NDArray[np.bool_]:
    """Cells within the stone, or within the whole trench."""
    cut = section.cut
    if cut is None:
        return np.zeros((len(x), len(depth)), dtype=bool)
    half = cut.width / 2 + cut.lean * (cut.depth - depth)
    inside = (np.abs(x)[:, None] < half[None, :]) & (depth < cut.depth)[None, :]
    return inside if whole else inside & (depth >= cut.stone_top)[None, :]


def _leads(materials: tuple[Medium, ...], media: NDArray[np.int64], dx: Array, dd: Array) -> tuple[Array, Array]:
    """Share of the upstream cell in the conductivity at a face: half within one soil where cells are small beside the height
    over which it dries, so that a wetting front stays sharp; all of it in stone, between soils, and where gravity would else
    make the answer waver.
    """
    alpha = np.array([m.alpha for m in materials])[media]

    def lead(one: Array, other: Array, first: NDArray[np.int64], second: NDArray[np.int64], drop: Array) -> Array:
        steep = np.maximum(one, other) * drop
        centred = np.maximum(0.5, 1 - 1 / np.maximum(steep, 1e-9))
        return np.where((first == second) & (one < 20), centred, 1.0)

    gap_x, gap_d = (dx[1:] + dx[:-1]) / 2, (dd[1:] + dd[:-1]) / 2
    return (lead(alpha[1:], alpha[:-1], media[1:], media[:-1], np.broadcast_to(gap_x[:, None], media[1:].shape)),
            lead(alpha[:, 1:], alpha[:, :-1], media[:, 1:], media[:, :-1], np.broadcast_to(gap_d[None, :], media[:, 1:].shape)))  # fmt: skip


def _wrap_resistance(section: Section, sheet: NDArray[np.bool_], edges: Array) -> tuple[Array, Array]:
    """Of the wrap, s, at the faces between columns and between rows: at the edge of the stone, where cloth lies there. The steps of a leaning side are its side."""
    cut = section.cut
    beside, inside, below = sheet[1:] != sheet[:-1], sheet[:, 1:] & ~sheet[:, :-1], sheet[:, :-1] & ~sheet[:, 1:]
    if cut is None or not cut.wrap:
        return np.zeros(beside.shape), np.zeros(inside.shape)
    at_floor = np.isclose(edges[1:-1], cut.depth, atol=1e-6)[None, :]
    lies = (inside & cut.wraps.over) | (below & np.where(at_floor, cut.wraps.floor, cut.wraps.sides))
    return np.where(beside & cut.wraps.sides, 1 / cut.wrap, 0.0), np.where(lies, 1 / cut.wrap, 0.0)


Ends = tuple[NDArray[np.int64], Array, Array, Array]


def _pipe(section: Section, grid: Grid, elevation: Array, across: Array, down: Array, k_side: Array, k_down: Array) -> tuple[NDArray[np.int64], Array, Array, Array]:
    """The sinks, and the conductances round the pipe's block put right for its true radius."""
    cut = section.cut
    if cut is None or cut.pipe is None:
        return np.zeros(0, dtype=np.int64), np.zeros(0), np.zeros(0), np.zeros(0)
    pipe, rows = cut.pipe, grid.shape[1]
    (left, right), (high, low) = grid.pipe_columns, grid.pipe_rows
    if right <= left or low <= high:
        raise InputError("", tr("the pipe does not fit into the trench here: look at its width, its depth and the bedding"))
    count = max(1, round(math.sqrt((right - left) * (low - high))))
    cell = math.sqrt((grid.x[right] - grid.x[left]) * (grid.depth[low] - grid.depth[high])) / count
    factor = _well_factor(count, cell, pipe.diameter / 2)
    for i in range(left, right):
        for side in (high - 1, low - 1):
            if 0 <= side < rows - 1:
                down[i, side] *= factor
    for j in range(high, low):
        for edge in (left - 1, right - 1):
            if 0 <= edge < grid.shape[0] - 1:
                across[edge, j] *= factor
    foot = elevation[(left + right) // 2, :]
    cells, conductances, squares, levels = [], [], [], []
    lower_side = pipe.depth
    open_rows = [j for j in range(high, low) if _has_holes(pipe, lower_side - grid.depth[j + 1], lower_side - grid.depth[j])] or [low - 1]
    number = len(open_rows) * (right - left)
    underside = float(foot[low - 1]) - (grid.depth[low] - grid.depth[low - 1]) / 2
    for j in open_rows:
        base = underside + max(lower_side - grid.depth[j + 1], pipe.lowest_hole)
        level = max(base, underside + pipe.water)
        for i in range(left, right):
            cells.append(i * rows + j)
            conductances.append(_entry(pipe, float(k_side[i, j]), float(k_down[i, j])) / number)
            squares.append((number / (ORIFICE_COEFFICIENT * pipe.open_area)) ** 2 / (2 * GRAVITY) if pipe.open_area > 0 else 0.0)
            levels.append(level)
    return np.array(cells, dtype=np.int64), np.array(conductances), np.array(squares), np.array(levels)


def _has_holes(pipe: Opening, low: float, high: float) -> bool:
    return low <= pipe.highest_hole + 1e-9 and high >= pipe.lowest_hole - 1e-9


def _well_factor(count: int, cell: float, radius: float) -> float:
    """By how much the conductances round a block of count × count fixed cells are to be multiplied so that it acts as a round
    drain of a radius; both m. For one cell it is 1/(1 + (2/π) ln(0.1985 cell/radius)).
    """
    of_block = BLOCK_RADIUS[count - 1] if count <= len(BLOCK_RADIUS) else 0.5902 * (count - 1) + 0.07
    return min(max(1 / max(1 + 2 * count / math.pi * math.log(of_block * cell / radius), 0.1), 0.1), 10.0)


def _entry(pipe: Opening, k_side: float, k_down: float) -> float:
    """Conductance of the way in, m²/s per m: so large without a sock that the cells take the pipe's level."""
    free = min(2e3 * math.sqrt(k_side * k_down), 5.0)
    if pipe.sock is None:
        return free
    return 1 / (1 / free + 1 / (pipe.sock * math.pi * pipe.diameter))


def _ends(section: Section, elevation: Array, depth: Array, dd: Array, dx: Array, k_side: Array, solid: NDArray[np.bool_]) -> Ends:
    """Cells at the ends where the water table is held, with conductance to the edge and level; at the lower end water also comes
    out of the face above that level, as into a ditch.
    """
    cells: list[int] = []
    conductances: list[float] = []
    levels: list[float] = []
    faces: list[float] = []
    rows, columns = len(dd), len(dx)
    tilt = math.atan(section.slope)
    for column, table, edge in ((0, section.upper_table, -section.upslope), (columns - 1, section.lower_table, section.downslope)):
        if table is None or (column and section.runs_on):
            continue
        for j in range(rows):
            wet = min(1.0, max(0.0, (depth[j] + dd[j] / 2 - table) / dd[j]))
            whole = k_side[column, j] * dd[j] / (dx[column] / 2)
            level = -edge * math.sin(tilt) - table * math.cos(tilt)
            for share, at, face in ((wet, level, 0.0), (1 - wet if column else 0.0, max(level, elevation[column, j]), 1.0)):
                if share > 0 and not solid[column, j]:
                    cells.append(column * rows + j)
                    conductances.append(whole * share)
                    levels.append(at)
                    faces.append(face)
    return np.array(cells, dtype=np.int64), np.array(conductances), np.array(levels), np.array(faces)


def _free_end(section: Section, rows: int, columns: int, dd: Array, k_side: Array, tilt: float, solid: NDArray[np.bool_]) -> tuple[NDArray[np.int64], Array]:
    if not section.runs_on:
        return np.zeros(0, dtype=np.int64), np.zeros(0)
    open_rows = [j for j in range(rows) if not solid[columns - 1, j]]
    return (np.array([(columns - 1) * rows + j for j in open_rows], dtype=np.int64),
            np.array([k_side[columns - 1, j] * dd[j] * math.sin(tilt) for j in open_rows]))  # fmt: skip


