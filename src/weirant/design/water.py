"""How much water comes, and how low the drain holds it at the protected place."""

from __future__ import annotations

from typing import Any

from weirant.design.figures import banded, counted, figure
from weirant.errors import InputError
from weirant.job import Job
from weirant.job.water import BOTH_SIDES, HILLSIDE, PARALLEL, ROOF_IN_DRAIN
from weirant.outcome.figure import Figure
from weirant.outcome.outcome import SoilFigures
from weirant.outcome.water import RunWater
from weirant.units import display as k

Ends = tuple[float, float]


def missing_input(job: Job) -> str:
    """What must be measured before water can be worked out; empty where all is there."""
    soil = job.soil
    if soil.hard_layer_depth is None:
        return "the depth of the hard layer: auger a hole until it stops"
    if soil.water_table_depth is None:
        return "the depth to water when wet: leave a test hole open overnight in the wet season"
    if soil.hard_layer_depth <= soil.water_table_depth:
        return "a hard layer below the water table: look at both depths again"
    if job.water.source == HILLSIDE and soil.water_table_slope is None:
        return "the slope of the water table: water levels in two holes up the slope"
    return ""


def water_of(job: Job, soil: SoilFigures, drain_depth: float, drain_radius: float, *, serves: bool = True) -> RunWater:
    """Water to a run whose water level stands at a depth below ground, m; where it ``serves`` the place, also the table there and the storm."""
    missing = missing_input(job)
    storm, roof = (_storm(job), _roof(job)) if serves else (None, None)
    if missing:
        return RunWater(None, None, storm, roof, missing)
    try:
        inflow, table = _inflow_and_table(job, soil, max(0.0, drain_depth), drain_radius)
    except InputError as fault:
        return RunWater(None, None, storm, roof, f"looked again at your figures: {fault}")
    return RunWater(inflow, table if serves else None, storm, roof)


def _storm(job: Job) -> Figure:
    return figure("Storm water given off by the ground", "storm-release", k.DISCHARGE,
                  {"area": job.water.contributing_area, "rain_depth": job.water.storm_depth,
                   "share_to_drain": job.water.share_to_drain, "release_time": job.water.release_time})  # fmt: skip


def _inflow_and_table(job: Job, soil: SoilFigures, depth: float, drain_radius: float) -> tuple[Figure, Figure]:
    """By the method that fits where the water comes from."""
    ends = (soil.conductivity.low, soil.conductivity.high)
    if job.water.source == HILLSIDE:
        depth = min(depth, _depths(job)[1])
        return _hillside_inflow(job, soil, depth, ends), _hillside_table(job, soil, depth, ends)
    if job.water.source == PARALLEL:
        return _parallel_inflow(job), _parallel_table(job, soil, depth, drain_radius, ends)
    return _flat_inflow(job, soil, depth, ends), _flat_table(job, depth)


def _roof(job: Job) -> Figure | None:
    return roof_peak(job) if job.water.roof_goes == ROOF_IN_DRAIN else None


def roof_peak(job: Job) -> Figure | None:
    """What the roof sheds, None where no area or no storm is entered."""
    if job.water.roof_area <= 0 or job.water.storm_depth <= 0:
        return None
    return figure("Roof water at the storm's peak", "rational-peak", k.DISCHARGE,
                  {"runoff_coefficient": 0.95, "intensity": job.water.storm_depth / job.water.storm_duration,
                   "area": job.water.roof_area}, note="roof coefficient 0.95, mean intensity of the storm (cp)")  # fmt: skip


def _hillside_inflow(job: Job, soil: SoilFigures, depth: float, ends: Ends) -> Figure:
    wet, hard = _depths(job)
    cut_off = min(depth, hard) - wet
    label, note = "Water down the slope, cut off by the drain", "the part of the wet soil above the drain's water level"
    if cut_off <= 1e-6:
        return counted(label, 0.0, k.INFLOW, "the drain lies above the water table")
    arguments = {
        "conductivity": soil.conductivity.best,
        "saturated_depth": cut_off,
        "slope": job.soil.water_table_slope,
    }
    return banded(label, "interceptor-flow", k.INFLOW, arguments, "conductivity", ends, note=note)


def _hillside_table(job: Job, soil: SoilFigures, depth: float, ends: Ends) -> Figure:
    arguments = {"conductivity": soil.conductivity.best, "slope": job.soil.water_table_slope, "drain_depth": depth,
                 "wet_depth": min(_depths(job)[0], depth), "drainage_rate": job.water.drainage_rate,
                 "place": job.protected.distance}  # fmt: skip
    return banded("Depth to water at the protected place", "downslope-table", k.DEPTH, arguments, "conductivity", ends,
                  note="ground and hard layer taken parallel")  # fmt: skip


def _flat_inflow(job: Job, soil: SoilFigures, depth: float, ends: Ends) -> Figure:
    wet, hard = _depths(job)
    arguments: dict[str, Any] = {"conductivity": soil.conductivity.best, "head_far": hard - wet,
                                 "head_drain": min(max(hard - depth, 0.0), hard - wet), "distance": job.water.reach}  # fmt: skip
    one = banded("Water to the drain", "dupuit-inflow", k.INFLOW, arguments, "conductivity", ends)
    if job.water.source != BOTH_SIDES or one.band is None:
        return one
    return Figure(one.label, 2 * one.value, one.kind, one.method, one.arguments, one.result,
                  (2 * one.band[0], 2 * one.band[1]), "twice the formula: water from both sides")  # fmt: skip


def _flat_table(job: Job, depth: float) -> Figure:
    wet, hard = _depths(job)
    arguments = {"head_far": hard - wet, "head_drain": min(max(hard - depth, 0.0), hard - wet),
                 "distance": job.water.reach, "place": job.protected.distance}  # fmt: skip
    head = figure("Depth to water at the protected place", "dupuit-table", k.DEPTH, arguments)
    return Figure(head.label, hard - head.value, k.DEPTH, head.method, arguments, "head", None,
                  "hard-layer depth less the head of the formula; the place taken on the side the water comes from")  # fmt: skip


def _parallel_inflow(job: Job) -> Figure:
    return counted("Water to each line", job.water.drainage_rate * job.water.reach, k.INFLOW,
                   "wet-season seepage times the spacing of the lines")  # fmt: skip


def _parallel_table(job: Job, soil: SoilFigures, depth: float, radius: float, ends: Ends) -> Figure:
    _, hard = _depths(job)
    arguments = {"conductivity": soil.conductivity.best, "depth_to_barrier": max(hard - depth, 0.0), "drain_radius": radius,
                 "spacing": job.water.reach, "drainage_rate": job.water.drainage_rate}  # fmt: skip
    head = banded("Depth to water midway between lines", "hooghoudt-mid-head", k.DEPTH, arguments, "conductivity", ends)
    low, high = head.band or (head.value, head.value)
    return Figure(head.label, depth - head.value, k.DEPTH, head.method, arguments, head.result, (depth - high, depth - low),
                  "depth of the drain less the head of the formula; midway is the wettest place")  # fmt: skip


def _depths(job: Job) -> tuple[float, float]:
    """Depth to water and to the hard layer; called only where neither is missing."""
    return job.soil.water_table_depth or 0.0, job.soil.hard_layer_depth or 0.0
