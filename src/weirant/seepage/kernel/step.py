"""One step in time of saturated–unsaturated flow by Newton's method, on cells in columns.

Cell k = column · rows + row, rows from the surface down. Flows are per metre of drain, m²/s.
"""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np

from weirant.compiling import compiled
from weirant.seepage.kernel.band import solve_band
from weirant.seepage.kernel.curves import BEND, ENTRY, ENTRY_SHARE, NEAR, RESIDUAL, SPAN, curves_of, head_at

NOISE = 4e-15
CORNER = 1e-9  # m


class Mesh(NamedTuple):
    """What the kernel needs of a section; arrays in SI.

    volume (n,) m², 0 where nothing flows; elevation (n,) of the centres; material (n,) row of table (m, 11); across
    (columns − 1, rows) and down (columns, rows − 1) saturated conductances between neighbours, m²/s per m of head,
    and at each the share, 0.5 to 1, of the upstream cell in the relative conductivity;
    top (columns,) conductance to the surface and top_elevation (columns,); sinks into the pipe: cell, conductance, the
    factor of the square term (s²/m³), level at which they start; heads: cell, conductance, level and 1 where water only comes
    out (a face); runs: cells and conductances of free outflow under unit gradient.
    """

    columns: int
    rows: int
    volume: Any
    elevation: Any
    material: Any
    table: Any
    across: Any
    down: Any
    across_lead: Any
    down_lead: Any
    top: Any
    top_elevation: Any
    sink_cell: Any
    sink_conductance: Any
    sink_square: Any
    sink_level: Any
    head_cell: Any
    head_conductance: Any
    head_level: Any
    head_face: Any
    run_cell: Any
    run_conductance: Any


@compiled()
def intake(difference: float, conductance: float, square: float) -> tuple[float, float]:
    """Flow into the pipe and its slope, for a head of water over the inside: difference = q/conductance + square · q²."""
    if difference <= 0.0:
        return 0.0, 0.0
    if square <= 0.0:
        return conductance * difference, conductance
    half = 0.5 / conductance
    flow = difference / (half + math.sqrt(half * half + square * difference))
    return flow, 1.0 / (2.0 * half + 2.0 * square * flow)


@compiled()
def _slopes_between(a: int, b: int, step: int, conductance: float, lead: float, width: int, head: Any, kr: Any, dkr: Any, band: Any) -> None:
    """How the flow from cell a to cell b = a + step changes with the heads of both."""
    fall = head[a] - head[b]
    of_a = lead if fall >= 0.0 else 1.0 - lead
    mean = of_a * kr[a] + (1.0 - of_a) * kr[b]
    by_a = conductance * (mean + of_a * dkr[a] * fall)
    by_b = conductance * ((1.0 - of_a) * dkr[b] * fall - mean)
    band[a, width] += by_a
    band[a, width + step] += by_b
    band[b, width] -= by_b
    band[b, width - step] -= by_a


@compiled()
def _flow_between(a: int, b: int, conductance: float, lead: float, head: Any, kr: Any, residual: Any) -> None:
    """Flow from cell a to cell b, by the relative conductivity of both, ``lead`` being the share of the one it comes from."""
    fall = head[a] - head[b]
    of_a = lead if fall >= 0.0 else 1.0 - lead
    flow = conductance * (of_a * kr[a] + (1.0 - of_a) * kr[b]) * fall
    residual[a] += flow
    residual[b] -= flow


