"""Where a click on the plan is meant to be: on a run, on a corner, on a shot, or square to what was drawn last; and places that are typed."""

from __future__ import annotations

import math
import re

from weirant.errors import InputError
from weirant.ground.alignment import Point
from weirant.ground.network import network_of
from weirant.job import Job
from weirant.language import as_known, tr
from weirant.records import dataclass
from weirant.units import parse
from weirant.units.dimension import LENGTH, NUMBER
from weirant.units.display import DISTANCE, in_both


@dataclass(frozen=True)
class Snap:
    """A place with the words that say what it is, and the identity of the run it lies on, if any."""

    at: Point
    words: str = ""
    run: str = ""


_POLAR = re.compile(r"(.+?)\s*(?:\bat\b|@)\s*(.+)", re.IGNORECASE)
_EAST_NORTH = re.compile(r"([EW])\s*(.+?)\s*[,;]?\s+([NS])\s*(.+)", re.IGNORECASE)
_QUADRANT = re.compile(r"([NS])\s*([\d.,]+)\s*°?\s*([EW])", re.IGNORECASE)
WORDS = ("at", "N", "E", "S", "W")  # as they are typed
LONGEST_LEG = 5000.0  # m from one corner to the next
EXACT = 0.02  # m: nearer than that a typed place is on a run
PLACE = tr('takes a length and a bearing, such as "40 ft at 90", or a place, such as "E 12 ft N 30 ft"')


def typed_corner(text: str, before: Point | None, unit: str) -> Point:
    """The place that is typed while a line is drawn: a length at a bearing in degrees clockwise from north (or ``N 45 E``) from the corner
    before, or a place east and north. A bare number is in ``unit``. Raises InputError that says what it takes.
    """
    text = as_known(text.strip(), WORDS)
    if found := _EAST_NORTH.fullmatch(text):
        east, north = (parse(found[i + 1], LENGTH, tr("next corner"), unit) * (-1 if found[i].upper() in "WS" else 1) for i in (1, 3))
        return east, north
    found = _POLAR.fullmatch(text)
    if found is None:
        raise InputError(tr("next corner"), PLACE, text)
    if before is None:
        raise InputError(tr("next corner"), tr("has none before it to measure from: click the first one, or type its place"), text)
    size, way = parse(found[1], LENGTH, tr("next corner"), unit), bearing_of(found[2])
    if not 0 < size <= LONGEST_LEG:
        raise InputError(tr("next corner"), tr("must lie more than 0 and at most {most} away", most=in_both(LONGEST_LEG, DISTANCE)), found[1])
    return before[0] + size * math.sin(way), before[1] + size * math.cos(way)


def bearing_of(text: str) -> float:
    """A bearing, rad clockwise from north, from degrees or a quadrant such as ``N 45 E``. Raises InputError where it is none."""
    if found := _QUADRANT.fullmatch(as_known(text.strip(), WORDS)):
        turn = parse(found[2], NUMBER, tr("bearing"))
        if turn <= 90:
            return math.radians({"NE": turn, "SE": 180 - turn, "SW": 180 + turn, "NW": 360 - turn}[(found[1] + found[3]).upper()])
    degrees = parse(text.replace("°", ""), NUMBER, "bearing")
    if not -360 <= degrees <= 360:
        raise InputError("bearing", tr("must be between -360 and 360 degrees"), text)
    return math.radians(degrees)


def bearing_words(bearing: float) -> str:
    """A bearing, rad clockwise from north, in degrees."""
    return tr("{bearing:.1f}°", bearing=math.degrees(bearing) % 360)


def snap(job: Job, to: Point, reach: float, drawn: list[Point] | None = None) -> Snap:
    """The place meant by a click within reach m: runs and their nodes before corners and shots, those before right angles; else the click itself."""
    run = _nearest_run(job, to, reach)
    if run is not None:
        return run
    corner = min(((math.dist(at, to), at, words) for at, words in _corners(job)), default=None)
    if corner is not None and corner[0] <= reach:
        return Snap(corner[1], corner[2])
    if drawn and len(drawn) > 1:
        square = _square(drawn[-2], drawn[-1], to)
        if math.dist(square, to) <= reach:
            return Snap(square, tr("square to it"))
    return Snap(to)


def on_run(job: Job, at: Point) -> Snap:
    """A place that is given exactly, with the run it lies on."""
    run = _nearest_run(job, at, EXACT)
    return Snap(at, "", run.run if run is not None else "")


def _corners(job: Job) -> list[tuple[Point, str]]:
    found = [((p.x, p.y), f.name) for f in job.features for p in f.points]
    return found + [((p.x, p.y), p.name) for p in job.points]


def _nearest_run(job: Job, to: Point, reach: float) -> Snap | None:
    best: tuple[float, Snap] | None = None
    for run in network_of(job).runs:
        station, away = run.alignment.nearest(to)
        for special in (0.0, run.solid_length, run.length, *(s for _, s in run.nodes)):
            if abs(special - station) <= reach:
                station = special
        if away <= reach and (best is None or away < best[0]):
            best = (away, Snap(run.alignment.point(station), f"on {run.name}", run.id))
    return best[1] if best is not None else None


def _square(before: Point, last: Point, to: Point) -> Point:
    """The foot of a click on the line square to, or straight on from, the last length."""
    way = math.atan2(last[1] - before[1], last[0] - before[0])
    turn = math.atan2(to[1] - last[1], to[0] - last[0]) - way
    straight = way + round(turn / (math.pi / 2)) * (math.pi / 2)
    along = (to[0] - last[0]) * math.cos(straight) + (to[1] - last[1]) * math.sin(straight)
    return last[0] + along * math.cos(straight), last[1] + along * math.sin(straight)
