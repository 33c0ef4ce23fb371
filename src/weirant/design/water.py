"""How much water comes, and how low the drain holds it at the place that it keeps dry."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from weirant.design.figures import banded, counted, figure
from weirant.errors import InputError
from weirant.ground.collecting import Collecting
from weirant.job.doubt import Doubt
from weirant.job.network import Run
from weirant.job.soil import Soil
from weirant.job.water import BOTH_SIDES, HILLSIDE, PARALLEL, Water
from weirant.outcome.figure import Figure
from weirant.outcome.outcome import SoilFigures
from weirant.outcome.water import CollectedWater
from weirant.units import display as k

Ends = tuple[float, float]


@dataclass(frozen=True)
class _Asked:
    """What the formulae are asked of: what collects, the seepage of the site, the soil as the sums take it, the depth m of the water in the drain
    below ground, the drain's radius m, and the distance m at which the water table is wanted.
    """

    part: Collecting
    water: Water
    soil: SoilFigures
    depth: float
    radius: float
    place: float

    @property
    def ends(self) -> Ends:
        """The ends of the soil's band, m/s."""
        return self.soil.conductivity.low, self.soil.conductivity.high

    @property
    def wet(self) -> float:
        """Depth to the undrained water, m; asked only where it is known."""
        return self.part.soil.water_table_depth or 0.0

    @property
    def hard(self) -> float:
        """Depth of the hard layer, m; asked only where it is known."""
        return self.part.soil.hard_layer_depth or 0.0


def missing_input(soil: Soil, source: str) -> Doubt | None:
    """What must be measured before water can be worked out; None where all is there."""
    if soil.hard_layer_depth is None:
        return Doubt("hard-layer", soil.id)
    if soil.water_table_depth is None:
        return Doubt("water-table", soil.id)
    if soil.hard_layer_depth <= soil.water_table_depth:
        return Doubt("hard-layer-above-water", soil.id)
    if source == HILLSIDE and soil.water_table_slope is None:
        return Doubt("water-table-slope", soil.id)
    return None


def collected(part: Collecting, water: Water, soil: SoilFigures, drain_depth: float, drain_radius: float) -> CollectedWater:
    """Groundwater to what collects in one situation, its water level at a depth below ground, m; and the table at the place that it keeps dry."""
    missing = missing_input(part.soil, part.situation.source)
    if missing:
        return CollectedWater(part, None, None, missing)
    asked = _Asked(part, water, soil, max(0.0, drain_depth), drain_radius, part.lie.judged if part.lie is not None else 0.0)
    try:
        return CollectedWater(part, _inflow(asked), _table(asked) if part.lie is not None else None)
    except InputError as fault:
        return CollectedWater(part, None, None, Doubt("figures", detail=str(fault)))


def table_at(part: Collecting, water: Water, soil: SoilFigures, drain_depth: float, drain_radius: float, place: float) -> Figure:
    """Depth to water at a distance m from the drain, by the method that fits where the water comes from; only where no input is missing."""
    return _table(_Asked(part, water, soil, max(0.0, drain_depth), drain_radius, place))


def storm_release(run: Run, water: Water) -> Figure:
    """Storm water that the ground gives off to a run."""
    return figure("Storm water given off by the ground", "storm-release", k.DISCHARGE,
                  {"area": run.contributing_area, "rain_depth": water.storm_depth,
                   "share_to_drain": water.share_to_drain, "release_time": water.release_time})  # fmt: skip


def _inflow(asked: _Asked) -> Figure:
    source = asked.part.situation.source
    return _hillside_inflow(asked) if source == HILLSIDE else _parallel_inflow(asked) if source == PARALLEL else _flat_inflow(asked)


def _table(asked: _Asked) -> Figure:
    source = asked.part.situation.source
    return _hillside_table(asked) if source == HILLSIDE else _parallel_table(asked) if source == PARALLEL else _flat_table(asked)


def _hillside_inflow(asked: _Asked) -> Figure:
    cut_off = min(asked.depth, asked.hard) - asked.wet
    label, note = "Water down the slope, cut off by the drain", "the part of the wet soil above the drain's water level"
    if cut_off <= 1e-6:
        return counted(label, 0.0, k.INFLOW, "the drain lies above the water table")
    arguments = {"conductivity": asked.soil.conductivity.best, "saturated_depth": cut_off, "slope": asked.part.soil.water_table_slope}
    return banded(label, "interceptor-flow", k.INFLOW, arguments, key="conductivity", ends=asked.ends, note=note)


def _hillside_table(asked: _Asked) -> Figure:
    depth = min(asked.depth, asked.hard)
    arguments = {"conductivity": asked.soil.conductivity.best, "slope": asked.part.soil.water_table_slope, "drain_depth": depth,
                 "wet_depth": min(asked.wet, depth), "drainage_rate": asked.water.drainage_rate, "place": asked.place}  # fmt: skip
    return banded("Depth to water at the place to keep dry", "downslope-table", k.WATER_DEPTH, arguments, key="conductivity", ends=asked.ends,
                  note="ground and hard layer taken parallel")  # fmt: skip


def _heads(asked: _Asked) -> dict[str, Any]:
    """Heads m over the hard layer, far off and at the drain, and the distance m between them."""
    far = asked.hard - asked.wet
    return {"head_far": far, "head_drain": min(max(asked.hard - asked.depth, 0.0), far), "distance": asked.part.situation.reach}


def _flat_inflow(asked: _Asked) -> Figure:
    one = banded("Water to the drain", "dupuit-inflow", k.INFLOW, {"conductivity": asked.soil.conductivity.best, **_heads(asked)}, key="conductivity", ends=asked.ends)
    if asked.part.situation.source != BOTH_SIDES or one.band is None:
        return one
    return Figure(one.label, 2 * one.value, one.kind, one.method, one.arguments, one.result,
                  (2 * one.band[0], 2 * one.band[1]), "twice the formula: water from both sides")  # fmt: skip


def _flat_table(asked: _Asked) -> Figure:
    arguments = {**_heads(asked), "place": asked.place}
    head = figure("Depth to water at the place to keep dry", "dupuit-table", k.WATER_DEPTH, arguments)
    return Figure(head.label, asked.hard - head.value, k.WATER_DEPTH, head.method, arguments, "head", None,
                  "hard-layer depth less the head of the formula; the place taken on the side the water comes from")  # fmt: skip


def _parallel_inflow(asked: _Asked) -> Figure:
    return counted("Water to each line", asked.water.drainage_rate * asked.part.situation.reach, k.INFLOW,
                   "wet-season seepage times the spacing of the lines")  # fmt: skip


def _parallel_table(asked: _Asked) -> Figure:
    depth = asked.depth
    arguments = {"conductivity": asked.soil.conductivity.best, "depth_to_barrier": max(asked.hard - depth, 0.0), "drain_radius": asked.radius,
                 "spacing": asked.part.situation.reach, "drainage_rate": asked.water.drainage_rate}  # fmt: skip
    head = banded("Depth to water midway between lines", "hooghoudt-mid-head", k.WATER_DEPTH, arguments, key="conductivity", ends=asked.ends)
    low, high = head.band or (head.value, head.value)
    return Figure(head.label, depth - head.value, k.WATER_DEPTH, head.method, head.arguments, head.result, (depth - high, depth - low),
                  "depth of the drain less the head of the formula; midway is the wettest place")  # fmt: skip
