"""The long profile: ground, pipe, stone and water along the line, from the outlet up."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from weirant.checks.around import gap_at
from weirant.drawing.low_end import end_shapes, floor_under
from weirant.drawing.primitives import Area, Drawing, Flag, Handle, Mark, Point, Shape, Stroke, Words, snapped
from weirant.ground.as_built import built_profile
from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import FLATTEST, STEEPEST, grade_nodes, invert_at, with_inverts
from weirant.ground.network import AT_END, LaidRun, laid_run
from weirant.ground.stretches import largest
from weirant.job import Job
from weirant.job.network import PLAIN
from weirant.job.paths import spec_at, with_value
from weirant.job.run_edits import with_run
from weirant.language import digits_here, tr
from weirant.outcome.finding import State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units.display import LEVEL, SECTION, SLOPE, STATION, System, shown, step_si
from weirant.words.findings import title_words

Array = NDArray[np.float64]
Move = Callable[[Job, Point], Job]


def profile_drawing(outcome: Outcome, run: str = "") -> Drawing:
    """The profile of a run; an empty sheet with a hint where the ground is not known."""
    found = outcome.chosen(run)
    grade = found.grade
    if grade is None:
        return Drawing((Words((0.5, 0.5), tr("No ground yet: type two rod readings, at the low end and at the top end."), "hint", "centre"),),
                       (0, 0, 1, 1), title=tr("Long profile"), stretches=True)  # fmt: skip
    system = System(outcome.job.units)
    bounds = bounds_of([(0.0, grade)], floor_under(outcome, found))
    shapes = [*grid_shapes(bounds, system), *run_shapes(outcome, found, bounds, system), *axis_shapes(bounds, system)]
    top = (found.run.length, float(grade.ground[-1]))
    shapes.append(Words(top, tr("{length} long", length=shown(found.run.length, STATION, system)), "typed", "right", -9, 8, f"runs.{found.id}.length"))
    return Drawing(tuple(shapes), bounds, profile_handles(found, system), True, tr("Long profile"), True)


Bounds = tuple[float, float, float, float]


def bounds_of(lines: Sequence[tuple[float, GradeLine]], floor: float = math.inf) -> Bounds:
    """What is shown of grade lines that begin at places m along the sheet, one after the other, down to the floor of a pit."""
    low = float(min(floor, *(min(grade.trench_bottom.min(), grade.ground.min()) for _, grade in lines)))
    high = float(max(max(grade.ground.max(), grade.invert.max()) for _, grade in lines))
    end = max(start + float(grade.stations[-1]) for start, grade in lines)
    room, margin = max(0.25 * (high - low), 0.15), 0.035 * end
    return -1.6 * margin, low - 0.55 * room, end + 2.2 * margin, high + room


def run_shapes(outcome: Outcome, found: RunOutcome, bounds: Bounds, system: System, *, is_lowest: bool = True) -> list[Shape]:
    """A run under its ground, with what it meets and what is found of it; the water it falls into where it is the lowest on the sheet."""
    grade = found.grade
    assert grade is not None
    x, high = grade.stations, float(max(grade.ground.max(), grade.invert.max()))
    doubt = [] if outcome.job.is_surveyed or not is_lowest else [Words((float(x[-1]) * 0.02, high), tr("ground made up, not surveyed"), "doubt", "left", 4, 4)]
    return [
        Area((*_points(x, grade.ground), (float(x[-1]), bounds[1]), (float(x[0]), bounds[1])), "soil"),
        *_hard_layer(found, grade, bounds),
        *_trench(outcome, found, grade),
        *(end_shapes(outcome, found, grade, bounds) if is_lowest else []),
        *_pipe(outcome, found, grade),
        Stroke(tuple(_points(x, grade.ground)), "ground"),
        *doubt,
        *_met(outcome, found, grade, system),
        *_built(outcome, found, system),
        *_labels(outcome, found, grade, system, is_lowest=is_lowest),
        *_flags(outcome, found, grade),
    ]


def _points(x: Array, y: Array) -> list[Point]:
    """Points of a line, without those that lie straight between their neighbours."""
    keep = np.ones(len(x), dtype=bool)
    if len(x) > 2:
        step_x, step_y = np.diff(x), np.diff(y)
        keep[1:-1] = np.abs(step_x[:-1] * step_y[1:] - step_x[1:] * step_y[:-1]) > 1e-9
    return list(zip(x[keep].tolist(), y[keep].tolist(), strict=True))


def grid_shapes(bounds: Bounds, system: System) -> list[Shape]:
    """Lines at round stations and levels."""
    shapes: list[Shape] = []
    step, level_step = _steps(bounds, system)
    for station in np.arange(0, bounds[2], step):
        shapes.append(Stroke(((float(station), bounds[1]), (float(station), bounds[3])), "grid"))
    for level in np.arange(np.ceil(bounds[1] / level_step) * level_step, bounds[3], level_step):
        shapes.append(Stroke(((bounds[0], float(level)), (bounds[2], float(level))), "grid"))
    return shapes


def axis_shapes(bounds: Bounds, system: System) -> list[Shape]:
    """Stations along the foot and levels at the right edge, apart from the outlet and its water; laid over everything else."""
    along, up = _steps(bounds, system)
    unit = "ft" if system == System.IMPERIAL else "m"
    factor = 0.3048 if system == System.IMPERIAL else 1.0
    foot = [
        Words((float(s), bounds[1]), digits_here(f"{s / factor:g} {unit}"), "axis", "centre", 0, -11)
        for s in np.arange(0, bounds[2], along)
    ]
    side = [Words((bounds[2], float(v)), shown(float(v), LEVEL, system), "axis", "right", -3, 1)
            for v in np.arange(np.ceil(bounds[1] / up) * up, bounds[3], up) if v > bounds[1] + 0.6 * up]  # fmt: skip
    return [*foot, *side]


def _steps(bounds: tuple[float, float, float, float], system: System) -> tuple[float, float]:
    """Distance between grid lines along and up, m: round figures in the system's unit."""
    unit, steps = (
        (0.3048, (5, 10, 20, 50, 100, 200, 500, 1000))
        if system == System.IMPERIAL
        else (1.0, (1, 2, 5, 10, 20, 50, 100, 200))
    )
    along = next((s for s in steps if (bounds[2] - bounds[0]) / (s * unit) <= 14), steps[-1] * 4)
    up = next((s for s in (0.1, 0.2, 0.5, 1, 2, 5, 10) if (bounds[3] - bounds[1]) / (s * unit) <= 7), 20)
    return along * unit, up * unit


