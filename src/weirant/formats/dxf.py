"""A job as DXF R2010: the plan in its place, long profiles and trench sections beside it, in real units, on layers named for the trade."""

from __future__ import annotations

import io
import math
from typing import TYPE_CHECKING, Any

import numpy as np

from weirant.errors import InputError
from weirant.ground.grade_line import GradeLine
from weirant.job.network import PLAIN
from weirant.job.site import OUTLINED
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.outcome.trench_pipes import pipes_at
from weirant.units.display import LEVEL, SECTION, STATION, System, shown

if TYPE_CHECKING:
    from ezdxf.layouts import Modelspace

PREFIX = "DRAIN-"
# layers with their colour by number and the type of their lines
LAYERS = {"PIPE-COLLECTS": (5, "DASHED"), "PIPE-SOLID": (5, "CONTINUOUS"), "NODE": (7, "CONTINUOUS"), "CROSSING": (1, "CONTINUOUS"), "THING": (8, "CONTINUOUS"),
          "BURIED": (1, "DASHDOT"), "BOUNDARY": (7, "DASHDOT"),
          "GROUND": (3, "CONTINUOUS"), "INVERT": (5, "CONTINUOUS"), "CROWN": (4, "CONTINUOUS"), "TRENCH": (7, "CONTINUOUS"), "STONE": (9, "CONTINUOUS"),
          "TEXT": (7, "CONTINUOUS")}  # fmt: skip
SMALL, APART = 0.25, 5.0  # m: height of letters, and room between the plan and what stands beside it
LONGEST = 250  # characters of a text


def dxf(outcome: Outcome) -> bytes:
    """The drawing, in metres or feet as the job has them. Raises InputError where there is no run."""
    import ezdxf  # slow to load, and needed only where it is written
    from ezdxf import units

    if not outcome.site.runs:
        raise InputError(outcome.job.name, tr("has no run to draw"))
    book = ezdxf.new("R2010", setup=True)
    is_metric = outcome.job.units == System.METRIC.value
    book.units = units.M if is_metric else units.FT
    for name, (colour, line) in LAYERS.items():
        book.layers.add(PREFIX + name, color=colour, linetype=line)
    sheet = _Sheet(book.modelspace(), outcome, 1.0 if is_metric else 1 / 0.3048)
    sheet.plan()
    sheet.beside()
    text = io.StringIO()
    book.write(text)
    return text.getvalue().encode("utf-8")


