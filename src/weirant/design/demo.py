"""The demo job: an invented lawn-bowls club under a wooded slope. Feet and inches in, SI out."""

from __future__ import annotations

import dataclasses
from pathlib import Path
from typing import Any

from weirant.job import Job
from weirant.job.answers import Answer
from weirant.job.beside import outline_beside
from weirant.job.holes import AUGER_HOLE, FALLING_WATER, FieldTest, Horizon, TestHole, WaterReading
from weirant.job.limits import Permissions
from weirant.job.network import CLEAN_OUT, PLAIN, Node, Outlet, Run, Stretch
from weirant.job.old_drains import OldDrain
from weirant.job.rain import EVEN, PEAKED, RainfallDepth, Storm
from weirant.job.section import TrenchSection
from weirant.job.site import Feature, SitePoint, Spot
from weirant.job.soil import Band, Layer, SievePoint, Soil
from weirant.job.survey import Shot, Survey
from weirant.job.water import HILLSIDE, Situation, Source, Water
from weirant.language import tr

FT, IN, DAY = 0.3048, 0.0254, 86400.0

# point, station ft, backsight ft, rod reading ft
_BOOK = (
    ("BM", None, 4.32, None), ("G1", 172, None, 4.78), ("G2", 150, None, 4.96), ("G3", 125, None, 5.18), ("G4", 100, None, 5.36),
    ("G5", 78, None, 5.61), ("G6", 60, None, 6.08), ("TP1", None, 3.11, 6.02), ("G7", 40, None, 4.78), ("G8", 20, None, 5.40),
    ("G9", 8, None, 6.02), ("G10", 4, None, 6.21), ("G11", 0, None, 6.84), ("TP2", None, 5.97, 4.40), ("BM", None, None, 2.99),
)  # fmt: skip
_RAINFALL = ((5, 0.45), (10, 0.70), (15, 0.88), (30, 1.24), (60, 1.60), (120, 1.95), (360, 2.75), (1440, 4.20))  # minutes, in; once in ten years
_SEEN = (("stands", "along a wall or slab"), ("when", "a day or more after the rain"), ("fall", "a slope comes down to it"), ("roofs", "in a solid pipe to an outlet"),
         ("hole", "fills from its uphill side"))  # fmt: skip
_FOUND = (("between", "nothing"), ("stone", "mud all through it"), ("in-pipe", "fine mud all along"), ("holes", "down only"), ("end", "free, and it runs"), ("pipe", "sound"),
          ("trees", "none"), ("failed", "slowly, over years"))  # fmt: skip
_SIEVE = ((2.0, 100), (0.425, 97), (0.25, 93), (0.15, 86), (0.075, 68), (0.02, 30), (0.005, 14), (0.002, 8))
_TOPSOIL = ((4.75, 100), (2.0, 98), (0.425, 92), (0.25, 87), (0.15, 79), (0.075, 64), (0.02, 36), (0.005, 20))


def demo_job() -> Job:
    """The clubhouse slab is wetted from uphill. One real fault is in it: the outlet lies under the brook's wet level."""
    feet = [_shot(*row) for row in _BOOK]
    return Job(
        name=tr("Clubhouse slab drain"), place=tr("Larkmead lawn-bowls club (invented)"), date="2026-11-24", units="imperial",
        survey=Survey(tuple(feet), "BM", _si(100, FT), _si(13, FT), _si(0.02, FT)),
        soils=(Soil((Layer("loam", _si(10, IN), Band(1.5 * FT / DAY, 4 * FT / DAY, 9 * FT / DAY), _sieved(_TOPSOIL), 31.0, 9.0),
                   Layer("silt-loam", None, Band(1.0 * FT / DAY, 2.5 * FT / DAY, 5 * FT / DAY), _sieved(_SIEVE), 28.0, 5.0)),
                  _si(30, IN), _si(6, IN), 0.07),),
        water=Water(0.05 * IN / DAY, _si(2, IN), 6 * 3600.0, 0.25, DAY),
        sources=(Source("w1", tr("clubhouse roof"), node="n6", area=_si(1800, FT**2)),),
        runs=_runs(), nodes=_nodes(),
        sections=(TrenchSection("s1", tr("trench"), _si(12, IN), _si(2, IN), _si(6, IN)),), permissions=Permissions(True, None, True), features=_site(),
        points=_points(),
        storms=(Storm(tr("ten-year day"), "type II", _si(4.2, IN), 86400.0), Storm(tr("cloudburst"), PEAKED, _si(1.6, IN), 3600.0),
                Storm(tr("long wet spell"), EVEN, _si(3.5, IN), 3 * 86400.0)),
        holes=_holes(), answers=tuple(Answer(*seen) for seen in _SEEN), old_drains=(_old_drain(),),
        rainfall=tuple(RainfallDepth(minutes * 60.0, 10.0, _si(inches, IN)) for minutes, inches in _RAINFALL),
    )  # fmt: skip


