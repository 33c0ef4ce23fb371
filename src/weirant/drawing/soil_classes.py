"""The soil on the texture triangle and on the plasticity chart."""

from __future__ import annotations

import math

from weirant.design.pedotransfer import shares_of
from weirant.drawing.primitives import Area, Drawing, Mark, Point, Shape, Stroke, Words
from weirant.language import first_small, tr
from weirant.library import shipped
from weirant.methods.soil_classes import fine_symbol
from weirant.methods.usda_texture import usda_texture
from weirant.outcome.outcome import Outcome

# boundaries of the classes as (sand, clay) in percent: USDA Soil Survey Manual ch. 3
BOUNDARIES = (((0, 40), (45, 40)), ((45, 27), (45, 55)), ((45, 35), (65, 35)), ((0, 60), (20, 40)), ((0, 27), (45, 27)), ((20, 27), (20, 40)), ((45, 27), (52, 20)), ((52, 20), (80, 20)),
              ((50, 0), (23, 27)), ((0, 12), (8, 12)), ((8, 12), (20, 0)), ((52, 7), (52, 20)), ((43, 7), (52, 7)), ((70, 0), (85, 15)), ((85, 0), (90, 10)))  # fmt: skip
NAMES = ((20, 62, tr("clay")), (52, 42, tr("sandy clay")), (6, 48, tr("silty clay")), (60, 27, tr("sandy clay loam")),
         (33, 33, tr("clay loam")), (10, 33, tr("silty clay loam")), (41, 18, tr("loam")),
         (65, 11, tr("sandy loam")),
         (20, 14, tr("silt loam")), (7, 5, tr("silt")), (82, 7, tr("loamy sand")), (93, 3, tr("sand")))  # fmt: skip
RISE = math.sqrt(3) / 2
CHART = 1.28  # where the plasticity chart begins
LIMITS = (100.0, 60.0)  # ends of its axes: liquid limit, plasticity index


def soil_class_drawing(outcome: Outcome, station: float, run: str = "") -> Drawing:
    """Both charts side by side with the layer of soil beside a run at a station on them, as far as it is known."""
    found = outcome.chosen(run)
    soil = found.soil(station).layers[found.layer_at(station)]
    shares = shares_of(soil.gradation)
    titles = []
    shapes: list[Shape] = [*_triangle()]
    if shares is None:
        shapes.append(Words((0.5, -0.13), tr("a sieve and hydrometer result down to 0.002 mm is wanted"), "label", "centre"))
    else:
        texture = first_small(shipped().texture(usda_texture(shares.sand, shares.silt, shares.clay)).name)
        titles.append(tr("{sand:.0f} % sand, {silt:.0f} % silt, {clay:.0f} % clay: {texture}", sand=shares.sand, silt=shares.silt, clay=shares.clay, texture=texture))
        shapes += [Mark(_at(shares.sand, shares.clay), "built"), Words(_at(shares.sand, shares.clay), texture, "strong", "left", 6, 4)]
    shapes += _plasticity()
    limit, index = soil.liquid_limit, soil.plasticity_index
    if limit is None or index is None:
        shapes.append(Words((CHART + 0.5, -0.13), tr("liquid limit and plasticity index are wanted"), "label", "centre"))
    else:
        symbol = fine_symbol(limit, index)
        titles.append(tr("fines {symbol}", symbol=symbol))
        shapes += [Mark(_on_chart(limit, index), "built"), Words(_on_chart(limit, index), symbol, "strong", "left", 6, 4)]
    return Drawing(tuple(shapes), (-0.06, -0.16, CHART + 1.1, 1.0), title=tr("Soil class") + (": " + "; ".join(titles) if titles else ""), has_foot=True, stretches=True)


def _at(sand: float, clay: float) -> Point:
    """A soil on the triangle: clay upwards, sand to the left, silt to the right."""
    silt = 100 - sand - clay
    return (silt + clay / 2) / 100, RISE * clay / 100


def _triangle() -> list[Shape]:
    corners = (_at(100, 0), _at(0, 0), _at(0, 100))
    shapes: list[Shape] = [Area(corners, "pipe"), Stroke((*corners, corners[0]), "trench")]
    for part in range(20, 100, 20):
        shapes += [Stroke((_at(100 - part, part), _at(0, part)), "grid"), Words(_at(100 - part, part), f"{part}", "axis", "right", -4, -2),
                   Stroke((_at(part, 0), _at(part, 100 - part)), "grid"), Words(_at(part, 0), f"{part}", "axis", "centre", 0, -10)]  # fmt: skip
    shapes += [Stroke((_at(*a), _at(*b)), "tick") for a, b in BOUNDARIES]
    shapes += [Words(_at(sand, clay), name, "small", "centre", 0, -3) for sand, clay, name in NAMES]
    shapes += [Words(_at(78, 50), tr("clay, %"), "label", "right", -10, 0), Words(_at(50, 0), tr("sand, %"), "label", "centre", 0, -21)]
    return shapes


def _on_chart(limit: float, index: float) -> Point:
    return CHART + min(limit / LIMITS[0], 1.0), 0.8 * min(index / LIMITS[1], 1.0)


def _plasticity() -> list[Shape]:
    shapes: list[Shape] = []
    for limit in range(0, 101, 20):
        shapes += [Stroke((_on_chart(limit, 0), _on_chart(limit, 60)), "grid"), Words(_on_chart(limit, 0), f"{limit}", "axis", "centre", 0, -10)]
    for index in range(0, 61, 20):
        shapes += [Stroke((_on_chart(0, index), _on_chart(100, index)), "grid"), Words(_on_chart(0, index), f"{index}", "axis", "right", -3, -3)]
    shapes += [Stroke((_on_chart(25.5, 4), _on_chart(100, 0.73 * 80)), "trench"), Stroke((_on_chart(16, 7), _on_chart(8 + 60 / 0.9, 60)), "pipe opening"),
               Stroke((_on_chart(50, 0), _on_chart(50, 60)), "pipe opening"),
               Stroke((_on_chart(16, 7), _on_chart(29.6, 7)), "tick"), Stroke((_on_chart(12.4, 4), _on_chart(25.5, 4)), "tick")]  # fmt: skip
    for at, up, name in ((38, 24, "CL"), (72, 50, "CH"), (40, 6, "ML"), (76, 22, "MH"), (20, 4.4, "CL-ML")):
        shapes.append(Words(_on_chart(at, up), name, "small", "centre"))
    shapes += [Words(_on_chart(50, 0), tr("liquid limit"), "label", "centre", 0, -21), Words(_on_chart(0, 60), tr("plasticity index"), "label", "left", 0, 5),
               Words(_on_chart(88, 0.73 * 68), tr("A-line"), "small", "left", 4, -8)]  # fmt: skip
    return shapes
