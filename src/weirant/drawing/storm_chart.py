"""A storm over time: rain, depth to water at the place kept dry with and without the drain, and what the pipe carries."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from weirant.design.simulation import Simulation
from weirant.drawing.axes import nice
from weirant.drawing.hours import hour_marks, rain_bars
from weirant.drawing.primitives import Area, Drawing, Point, Shape, Stroke, Words
from weirant.language import digits_here, tr
from weirant.outcome.outcome import Outcome
from weirant.units.display import DEPTH, INFLOW, System, from_si, shown, unit_of

Array = NDArray[np.float64]
UPPER, LOWER = (0.50, 0.90), (0.0, 0.42)  # heights of the two panels, as shares of the chart


def storm_chart(outcome: Outcome, drained: Simulation, bare: Simulation | None, moment: float, band: tuple[Array, Array, Array] | None = None) -> Drawing:
    """The chart; x is hours, y shares of its height. moment s is marked. band: times s, least and most depth to water m at the place."""
    system, hours = System(outcome.job.units), drained.course.until / 3600
    shapes: list[Shape] = [*hour_marks(hours, UPPER[1]), *_depths(drained, bare, band, hours, system), *_flows(drained, hours, system)]
    shapes.append(Stroke(((moment / 3600, 0.0), (moment / 3600, 1.0)), "moment"))
    return Drawing(tuple(shapes), (-0.055 * hours, 0.0, hours * 1.02, 1.02), (), False, tr("Over the hours"), has_foot=True, stretches=True)


def _depths(drained: Simulation, bare: Simulation | None, band: tuple[Array, Array, Array] | None, hours: float, system: System) -> list[Shape]:
    """Upper panel: depth below ground, ground at its top."""
    courses = [drained, *([bare] if bare is not None else [])]
    deepest = max(drained.dry_depth * 1.5, *(float(min(c.course.depth_at(c.place).max(), drained.dry_depth * 2.2)) for c in courses))

    def at(depth: float) -> float:
        return UPPER[1] - min(depth / deepest, 1.0) * (UPPER[1] - UPPER[0])

    shapes: list[Shape] = [Stroke(((0.0, UPPER[1]), (hours, UPPER[1])), "tick"), Words((0.0, UPPER[1]), tr("ground"), "axis", "right", -3, -3)]
    if band is not None:
        times, least, most = band
        up = [(float(t) / 3600, at(float(d))) for t, d in zip(times, least, strict=True)]
        down = [(float(t) / 3600, at(float(d))) for t, d in zip(times, most, strict=True)]
        shapes.append(Area((*up, *reversed(down)), "water band"))
    if bare is not None:
        shapes.append(Stroke(_line(bare, at), "without"))
        shapes.append(Words((hours, _line(bare, at)[-1][1]), tr("without the drain"), "water", "right", -4, 3))
    shapes.append(Stroke(_line(drained, at), "flow"))
    shapes.append(Words((hours, _line(drained, at)[-1][1]), tr("with it"), "water", "right", -4, -11))
    dry = at(drained.dry_depth)
    shapes += [Stroke(((0.0, dry), (hours, dry)), "target"), Words((0.0, dry), shown(drained.dry_depth, DEPTH, system), "axis", "right", -3, -3),
               Words((hours * 0.5, UPPER[1]), tr("depth to water at the place"), "label", "centre", 0, 3)]  # fmt: skip
    return shapes


def _line(simulation: Simulation, at: object) -> tuple[Point, ...]:
    course = simulation.course
    depths = course.depth_at(simulation.place)
    return tuple((float(t) / 3600, at(float(d))) for t, d in zip(course.times, depths, strict=False))  # type: ignore[operator]


def _flows(drained: Simulation, hours: float, system: System) -> list[Shape]:
    """Lower panel: rain hangs from its top, the pipe's flow stands on its foot."""
    course = drained.course
    low, high = LOWER
    shapes: list[Shape] = rain_bars(course.rain, course.until, high, 0.42 * (high - low), system)
    ends, flow = course.ends, course.pipe
    most = nice(from_si(float(flow.max(initial=0.0)), INFLOW, system))
    points: list[Point] = [(0.0, low)]
    for time, value in zip(ends, flow, strict=False):
        points.append((float(time) / 3600, low + 0.8 * (high - low) * from_si(float(value), INFLOW, system) / most))
    if len(points) > 1 and flow.max(initial=0.0) > 0:
        shapes += [Area((*points, (points[-1][0], low)), "water band"), Stroke(tuple(points), "flow")]
        top = low + 0.8 * (high - low)
        shapes += [Stroke(((0.0, top), (hours, top)), "grid"), Words((0.0, top), digits_here(f"{most:g}"), "axis", "right", -3, -3)]
    shapes += [Stroke(((0.0, low), (hours, low)), "tick"), Words((hours * 0.5, low + 0.8 * (high - low)), tr("into the pipe, {unit}",
                                                                                                             unit=unit_of(INFLOW, system)), "label", "centre", 0, -9)]
    return shapes


def frame_at(times: Sequence[float] | Array, moment: float) -> int:
    """The kept state nearest to a moment, s."""
    return int(np.argmin(np.abs(np.asarray(times) - moment)))
