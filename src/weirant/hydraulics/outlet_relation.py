"""What water meets where it leaves the pipes, as relations of flow and level: an edge it must rise over, a hole, what stands outside, ground or a main
that takes it.

Over an edge water goes as over a weir while it is shallow and as through an orifice when it is deep, the smaller counts: FHWA HEC-22, inlets in a sag
(coefficients recalled). A hole in the end of a pipe is taken as an orifice under the head over its middle when it is just full.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.methods.inlets import GRATE_ORIFICE_COEFFICIENT, WEIR_COEFFICIENT
from weirant.methods.intake import GRAVITY, ORIFICE_COEFFICIENT
from weirant.methods.pipe_flow import pipe_full_flow, pipe_partial_flow
from weirant.records import dataclass

TURNS = 60  # of halving
SOAKS_WITHIN = 0.01  # m over which soaking away begins
UNIFORM = 20.0  # diameters that a main falls over the length in which its flow is taken to become uniform


class Passage(NamedTuple):
    """What an opening lets through under a head h m: ``full`` √h m³/s from a depth ``deep`` m over its edge on, and less in the share of the depth before."""

    full: float
    deep: float

    def discharge(self, head: float) -> float:
        """m³/s under a head m over its edge, nothing standing outside."""
        return self.full * min(head / self.deep, 1.0) * math.sqrt(head) if head > 0 else 0.0

    def head(self, discharge: float, outside: float = 0.0) -> float:
        """The depth m over its edge at which a discharge m³/s goes through it, where water stands so many m over the edge ``outside``."""
        if discharge <= 0:
            return max(outside, 0.0)
        drowned = (discharge / self.full) ** 2
        free = drowned if drowned >= self.deep else float((discharge * self.deep / self.full) ** (2 / 3))
        if outside <= 0:
            return free
        low, high = outside, outside + free  # standing water makes the opening no narrower
        for _ in range(TURNS):
            middle = (low + high) / 2
            low, high = (middle, high) if self.full * min(middle / self.deep, 1.0) * math.sqrt(middle - outside) < discharge else (low, middle)
        return high


def over_an_edge(edge: float, area: float) -> Passage:
    """An opening that water falls into or rises out of: its edge m, and m² of it that are open (both more than 0)."""
    full = GRATE_ORIFICE_COEFFICIENT * area * math.sqrt(2 * GRAVITY)
    return Passage(full, full / (WEIR_COEFFICIENT * edge))


def through_a_hole(across: float, clear: float) -> Passage:
    """A round hole m across in the end of a pipe, of which a share is clear (both more than 0)."""
    return Passage(ORIFICE_COEFFICIENT * clear * math.pi * across**2 / 4 * math.sqrt(GRAVITY), across)  # of the head over its invert half is over its middle


class Soaking(NamedTuple):
    """Ground that takes water from a level m on: at once m³/s, and so much more with each metre, m²/s; held by so many m² of the pit from its floor m on."""

    since: float
    at_once: float
    more: float
    holds: float
    floor: float

    def level(self, discharge: float) -> float:
        """The level m at which a discharge m³/s soaks away."""
        return self.since + max(discharge - self.at_once, 0.0) / self.more if discharge > 0 else self.since

    def takes(self, level: float) -> float:
        """What soaks away at a level m, m³/s; over the first centimetre it comes on evenly."""
        deep = max(level - self.since, 0.0)
        return (self.at_once + self.more * deep) * min(deep / SOAKS_WITHIN, 1.0)


class Main(NamedTuple):
    """A main that takes the water on: its invert m, m across what is free in it, its slope, Manning's n, and what it carries of its own, m³/s."""

    invert: float
    across: float
    slope: float
    roughness: float
    own: float

    @property
    def capacity(self) -> float:
        """What it carries full, m³/s."""
        return float(pipe_full_flow(self.across, self.roughness, self.slope).discharge)

    @property
    def length(self) -> float:
        """Length m over which its flow is followed."""
        return UNIFORM * self.across / self.slope

    def level(self, discharge: float) -> float:
        """The level m in it with a discharge m³/s beside its own: that of uniform flow; where it is pressed, of the grade line over its length."""
        through = self.own + discharge
        if through <= 0:
            return self.invert
        if through < self.capacity:
            return self.invert + float(pipe_partial_flow(self.across, self.roughness, self.slope, through).depth)
        return self.invert + self.across + self.length * self.slope * ((through / self.capacity) ** 2 - 1)


@dataclass(frozen=True)
class OutletRelation:
    """How water gets out at a node: over a level ``crest`` m, through a ``passage`` (None: nothing is in its way), one way only or either way, into water
    that ``stands`` at a level m when wet and in a storm at most (None: it falls free), into ground that ``soaks`` it up, or into a ``main``.
    """

    crest: float
    passage: Passage | None = None
    is_one_way: bool = False
    stands: float | None = None
    in_storm: float | None = None
    soaks: Soaking | None = None
    main: Main | None = None

    def level(self, discharge: float) -> float | None:
        """The level m that water stands at over the node with a discharge m³/s leaving there; None where it falls free from the end of the pipe. So it does
        into a pit that soaks: that fills in a storm, and not in a steady flow.
        """
        if self.main is not None:
            return self.main.level(max(discharge, 0.0))
        if self.passage is None:
            return self.stands
        seeps = self.soaks.takes(self.crest) if self.soaks is not None else 0.0
        if self.soaks is not None and 0 <= discharge <= seeps:
            return self.soaks.level(discharge)
        outside = 0.0 if self.stands is None or (self.is_one_way and discharge <= 0) else self.stands - self.crest
        return self.crest + self.passage.head(max(discharge - seeps, 0.0), outside)
