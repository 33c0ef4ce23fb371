"""The runs of pipe in plan: solid and collecting lengths, joints, fittings, crossings, stations of the run in hand."""

from __future__ import annotations

import math

import numpy as np

from weirant.drawing.plan.lie import ahead
from weirant.drawing.primitives import Mark, Point, Shape, Stroke, Words
from weirant.ground.alignment import Alignment
from weirant.ground.collecting import Collecting
from weirant.ground.moves import aside
from weirant.ground.network import LaidRun, Network
from weirant.job.network import PLAIN
from weirant.job.water import HILLSIDE
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.units.display import STATION, System, shown

IN_SIGHT = 0.012  # of the site's size: how far apart pipes in one trench are drawn


def run_shapes(outcome: Outcome, in_hand: str) -> list[Shape]:
    """Every run; the one in hand drawn heavier and with its stations."""
    shapes: list[Shape] = []
    site, system = outcome.site, System(outcome.job.units)
    for found in site.runs:
        run = found.run
        mine = run.id == in_hand
        host = site.run(run.run.trench_of) if run.run.bore else None
        shapes += _pipe(run, mine, _side(run, host.run) * IN_SIGHT * site_size(site.network) if host is not None else 0.0)
        shapes += _stations(run, system) if mine else []
        shapes += _ends(site.network, run, is_named=len(site.runs) > 1)
        shapes += [Mark((node.x, node.y), "fitting") for node, _ in run.nodes if node.kind != PLAIN]
        for crossing in found.crossings:
            shapes += [*_by_hand(run.alignment, crossing.hand_from, crossing.hand_to),
                       Mark(crossing.at, "crossing" if crossing.top is not None else "crossing unknown")]  # fmt: skip
    return shapes


def site_size(network: Network) -> float:
    """The larger side of the box round all runs, m."""
    corners = np.concatenate([run.alignment.points for run in network.runs])
    return float(np.max(np.ptp(corners, axis=0)))


def _side(run: LaidRun, host: LaidRun) -> float:
    """1 where a run lies right of the one in whose trench it is, looking uphill, else −1."""
    x, y = run.alignment.point(run.length / 2)
    station = host.alignment.nearest((x, y))[0]
    (at_x, at_y), (east, north) = host.alignment.point(station), aside(host, station, 1.0)
    return 1.0 if (x - at_x) * east + (y - at_y) * north >= 0 else -1.0


def _pipe(run: LaidRun, mine: bool, by: float) -> list[Shape]:
    """The run as it lies; one in its place in another's trench is drawn ``by`` m to the right of it, so that both are seen."""
    shapes: list[Shape] = []
    solid, collecting = ("solid run", "collecting run") if mine else ("other run", "other collecting run")
    for low, high, is_solid in run.spans:
        stops = [low, *(s for _, s in run.nodes if low < s < high), high]
        shapes.append(Stroke(tuple(_beside(run, s, by) for s in stops), solid if is_solid else collecting))
    return shapes


def _beside(run: LaidRun, station: float, by: float) -> Point:
    (x, y), (east, north) = run.alignment.point(station), aside(run, station, by) if by else (0.0, 0.0)
    return x + east, y + north


def _ends(network: Network, run: LaidRun, *, is_named: bool) -> list[Shape]:
    start = run.alignment.point(0.0)
    name = [Words(run.alignment.point(run.length * 0.6), run.name, "label", "centre", 0, 6)] if is_named else []
    if run.outlet is not None:
        return [Words(start, tr("outlet"), "label" if is_named else "strong", "right", -9, -2), *name]
    if network.drains_to(run):
        return [Mark(start, "joint"), *name]
    return [Words(start, tr("leads nowhere"), "doubt", "right", -9, -2), *name]


def _by_hand(lie: Alignment, low: float, high: float) -> list[Shape]:
    if high - low < 0.01:
        return []
    stops = [low, *(float(s) for s in lie.stations if low < s < high), high]
    return [Stroke(tuple(lie.point(s) for s in stops), "by hand")]


def _stations(run: LaidRun, system: System) -> list[Shape]:
    length, lie = run.length, run.alignment
    step = (20 * 0.3048 if length < 90 else 50 * 0.3048) if system == System.IMPERIAL else (5.0 if length < 90 else 20.0)
    shapes: list[Shape] = []
    for i in range(1, min(int(length / step), 60) + 1):
        point, bearing = lie.point(i * step), lie.bearing(i * step)
        tick = 0.006 * length + 0.2
        ends: tuple[Point, Point] = (ahead(point, bearing + math.pi / 2, tick), ahead(point, bearing - math.pi / 2, tick))
        shapes.append(Stroke(ends, "tick"))
        shapes.append(Words(ends[1], shown(i * step, STATION, system).split(".")[0], "axis", "left", 2, 2))
    return shapes


def flow_arrows(outcome: Outcome) -> list[Shape]:
    """Where the groundwater comes from, drawn against what collects on a slope for a place below it."""
    return [shape for found in outcome.site.runs for part in found.serving if part.situation.source == HILLSIDE for shape in _arrows(found.run, part)]


def _arrows(run: LaidRun, part: Collecting) -> list[Shape]:
    shapes: list[Shape] = []
    low, high = part.spans[0][0], part.spans[-1][1]
    for share in (0.25, 0.55, 0.85):
        station = low + share * (high - low)
        foot, bearing = run.alignment.point(station), run.alignment.bearing(station)
        side = bearing - (part.lie.sign if part.lie is not None else 1) * math.pi / 2
        reach = 0.12 * run.length
        start, tip = ahead(foot, side, reach), ahead(foot, side, reach * 0.2)
        barbs = [ahead(tip, side + turn, reach * 0.22) for turn in (0.5, -0.5)]
        shapes += [Stroke((start, tip), "seep"), Stroke((barbs[0], tip, barbs[1]), "seep")]
    return shapes