def _hard_layer(found: RunOutcome, grade: GradeLine, bounds: tuple[float, float, float, float]) -> list[Shape]:
    """The hard layer under the ground of each soil along the run, as far as its depth is known."""
    shapes: list[Shape] = []
    for along in found.soils:
        depth = along.soil.hard_layer_depth
        if depth is None:
            continue
        between = grade.stations[(grade.stations > along.low) & (grade.stations < along.high)].tolist()
        x = np.array(sorted({max(along.low, float(grade.stations[0])), *between, min(along.high, float(grade.stations[-1]))}))  # np.unique loads what the start has no use for
        top = np.maximum(np.interp(x, grade.stations, grade.ground) - depth, bounds[1])
        shapes += [Area((*_points(x, top), (float(x[-1]), bounds[1]), (float(x[0]), bounds[1])), "hard layer"), Stroke(tuple(_points(x, top)), "hard layer")]
    return shapes


def _trench(outcome: Outcome, found: RunOutcome, grade: GradeLine) -> list[Shape]:
    x = grade.stations
    dug = grade.cut > 0
    shapes: list[Shape] = []
    if dug.any():
        shapes.append(
            Area(
                (*_points(x[dug], grade.ground[dug]), *reversed(_points(x[dug], grade.trench_bottom[dug]))), "backfill"
            )
        )
    for stretch in found.stretches:
        stone = dug & stretch.holds(x)
        if not stretch.is_solid and stretch.make.section.has_stone and stone.sum() > 1:
            bottom = grade.invert[stone] - stretch.make.below
            top = bottom + stretch.make.stone(grade.ground[stone] - bottom)
            shapes.append(Area((*_points(x[stone], top), *reversed(_points(x[stone], bottom))), "stone"))
    return shapes