@compiled()
def _left_over(mesh: Mesh, h: Any, stored: Any, dt: float, supply: Any, pond: Any, kr: Any, dkr: Any, content: Any, capacity: Any, head: Any, residual: Any,
               top_flow: Any, sink_flow: Any, head_flow: Any, run_flow: Any) -> None:  # fmt: skip
    """What is left over in each cell at heads h, with the flows; most turns of a step end here, and want no slopes."""
    rows, columns = mesh.rows, mesh.columns
    curves_of(h, mesh.material, mesh.table, content, capacity, kr, dkr)
    for k in range(h.size):
        head[k] = h[k] + mesh.elevation[k]
        residual[k] = (mesh.volume[k] * content[k] - stored[k]) / dt if mesh.volume[k] > 0.0 else 0.0
    for i in range(columns):
        for j in range(rows):
            k = i * rows + j
            if j < rows - 1 and mesh.down[i, j] > 0.0:
                _flow_between(k, k + 1, mesh.down[i, j], mesh.down_lead[i, j], head, kr, residual)
            if i < columns - 1 and mesh.across[i, j] > 0.0:
                _flow_between(k, k + rows, mesh.across[i, j], mesh.across_lead[i, j], head, kr, residual)
        # rain, ponding and seepage in one: no more goes in than is supplied, and what stands above the surface comes out
        k = i * rows
        top_flow[i] = min(supply[i], mesh.top[i] * (mesh.top_elevation[i] + pond[i] - head[k])) if mesh.top[i] > 0.0 else 0.0
        residual[k] -= top_flow[i]
    for s in range(mesh.sink_cell.size):
        k = mesh.sink_cell[s]
        sink_flow[s] = kr[k] * intake(head[k] - mesh.sink_level[s], mesh.sink_conductance[s], mesh.sink_square[s])[0]
        residual[k] += sink_flow[s]
    for s in range(mesh.head_cell.size):
        k = mesh.head_cell[s]
        fall = mesh.head_level[s] - head[k]
        if fall >= 0.0:
            head_flow[s] = 0.0 if mesh.head_face[s] > 0.0 else mesh.head_conductance[s] * fall
        else:
            head_flow[s] = mesh.head_conductance[s] * kr[k] * fall
        residual[k] -= head_flow[s]
    for s in range(mesh.run_cell.size):
        run_flow[s] = mesh.run_conductance[s] * kr[mesh.run_cell[s]]
        residual[mesh.run_cell[s]] += run_flow[s]


@compiled()
def _slopes(mesh: Mesh, dt: float, supply: Any, pond: Any, kr: Any, dkr: Any, capacity: Any, head: Any, band: Any) -> None:
    """How what is left over changes with the heads; of the state that ``_left_over`` was last asked for."""
    rows, columns, width = mesh.rows, mesh.columns, mesh.rows
    band[:, :] = 0.0
    for k in range(head.size):
        band[k, width] = mesh.volume[k] * capacity[k] / dt if mesh.volume[k] > 0.0 else 1.0
    for i in range(columns):
        for j in range(rows):
            k = i * rows + j
            if j < rows - 1 and mesh.down[i, j] > 0.0:
                _slopes_between(k, k + 1, 1, mesh.down[i, j], mesh.down_lead[i, j], width, head, kr, dkr, band)
            if i < columns - 1 and mesh.across[i, j] > 0.0:
                _slopes_between(k, k + rows, rows, mesh.across[i, j], mesh.across_lead[i, j], width, head, kr, dkr, band)
        k = i * rows
        if mesh.top[i] > 0.0 and mesh.top[i] * (mesh.top_elevation[i] + pond[i] - head[k]) < supply[i]:
            band[k, width] += mesh.top[i]
    for s in range(mesh.sink_cell.size):
        k = mesh.sink_cell[s]
        flow, slope = intake(head[k] - mesh.sink_level[s], mesh.sink_conductance[s], mesh.sink_square[s])
        band[k, width] += kr[k] * slope + dkr[k] * flow
    for s in range(mesh.head_cell.size):
        k = mesh.head_cell[s]
        fall = mesh.head_level[s] - head[k]
        if fall < 0.0:
            band[k, width] += mesh.head_conductance[s] * (kr[k] - dkr[k] * fall)
        elif mesh.head_face[s] <= 0.0:
            band[k, width] += mesh.head_conductance[s]
    for s in range(mesh.run_cell.size):
        k = mesh.run_cell[s]
        band[k, width] += mesh.run_conductance[s] * dkr[k]


