"""How a pattern is put down: nodes, runs and things in feet on a made-up ground, and the job that they make."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Sequence
from typing import Any

from weirant.job import Job
from weirant.job.identity import NODE, RUN, SOURCE, THING, fresh
from weirant.job.limits import Limits
from weirant.job.network import BASINS, PLAIN, Basin, Node, Outlet, Run, Stretch
from weirant.job.outlet_edits import outlet_of
from weirant.job.section import TrenchSection
from weirant.job.site import Feature, SitePoint, Spot
from weirant.job.soil import Layer, Soil
from weirant.job.water import HILLSIDE, USUAL_SHARE, Situation, Source, Water

FT, IN = 0.3048, 0.0254
EVERY, MARGIN = 10, 15  # ft between the made-up levels, and round what is drawn
MOST_ACROSS = 24  # levels in a row of them; a large site has them farther apart


def si(number: float, unit: float = FT) -> float:
    """SI to the micrometre, so that the file reads well."""
    return round(number * unit, 6)


class Sketch:
    """A site as it is put down. Lengths in feet, sizes of the section in inches, slopes in per cent."""

    def __init__(self, name: str, place: str, ground: Callable[[float, float], float]) -> None:
        self.name, self.place, self.ground = name, place, ground
        self.nodes: list[Node] = []
        self.runs: list[Run] = []
        self.things: list[Feature] = []
        self.sections: list[TrenchSection] = [TrenchSection()]
        self.assumed: list[str] = []
        self.corners: list[tuple[float, float]] = []
        self.kept_dry: dict[str, str] = {}
        self.sources: list[Source] = []

    def at(self, x: float, y: float, kind: str = PLAIN, *, outlet: str = "", water: float | None = None, rise: float | None = None, name: str = "",
           basin: tuple[str, float, float] | None = None) -> str:  # fmt: skip
        """A node, with an outlet of a kind and the water level it falls into where one is named, or a box (its shape, size and sump, in); and its identity."""
        out = outlet_of(outlet, Outlet(water_level=None if water is None else si(water), rise=None if rise is None else si(rise))) if outlet else None
        made = None if kind not in BASINS else Basin() if basin is None else Basin(basin[0], si(basin[1], IN), si(basin[2], IN))
        node = Node(fresh(self.nodes, NODE), si(x), si(y), kind, name, out, basin=made)
        self.assumed += [f"nodes.{node.id}.basin.{field}" for field in ("size", "sump")] if basin is not None else []
        self.nodes.append(node)
        self.corners.append((x, y))
        return node.id

    def run(self, name: str, nodes: Sequence[str], low: float, fall: float, *, solid: float | None = 0.0, pipe: str = "corrugated-100", section: str = "s1",
            **more: Any) -> str:  # fmt: skip
        """A run through nodes from its low end up, with its invert there; ``solid`` ft of it solid (None: all of it). And its identity."""
        parts = [Stretch(is_solid=True, pipe=pipe, section=section)] if solid is None else [Stretch(is_solid=False, pipe=pipe, section=section)]
        if solid:
            parts = [Stretch(is_solid=True, to_station=si(solid), pipe=pipe, section=section), dataclasses.replace(parts[0], id="p2")]
        run = Run(fresh(self.runs, RUN), name, tuple(nodes), si(low), fall / 100, tuple(parts), **more)
        self.runs.append(run)
        self.assumed += [f"runs.{run.id}.invert", f"runs.{run.id}.slope"]
        return run.id

    def thing(self, kind: str, name: str, *corners: tuple[float, float], **more: Any) -> str:
        """A thing on the plan, and its identity."""
        thing = Feature(fresh(self.things, THING), kind, name, tuple(Spot(si(x), si(y)) for x, y in corners), **more)
        self.things.append(thing)
        self.corners += corners
        return thing.id

    def dry(self, thing: str, depth: float, *runs: str) -> None:
        """A thing to be kept dry to a depth, ft, by runs."""
        self.things = [dataclasses.replace(t, dry_depth=si(depth)) if t.id == thing else t for t in self.things]
        self.kept_dry |= dict.fromkeys(runs, thing)
        self.assumed.append(f"features.{thing}.dry_depth")

    def sheds(self, kind: str, name: str, node: str, area: float, rain: float | None = None) -> None:
        """Water of an area, ft², led to a node; sized by a rain, in/h, that is assumed, or by the rainfall table of the place."""
        source = Source(fresh(self.sources, SOURCE), name, kind, node, area=si(area, FT**2), share=USUAL_SHARE[kind], intensity=None if rain is None else rain * IN / 3600)
        self.sources.append(source)
        self.assumed += [f"sources.{source.id}.area", *([f"sources.{source.id}.intensity"] if rain else [])]

    def section(self, **inches: Any) -> None:
        """Figures of the section that all lie in; sizes in inches."""
        figures: dict[str, Any] = {key: si(value, IN) if isinstance(value, (int, float)) else value for key, value in inches.items()}
        self.sections[0] = dataclasses.replace(self.sections[0], **figures)

    def job(self, *, soil: Soil | None = None, source: str = HILLSIDE, reach: float = 50, water: Water | None = None, limits: Limits | None = None) -> Job:
        """The job on its made-up ground. Groundwater comes to all that collects from one kind of source, undisturbed at a reach, ft."""
        return Job(self.name, (soil or loam(),), tuple(self._situated(run, source, si(reach)) for run in self.runs), tuple(self.nodes), place=self.place,
                   sections=tuple(self.sections), features=tuple(self.things), sources=tuple(self.sources), water=water or Water(), limits=limits or Limits(), points=tuple(self._levels()),
                   assumed=(*self.assumed, "soils.g1.layers.0.texture", "soils.g1.hard_layer_depth", "soils.g1.water_table_depth", "sections.s1.width"))  # fmt: skip

    def _situated(self, run: Run, source: str, reach: float) -> Run:
        def placed(stretch: Stretch) -> Stretch:
            return dataclasses.replace(stretch, situation=Situation(source, reach, "" if stretch.is_solid else self.kept_dry.get(run.id, "")))

        return dataclasses.replace(run, stretches=tuple(map(placed, run.stretches)))

    def _levels(self) -> list[SitePoint]:
        (west, south), (east, north) = (tuple(edge(c[i] for c in self.corners) for i in (0, 1)) for edge in (min, max))
        rows = []
        for start, stop in ((west - MARGIN, east + MARGIN), (south - MARGIN, north + MARGIN)):
            count = min(max(round((stop - start) / EVERY), 2), MOST_ACROSS)
            rows.append([start + (stop - start) * i / count for i in range(count + 1)])
        places = [*((x, y) for x in rows[0] for y in rows[1]), *self.corners]
        return [SitePoint(f"made up {i + 1}", si(x), si(y), si(self.ground(x, y)), is_assumed=True) for i, (x, y) in enumerate(dict.fromkeys(places))]


def loam(hard: float | None = 4.0, wet: float | None = 0.75, slope: float | None = None, texture: str = "loam") -> Soil:
    """One layer over a hard one, with the depths ft to that and to the water when wet, and the slope of the water table, per cent."""
    return Soil((Layer(texture),), None if hard is None else si(hard), None if wet is None else si(wet), None if slope is None else slope / 100)
