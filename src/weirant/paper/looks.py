"""How each meaning looks: materials by fill and hatch, lines by colour, weight and dashes, labels by colour, size and weight."""

from __future__ import annotations

FILLS = {"soil": "soil", "subsoil": "subsoil", "hard layer": "hard", "backfill": "backfill", "stone": "stone", "sand": "soil", "pipe": "field",
          "water": "water", "wet ground": "water_pale", "grass": "grass", "woodland": "grass", "building": "building", "lawn kept dry": "grass",
          "pond": "water_pale", "slab": "building", "wet area": "water_pale", "roots": "grass", "spoil": "soil"}  # fmt: skip
HATCHES = {
    "hard layer": "brick",
    "subsoil": "dashes",
    "backfill": "dots",
    "sand": "dots",
    "woodland": "trees",
    "building": "strokes",
    "wet ground": "level",
    "pond": "level",
    "wet area": "level",
    "slab": "dots",
    "roots": "dots",
    "spoil": "strokes",
}
# line: colour, width in hundredths of the text height, dash pattern
LINES: dict[str, tuple[str, int, tuple[float, ...]]] = {
    "ground": ("ink", 16, ()), "turf": ("leaf", 24, ()), "hard layer": ("accent", 9, (6, 3)), "trench": ("ink", 9, ()),
    "solid pipe": ("pipe", 12, ()), "perforated pipe": ("pipe", 12, (3, 1.6)), "fabric": ("fabric", 20, (1, 1.4)),
    "water": ("water", 14, ()), "water when wet": ("water", 9, (5, 3)), "grid": ("rule", 5, ()), "target": ("ink", 11, (8, 3, 2, 3)),
    "solid run": ("ink", 20, ()), "collecting run": ("ink", 20, (2.2, 1.2)), "tick": ("ink", 8, ()), "brook": ("water", 26, ()),
    "walk": ("muted", 9, (1, 2)), "boundary": ("muted", 8, (9, 3, 2, 3)), "gas line": ("ink", 10, (6, 2, 1, 2)), "seep": ("water", 13, ()), "pipe opening": ("pipe", 14, (4, 1.5)),
    "contour": ("accent", 5, ()), "main contour": ("accent", 11, ()), "fall": ("muted", 9, ()), "pond edge": ("water", 9, ()), "catchment": ("water", 7, (2, 2.5)),
    "wall": ("ink", 26, ()), "fence": ("muted", 9, (1, 1)), "water line": ("ink", 10, (8, 2, 2, 2)), "power cable": ("ink", 10, (3, 1.5, 1, 1.5)),
    "drain pipe": ("ink", 10, (10, 3)), "irrigation": ("ink", 8, (4, 2)), "low-voltage cable": ("ink", 8, (2, 1, 1, 1)), "by hand": ("rust", 22, (0.6, 0.6)),
    "other run": ("ink", 13, ()), "other collecting run": ("ink", 13, (2.2, 1.2)), "outline": ("ink", 7, ()), "in hand": ("ochre", 26, ()), "pencil": ("rust", 14, (3, 2)),
    "as built": ("rust", 12, (2, 1.5)), "moment": ("ink", 9, ()), "without": ("water", 12, (2, 1.6)), "path": ("water", 7, ()), "band edge": ("water", 6, (4, 2)),
    "flow": ("water", 15, ()), "rain": ("water", 10, ()),
}  # fmt: skip
FINE_SIZE, SIZE, LARGE_SIZE = 0.8, 0.9, 1.0  # the three sizes of letters on a drawing, of the letters' height
HEADING_SIZE = 1.25  # and that of a heading beside drawings
MEASURE_SIZE = SIZE
ROLES = {"label": ("muted", SIZE, False), "strong": ("ink", SIZE, True), "name": ("ink", SIZE, True), "typed": ("ink", SIZE, True), "axis": ("muted", FINE_SIZE, False),
         "hint": ("muted", LARGE_SIZE, False), "water": ("water", SIZE, False), "station": ("ink", SIZE, True), "contour": ("accent", FINE_SIZE, False),
         "doubt": ("rust", SIZE, True), "small": ("muted", FINE_SIZE, False)}  # fmt: skip
ANCHORS = {"left": 0.0, "centre": 0.5, "right": 1.0}
