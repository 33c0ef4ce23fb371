"""The runs of pipe in plan: solid and collecting lengths, joints, fittings, crossings, stations of the run in hand."""

from __future__ import annotations

import math

from weirant.drawing.plan.lie import ahead
from weirant.drawing.primitives import Mark, Point, Shape, Stroke, Words
from weirant.ground.alignment import Alignment
from weirant.ground.network import Run
from weirant.job.line import Line
from weirant.job.network import MAIN
from weirant.outcome.outcome import Outcome
from weirant.units.display import STATION, System, shown


def run_shapes(outcome: Outcome, in_hand: str) -> list[Shape]:
    """Every run; the one in hand drawn heavier and with its stations."""
    shapes: list[Shape] = []
    site, system = outcome.site, System(outcome.job.units)
    for found in site.runs if site is not None else ():
        run = found.run
        mine = run.name == in_hand
        shapes += _pipe(run.line, run.alignment, mine)
        shapes += _stations(run.line, run.alignment, system) if mine else []
        shapes += _ends(run, len(site.runs) if site else 1)
        shapes += [Mark(run.alignment.point(f.station), "fitting") for f in run.line.fittings]
        for crossing in found.crossings:
            shapes += [*_by_hand(run.alignment, crossing.hand_from, crossing.hand_to),
                       Mark(crossing.at, "crossing" if crossing.top is not None else "crossing unknown")]  # fmt: skip
    return shapes


def _pipe(line: Line, lie: Alignment, mine: bool) -> list[Shape]:
    corners = lie.stations.tolist()
    stops = sorted({0.0, min(line.solid_length, line.length), line.length, *corners})
    solid = tuple(lie.point(s) for s in stops if s <= line.solid_length + 1e-9)
    collecting = tuple(lie.point(s) for s in stops if s >= line.solid_length - 1e-9)
    ways = ("solid run", "collecting run") if mine else ("other run", "other collecting run")
    return [Stroke(points, way) for points, way in zip((solid, collecting), ways, strict=True) if len(points) > 1]


def _ends(run: Run, count: int) -> list[Shape]:
    start = run.alignment.point(0.0)
    if run.name == MAIN:
        return [Words(start, "outlet", "strong", "right", -9, -2)]
    middle = run.alignment.point(run.line.length * 0.6)
    name = Words(middle, run.name, "label", "centre", 0, 6)
    return [Mark(start, "joint"), name] if run.joins else [Words(start, "outlet", "label", "right", -9, -2), name]


def _by_hand(lie: Alignment, low: float, high: float) -> list[Shape]:
    if high - low < 0.01:
        return []
    stops = [low, *(float(s) for s in lie.stations if low < s < high), high]
    return [Stroke(tuple(lie.point(s) for s in stops), "by hand")]


def _stations(line: Line, lie: Alignment, system: System) -> list[Shape]:
    step = (20 * 0.3048 if line.length < 90 else 50 * 0.3048) if system == System.IMPERIAL else (5.0 if line.length < 90 else 20.0)
    shapes: list[Shape] = []
    for i in range(1, min(int(line.length / step), 60) + 1):
        point, bearing = lie.point(i * step), lie.bearing(i * step)
        tick = 0.006 * line.length + 0.2
        ends: tuple[Point, Point] = (ahead(point, bearing + math.pi / 2, tick), ahead(point, bearing - math.pi / 2, tick))
        shapes.append(Stroke(ends, "tick"))
        shapes.append(Words(ends[1], shown(i * step, STATION, system).split(".")[0], "axis", "left", 2, 2))
    return shapes


def flow_arrows(outcome: Outcome) -> list[Shape]:
    """Where the groundwater comes from, drawn against the collecting run of the main line."""
    job = outcome.job
    main = outcome.site.run(MAIN) if outcome.site else None
    if job.water.source != "hillside" or main is None:
        return []
    shapes: list[Shape] = []
    line, lie = job.line, main.run.alignment
    for share in (0.25, 0.55, 0.85):
        station = line.solid_length + share * (line.length - line.solid_length)
        foot, bearing = lie.point(station), lie.bearing(station)
        side = bearing + (-math.pi / 2 if job.protected.on_left else math.pi / 2)
        reach = 0.12 * line.length
        start, tip = ahead(foot, side, reach), ahead(foot, side, reach * 0.2)
        barbs = [ahead(tip, side + turn, reach * 0.22) for turn in (0.5, -0.5)]
        shapes += [Stroke((start, tip), "seep"), Stroke((barbs[0], tip, barbs[1]), "seep")]
    return shapes

