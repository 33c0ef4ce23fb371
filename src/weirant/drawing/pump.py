"""Where a pump works: its curve, what the pipe up asks for, and the point at which they meet."""

from __future__ import annotations

import numpy as np

from weirant.design.pumps import reaches, wanted
from weirant.drawing.axes import nice
from weirant.drawing.primitives import Drawing, Mark, Shape, Stroke, Words
from weirant.language import digits_here, tr
from weirant.outcome.pump import PumpOutcome
from weirant.units.display import DISCHARGE, DISTANCE, System, from_si, shown, unit_of

POINTS = 40


def pump_drawing(pit: PumpOutcome, system: System) -> Drawing:
    """Head over discharge, both as shares of round figures on the axes."""
    pump, lift = pit.pump, max(pit.lift or 0.0, 0.0)
    to_flow, to_head = from_si(1.0, DISCHARGE, system), from_si(1.0, DISTANCE, system)
    most_flow, most_head = nice(to_flow * reaches(pump, 0.0)), nice(to_head * max(pit.most_head, lift))

    def at(discharge: float, head: float) -> tuple[float, float]:
        return discharge * to_flow / most_flow, head * to_head / most_head

    flows = np.linspace(0.0, reaches(pump, 0.0), POINTS).tolist()
    asked = [point for q in flows if (point := at(q, wanted(pump, q, lift)))[1] <= 1.0]
    curve = [at(point.discharge * pump.pumps, point.head) for point in pump.curve]
    shapes: list[Shape] = []
    for share in (0.0, 0.25, 0.5, 0.75, 1.0):
        across, up = digits_here(f"{share * most_flow:.3g}"), digits_here(f"{share * most_head:.3g}")
        shapes += [Stroke(((share, 0.0), (share, 1.0)), "grid"), Stroke(((0.0, share), (1.0, share)), "grid"), Words((share, 0.0), across, "axis", "centre", 0, -11),
                   Words((0.0, share), up, "axis", "right", -4, -4)]  # fmt: skip
    shapes += [Stroke(tuple(curve), "solid pipe"), Words(curve[len(curve) // 2], tr("the pump"), "label", "left", 6, 6)]
    if len(asked) > 1:
        shapes += [Stroke(tuple(asked), "flow"), Words(asked[0], tr("lift {lift}", lift=shown(lift, DISTANCE, system)), "water", "left", 6, -12)]
    if pit.discharge is not None and pit.head is not None:
        point = at(pit.discharge, pit.head)
        words = tr("works at {flow}, {head}", flow=shown(pit.discharge, DISCHARGE, system), head=shown(pit.head, DISTANCE, system))
        shapes += [Mark(point, "joint"), Words(point, words, "label", "left", 8, 8)]
    title = tr("Head, {head}, over discharge, {flow}", head=unit_of(DISTANCE, system), flow=unit_of(DISCHARGE, system))
    return Drawing(tuple(shapes), (-0.12, 0.0, 1.06, 1.06), (), False, title, has_foot=True, stretches=True)