def _pipe(outcome: Outcome, found: RunOutcome, grade: GradeLine) -> list[Shape]:
    flow, x = found.flow_high, grade.stations
    crown = grade.invert + largest(found.stretches, x, lambda make: make.pipe.inner_diameter)
    shapes: list[Shape] = [Area((*_points(x, crown), *reversed(_points(x, grade.invert))), "pipe")]
    if flow is not None:
        surface = np.minimum(flow.surface, crown)
        shapes.append(Area((*_points(x, surface), *reversed(_points(x, grade.invert))), "water"))
    for low, high, is_solid in found.run.spans:
        part = (x >= low - 1e-9) & (x <= high + 1e-9)
        shapes += [Stroke(tuple(_points(x[part], edge[part])), "solid pipe" if is_solid else "perforated pipe") for edge in (grade.invert, crown)]
    if flow is not None and (above := flow.surface > crown + 1e-6).any():
        shapes.append(Stroke(tuple(_points(x[above], flow.surface[above])), "water"))
    return shapes


def _labels(outcome: Outcome, found: RunOutcome, grade: GradeLine, system: System, *, is_lowest: bool) -> list[Shape]:
    run = found.run
    nodes, levels = grade_nodes(run)
    shapes: list[Shape] = []
    for low, high, z0, z1 in zip(nodes, nodes[1:], levels, levels[1:], strict=False):
        middle = float(low + 0.55 * (high - low))
        words = tr("{z1} fall", z1=shown(float((z1 - z0) / (high - low)), SLOPE, system))
        if (high - low) > 0.09 * run.length:
            path = "" if run.run.bore else f"runs.{run.id}.slope" if low == 0 else f"runs.{run.id}.breaks.{_break_at(run, float(low))}.slope"
            shapes.append(Words((middle, grade.at(grade.invert, middle)), words, "typed" if path else "strong", "centre", 0, -22, path))
    if not run.run.bore:
        shapes += [Words((float(s), float(z)), shown(float(z), LEVEL, system), "typed", "left", 6, -14, f"runs.{run.id}.break_level.{_break_at(run, float(s))}")
                   for s, z in zip(nodes[1:-1], levels[1:-1], strict=True)]  # fmt: skip
    for low, high, is_solid in run.spans:
        at = ((low + high) / 2, grade.at(grade.ground, (low + high) / 2))
        if is_solid and low < AT_END < high and high < run.length - AT_END:
            shapes.append(Words(at, tr("solid pipe {high}", high=shown(high, STATION, system)), "typed", "centre", 0, 6, f"runs.{run.id}.solid_length"))
        else:
            shapes.append(Words(at, tr("solid pipe") if is_solid else tr("collecting run"), "label", "centre", 0, 6))
    if not is_lowest:
        return shapes
    joins = outcome.site.network.drains_to(run)
    end = tr("outlet") if run.outlet is not None else tr("into {joins}", joins=joins[0][0].name) if joins else tr("low end")
    path = "" if run.run.bore else f"runs.{run.id}.invert"
    return [*shapes, Words((0.0, run.invert), f"{end} {shown(run.invert, LEVEL, system)}", "typed" if path else "label", "left", 9, -14, path)]


