"""What charts over the hours of a storm share: the hours along the foot, and the rain that hangs from the top."""

from __future__ import annotations

import numpy as np

from weirant.drawing.primitives import Area, Shape, Stroke, Words, box
from weirant.language import tr
from weirant.seepage.rain import Rain
from weirant.units.display import System

STEPS = (1, 2, 3, 6, 12, 24, 48, 96, 240)  # h between marks
COUNTS = 0.02  # of the hardest rain, under which none is drawn


def hour_marks(hours: float, top: float) -> list[Shape]:
    """Lines at round hours, up to a height."""
    step = next((s for s in STEPS if hours / s <= 9), STEPS[-1])
    shapes: list[Shape] = []
    for at in np.arange(0, hours + 1e-6, step):
        shapes += [Stroke(((float(at), 0.0), (float(at), top)), "grid"), Words((float(at), 0.0), tr("{at:g} h", at=at), "axis", "centre", 0, -10)]
    return shapes


def rain_bars(rain: Rain, until: float, top: float, deep: float, system: System) -> list[Shape]:
    """Rain as bars that hang from a height, the hardest so ``deep``, as far as ``until`` s."""
    most = max(max(rain.rates), 1e-9)
    shapes: list[Shape] = []
    edges = [*rain.times, until]
    for start, end, rate in zip(edges, edges[1:], rain.rates, strict=False):
        if rate > COUNTS * most and start < until:
            shapes.append(Area(box(start / 3600, top - deep * rate / most, min(end, until) / 3600, top), "wet ground"))
    shapes.append(Words((min(rain.times[-1] / 3600, until / 3600 * 0.8), top), tr("rain, {most_rain} at most", most_rain=_intensity(most, system)), "label", "left", 4, -9))
    return shapes


def _intensity(rate: float, system: System) -> str:
    """A rate of rain as said of a storm."""
    return tr("{rate:.2f} in/h", rate=rate * 3600 / 0.0254) if system == System.IMPERIAL else tr("{rate:.0f} mm/h", rate=rate * 3600000.0)
