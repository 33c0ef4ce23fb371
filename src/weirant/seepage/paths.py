"""Flow paths through a steady state and how long water takes along them, cell by cell (Pollock 1988)."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from weirant.records import dataclass
from weirant.seepage.kernel.curves import curves_of
from weirant.seepage.mesh import Laid

Array = NDArray[np.float64]
MOST_CELLS = 2000
STILL = 1e-15  # m/s below which water is taken to stand


@dataclass(frozen=True, eq=False)
class FlowPath:
    """Points x and depth, m (n, 2), times s (n,) from its start, and where it ends: the pipe, an end of the section, or nowhere."""

    points: Array
    times: Array
    ends_in: str

    @property
    def travel_time(self) -> float:
        """Time from the first point to the last, s."""
        return float(self.times[-1])


@dataclass(frozen=True, eq=False)
class Flows:
    """Flows m²/s through the faces: across (columns + 1, rows) towards larger x, down (columns, rows + 1); water content (columns, rows)."""

    across: Array
    down: Array
    content: Array


def face_flows(laid: Laid, head: Array, rate: float = 0.0) -> Flows:
    """Flows through every face at pressure heads (n,), m, with a rain of ``rate`` m/s on what is open to it."""
    mesh = laid.mesh
    columns, rows = mesh.columns, mesh.rows
    content, capacity, kr, steep = (np.empty(head.size) for _ in range(4))
    curves_of(np.ascontiguousarray(head, dtype=float), mesh.material, mesh.table, content, capacity, kr, steep)
    total = (head + mesh.elevation).reshape(columns, rows)
    wet = kr.reshape(columns, rows)
    across, down = np.zeros((columns + 1, rows)), np.zeros((columns, rows + 1))
    fall = total[:-1] - total[1:]
    lead = np.where(fall >= 0, mesh.across_lead, 1 - mesh.across_lead)
    across[1:-1] = mesh.across * (lead * wet[:-1] + (1 - lead) * wet[1:]) * fall
    fall = total[:, :-1] - total[:, 1:]
    lead = np.where(fall >= 0, mesh.down_lead, 1 - mesh.down_lead)
    down[:, 1:-1] = mesh.down * (lead * wet[:, :-1] + (1 - lead) * wet[:, 1:]) * fall
    down[:, 0] = np.minimum(laid.rain_width * rate, mesh.top * (mesh.top_elevation - total[:, 0]))
    for cell, conductance, level, face in zip(mesh.head_cell, mesh.head_conductance, mesh.head_level, mesh.head_face, strict=True):
        i, j = divmod(int(cell), rows)
        inward = float(level) - float(total[i, j])
        flow = conductance * (inward if inward >= 0 and not face else min(inward, 0.0) * wet[i, j])
        across[(0 if i == 0 else columns), j] += flow if i == 0 else -flow
    for cell, conductance in zip(mesh.run_cell, mesh.run_conductance, strict=True):
        i, j = divmod(int(cell), rows)
        across[i + 1, j] += conductance * wet[i, j]
    return Flows(across, down, content.reshape(columns, rows))


def trace(laid: Laid, flows: Flows, x: float, depth: float) -> FlowPath:
    """The path of water from a place, m, until it reaches the pipe, leaves the section or stands still."""
    edges_x, edges_d = laid.grid.x, laid.grid.depth
    columns, rows = laid.grid.shape
    sinks = set(laid.mesh.sink_cell.tolist())
    i = min(max(int(np.searchsorted(edges_x, x, side="right")) - 1, 0), columns - 1)
    j = min(max(int(np.searchsorted(edges_d, depth, side="right")) - 1, 0), rows - 1)
    points, times, time = [(x, depth)], [0.0], 0.0
    for _ in range(MOST_CELLS):
        if i * rows + j in sinks:
            return _path(points, times, "pipe")
        wide, high = float(edges_x[i + 1] - edges_x[i]), float(edges_d[j + 1] - edges_d[j])
        wet = max(float(flows.content[i, j]), 1e-3)
        ways = [_crossing(x, float(edges_x[i]), wide, float(flows.across[i, j]) / (high * wet), float(flows.across[i + 1, j]) / (high * wet)),
                _crossing(depth, float(edges_d[j]), high, float(flows.down[i, j]) / (wide * wet), float(flows.down[i, j + 1]) / (wide * wet))]  # fmt: skip
        dt = min(ways[0][0], ways[1][0])
        if not math.isfinite(dt):
            return _path(points, times, "nowhere")
        x, depth = (ways[0][1](dt), ways[1][1](dt))
        x, depth = min(max(x, float(edges_x[i])), float(edges_x[i + 1])), min(max(depth, float(edges_d[j])), float(edges_d[j + 1]))
        time += dt
        points.append((x, depth))
        times.append(time)
        if ways[0][0] <= ways[1][0]:
            i += ways[0][2]
            x = float(edges_x[i] if ways[0][2] > 0 else edges_x[i + 1])
        else:
            j += ways[1][2]
            depth = float(edges_d[j] if ways[1][2] > 0 else edges_d[j + 1])
        if not (0 <= i < columns and 0 <= j < rows):
            return _path(points, times, "end" if 0 <= j < rows else "surface")
    return _path(points, times, "nowhere")


Way = tuple[float, Callable[[float], float], int]


def _crossing(at: float, low: float, length: float, v_low: float, v_high: float) -> Way:
    """Time until a cell is left along one way, the place after a time, and which neighbour comes next."""
    slope = (v_high - v_low) / length
    v = v_low + slope * (at - low)
    if abs(v) < STILL:
        return math.inf, lambda _: at, 0
    out = v_high if v > 0 else v_low

    def place(dt: float) -> float:
        if abs(slope * dt) < 1e-9:
            return at + v * dt
        return low + (v * math.exp(min(slope * dt, 50.0)) - v_low) / slope

    if out * v <= 0 or abs(out) < STILL:  # it slows down to a stand within the cell
        return math.inf, place, 0
    gone = (low + length - at) if v > 0 else (at - low)
    dt = gone / abs(v) if abs(out - v) < 1e-9 * abs(v) else math.log(out / v) / slope
    return max(dt, 0.0), place, 1 if v > 0 else -1


def _path(points: list[tuple[float, float]], times: list[float], ends_in: str) -> FlowPath:
    return FlowPath(np.array(points), np.array(times), ends_in)


def paths_to_drain(laid: Laid, head: Array, rate: float, count: int = 12) -> list[FlowPath]:
    """Paths that show where the pipe's water comes from: from the wet side at even depths and from the surface at even distances.

    Only those that reach the pipe, the nearest first. Source of the method: D. W. Pollock 1988, Semianalytical computation of path
    lines for finite-difference models, Ground Water 26(6).
    """
    flows, section = face_flows(laid, head, rate), laid.section
    starts = [(-section.upslope + 1e-3, section.depth * (k + 0.5) / (count // 2)) for k in range(count // 2)]
    if rate > 0:
        reach = min(section.upslope, 6.0)
        starts += [(-reach + (reach + min(section.downslope, 2.5)) * (k + 0.5) / count, 1e-3) for k in range(count)]
    found = [trace(laid, flows, x, d) for x, d in starts]
    return sorted((p for p in found if p.ends_in == "pipe" and len(p.times) > 2), key=lambda p: p.travel_time)
