"""The gravel box, cut across, while it rains on it."""

from __future__ import annotations

from weirant.design.bench import PIPE, TRENCH, WALL, Box
from weirant.drawing.primitives import Area, Drawing, Ring, Shape, Stroke, Words, box
from weirant.drawing.storm import table_line, wetness
from weirant.language import tr
from weirant.seepage.storm import Course


def bench_drawing(setup: Box, course: Course, index: int) -> Drawing:
    """The box at a kept state, at true scale; drops while it rains, and the pipe with water in it while it runs."""
    laid = course.laid
    left, right, deep = -laid.section.upslope, laid.section.downslope, laid.section.depth
    cut = laid.section.cut
    assert cut is not None and cut.pipe is not None
    half = TRENCH / 2
    bounds = (left - 0.08, -deep - 0.06, right + 0.08, 0.16)
    shapes: list[Shape] = [
        Area(box(left, -deep, right, 0.0), "soil"), Area(box(-half, -cut.depth, half, -cut.stone_top), "stone", 0.018), Area(box(-half, -cut.stone_top, half, 0.0), "backfill"),
        Stroke(((-half, 0.0), (-half, -cut.depth), (half, -cut.depth), (half, 0.0)), "trench"), wetness(laid, course.frames[index].head, (left, -deep, right, 0.0)),
        Stroke(table_line(laid.x, -course.frames[index].table, (left, -deep, right, 0.0)), "water"),
    ]  # fmt: skip
    time = course.frames[index].time
    runs = _flow_at(course, time)
    shapes.append(Ring((0.0, PIPE / 2 - cut.pipe.depth), PIPE / 2 - WALL, PIPE / 2, 0.25 * PIPE if runs > 0 else 0.0, setup.holes))
    if time < setup.lasts:
        for number in range(15):
            x = left + (number + 0.5) / 15 * (right - left)
            shapes.append(Stroke(((x, 0.12 - 0.03 * (number % 2)), (x - 0.012, 0.06 - 0.03 * (number % 2))), "rain"))
    shapes += [Stroke(((left, 0.03), (left, -deep), (right, -deep), (right, 0.03)), "wall"), Stroke(((left, 0.0), (right, 0.0)), "ground")]
    rain = tr("it rains") if time < setup.lasts else tr("the rain is over")
    drain = tr("the drain runs") if runs > 0 else tr("the drain is dry")
    shapes.append(Words((right, 0.05), f"{rain}; {drain}", "strong", "right", -2, 3))
    return Drawing(tuple(shapes), bounds, (), False, tr("{time:.0f} min", time=time / 60) if time < 7200 else tr("{time:.1f} h", time=time / 3600))


def _flow_at(course: Course, time: float) -> float:
    """Flow into the pipe at a time, m²/s; 0 while it is less than counts."""
    from weirant.seepage.storm import STARTS

    for step in course.steps:
        if step.time >= time - 1e-6:
            return step.pipe if step.pipe > STARTS and time > 0 else 0.0
    return 0.0