def _old_drain() -> OldDrain:
    """What lay behind the clubhouse before: bare stone that the silt ran into."""
    return OldDrain("d1", tr("the club's old drain"), age=22.0, size=_si(4, IN), sediment=_si(1.5, IN), blocked=0.6, seen=tuple(Answer(*seen) for seen in _FOUND))


def _sieved(points: tuple[tuple[float, float], ...]) -> tuple[SievePoint, ...]:
    return tuple(SievePoint(size / 1000, float(percent)) for size, percent in points)


def _si(number: float, unit: float) -> float:
    """SI to the micrometre, so that the saved file reads well."""
    return round(number * unit, 6)


def _shot(point: str, station: float | None, backsight: float | None, foresight: float | None) -> Shot:
    station, backsight, foresight = (None if v is None else _si(v, FT) for v in (station, backsight, foresight))
    return Shot(point, station, backsight, foresight, run="" if station is None else "r1")


def _feature(number: int, kind: str, name: str, *points: tuple[float, float], **more: Any) -> Feature:
    return Feature(f"t{number}", kind, name, tuple(Spot(_si(x, FT), _si(y, FT)) for x, y in points), **more)


def _site() -> tuple[Feature, ...]:
    return (
        _feature(1, "woodland", tr("wooded slope"), (-150, 112), (90, 112), (90, 150), (-150, 150)),
        _feature(2, "lawn", tr("bowling green"), (18, 14), (86, 14), (86, 96), (18, 96)),
        _feature(3, "brook", tr("brook"), (-150, -9), (-90, -11), (-30, -7), (30, -9), (90, -11)),
        _feature(4, "wet area", tr("the clay corner"), (58, 70), (86, 70), (86, 96), (58, 96)),
        _feature(5, "walk", tr("walk"), (-120, 26), (10, 26)),
        _feature(6, "boundary", tr("boundary"), (-150, -14), (90, -14), (90, 150), (-150, 150), (-150, -14)),
        _feature(7, "gas line", tr("gas line"), (90, 104), (8, 104), (8, 50), (-12, 50), depth=_si(30, IN), diameter=_si(1.25, IN), is_located=True),
        _feature(8, "irrigation", tr("sprinkler main"), (12, 104), (12, 8), (82, 3), depth=_si(14, IN), diameter=_si(1.5, IN), is_private=True),
        Feature("t10", "slab", tr("the clubhouse slab"), _slab(), footing_depth=_si(12, IN), dry_depth=_si(18, IN)),
        _feature(9, "tree", tr("the old beech"), (-42, 101), root_radius=_si(15, FT)),
    )


def _slab() -> tuple[Spot, ...]:
    """Beside the slab drain, 9 ft below it."""
    a, b = ((_si(x, FT), _si(y, FT)) for _, x, y, _, _ in _PLACES[1:3])
    corners = outline_beside([(_si(78, FT), a, b)], _si(88, FT), _si(164, FT), _si(9, FT), _si(43, FT), on_left=True)
    return tuple(Spot(round(spot.x, 6), round(spot.y, 6)) for spot in corners)


