"""What collects of a run, by the situation and the soil it lies in, with the place that it keeps dry."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from weirant.ground.network import LaidRun
from weirant.ground.soils import SoilAlong, at
from weirant.job.beside import Beside, beside, legs_of
from weirant.job.geometry import NOUGHT, parts_of
from weirant.job.site import Feature
from weirant.job.soil import Soil
from weirant.job.water import Situation
from weirant.records import dataclass

Array = NDArray[np.float64]
INSIDE = 1e-3  # m from the end of a span at which it is still surely this one


@dataclass(frozen=True, eq=False)
class Collecting:
    """What collects of a run in one situation and one soil: from and to station m of each span, from the low end up, the station m at which it is judged, and how
    the place lies that it keeps dry (None: it keeps none); ``nodes`` are the stations of the run's nodes, shape (k,). A run that is all solid has
    one without spans.
    """

    situation: Situation
    soil: Soil
    spans: tuple[tuple[float, float], ...]
    station: float
    lie: Beside | None
    nodes: Array

    @cached_property
    def above_nodes(self) -> Array:
        """Length m of it above each node, shape (k,)."""
        return self.above(self.nodes)

    @cached_property
    def pieces(self) -> list[float]:
        """Length m of it between each node and the one above it."""
        return (-np.diff(self.above_nodes)).tolist()  # type: ignore[no-any-return]

    @cached_property
    def length(self) -> float:
        """Length of its spans, m."""
        return sum(high - low for low, high in self.spans)

    @property
    def place(self) -> Feature | None:
        """The thing that it keeps dry."""
        return self.lie.place if self.lie is not None else None

    def keeps(self, place: Feature) -> bool:
        """Whether it keeps a place dry, by its identity: what was found before may hold an equal one."""
        return self.place is not None and self.place.id == place.id

    def holds(self, station: float) -> bool:
        """Whether a station lies on it."""
        return any(low - 1e-9 <= station <= high + 1e-9 for low, high in self.spans)

    def above(self, stations: Array) -> Array:
        """Length m of it above each station, shape (n,)."""
        found = np.zeros(len(stations))
        for low, high in self.spans:
            found += np.clip(high - stations, 0.0, high - low)
        return found


def collecting_of(run: LaidRun, soils: Sequence[SoilAlong], things: Mapping[str, Feature]) -> tuple[Collecting, ...]:
    """What collects of a run, stretches in one situation and one soil together, from the low end up; never none. ``things`` are those of the site by identity."""
    parts = parts_of(run.run, run.length)
    spans: dict[tuple[Situation, str], list[tuple[float, float]]] = {}
    named = {along.soil.id: along.soil for along in soils}
    for low, high, stretch in parts:
        for along in soils:
            start, stop = max(low, along.low), min(high, along.high)
            if not stretch.is_solid and stop - start > NOUGHT:
                spans.setdefault((stretch.situation, along.soil.id), []).append((start, stop))
    if not spans:
        longest = max(parts, key=lambda part: part[1] - part[0])[2]
        return (Collecting(longest.situation, at(tuple(soils), run.length), (), run.length, None, run.node_stations),)
    return tuple(_made(run, situation, named[soil], tuple(within), things) for (situation, soil), within in spans.items())


def _made(run: LaidRun, situation: Situation, soil: Soil, spans: tuple[tuple[float, float], ...], things: Mapping[str, Feature]) -> Collecting:
    place = things.get(situation.place)
    corners = [(float(x), float(y)) for x, y in run.alignment.points]
    lie = beside(legs_of(corners, run.alignment.stations.tolist(), spans), place) if place is not None and place.dry_depth is not None else None
    middle = (lie.low + lie.high) / 2 if lie is not None else (spans[0][0] + spans[-1][1]) / 2
    # within a span and not at its end, where by its station the next part would be looked at
    on = (min(max(middle, low + inside), high - inside) for low, high in spans for inside in (min(INSIDE, (high - low) / 2),))
    return Collecting(situation, soil, spans, min(on, key=lambda station: abs(station - middle)), lie, run.node_stations)
