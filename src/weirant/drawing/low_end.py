"""What a run ends in, in the long profile: the water it falls into, a riser, a pit that soaks or is pumped, a main."""

from __future__ import annotations

import math

import numpy as np

from weirant.drawing.primitives import Area, Shape, Stroke, Words, box
from weirant.ground.grade_line import GradeLine
from weirant.job.network import RISES
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome

Bounds = tuple[float, float, float, float]
LEFT = 0.75  # of the room beside the low end that a pit takes
NARROW = 0.12  # of it that half a riser takes


def floor_under(outcome: Outcome, found: RunOutcome) -> float:
    """The level m of the lowest of what is drawn under the low end of a run: of a pit, a main; endlessly high where there is none."""
    node = found.run.nodes[0][0].id
    pit, outlet = outcome.site.pumps.get(node), outcome.site.outlets.get(node)
    levels = [pit.floor] if pit is not None else []
    if outlet is not None and outlet.soaks is not None:
        levels.append(outlet.soaks.floor)
    if outlet is not None and outlet.main is not None:
        levels.append(outlet.main.invert)
    return min(levels, default=math.inf)


def end_shapes(outcome: Outcome, found: RunOutcome, grade: GradeLine, bounds: Bounds) -> list[Shape]:
    """What a run ends in, beside its low end."""
    return [*_receiving(found, grade, bounds), *_pit(outcome, found, grade, bounds), *_soaks(outcome, found, grade, bounds), *_riser(outcome, found, grade, bounds),
            *_main(outcome, found, bounds)]  # fmt: skip


def _receiving(found: RunOutcome, grade: GradeLine, bounds: tuple[float, float, float, float]) -> list[Shape]:
    level = found.run.outlet.water_level if found.run.outlet is not None and found.run.outlet.pump is None else None
    if level is None or not bounds[1] < level < bounds[3]:
        return []
    return [Area(((bounds[0], bounds[1]), (0.0, bounds[1]), (0.0, level), (bounds[0], level)), "water"),
            Stroke(((bounds[0], level), (_meets_ground(grade, level), level)), "water")]  # fmt: skip


def _pit(outcome: Outcome, found: RunOutcome, grade: GradeLine, bounds: Bounds) -> list[Shape]:
    """The pit that a run ends in, with the water between the floats and the pipe up."""
    node = found.run.nodes[0][0]
    pit = outcome.site.pumps.get(node.id)
    if pit is None:
        return []
    rim = max(float(grade.ground[0]) if node.rim is None else node.rim, pit.invert)
    left, stops, starts = LEFT * bounds[0], pit.floor + pit.pump.stops, pit.floor + pit.pump.starts
    middle = left / 2
    return [Area(box(left, pit.floor, 0.0, rim), "pipe"), Area(box(left, pit.floor, 0.0, stops), "water"), Stroke(((left, starts), (0.0, starts)), "water when wet"),
            Stroke(((left, rim), (left, pit.floor), (0.0, pit.floor), (0.0, pit.invert)), "wall"), Stroke(((middle, pit.floor), (middle, rim)), "solid pipe"),
            Words((0.0, rim), tr("pump pit"), "label", "right", -2, 6)]  # fmt: skip


def _soaks(outcome: Outcome, found: RunOutcome, grade: GradeLine, bounds: Bounds) -> list[Shape]:
    """A pit of stone that soaks, and the water table beside it."""
    outlet = outcome.site.outlets.get(found.run.nodes[0][0].id)
    if outlet is None or outlet.soaks is None:
        return []
    soaks, left, of = outlet.soaks, LEFT * bounds[0], found.run.outlet
    rises = of is not None and of.kind in RISES
    top = found.run.invert if rises else min(float(grade.ground[0]), found.run.invert + found.make(0.0).above + 0.1)
    shapes: list[Shape] = [Area(box(left, soaks.floor, 0.0, top), "stone"), Stroke(((left, top), (left, soaks.floor), (0.0, soaks.floor), (0.0, top)), "trench")]
    if of is not None and of.soaks is not None and of.soaks.water_table is not None:
        shapes.append(Stroke(((bounds[0], of.soaks.water_table), (0.0, of.soaks.water_table)), "water when wet"))
    return shapes if rises else [*shapes, Words((0.0, top), tr("dry well"), "label", "right", -2, 6)]


def _riser(outcome: Outcome, found: RunOutcome, grade: GradeLine, bounds: Bounds) -> list[Shape]:
    """A riser with the water that rests in it."""
    outlet, of = outcome.site.outlets.get(found.run.nodes[0][0].id), found.run.outlet
    if outlet is None or outlet.passage is None or of is None or of.kind not in RISES:
        return []
    left, rim, invert = NARROW * bounds[0], outlet.crest - of.mouth.opens_at, found.run.invert
    rests = rim if outlet.soaks is None else min(max(outlet.soaks.since, invert), rim)
    shapes: list[Shape] = [Area(box(left, invert, 0.0, rim), "pipe"), Stroke(((left, rim), (left, invert), (0.0, invert)), "solid pipe")]
    if rests > invert:
        shapes.append(Area(box(left, invert, 0.0, rests), "water"))
    return [*shapes, Stroke(((2 * left, rim), (-left, rim)), "wall"), Words((left, rim), tr(of.kind), "label", "right", -2, 6)]


def _main(outcome: Outcome, found: RunOutcome, bounds: Bounds) -> list[Shape]:
    """A main as it is met across, with its own water and that of the run."""
    node = found.run.nodes[0][0].id
    outlet = outcome.site.outlets.get(node)
    if outlet is None or outlet.main is None:
        return []
    main, leaves, left = outlet.main, outcome.site.exits.get(node), LEFT * bounds[0]
    turn = np.linspace(0.0, 2 * math.pi, 37)
    level = min(main.level(leaves.discharge if leaves is not None else 0.0), main.invert + main.across)
    across, up = left / 2 * (1 + np.cos(turn)), main.invert + main.across / 2 * (1 + np.sin(turn))
    ring = tuple(zip(across.tolist(), up.tolist(), strict=True))
    wet = tuple((x, min(y, level)) for x, y in ring)
    return [Area(ring, "pipe"), Area(wet, "water"), Stroke(ring, "solid pipe"), Words((0.0, main.invert), tr("main"), "label", "right", -2, -14)]


def _meets_ground(grade: GradeLine, level: float) -> float:
    if level <= grade.ground[0]:
        return 0.0
    over = np.nonzero(grade.ground >= level)[0]
    return float(grade.stations[over[0]]) if len(over) else 0.0