def _holes() -> tuple[TestHole, ...]:
    """One hole beside the slab, bailed and timed; one in the clay corner of the green, filled and timed."""
    rising = ((0, 22.60), (10, 22.33), (20, 22.10), (30, 21.84), (40, 21.61), (50, 21.36), (70, 20.90), (100, 20.24), (150, 19.21))
    falling = ((0, 8.00), (15, 8.16), (30, 8.33), (45, 8.47), (60, 8.65), (90, 8.95), (120, 9.27))
    return (
        TestHole("h1", "TH1", _si(-42, FT), _si(93, FT), (Horizon("loam", _si(10, IN)), Horizon("silt-loam", _si(30, IN), True)), _si(6, IN), _si(30, IN),
                 (FieldTest(AUGER_HOLE, _si(2, IN), _si(30, IN), _si(6, IN), on_hard_layer=True, readings=tuple(WaterReading(float(t), _si(d, IN)) for t, d in rising)),)),
        TestHole("h2", "TH2", _si(74, FT), _si(84, FT), (Horizon("loam", _si(7, IN)), Horizon("clay", _si(40, IN), True)), _si(5, IN), None,
                 (FieldTest(FALLING_WATER, _si(2, IN), _si(20, IN), readings=tuple(WaterReading(60.0 * t, _si(d, IN)) for t, d in falling)),)),
    )  # fmt: skip


def _points() -> tuple[SitePoint, ...]:
    rows = Path(__file__).with_name("demo_site.csv").read_text(encoding="utf-8").splitlines()[1:]
    cells = (row.split(",") for row in rows)
    return tuple(SitePoint(name, _si(float(x), FT), _si(float(y), FT), _si(float(z), FT), code, "instrument") for name, x, y, z, code in cells)


_PLACES = (  # identity, x ft, y ft, what is set there, water level ft where it is an outlet
    ("n1", 0.0, 0.0, PLAIN, 95.35), ("n2", 0.0, 78.0, PLAIN, None), ("n3", -93.77102072442348, 84.5571085319478, PLAIN, None),
    ("n4", -60.0, -5.0, PLAIN, 95.3), ("n5", -60.0, 30.0, CLEAN_OUT, None), ("n6", -60.0, 31.0, PLAIN, None),
    ("n7", 70.0, -6.0, PLAIN, 93.5), ("n8", 70.0, 10.0, PLAIN, None), ("n9", 18.0, 10.0, PLAIN, None),
    ("n10", 88.0, 10.0, CLEAN_OUT, None), ("n11", 88.0, 78.0, PLAIN, None),
)  # fmt: skip


def _nodes() -> tuple[Node, ...]:
    return tuple(Node(name, _si(x, FT), _si(y, FT), kind, outlet=None if water is None else Outlet(water_level=_si(water, FT))) for name, x, y, kind, water in _PLACES)


def _runs() -> tuple[Run, ...]:
    """The slab drain; the roof's own solid pipe; and the green's drain with a branch up its far side."""
    slope = Situation(HILLSIDE, _si(50, FT))
    collects, above_slab = Stretch(is_solid=False, id="p2", situation=slope), Stretch(is_solid=False, id="p2", situation=dataclasses.replace(slope, place="t10"))
    return (
        Run("r1", tr("slab drain"), ("n1", "n2", "n3"), _si(95.05, FT), 0.012, (Stretch(is_solid=True, to_station=_si(78, FT)), above_slab), contributing_area=_si(12000, FT**2)),
        Run("r2", tr("roof line"), ("n4", "n5", "n6"), _si(95.55, FT), 0.008, (Stretch(is_solid=True, pipe="pvc-150-two-row"),)),
        Run("r3", tr("green drain"), ("n7", "n8", "n9"), _si(93.75, FT), 0.01, (Stretch(is_solid=True, to_station=_si(16, FT)), collects)),
        Run("r4", tr("green side"), ("n8", "n10", "n11"), _si(93.95, FT), 0.01, (collects,)),
    )