def _met(outcome: Outcome, found: RunOutcome, grade: GradeLine, system: System) -> list[Shape]:
    """Buried lines that are crossed, with the stretch to dig by hand; runs that join; fittings; held inverts."""
    run, network = found.run, outcome.site.network
    shapes: list[Shape] = [Mark((h.station, h.level), "held") for h in run.held]
    for node, station in run.nodes:
        if node.kind != PLAIN:
            shapes.append(Mark((station, grade.at(grade.ground, station)), "fitting"))
        for other, there in network.others_at(run, node.id):
            at = (station, float(invert_at(other, np.array(there))))
            if station > AT_END:
                shapes += [Mark(at, "joint"), Words(at, other.name, "small", "left", 6, 3)]
    for crossing in found.crossings:
        ground = grade.at(grade.ground, crossing.station)
        low, high = (min(max(s, 0.0), run.length) for s in (crossing.hand_from, crossing.hand_to))
        if high > low:
            shapes.append(Stroke(((low, grade.at(grade.ground, low)), (high, grade.at(grade.ground, high))), "by hand"))
        name = crossing.feature.name if crossing.feature.is_located else tr("{feature} (not located)", feature=crossing.feature.name)
        if crossing.top is None or crossing.bottom is None:
            shapes += [Stroke(((crossing.station, ground), (crossing.station, grade.at(grade.trench_bottom, crossing.station))), "target"),
                       Words((crossing.station, ground), tr("{name}, depth?", name=name), "small", "left", 4, 4)]  # fmt: skip
            continue
        middle = (crossing.station, (crossing.top + crossing.bottom) / 2)
        gap, way = gap_at(found.make(crossing.station), crossing, grade.at(grade.invert, crossing.station)) or (0.0, "")
        clear = (tr(", {gap} clear below",
                    gap=shown(gap, SECTION, system)) if way == "over" else tr(", {gap} clear above", gap=shown(gap, SECTION, system))) if gap > 0 else tr(", CUT INTO")
        shapes += [Mark(middle, "crossing"), Words(middle, f"{name}{clear}", "small", "left", 7, -3)]
    return shapes


def _built(outcome: Outcome, found: RunOutcome, system: System) -> list[Shape]:
    """Inverts as built, joined up, those that are off with how far."""
    job = outcome.job
    profile = built_profile(found.run, job.as_built, job.limits.tolerance)
    if not profile.readings:
        return []
    shapes: list[Shape] = []
    points = tuple((r.station, r.level) for r in profile.readings)
    if len(points) > 1:
        shapes.append(Stroke(points, "as built"))
    for reading in profile.readings:
        shapes.append(Mark((reading.station, reading.level), "built" if reading.within else "built off"))
        if not reading.within:
            words = f"{shown(abs(reading.off), SECTION, system)} {'high' if reading.off > 0 else 'low'}"
            shapes.append(Words((reading.station, reading.level), words, "strong", "centre", 0, 9))
    return shapes


def _flags(outcome: Outcome, found: RunOutcome, grade: GradeLine) -> list[Shape]:
    """Findings of a run that fail or are tight, at their stations; of several at one place the worst."""
    seen, flags = set(), []
    crown = found.make(0.0).pipe.inner_diameter  # where a pipe comes to daylight it stands over it
    for finding in outcome.findings:
        if finding.station is None or finding.state not in (State.FAILS, State.TIGHT) or finding.subject != found.id:
            continue
        place = round(finding.station, 1)
        if place not in seen:
            seen.add(place)
            flags.append(
                Flag((finding.station, max(grade.at(grade.ground, finding.station), grade.at(grade.invert, finding.station) + crown)), str(finding.state), title_words(finding, outcome.job))
            )
    return list(flags)


