"""Level notes by height of instrument, and where a pipe comes to daylight."""

from __future__ import annotations

import math
import re
from typing import NamedTuple

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.registry import method, read_text
from weirant.units.dimension import LENGTH, SLOPE
from weirant.units.display import in_both
from weirant.units.parse import parse


class Sight(NamedTuple):
    """One line of level notes: the point, backsight and foresight on it in m, where taken."""

    point: str
    backsight: float | None
    foresight: float | None


class Levels(NamedTuple):
    """Elevations by point as booked, misclosure m (None where the loop is not closed), elevations adjusted."""

    elevations: dict[str, float]
    misclosure: float | None
    adjusted_elevations: dict[str, float]


class Daylight(NamedTuple):
    """Distance along the run m and elevation m where the pipe meets the ground."""

    distance: float
    elevation: float


def read_sights(text: str, length_unit: str) -> list[Sight]:
    """Read ``BM:bs 4.32, A:fs 5.10, TP1:fs 6.02 bs 3.11`` into sights, m; bare readings are in ``length_unit``."""
    sights = []
    for number, part in enumerate(filter(str.strip, text.split(",")), 1):
        point, colon, readings = part.partition(":")
        found = re.findall(r"\b(bs|fs)\s+(.+?)(?=\s+(?:bs|fs)\s|$)", readings.strip(), re.IGNORECASE)
        given = {kind.lower(): parse(value, LENGTH, tr("notes, {point}", point=point.strip()), length_unit, strict=True) for kind, value in found}
        if not colon or not point.strip() or not given or len(given) != len(found):
            raise InputError(
                "notes", tr('entry {number} must read "point:bs 4.32" or "point:fs 5.10 bs 3.11"', number=number), part.strip()
            )
        sights.append(Sight(point.strip(), given.get("bs"), given.get("fs")))
    return sights


def _read_benchmark(value: object, key: str) -> float | str:
    if isinstance(value, bool) or not isinstance(value, (str, int, float)):
        raise InputError(key, tr("takes a value of length, such as 100 ft"), value)
    return str(value)


def _read_length_unit(value: object, key: str) -> str:
    unit = read_text(value, key)
    parse(f"1 {unit}", LENGTH, key)
    return unit


@method("level-notes", keys={"benchmark": _read_benchmark, "notes": read_text, "length_unit": _read_length_unit},
        results={"elevations": LENGTH, "misclosure": LENGTH, "adjusted_elevations": LENGTH},
        formula="HI = elevation + backsight;  elevation = HI − foresight;  misclosure shared by number of set-ups",
        sources="ghilani_wolf", valid=tr("the first sight is a backsight on the benchmark"))  # fmt: skip
def level_notes_from_text(benchmark: str, notes: str, length_unit: str) -> Levels:
    """Reduce level notes by height of instrument and share the misclosure by number of set-ups.

    benchmark is the elevation of the first point (with its unit; a bare number is metres), notes read
    ``BM:bs 4.32, A:fs 5.10, TP1:fs 6.02 bs 3.11, BM:fs 2.20``, length_unit is the unit of the readings.
    Gives m. Source: Ghilani and Wolf, Elementary Surveying, differential levelling and its adjustment.
    """
    bare = re.fullmatch(r"\s*[-+]?[\d.,eE+-]+\s*", benchmark) is not None
    if bare and parse(f"1 {length_unit}", LENGTH) != 1.0:
        raise InputError(
            "benchmark", tr('needs its unit, such as "{benchmark} {length_unit}"; a bare number would be metres', benchmark=benchmark.strip(), length_unit=length_unit)
        )
    return reduce_levels(parse(benchmark, LENGTH, "benchmark", strict=True), read_sights(notes, length_unit))


def reduce_levels(benchmark: float, sights: list[Sight]) -> Levels:
    """Elevations of level notes; the loop is closed where the first point is sighted again as a foresight.

    benchmark m, sights in the order taken. Raises InputError where the notes do not start with a backsight.
    A point sighted twice keeps its first elevation.
    """
    if not math.isfinite(benchmark):
        raise InputError("benchmark", tr("must be a finite number"), benchmark)
    if not sights or sights[0].backsight is None:
        raise InputError("notes", tr("must start with a backsight on the benchmark"))
    elevations, set_up_of = {sights[0].point: benchmark}, {sights[0].point: 0}
    instrument, set_up, misclosure = benchmark + sights[0].backsight, 1, None
    for sight in sights[1:]:
        if sight.foresight is None:
            raise InputError(tr("notes, {point}", point=sight.point), tr("has a backsight but no foresight; its elevation is not known"))
        here = instrument - sight.foresight
        if sight.point == sights[0].point:
            misclosure = here - benchmark
        else:
            elevations.setdefault(sight.point, here)
            set_up_of.setdefault(sight.point, set_up)
        if sight.backsight is not None:
            instrument, set_up = here + sight.backsight, set_up + 1
    share = (misclosure or 0.0) / set_up
    adjusted = {point: level - share * set_up_of[point] for point, level in elevations.items()}
    return Levels(elevations, misclosure, adjusted)


@method("daylight",
        keys={"ground_elevation": LENGTH, "ground_slope": SLOPE, "pipe_elevation": LENGTH, "pipe_slope": SLOPE},
        results={"distance": LENGTH, "elevation": LENGTH}, formula="x = (ground − pipe) / (ground slope − pipe slope)",
        sources="geometry", valid=tr("even slopes, both falling positive along the run"))  # fmt: skip
def daylight(ground_elevation: float, ground_slope: float, pipe_elevation: float, pipe_slope: float) -> Daylight:
    """Where a pipe under falling ground comes to the surface.

    elevations m at the start (pipe not above ground), slopes m/m positive where they fall along the run (−1 to 1).
    Raises InputError where the pipe never comes out. Geometry.
    """
    for name, value in (("ground_slope", ground_slope), ("pipe_slope", pipe_slope)):
        if not (math.isfinite(value) and -1 <= value <= 1):
            raise InputError(name, tr("must be between −100 % and 100 %"), value)
    cut = ground_elevation - pipe_elevation
    if not (math.isfinite(cut) and cut >= 0):
        raise InputError("pipe_elevation", tr("must not be above the ground at the start"), in_both(pipe_elevation))
    if cut == 0:
        return Daylight(0.0, pipe_elevation)
    if ground_slope <= pipe_slope:
        raise InputError(
            "pipe_slope", tr("is not flatter than the ground, so the pipe never comes to daylight"), pipe_slope
        )
    distance = cut / (ground_slope - pipe_slope)
    return Daylight(distance, pipe_elevation - pipe_slope * distance)
