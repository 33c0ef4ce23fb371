"""How the stone of each way to build a drain fills over the years, in the middle of the soils."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from weirant.design.schools import School
from weirant.design.variants import AS_DRAWN
from weirant.drawing.axes import nice
from weirant.drawing.primitives import Drawing, Shape, Stroke, Words
from weirant.language import tr

LEAST = 0.05  # of the voids: the least that the chart reaches up to
APART, LINE = 0.12, 13  # of the chart's height by which ends lie apart that are told apart; from one name to the next


def schools_drawing(schools: Sequence[School], years: int) -> Drawing:
    """Voids that are full, over the years; each line ends where its way to build is named, and those that end together are named one over the other."""
    full = {school.key: np.median(school.course.in_stone, axis=1) / max(school.assumed.packed * school.built.stone * school.built.voids, 1e-9) for school in schools}
    most = nice(100 * max(LEAST, *(float(course[-1]) for course in full.values()))) / 100
    shapes: list[Shape] = []
    for share in (0.0, 0.25, 0.5, 0.75, 1.0):
        shapes += [Stroke(((share, 0.0), (share, 1.0)), "grid"), Stroke(((0.0, share), (1.0, share)), "grid"), Words((share, 0.0), f"{share * years:.3g}", "axis", "centre", 0, -11),
                   Words((0.0, share), tr("{share:.3g} %", share=100 * share * most), "axis", "right", -4, -4)]  # fmt: skip
    ends: list[tuple[float, list[str]]] = []
    for school in sorted(schools, key=lambda s: float(full[s.key][-1])):
        course = full[school.key] / most
        shapes.append(Stroke(tuple((i / years, float(at)) for i, at in enumerate(course)), "solid pipe" if school.key == AS_DRAWN else "flow"))
        if ends and float(course[-1]) - ends[-1][0] < APART:
            ends[-1][1].append(school.built.name)
        else:
            ends.append((float(course[-1]), [school.built.name]))
    shapes += [Words((1.0, at), name, "label", "left", 6, -4 + LINE * (i - (len(names) - 1) / 2)) for at, names in ends for i, name in enumerate(names)]
    title = tr("Voids of the stone that are full, over {years} years, in the middle of the soils", years=years)
    return Drawing(tuple(shapes), (-0.08, 0.0, 1.7, 1.06), (), False, title, has_foot=True, stretches=True)
