"""A storm through the pipes: the long profile with the water as it stands at a moment and at its highest, and what leaves over the hours."""

from __future__ import annotations

import dataclasses

import numpy as np
from numpy.typing import NDArray

from weirant.drawing.axes import nice
from weirant.drawing.hours import hour_marks, rain_bars
from weirant.drawing.primitives import Area, Drawing, Shape, Stroke, Words
from weirant.drawing.way import reaches_of, way_drawing, ways_of
from weirant.language import digits_here, tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.routed import RoutedPart, StormThrough
from weirant.seepage.rain import Rain
from weirant.units.display import DISCHARGE, System, from_si, shown, unit_of
from weirant.words.flow import exit_name

Array = NDArray[np.float64]
LOWER, UPPER, TOP = 0.0, 0.92, 0.62
RAIN = 0.26  # of the height of the chart that the hardest rain hangs down
SHOWN, HIGHEST, APART = 5, 0.86, 0.19  # exits drawn by themselves at the most; heights of the first name and between two
LOOKS = ("flow", "without", "band edge", "water when wet", "path")


def through_profile(outcome: Outcome, through: StormThrough, run: str, moment: float) -> Drawing | None:
    """The profile along the way from the top of a run to where its water leaves, with the water of a moment s; None where it was not followed."""
    part = through.part_of(run)
    ways = ways_of(outcome, run, 1)
    if part is None or not ways:
        return None
    frame = frame_of(part, moment)
    drawing = way_drawing(_at(outcome, part, frame), ways[0], run)
    highest = [shape for reach in reaches_of(outcome, ways[0]) if reach.found.id in part.runs for shape in _highest(part, reach.found.id, reach.low, reach.high, reach.start)]
    title = tr("Long profile, {hours:.1f} h after the rain began; dashed: the highest", hours=moment / 3600)
    return dataclasses.replace(drawing, shapes=(*drawing.shapes, *highest), handles=(), title=title)


def frame_of(part: RoutedPart, moment: float) -> int:
    """The frame nearest to a moment, s."""
    return int(np.abs(part.routed.kept - moment).argmin())


def _at(outcome: Outcome, part: RoutedPart, frame: int) -> Outcome:
    """The outcome with the water in the runs of a part as it stands in a frame."""
    runs = []
    for found in outcome.site.runs:
        stands = part.standing(found, frame) if found.id in part.runs else None
        if stands is not None and found.flow_high is not None:
            flow = dataclasses.replace(found.flow_high, discharge=stands.flow, surface=stands.surface, depth=stands.surface - stands.invert, full_fraction=stands.share)
            found = dataclasses.replace(found, flow_high=flow)
        runs.append(found)
    return dataclasses.replace(outcome, site=dataclasses.replace(outcome.site, runs=tuple(runs)))


def _highest(part: RoutedPart, run: str, low: float, high: float, start: float) -> list[Shape]:
    along = part.runs[run]
    stations = np.unique(np.clip(along.stations, low, high))
    levels = along.highest(part.routed, stations)
    return [Stroke(tuple(zip((stations + start).tolist(), levels.tolist(), strict=True)), "target")] if len(stations) > 1 else []


def through_chart(outcome: Outcome, through: StormThrough, rain: Rain, moment: float) -> Drawing:
    """Rain from the top, and what leaves by each exit; x is hours, y shares of the height. Of more exits than have room the largest."""
    system, hours = System(outcome.job.units), through.until / 3600
    leaving = [(exit_name(outcome.job, node), part.routed.times, leaves) for part in through.parts for node in part.nodes if (leaves := part.left_by(node)) is not None and len(leaves)]
    leaving.sort(key=lambda one: -float(one[2].max()))
    most = nice(from_si(max((float(flow.max()) for _, _, flow in leaving), default=0.0), DISCHARGE, system))
    shapes: list[Shape] = [*hour_marks(hours, UPPER), *rain_bars(rain, through.until, UPPER, RAIN, system)]
    shapes += [Stroke(((0.0, TOP), (hours, TOP)), "grid"), Words((0.0, TOP), digits_here(f"{most:g}"), "axis", "right", -3, -3)]
    for row, ((name, times, flow), look) in enumerate(zip(leaving[:SHOWN], LOOKS, strict=False)):
        line = tuple(zip((times / 3600).tolist(), (TOP * from_si(1.0, DISCHARGE, system) * np.maximum(flow, 0.0) / most).tolist(), strict=True))
        shapes += [Area((*line, (line[-1][0], LOWER), (line[0][0], LOWER)), "water band")] if look == LOOKS[0] else []
        shapes.append(Stroke(line, look))
        shapes += _named(tr("{name}: {flow} at most", name=name, flow=shown(float(flow.max()), DISCHARGE, system)), look, hours, row)
    shapes += [Stroke(((0.0, LOWER), (hours, LOWER)), "tick"), Stroke(((moment / 3600, 0.0), (moment / 3600, 1.0)), "moment")]
    title = tr("What leaves by the exits, {unit}", unit=unit_of(DISCHARGE, system))
    return Drawing(tuple(shapes), (-0.055 * hours, 0.0, hours * 1.02, 1.02), (), False, title, has_foot=True, stretches=True)


def _named(words: str, look: str, hours: float, row: int) -> list[Shape]:
    """An exit's name in the upper right, where the tail of most storms leaves room, behind a piece of its line."""
    height = HIGHEST - row * APART
    return [Stroke(((0.52 * hours, height), (0.57 * hours, height)), look), Words((0.57 * hours, height), words, "label", "left", 6, -4)]
