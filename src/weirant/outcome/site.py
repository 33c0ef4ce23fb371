"""What was computed of the site as a whole: its surface, its runs under it, and what they meet."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field
from functools import cached_property

import numpy as np

from weirant.ground.carried import carried
from weirant.ground.collecting import Collecting
from weirant.ground.crossings import Crossing, Passed
from weirant.ground.grade_line import GradeLine
from weirant.ground.inverts import invert_at
from weirant.ground.layers import SKIN, MetLayers, layers_along
from weirant.ground.nearby import Things
from weirant.ground.network import LaidRun, Meeting, Network
from weirant.ground.soils import SoilAlong
from weirant.ground.soils import at as soil_along
from weirant.ground.stretches import LaidStretch, Make, at
from weirant.ground.surface import Surface
from weirant.hydraulics.accumulate import Steady
from weirant.hydraulics.outlet_relation import OutletRelation
from weirant.hydraulics.run_flow import RunFlow, StormFlow
from weirant.job.network import Node
from weirant.job.site import Feature
from weirant.job.soil import Soil
from weirant.outcome.amounts import Amounts
from weirant.outcome.filled import Filled
from weirant.outcome.node import NodeOutcome
from weirant.outcome.place import PlaceOutcome, Serving
from weirant.outcome.pump import PumpOutcome
from weirant.outcome.spoil import SpoilBand
from weirant.outcome.stone_share import StoneShare
from weirant.outcome.trails import LetOut
from weirant.outcome.water import Brought, RunWater
from weirant.records import dataclass


@dataclass(frozen=True, eq=False)
class RunOutcome:
    """A run with its stretches, the soils along it, what of it collects in which situation, and its grade line (None where the ground under it is
    not known), the buried lines it meets, the things on the ground it goes through, and the water in it: what comes from the ground, and the flow
    for the best figure of the soil, for the high end of its band, and in the design storm; and what it takes to build.
    """

    run: LaidRun
    stretches: tuple[LaidStretch, ...]
    soils: tuple[SoilAlong, ...]
    collects: tuple[Collecting, ...]
    grade: GradeLine | None
    crossings: tuple[Crossing, ...] = ()
    passes: tuple[Passed, ...] = ()
    water: RunWater | None = None
    flow: RunFlow | None = None
    flow_high: RunFlow | None = None
    storm: StormFlow | None = None
    amounts: Amounts = Amounts()
    amounts_of: tuple[Amounts, ...] = ()

    @cached_property
    def id(self) -> str:
        """Identity of the run."""
        return self.run.id

    def soil(self, station: float) -> Soil:
        """The soil at a station; where two meet, the one above."""
        return soil_along(self.soils, station)

    def stretch(self, station: float) -> LaidStretch:
        """The stretch at a station; where two meet, the one above."""
        return at(self.stretches, station)

    def make(self, station: float) -> Make:
        """What it is made of at a station; where two stretches meet, as above."""
        return self.stretch(station).make

    @cached_property
    def layers(self) -> tuple[MetLayers, ...]:
        """The layers of soil that its stone meets."""
        return tuple(layers_along(self.grade, self.stretches, self.soils))

    def layer_at(self, station: float) -> int:
        """Number of the layer that lies at the foot of its stone at a station."""
        here = self.soil(station)
        cut = self.grade.at(self.grade.cut, station) if self.grade is not None else 0.0
        return here.layer_at(cut - SKIN) if cut > SKIN else len(here.layers) - 1

    @cached_property
    def part(self) -> Collecting:
        """What collects for a place, or else the longest part of what collects."""
        return max(self.collects, key=lambda part: (part.lie is not None, part.length))

    @property
    def serving(self) -> tuple[Collecting, ...]:
        """The parts that keep a place dry."""
        return tuple(part for part in self.collects if part.lie is not None)

    def part_at(self, station: float) -> Collecting:
        """What collects at a station; where nothing does, as a whole."""
        return next((part for part in self.collects if part.holds(station)), self.part)

    @property
    def collecting(self) -> LaidStretch:
        """The longest stretch that collects; of a run that is all solid its longest."""
        return max(self.stretches, key=lambda s: (not s.is_solid, s.high - s.low))

    @property
    def rim(self) -> float:
        """Level m at which water gets out of an outlet that rises: as high over the invert as it says, else at the ground."""
        assert self.grade is not None and self.run.outlet is not None
        rise = self.run.outlet.rise
        return float(self.grade.ground[0]) if rise is None else self.run.invert + rise


@dataclass(frozen=True, eq=False)
class Site:
    """The site. ``no_surface`` says why there is none; ``marked`` are points that stand out from their neighbours; ``passes`` is the flow for
    the high end of the soil's band that passes each node, ``exits`` what leaves at one; ``brought`` what each source brings, ``pumps`` what was found of
    the pumps by the nodes of their pits, and ``outlets`` how water gets out at each outlet by its node, ``filled`` what
    pits that soak came to in the design storm, once it was followed, ``trails`` where what is let out runs on over the ground,
    ``stone_shares`` what runs take that collect in one trench, ``spoil`` where left-over earth is spread.
    """

    surface: Surface | None
    no_surface: str
    marked: tuple[str, ...]
    network: Network
    runs: tuple[RunOutcome, ...]
    meetings: tuple[Meeting, ...]
    exits: Mapping[str, Steady]
    things: Things
    brought: tuple[Brought, ...] = ()
    passes: Mapping[str, Steady] = field(default_factory=dict)
    pumps: Mapping[str, PumpOutcome] = field(default_factory=dict)
    outlets: Mapping[str, OutletRelation] = field(default_factory=dict)
    filled: Mapping[str, Filled] = field(default_factory=dict)
    trails: Mapping[str, LetOut] = field(default_factory=dict)
    stone_shares: Mapping[str, StoneShare] = field(default_factory=dict)
    spoil: tuple[SpoilBand, ...] = ()

    @cached_property
    def _by_id(self) -> dict[str, RunOutcome]:
        return {found.id: found for found in self.runs}

    def run(self, identity: str) -> RunOutcome | None:
        """The run of an identity."""
        return self._by_id.get(identity)

    def node(self, of: Node) -> NodeOutcome:
        """What was found of a node."""
        joints = self.network.at_node.get(of.id, ())
        inverts = {joint.run: float(invert_at(self.network.run(joint.run), np.array(joint.station))) for joint in joints}
        grounds = (grade.at(grade.ground, joint.station) for joint in joints if (grade := self._by_id[joint.run].grade) is not None)
        return NodeOutcome(of, joints, inverts, next(grounds, None), self.passes.get(of.id, Steady()), of.id in self.exits)

    def place(self, of: Feature) -> PlaceOutcome:
        """What was found of a place to keep dry."""
        served = []
        for found in self.runs:
            for part in (part for part in found.serving if part.place is not None and part.place.id == of.id):
                assert part.lie is not None
                water = next((w for w in found.water.parts if w.of is part), None) if found.water is not None else None
                served.append(Serving(found.id, part.spans, part.lie.distance, water))
        return PlaceOutcome(of, tuple(served))

    @cached_property
    def carries(self) -> Mapping[str, tuple[str, ...]]:
        """What kinds of water go through each run."""
        return carried(self.network, (found.source for found in self.brought))

    @cached_property
    def _guests(self) -> dict[str, list[RunOutcome]]:
        guests: dict[str, list[RunOutcome]] = {}
        for found in self.runs:
            guests.setdefault(found.run.run.trench_of, []).append(found)
        return guests

    def in_trench_of(self, identity: str) -> list[RunOutcome]:
        """The runs that lie in the trench of another, in the order of the job."""
        return self._guests.get(identity, [])