def profile_handles(found: RunOutcome, system: System) -> tuple[Handle, ...]:
    """What can be taken hold of in the profile of a run."""
    run, grade = found.run, found.grade
    assert grade is not None
    level, along = step_si(LEVEL, system), step_si(STATION, system)
    middle, base = run.length / 2, f"runs.{run.id}"
    nodes, levels = grade_nodes(run)
    breaks = [Handle(f"break-{i}", (float(s), float(z)), "y", tr("Invert at {s}", s=shown(float(s), STATION, system)), level, _move_node(run.id, i),
                     f"{base}.break_level.{_break_at(run, float(s))}")
              for i, (s, z) in enumerate(zip(nodes, levels, strict=True)) if 0 < i < len(nodes) - 1]  # fmt: skip
    ends = [Handle("solid-end", (run.solid_length, grade.at(grade.invert, run.solid_length)), "x", tr("End of the solid pipe"), along,
                   _move_solid_end(run.id), f"{base}.solid_length")] if run.collecting_length else []  # fmt: skip
    if run.run.bore:
        return tuple(ends)  # its levels follow from the run whose trench it lies in
    bottom = grade.at(grade.trench_bottom, middle)
    return (
        Handle("outlet", (0.0, run.invert), "y", tr("Level of the low end"), level, _move_node(run.id, 0), f"{base}.invert"),
        Handle("bottom", (middle, bottom), "y", tr("Trench bottom"), level, _move_run(run.id, found.make(middle).below), value=shown(bottom, LEVEL, system)),
        Handle("top-end", (run.length, float(levels[-1])), "y", tr("Grade"), level, _move_top_end(run.id), "" if run.breaks else f"{base}.slope",
               value=shown(float(levels[-1]), LEVEL, system)),
        *breaks, *ends,
        Handle("length", (run.length, grade.at(grade.ground, run.length)), "x", tr("Length of the run"), along, _move_length(run.id), f"{base}.length"),
    )  # fmt: skip


def _break_at(run: LaidRun, station: float) -> int:
    """The number of the grade break at a station."""
    return min(range(len(run.breaks)), key=lambda i: abs(run.breaks[i].station - station))


def _move_node(identity: str, index: int) -> Move:
    """The invert at one grade node of a run up or down, the others kept; it stops where the pipe would run level."""

    def move(job: Job, to: Point) -> Job:
        run = laid_run(job, identity)
        stations, levels = (values.tolist() for values in grade_nodes(run))
        level = snapped(to[1], step_si(LEVEL, System(job.units)) / 2)
        if index > 0:
            size = stations[index] - stations[index - 1]
            level = min(max(level, levels[index - 1] + FLATTEST * size * 2), levels[index - 1] + STEEPEST * size)
        if index + 1 < len(levels):
            size = stations[index + 1] - stations[index]
            level = max(min(level, levels[index + 1] - FLATTEST * size * 2), levels[index + 1] - STEEPEST * size)
        levels[index] = level
        moved = with_value(job, f"runs.{identity}.invert", levels[0])
        return with_run(moved, with_inverts(run, stations, levels))

    return move


def _move_run(identity: str, below: float) -> Move:
    """The whole run up or down, grade kept; the handle sits on the trench bottom half way, ``below`` m under the invert."""

    def move(job: Job, to: Point) -> Job:
        run = laid_run(job, identity)
        over_low_end = float(invert_at(run, np.array(run.length / 2))) - run.invert
        level = to[1] + below - over_low_end
        return with_value(job, f"runs.{identity}.invert", snapped(level, step_si(LEVEL, System(job.units)) / 2))

    return move


def _move_top_end(identity: str) -> Move:
    """Top end up or down, low end kept."""

    def move(job: Job, to: Point) -> Job:
        run = laid_run(job, identity)
        if run.breaks:
            return _move_node(identity, len(grade_nodes(run)[0]) - 1)(job, to)
        slope = (to[1] - run.invert) / run.length
        return with_value(job, f"runs.{identity}.slope", min(max(snapped(slope, 0.0005), FLATTEST), STEEPEST))

    return move


def _move_solid_end(identity: str) -> Move:
    def move(job: Job, to: Point) -> Job:
        step = step_si(STATION, System(job.units))
        return with_value(job, f"runs.{identity}.solid_length", min(max(snapped(to[0], step), 0.0), laid_run(job, identity).length - step))

    return move


def _move_length(identity: str) -> Move:
    def move(job: Job, to: Point) -> Job:
        step, run = step_si(STATION, System(job.units)), laid_run(job, identity)
        length = max(snapped(to[0], step), run.solid_length + step, run.nodes[-2][1] + step)
        path = f"runs.{identity}.length"
        spec_at(job, path).check(length, System(job.units))
        return with_value(job, path, length)

    return move
