"""Small sketches of what can be seen on the site, one for each question about the water, with the materials of the real drawings."""

from __future__ import annotations

from weirant.drawing.primitives import Area, Drawing, Point, Shape, Stroke, box

GROUND: tuple[Shape, ...] = (Area(box(0, -3, 10, 0), "soil"),)
HARD: tuple[Shape, ...] = (*GROUND, Area(box(0, -3, 10, -2.2), "hard layer"))
SURFACE = Stroke(((0, 0), (10, 0)), "ground")


def _arrow(start: Point, end: Point) -> tuple[Shape, ...]:
    """A line of water with its head."""
    way = (end[0] - start[0], end[1] - start[1])
    long = (way[0] ** 2 + way[1] ** 2) ** 0.5
    along, aside = (way[0] / long, way[1] / long), (-way[1] / long, way[0] / long)
    head = tuple((end[0] - 0.7 * along[0] + s * 0.4 * aside[0], end[1] - 0.7 * along[1] + s * 0.4 * aside[1]) for s in (1, -1))
    return Stroke((start, end), "seep"), Stroke((head[0], end, head[1]), "seep")


def _rain(*places: float) -> tuple[Shape, ...]:
    return tuple(Stroke(((x, 2.2), (x - 0.5, 0.9)), "rain") for x in places)


SKETCHES: dict[str, tuple[Shape, ...]] = {
    "stands": (*GROUND, Area(((2.4, 0), (5, -0.8), (7.6, 0)), "water"), Stroke(((0, 0.3), (2.4, 0), (5, -0.8), (7.6, 0), (10, 0.3)), "ground")),
    "when": (*GROUND, Area(box(0, -3, 10, -1.2), "wet ground"), SURFACE, *_rain(1.5, 3.5, 5.5, 7.5, 9.5)),
    "lasts": (*GROUND, Area(box(0, -3, 10, -0.3), "wet ground"), Area(box(0, -3, 10, -1.8), "water"), SURFACE, *_arrow((5, -0.3), (5, -1.7))),
    "fall": (Area(((0, -3), (10, -3), (10, -0.2), (6, -0.2), (0, 1.9)), "soil"), Area(box(6.4, -1.2, 10, 1.4), "building"), Stroke(((0, 1.9), (6, -0.2), (6.4, -0.2)), "ground"),
             *_arrow((1.0, 2.1), (4.6, 0.85))),
    "soil": (*HARD, Area(box(0, -2.2, 10, -1.0), "subsoil"), SURFACE),
    "roofs": (*GROUND, Area(box(5.2, -0.4, 10, 1.4), "building"), Stroke(((4.6, 1.6), (10, 2.3)), "wall"), Stroke(((4.9, 1.6), (4.9, 0.1)), "solid pipe"), SURFACE,
               *_arrow((4.9, 0.1), (3.3, 0.1))),
    "dammed": (*GROUND, Area(box(0, -0.1, 5.6, 0.5), "water"), Area(box(5.6, -0.4, 8, 0.8), "slab"), SURFACE),
    "extent": (*GROUND, Area(box(0, -3, 10, -0.4), "wet ground"), *(Area(box(x, -0.05, x + 1.7, 0.18), "water") for x in (0.6, 3.2, 5.8, 8.0)), SURFACE),
    "hole": (*HARD, Area(box(4, -2.5, 6, 0), "pipe"), Area(box(4, -2.5, 6, -1.1), "water"), Stroke(((0, 0), (4, 0), (4, -2.5), (6, -2.5), (6, 0), (10, 0)), "ground"),
             *_arrow((1.2, -1.3), (3.8, -1.6))),
    "pump": (*GROUND, Area(box(3.6, -2.6, 6.4, 0), "pipe"), Area(box(3.6, -2.6, 6.4, -1.5), "water"), Area(box(4.4, -2.4, 5.6, -1.4), "building"),
             Stroke(((5, -1.4), (5, 1.2), (9, 1.2)), "solid pipe"),
             Stroke(((0, 0), (3.6, 0), (3.6, -2.6), (6.4, -2.6), (6.4, 0), (10, 0)), "ground")),
}  # fmt: skip


def seen_drawing(key: str) -> Drawing:
    """The sketch of a question by its key; bare ground for one without."""
    return Drawing(SKETCHES.get(key, (*GROUND, SURFACE)), (0, -3, 10, 2.4))