@compiled()
def _update(mesh: Mesh, h: Any, change: Any, content: Any, capacity: Any, head: Any) -> None:
    """Apply a Newton correction: by water content where the soil is drier than the bend of its curve, else by head."""
    for k in range(h.size):
        if mesh.volume[k] <= 0.0:
            continue
        m = mesh.table[mesh.material[k]]
        asked = capacity[k] * change[k]
        if h[k] < m[BEND]:
            wanted = content[k] + asked
            least = m[RESIDUAL] + 1e-6 * m[SPAN]
            most = m[RESIDUAL] + 0.9999 * m[SPAN] * m[ENTRY_SHARE]
            if wanted < least:
                h[k] = head_at(0.5 * (content[k] + least) if content[k] > least else least, m)
            elif wanted > most:
                h[k] = m[BEND] if h[k] < 1.5 * m[BEND] else min(h[k] + change[k], 0.5)
            else:
                h[k] = head_at(wanted, m)
        else:
            after = h[k] + change[k]
            if h[k] >= m[ENTRY] and after < m[ENTRY]:
                # full pores tell nothing of how far they would empty: first only to where they begin to
                after = max(after, m[NEAR])
            h[k] = max(after, 1.2 * m[BEND] - 1e-4) if after < m[BEND] else after
    # the flow into the pipe starts with a corner and then bends like a root: whoever passes the corner stops on it, or Newton
    # swings from one side to the other
    for s in range(mesh.sink_cell.size):
        k = mesh.sink_cell[s]
        corner = mesh.sink_level[s] - mesh.elevation[k]
        was = head[k] - mesh.sink_level[s]
        if (was < 0.0 and h[k] > corner) or (was > CORNER and h[k] < corner):
            h[k] = corner + 0.5 * CORNER


@compiled()
def newton_step(mesh: Mesh, h: Any, stored: Any, dt: float, supply: Any, pond: Any, tolerance: float, most: int, top_flow: Any, sink_flow: Any,
                head_flow: Any, run_flow: Any) -> tuple[int, float, float]:  # fmt: skip
    """Find the heads at the end of a step.

    h (n,) is the guess and becomes the answer; stored (n,) the water in the cells before, m², and becomes the water after,
    by the flows that crossed, so that what Newton leaves over is put right in the next step. tolerance is a share of the
    cell's volume. Gives the number of turns, negative where it did not close, what is left over, and the water in all cells by
    the soils' curves, m².
    """
    n, width = h.size, mesh.rows
    kr, dkr, content, capacity, head, residual, diagonal = np.empty(n), np.empty(n), np.empty(n), np.empty(n), np.empty(n), np.empty(n), np.zeros(n)
    band = np.empty((n, 2 * width + 1))
    worst = before = math.inf
    total = 0.0
    for turn in range(most + 1):
        _left_over(mesh, h, stored, dt, supply, pond, kr, dkr, content, capacity, head, residual, top_flow, sink_flow, head_flow, run_flow)
        worst = 0.0
        for k in range(n):
            if mesh.volume[k] > 0.0:
                noise = NOISE * diagonal[k] * (abs(head[k]) + 1.0)  # what rounding leaves, whatever the step
                worst = max(worst, max(abs(residual[k]) - noise, 0.0) * dt / mesh.volume[k])
        if not math.isfinite(worst):
            return -turn - 1, worst, total
        if worst < tolerance and turn > 0:
            for k in range(n):
                total += mesh.volume[k] * content[k]
                stored[k] = mesh.volume[k] * content[k] - residual[k] * dt
            return turn, worst, total
        if turn == most:
            break
        # Newton may swing between the two sides of a bend in a curve: half a correction then lands between
        share = -0.5 if turn > 4 and turn % 2 == 1 and worst > 0.5 * before else -1.0
        before = worst
        _slopes(mesh, dt, supply, pond, kr, dkr, capacity, head, band)
        for k in range(n):
            diagonal[k] = band[k, width]
            residual[k] *= share
        if not solve_band(band, width, residual):
            return -turn - 1, worst, total
        _update(mesh, h, residual, content, capacity, head)
    return -most - 1, worst, total
