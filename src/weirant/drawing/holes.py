"""A test hole as it was dug through, and the readings of a test."""

from __future__ import annotations

import math

import numpy as np

from weirant.design.holes import fit
from weirant.drawing.axes import nice
from weirant.drawing.primitives import Area, Drawing, Mark, Shape, Stroke, Words, box
from weirant.errors import InputError
from weirant.job.holes import RISING, FieldTest, TestHole
from weirant.language import digits_here, tr
from weirant.library import shipped
from weirant.units.display import DEPTH, FINE_DEPTH, System, from_si, shown, unit_of

MATERIALS = ("soil", "subsoil")


def hole_drawing(hole: TestHole, system: System) -> Drawing:
    """The log of a hole, from the ground down to a little below its end."""
    marks = [h.to_depth for h in hole.log] + [d for d in (hole.water_depth, hole.hard_depth) if d is not None] + [t.depth for t in hole.tests]
    deep = max(marks, default=0.6) * 1.12
    shapes: list[Shape] = []
    top = 0.0
    for number, horizon in enumerate(hole.log):
        shapes.append(Area(box(0.0, -horizon.to_depth, 1.0, -top), MATERIALS[number % 2]))
        name = shipped().textures[horizon.texture].name if horizon.texture in shipped().textures else horizon.texture
        words = name + (tr(", spots") if horizon.mottled else "")
        shapes.append(Words((1.08, -(top + horizon.to_depth) / 2), words, "label", "left", 0, -3))
        shapes += [Stroke(((0.0, -horizon.to_depth), (1.0, -horizon.to_depth)), "tick"), Words((-0.06, -horizon.to_depth), shown(horizon.to_depth, DEPTH, system), "axis", "right", 0, -3)]
        top = horizon.to_depth
    if hole.hard_depth is not None:
        shapes += [Area(box(0.0, -deep, 1.0, -hole.hard_depth), "hard layer"), Stroke(((0.0, -hole.hard_depth), (1.0, -hole.hard_depth)), "hard layer"),
                   Words((1.08, -hole.hard_depth), tr("auger stopped"), "label", "left", 0, -11)]  # fmt: skip
    if hole.water_depth is not None:
        shapes += [Stroke(((0.0, -hole.water_depth), (1.0, -hole.water_depth)), "water"),
                   Words((-0.06, -hole.water_depth), shown(hole.water_depth, DEPTH, system), "water", "right", 0, -3)]  # fmt: skip
    for test in hole.tests[:1]:
        half = 0.12
        sides = ((0.5 - half, 0.0), (0.5 - half, -test.depth), (0.5 + half, -test.depth), (0.5 + half, 0.0))
        shapes += [Area(box(0.5 - half, -test.depth, 0.5 + half, 0.0), "pipe"), Stroke(sides, "trench")]
        level = test.readings[-1].depth if test.readings else test.water
        if level is not None and level < test.depth:
            shapes.append(Area(box(0.5 - half, -test.depth, 0.5 + half, -level), "water"))
    shapes.append(Stroke(((-0.1, 0.0), (1.1, 0.0)), "ground"))
    return Drawing(tuple(shapes), (-0.85, -deep, 2.9, 0.04 * deep), (), False, tr("{hole}: what the auger brought up", hole=hole.name), stretches=True)


def readings_drawing(test: FieldTest, system: System) -> Drawing:
    """Depth to water over the stopwatch, with the fit; the part that does not count is drawn open."""
    readings = test.readings
    last = max((r.time for r in readings), default=60.0) * 1.05
    depths = [r.depth for r in readings]
    low, high = (min(depths), max(depths)) if depths else (0.0, 0.1)
    room = max((high - low) * 0.18, 0.004)
    low, high = max(low - room, 0.0), high + room
    minutes = last > 180
    unit = 60.0 if minutes else 1.0
    shapes: list[Shape] = []
    step = nice(last / unit / 5)
    for number in range(int(last / unit / step) + 1):
        at = number * step * unit
        shapes += [Stroke(((at, -high), (at, -low)), "grid"), Words((at, -high), digits_here(f"{number * step:g} {'min' if minutes else 's'}"), "axis", "centre", 0, -10)]
    gap = nice((from_si(high, FINE_DEPTH, system) - from_si(low, FINE_DEPTH, system)) / 4)
    first = math.ceil(from_si(low, FINE_DEPTH, system) / gap)
    for number in range(first, first + 6):
        depth = number * gap / max(from_si(1.0, FINE_DEPTH, system), 1e-12)
        if low < depth < high:
            shapes += [Stroke(((0.0, -depth), (last, -depth)), "grid"), Words((0.0, -depth), digits_here(f"{number * gap:g} {unit_of(FINE_DEPTH, system)}"), "axis", "right", -3, -3)]
    try:
        shapes.append(Stroke(_fitted_line(test, last), "target"))
        used = fit(test).used
    except InputError:
        used = 0
    shapes += [Mark((r.time, -r.depth), "joint" if i < used else "built off") for i, r in enumerate(readings)]
    return Drawing(tuple(shapes), (-0.17 * last, -high, 1.08 * last, -low), (), False, tr("Depth to water by the stopwatch"), has_foot=True, stretches=True)


def _fitted_line(test: FieldTest, last: float) -> tuple[tuple[float, float], ...]:
    """The course of the water that the fit stands for: straight on the scale of its formula."""
    used = fit(test).used
    t = np.array([r.time for r in test.readings[:used]])
    d = np.array([r.depth for r in test.readings[:used]])
    at = np.linspace(0.0, last, 40)
    if test.kind in RISING:
        water = test.water or 0.0
        slope, start = np.polyfit(t, np.log(np.maximum(d - water, 1e-6)), 1)
        y = water + np.exp(start + slope * at)
    else:
        slope, start = np.polyfit(t, np.log(test.depth - d + test.radius / 2), 1)
        y = test.depth + test.radius / 2 - np.exp(start + slope * at)
    return tuple((float(a), -float(b)) for a, b in zip(at, y, strict=True))
