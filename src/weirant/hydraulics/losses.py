"""What is lost where pipes turn, join and go through boxes, as velocity heads at the low end of each piece of a run, and as so much more pipe."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from weirant.ground.network import AT_END, LaidRun, Network
from weirant.job.network import BASINS
from weirant.library import Pipe
from weirant.methods.intake import GRAVITY

TURNS = (0.0, 22.5, 45.0, 60.0, 90.0)  # degrees
IN_A_BOX = (0.50, 0.70, 1.10, 1.25, 1.50)  # velocity heads: FHWA HEC-22, table of loss coefficients of inlets (recalled)
AT_A_JOINT = (0.15, 0.45, 0.75, 0.85, 1.00)  # the same of access holes, taken for wyes and tees (recalled)
BEND = 0.0033  # velocity heads for a degree of bend: FHWA HEC-22, bend loss (recalled)
HAIR = 1e-5  # m beside a node, where a leg surely is the one above or below it


def losses_along(network: Network, run: LaidRun) -> tuple[float, ...]:
    """Velocity heads lost at the low end of each piece of a run, from the low end up; none where water leaves by an outlet or a free end.

    By how far the water turns there, into its own run or the one that takes it on: through a box, at a joint, or in a bend. A tee so loses more than a wye.
    """
    return tuple(_lost(network, run, index) for index in range(len(run.nodes) - 1))


def _lost(network: Network, run: LaidRun, index: int) -> float:
    node, station = run.nodes[index]
    onward = [(run, station)] if station >= AT_END else network.drains_to(run) if node.outlet is None else []
    if not onward:
        return 0.0
    turn = turn_into(run, onward, station)
    if node.kind in BASINS:
        return float(np.interp(turn, TURNS, IN_A_BOX))
    if network.others_at(run, node.id):
        return float(np.interp(turn, TURNS, AT_A_JOINT))
    return BEND * turn


def turn_into(run: LaidRun, onward: Sequence[tuple[LaidRun, float]], station: float = 0.0) -> float:
    """By how many degrees the water of a run turns at a station into what takes it on there: runs with their stations; into the straightest of several."""
    comes = run.alignment.bearing(station + HAIR) + math.pi
    return min(abs((math.degrees(_down(other, at) - comes) + 180) % 360 - 180) for other, at in onward)


def adaptor(above: float, below: float) -> float:
    """Velocity heads of the pipe m across above an adaptor by which water stands higher in it, where another m across goes on: over a narrowing by what is
    lost there and what the water gains in speed. At a widening it gains height again; that is not relied on. Chow 1959, §17-8, and pipe handbooks (recalled).
    """
    if below <= 0 or above <= below + 1e-9:
        return 0.0
    share = (below / above) ** 2  # of the area
    return (0.5 * (1 - share) + 1 - share**2) / share**2


def _down(run: LaidRun, station: float) -> float:
    """The bearing in which water leaves a node down a run, rad."""
    return run.alignment.bearing(station - HAIR) + math.pi


def as_length(heads: float, pipe: Pipe, conveyance: float) -> float:
    """How much more of a pipe that carries so much by the root of its slope, m³/s, loses as many velocity heads when full, m."""
    area = math.pi * pipe.inner_diameter**2 / 4
    return heads * conveyance**2 / (2 * GRAVITY * area * area)