class _Sheet:
    """Puts a job down, m turned into the units of the drawing by ``by``."""

    def __init__(self, space: Modelspace, outcome: Outcome, by: float) -> None:
        self.space, self.outcome, self.by, self.system = space, outcome, by, System(outcome.job.units)

    def plan(self) -> None:
        """Runs with their stretches, nodes, things, and where lines are crossed."""
        for found in self.outcome.site.runs:
            for stretch in found.stretches:
                stations = [stretch.low, *(s for s in found.run.alignment.stations.tolist() if stretch.low < s < stretch.high), stretch.high]
                points = [found.run.alignment.point(s) for s in stations]
                self._line(points, "PIPE-SOLID" if stretch.is_solid else "PIPE-COLLECTS")
                middle = found.run.alignment.point((stretch.low + stretch.high) / 2)
                self._text(tr("{run}: {pipe}", run=found.run.name, pipe=stretch.make.pipe_name), (middle[0], middle[1] + SMALL))
            for crossing in found.crossings:
                at = found.run.alignment.point(crossing.station)
                self._circle(at, 0.3, "CROSSING")
                self._text(tr("{thing} crossed at {station}", thing=crossing.feature.name, station=shown(crossing.station, STATION, self.system)), (at[0] + 0.4, at[1] - SMALL))
        for node in self.outcome.job.nodes:
            inverts = self.outcome.site.node(node).inverts
            if inverts:
                self._circle((node.x, node.y), 0.15, "NODE")
                kind = "" if node.kind == PLAIN else tr(node.kind)
                words = ", ".join(w for w in (node.name, kind, tr("invert {level}", level=shown(min(inverts.values()), LEVEL, self.system))) if w)
                self._text(words, (node.x + 0.25, node.y + 0.05))
        for thing in self.outcome.job.features:
            points = [(p.x, p.y) for p in thing.points]
            layer = "BURIED" if thing.is_buried else "BOUNDARY" if thing.kind == "boundary" else "THING"
            if len(points) > 1:
                self._line(points, layer, closes=thing.kind in OUTLINED)
            else:
                self._circle(points[0], 0.5, layer)
            self._text(thing.name, points[0])

    def beside(self) -> None:
        """Each long profile under the last, and the section in the middle of what collects at its end; levels keep their heights to one another within a profile."""
        xs = [p[0] for found in self.outcome.site.runs for p in found.run.alignment.points.tolist()]
        left, down = max(xs) + APART, min(p[1] for found in self.outcome.site.runs for p in found.run.alignment.points.tolist())
        for found in self.outcome.site.runs:
            if found.grade is None:
                continue
            low, high = float(found.grade.trench_bottom.min()), float(max(found.grade.ground.max(), found.grade.invert.max()))
            down -= high - low + APART
            self._profile(found, found.grade, left, down - low)
            self._section(found, found.grade, left + found.run.length + 2 * APART, down)

    def _profile(self, found: RunOutcome, grade: GradeLine, left: float, up: float) -> None:
        crown = grade.invert + np.array([found.make(float(s)).above for s in grade.stations])
        for values, layer in ((grade.ground, "GROUND"), (grade.invert, "INVERT"), (crown, "CROWN"), (grade.trench_bottom, "TRENCH")):
            self._line([(left + s, up + level) for s, level in zip(grade.stations.tolist(), values.tolist(), strict=True)], layer)
        self._text(tr("{run}, long profile, heights as lengths", run=found.run.name), (left, up + float(grade.ground.max()) + 0.5))
        for end in (0, -1):
            words = f"{shown(float(grade.stations[end]), STATION, self.system)}: {shown(float(grade.invert[end]), LEVEL, self.system)}"
            self._text(words, (left + float(grade.stations[end]), up + float(grade.invert[end]) - 2 * SMALL))

    def _section(self, found: RunOutcome, grade: GradeLine, left: float, down: float) -> None:
        station = found.part.station
        make, cut = found.make(station), max(grade.at(grade.cut, station), 0.0)
        edge, wall = float(make.edge(cut)), make.wall(0.0, cut)
        self._line([*((left - x, down + y) for x, y in reversed(wall)), *((left + x, down + y) for x, y in wall)], "TRENCH")
        self._line([(left - edge - 1, down + cut), (left + edge + 1, down + cut)], "GROUND")
        if not make.is_solid and make.section.has_stone:
            top = float(make.stone(np.array(cut)))
            at = float(make.edge(top))
            self._line([(left - at, down + top), (left + at, down + top)], "STONE")
        for placed in pipes_at(self.outcome.site, found, station):
            if placed.across is not None and placed.height is not None:
                middle = (left + placed.across, down + placed.height + placed.pipe.outer_diameter / 2)
                layer = "PIPE-SOLID" if placed.is_solid else "PIPE-COLLECTS"
                self._circle(middle, placed.pipe.outer_diameter / 2, layer)
                self._circle(middle, placed.pipe.inner_diameter / 2, layer)
        self._text(tr("{run}, section at {station}, {width} wide", run=found.run.name, station=shown(station, STATION, self.system), width=shown(make.section.width, SECTION, self.system)),
                   (left - edge, down + cut + 0.3))  # fmt: skip

    def _line(self, points: list[tuple[float, float]], layer: str, *, closes: bool = False) -> None:
        self.space.add_lwpolyline([(x * self.by, y * self.by) for x, y in points], close=closes, dxfattribs={"layer": PREFIX + layer})

    def _circle(self, at: tuple[float, float], radius: float, layer: str) -> None:
        self.space.add_circle((at[0] * self.by, at[1] * self.by), radius * self.by, dxfattribs={"layer": PREFIX + layer})

    def _text(self, words: str, at: tuple[float, float]) -> None:
        if words and all(map(math.isfinite, at)):
            attributes: dict[str, Any] = {"layer": f"{PREFIX}TEXT", "height": SMALL * self.by, "insert": (at[0] * self.by, at[1] * self.by)}
            self.space.add_text(_plain(words), dxfattribs=attributes)


def _plain(words: str) -> str:
    """A text on one line, without what the format reads as a sign of its own."""
    return " ".join("".join(c for c in words if c >= " " and not 0xD800 <= ord(c) <= 0xDFFF).replace("%%", "% %").replace("^", " ").split())[:LONGEST]
