"""The long profile: ground, pipe, stone and water along the line, from the outlet up."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from weirant.checks.around import gap_at
from weirant.drawing.primitives import Area, Drawing, Flag, Handle, Mark, Point, Shape, Stroke, Words, snapped
from weirant.errors import InputError
from weirant.ground.as_built import built_profile
from weirant.ground.inverts import FLATTEST, STEEPEST, grade_nodes, invert_at, with_inverts
from weirant.job import Job
from weirant.job.network import MAIN
from weirant.job.paths import with_value
from weirant.job.trench import OPEN_TOP
from weirant.library import shipped
from weirant.outcome.finding import State
from weirant.outcome.outcome import Outcome
from weirant.units.display import LEVEL, SECTION, SLOPE, STATION, System, shown, step_si

Array = NDArray[np.float64]


def profile_drawing(outcome: Outcome, run: str = MAIN) -> Drawing:
    """The profile of the run that the outcome is seen for; an empty sheet with a hint where the ground is not known."""
    grade = outcome.grade
    if grade is None:
        return Drawing((Words((0.5, 0.5), "No ground yet: type two rod readings, at the outlet and at the top end.", "hint", "centre"),),
                       (0, 0, 1, 1), title="Long profile")  # fmt: skip
    system = System(outcome.job.units)
    x, low = grade.stations, float(min(grade.trench_bottom.min(), grade.ground.min()))
    high = float(max(grade.ground.max(), grade.invert.max()))
    room = max(0.25 * (high - low), 0.15)
    margin = 0.035 * float(x[-1])
    bounds = (-1.6 * margin, low - 0.55 * room, float(x[-1]) + margin, high + room)
    shapes: list[Shape] = [
        *_grid(bounds, system),
        Area((*_points(x, grade.ground), (float(x[-1]), bounds[1]), (float(x[0]), bounds[1])), "soil"),
        *_hard_layer(outcome, bounds),
        *_trench(outcome),
        *_receiving(outcome, bounds),
        *_pipe(outcome),
        Stroke(tuple(_points(x, grade.ground)), "ground"),
        *([] if outcome.job.survey.is_shot else [Words((float(x[-1]) * 0.02, high), "ground made up, not surveyed", "doubt", "left", 4, 4)]),
        *_axis(bounds, system),
        *_met(outcome, run, system),
        *_built(outcome, run, system),
        *_labels(outcome, system),
        *_flags(outcome, run),
    ]
    return Drawing(tuple(shapes), bounds, _handles(outcome, system), True, "Long profile", True, thins=("axis",))


def _points(x: Array, y: Array) -> list[Point]:
    """Points of a line, without those that lie straight between their neighbours."""
    keep = np.ones(len(x), dtype=bool)
    if len(x) > 2:
        step_x, step_y = np.diff(x), np.diff(y)
        keep[1:-1] = np.abs(step_x[:-1] * step_y[1:] - step_x[1:] * step_y[:-1]) > 1e-9
    return list(zip(x[keep].tolist(), y[keep].tolist(), strict=True))


def _grid(bounds: tuple[float, float, float, float], system: System) -> list[Shape]:
    shapes: list[Shape] = []
    step, level_step = _steps(bounds, system)
    for station in np.arange(0, bounds[2], step):
        shapes.append(Stroke(((float(station), bounds[1]), (float(station), bounds[3])), "grid"))
    for level in np.arange(np.ceil(bounds[1] / level_step) * level_step, bounds[3], level_step):
        shapes.append(Stroke(((bounds[0], float(level)), (bounds[2], float(level))), "grid"))
    return shapes


def _axis(bounds: tuple[float, float, float, float], system: System) -> list[Shape]:
    """Stations along the foot and levels at the left edge, laid over everything else."""
    along, up = _steps(bounds, system)
    unit = "ft" if system == System.IMPERIAL else "m"
    factor = 0.3048 if system == System.IMPERIAL else 1.0
    foot = [
        Words((float(s), bounds[1]), f"{s / factor:g} {unit}", "axis", "centre", 0, -11)
        for s in np.arange(0, bounds[2], along)
    ]
    side = [Words((bounds[0], float(v)), shown(float(v), LEVEL, system), "axis", "left", 3, 1)
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


def _hard_layer(outcome: Outcome, bounds: tuple[float, float, float, float]) -> list[Shape]:
    grade, depth = outcome.grade, outcome.job.soil.hard_layer_depth
    if grade is None or depth is None:
        return []
    top = np.maximum(grade.ground - depth, bounds[1])
    x = grade.stations
    return [
        Area((*_points(x, top), (float(x[-1]), bounds[1]), (float(x[0]), bounds[1])), "hard layer"),
        Stroke(tuple(_points(x, top)), "hard layer"),
    ]


def _trench(outcome: Outcome) -> list[Shape]:
    grade, job, pipe = outcome.grade, outcome.job, outcome.pipe
    if grade is None:
        return []
    x, inside = grade.stations, grade.stations >= job.line.solid_length - 1e-9
    dug = grade.cut > 0
    shapes: list[Shape] = []
    if dug.any():
        shapes.append(
            Area(
                (*_points(x[dug], grade.ground[dug]), *reversed(_points(x[dug], grade.trench_bottom[dug]))), "backfill"
            )
        )
    height = job.trench.bedding + pipe.outer_diameter + job.trench.stone_cover
    top = grade.ground if job.trench.top == OPEN_TOP else np.minimum(grade.trench_bottom + height, grade.ground)
    stone = inside & dug
    if stone.sum() > 1:
        shapes.append(
            Area((*_points(x[stone], top[stone]), *reversed(_points(x[stone], grade.trench_bottom[stone]))), "stone")
        )
    return shapes


def _pipe(outcome: Outcome) -> list[Shape]:
    grade, flow = outcome.grade, outcome.flow_high
    if grade is None:
        return []
    x, crown = grade.stations, grade.invert + outcome.pipe.inner_diameter
    inside = x >= outcome.job.line.solid_length - 1e-9
    shapes: list[Shape] = [Area((*_points(x, crown), *reversed(_points(x, grade.invert))), "pipe")]
    if flow is not None:
        surface = np.minimum(flow.surface, crown)
        shapes.append(Area((*_points(x, surface), *reversed(_points(x, grade.invert))), "water"))
    solid = x <= outcome.job.line.solid_length + 1e-9
    for part, line in ((solid, "solid pipe"), (inside, "perforated pipe")):
        shapes += [Stroke(tuple(_points(x[part], edge[part])), line) for edge in (grade.invert, crown)]
    if flow is not None and (above := flow.surface > crown + 1e-6).any():
        shapes.append(Stroke(tuple(_points(x[above], flow.surface[above])), "water"))
    return shapes


def _receiving(outcome: Outcome, bounds: tuple[float, float, float, float]) -> list[Shape]:
    level = outcome.job.line.receiving_level
    if level is None or not bounds[1] < level < bounds[3]:
        return []
    return [Area(((bounds[0], bounds[1]), (0.0, bounds[1]), (0.0, level), (bounds[0], level)), "water"),
            Stroke(((bounds[0], level), (_meets_ground(outcome, level), level)), "water")]  # fmt: skip


def _meets_ground(outcome: Outcome, level: float) -> float:
    grade = outcome.grade
    if grade is None or level <= grade.ground[0]:
        return 0.0
    over = np.nonzero(grade.ground >= level)[0]
    return float(grade.stations[over[0]]) if len(over) else 0.0


def _labels(outcome: Outcome, system: System) -> list[Shape]:
    grade, line = outcome.grade, outcome.job.line
    if grade is None:
        return []
    nodes, levels = grade_nodes(line)
    falls: list[Shape] = []
    for low, high, z0, z1 in zip(nodes, nodes[1:], levels, levels[1:], strict=False):
        middle = float(low + 0.55 * (high - low))
        words = f"{shown(float((z1 - z0) / (high - low)), SLOPE, system)} fall"
        if (high - low) > 0.09 * line.length:
            falls.append(Words((middle, grade.at(grade.invert, middle)), words, "strong", "centre", 0, -22))
    return [
        *falls,
        Words(
            (line.solid_length / 2, grade.at(grade.ground, line.solid_length / 2)),
            "solid pipe",
            "label",
            "centre",
            0,
            6,
        ),
        Words(
            ((line.solid_length + line.length) / 2, grade.at(grade.ground, (line.solid_length + line.length) / 2)),
            "collecting run",
            "label",
            "centre",
            0,
            6,
        ),
        Words((0.0, line.outlet_invert), f"outlet {shown(line.outlet_invert, LEVEL, system)}", "label", "left", 9, -14),
    ]


def _met(outcome: Outcome, run: str, system: System) -> list[Shape]:
    """Buried lines that are crossed, with the stretch to dig by hand; runs that join; fittings; held inverts."""
    grade, found = outcome.grade, outcome.site.run(run) if outcome.site is not None else None
    if grade is None or found is None or outcome.site is None:
        return []
    shapes: list[Shape] = [Mark((h.station, h.level), "held") for h in outcome.job.line.held]
    shapes += [Mark((f.station, grade.at(grade.ground, f.station)), "fitting") for f in outcome.job.line.fittings if f.station <= outcome.job.line.length]
    for other in outcome.site.runs:
        if other.run.joins == run:
            at = (other.run.joins_at, other.run.line.outlet_invert)
            shapes += [Mark(at, "joint"), Words(at, other.run.name, "small", "left", 6, 3)]
    for crossing in found.crossings:
        ground = grade.at(grade.ground, crossing.station)
        low, high = (min(max(s, 0.0), outcome.job.line.length) for s in (crossing.hand_from, crossing.hand_to))
        if high > low:
            shapes.append(Stroke(((low, grade.at(grade.ground, low)), (high, grade.at(grade.ground, high))), "by hand"))
        name = crossing.feature.name if crossing.feature.is_located else f"{crossing.feature.name} (not located)"
        if crossing.top is None or crossing.bottom is None:
            shapes += [Stroke(((crossing.station, ground), (crossing.station, grade.at(grade.trench_bottom, crossing.station))), "target"),
                       Words((crossing.station, ground), f"{name}, depth?", "small", "left", 4, 4)]  # fmt: skip
            continue
        middle = (crossing.station, (crossing.top + crossing.bottom) / 2)
        gap, way = gap_at(outcome, crossing, grade.at(grade.invert, crossing.station)) or (0.0, "")
        clear = f", {shown(gap, SECTION, system)} clear {'below' if way == 'over' else 'above'}" if gap > 0 else ", CUT INTO"
        shapes += [Mark(middle, "crossing"), Words(middle, f"{name}{clear}", "small", "left", 7, -3)]
    return shapes


def _built(outcome: Outcome, run: str, system: System) -> list[Shape]:
    """Inverts as built, joined up, those that are off with how far."""
    job = outcome.job
    profile = built_profile(job.line, run, job.as_built, job.limits.tolerance)
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


def _flags(outcome: Outcome, run: str) -> list[Shape]:
    """Findings that fail or are tight, at their stations; of several at one place the worst."""
    grade, seen, flags = outcome.grade, set(), []
    if grade is None:
        return []
    for finding in outcome.findings:
        about = [e.removeprefix("run:") for e in finding.elements if e.startswith("run:")] or [MAIN]
        if finding.station is None or finding.state not in (State.FAILS, State.TIGHT) or run not in about:
            continue
        place = round(finding.station, 1)
        if place not in seen:
            seen.add(place)
            flags.append(
                Flag((finding.station, grade.at(grade.ground, finding.station)), str(finding.state), finding.title)
            )
    return list(flags)


def _handles(outcome: Outcome, system: System) -> tuple[Handle, ...]:
    grade, line = outcome.grade, outcome.job.line
    if grade is None:
        return ()
    level, along = step_si(LEVEL, system), step_si(STATION, system)
    middle = line.length / 2
    nodes, levels = grade_nodes(line)
    breaks = [Handle(f"break-{i}", (float(s), float(z)), "y", f"Invert at {shown(float(s), STATION, system)}", level, _move_node(i))
              for i, (s, z) in enumerate(zip(nodes, levels, strict=True)) if 0 < i < len(nodes) - 1]  # fmt: skip
    return (
        Handle("outlet", (0.0, line.outlet_invert), "y", "Outlet level", level, _move_outlet, "line.outlet_invert"),
        Handle("bottom", (middle, grade.at(grade.trench_bottom, middle)), "y", "Trench bottom", level, _move_line),
        Handle("top-end", (line.length, float(levels[-1])), "y", "Grade", level, _move_top_end, "" if line.breaks else "line.slope"),
        *breaks,
        Handle("solid-end", (line.solid_length, grade.at(grade.invert, line.solid_length)), "x", "End of the solid pipe", along,
               _move_solid_end, "line.solid_length"),
        Handle("length", (line.length, grade.at(grade.ground, line.length)), "x", "Length of the line", along, _move_length, "line.length"),
    )  # fmt: skip


def _move_outlet(job: Job, to: Point) -> Job:
    """Outlet up or down, top end kept."""
    return _move_node(0)(job, to)


def _move_node(index: int) -> Callable[[Job, Point], Job]:
    """The invert at one grade node up or down, the others kept; it stops where the pipe would run level."""

    def move(job: Job, to: Point) -> Job:
        stations, levels = (values.tolist() for values in grade_nodes(job.line))
        level = snapped(to[1], step_si(LEVEL, System(job.units)) / 2)
        if index > 0:
            run = stations[index] - stations[index - 1]
            level = min(max(level, levels[index - 1] + FLATTEST * run * 2), levels[index - 1] + STEEPEST * run)
        if index + 1 < len(levels):
            run = stations[index + 1] - stations[index]
            level = max(min(level, levels[index + 1] - FLATTEST * run * 2), levels[index + 1] - STEEPEST * run)
        levels[index] = level
        moved = with_value(job, "line.outlet_invert", levels[0])
        return dataclasses.replace(moved, line=with_inverts(job.line, stations, levels))

    return move


def _move_line(job: Job, to: Point) -> Job:
    """The whole line up or down, grade kept; the handle sits on the trench bottom half way."""
    wall = shipped().pipe(job.choice.pipe).wall
    middle = job.line.length / 2
    over_outlet = float(invert_at(job.line, np.array(middle))) - job.line.outlet_invert
    level = to[1] + wall + job.trench.bedding - over_outlet
    return with_value(job, "line.outlet_invert", snapped(level, step_si(LEVEL, System(job.units)) / 2))


def _move_top_end(job: Job, to: Point) -> Job:
    """Top end up or down, outlet kept."""
    if job.line.breaks:
        return _move_node(len(grade_nodes(job.line)[0]) - 1)(job, to)
    slope = (to[1] - job.line.outlet_invert) / job.line.length
    return with_value(job, "line.slope", min(max(snapped(slope, 0.0005), FLATTEST), STEEPEST))


def _move_solid_end(job: Job, to: Point) -> Job:
    step = step_si(STATION, System(job.units))
    return with_value(job, "line.solid_length", min(max(snapped(to[0], step), 0.0), job.line.length - step))


def _move_length(job: Job, to: Point) -> Job:
    step = step_si(STATION, System(job.units))
    length = max(snapped(to[0], step), job.line.solid_length + step)
    if length > 5000:
        raise InputError("whole length", "must be at most 5000 m")
    return with_value(job, "line.length", length)
