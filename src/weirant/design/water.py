"""How much groundwater comes, and how low the drain holds it at the place that it keeps dry: by the line model, over the range of the soil."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from weirant.design.across import BEHIND, FARTHEST, GroundSample, Stand, hard_layer_ends, other_sides, section_of
from weirant.design.figures import figure
from weirant.errors import InputError
from weirant.ground.collecting import Collecting
from weirant.job import Job
from weirant.job.doubt import Doubt
from weirant.job.network import Run
from weirant.job.soil import Band, Soil
from weirant.job.water import HILLSIDE, ONE_SIDE, PARALLEL, Water
from weirant.language import tr
from weirant.library import Library
from weirant.outcome.figure import Figure
from weirant.outcome.site import RunOutcome
from weirant.outcome.water import CollectedWater
from weirant.seepage.steady_line import SteadyLine, rough_flow, steady_line
from weirant.units import display as k

Array = NDArray[np.float64]
RULE = (tr("the water table as one line across the drain: what it carries, T(h) × (slope − dh/dx), grows by the seepage, with the layers as they lie, "
        "the fringe over the water, and what comes out at the surface"))
UNSOUND = 3.0  # times by which the flow may be more or less where the line is not trusted, as the sweep in docs/line_model.md found


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


def collected(job: Job, library: Library, found: RunOutcome, part: Collecting, band: Band, water: float) -> CollectedWater:
    """Groundwater to what collects in one situation, with water m deep in its pipe, over a band of conductivity; and the table at the place that it
    keeps dry.
    """
    missing, stand = missing_input(part.soil, part.situation.source), Stand(found, part, part.station)
    try:
        if missing:
            return CollectedWater(part, None, None, missing, ends=_ends(job, library, stand, band, water))
        line = line_at(job, library, stand, band, water)
        others = [line_at(job, library, stand, Band(band.best, band.best, band.best), water, ground) for ground in other_sides(part)]
    except InputError as fault:
        return CollectedWater(part, None, None, missing or Doubt("figures", detail=str(fault)))
    lines = [line, *others]
    inflow, wide = _inflow(part, lines), max(each.section.open_width for each in lines)
    return CollectedWater(part, inflow, _table(stand, lines) if part.lie is not None else None, waits=not all(each.is_sound.all() for each in lines),
                          in_storm=(inflow.band or (0.0,))[-1] + job.water.storm_depth / job.water.storm_duration * wide)  # fmt: skip


def roughly_collected(job: Job, library: Library, found: RunOutcome, part: Collecting, band: Band) -> CollectedWater:
    """About what comes to what collects in one situation, so that it is known how deep water stands in its pipe."""
    missing, stand = missing_input(part.soil, part.situation.source), Stand(found, part, part.station)
    try:
        flow = 0.0 if missing else rough_flow(section_of(job, library, stand, 0.0), job.water.drainage_rate)
    except InputError as fault:
        missing = Doubt("figures", detail=str(fault))
    if missing:
        return CollectedWater(part, None, None, missing)
    return CollectedWater(part, Figure(tr("Water to the drain, about"), flow, k.INFLOW, "", band=(flow * band.low / band.best, flow * band.high / band.best)))


def _ends(job: Job, library: Library, stand: Stand, band: Band, water: float) -> tuple[Figure, ...]:
    """The table at the place with the hard layer right under the trench, and deep, where nothing but its depth is wanted; none where the line is not
    trusted.
    """
    part = stand.part
    if part.lie is None or part.soil.hard_layer_depth is not None or missing_input(dataclasses.replace(part.soil, hard_layer_depth=math.inf), part.situation.source):
        return ()
    lines = [line_at(job, library, stand, band, water, GroundSample(hard_layer=depth)) for depth in hard_layer_ends(stand)]
    return tuple(_table(stand, [line]) for line in lines) if all(line.is_sound.all() for line in lines) else ()


def line_at(job: Job, library: Library, stand: Stand, band: Band, water: float, ground: GroundSample | None = None) -> SteadyLine:
    """The steady water table in the wet season where a run is stood at, for the best, low and high conductivity. Raises InputError where there is no trench."""
    return steady_line(section_of(job, library, stand, water, ground=ground), job.water.drainage_rate, (1.0, band.low / band.best, band.high / band.best))


def _inflow(part: Collecting, lines: Sequence[SteadyLine]) -> Figure:
    flows, is_sound = ([each for line in lines for each in getattr(line, name).tolist()] for name in ("flow", "is_sound"))
    # where the line is not trusted the pipe is sized for as much as may come
    ends = [flow * by for flow, sound in zip(flows, is_sound, strict=True) for by in ((1.0,) if sound else (1 / UNSOUND, UNSOUND))]
    label = tr("Water to each line") if part.situation.source == PARALLEL else tr("Water to the drain")
    return Figure(label, flows[0], k.INFLOW, "", band=(min(ends), max(ends)), note=_note(part))


def _table(stand: Stand, lines: Sequence[SteadyLine]) -> Figure:
    depths = [depth for line in lines for depth in line.depth(stand.place_across(line.section)).tolist()]
    label = tr("Depth to water midway between lines") if stand.part.situation.source == PARALLEL else tr("Depth to water at the place to keep dry")
    return Figure(label, depths[0], k.WATER_DEPTH, "", band=(min(depths), max(depths)), note=_note(stand.part))


def _note(part: Collecting) -> str:
    """How it was worked out, and what was taken where it is not known."""
    situation, note = part.situation, RULE
    if situation.source == ONE_SIDE:
        note += tr("; the ground behind the place as far as the place goes, and {behind:g} times as far", behind=BEHIND)
    if situation.source != PARALLEL and situation.reach > FARTHEST:
        note += tr("; the undisturbed water is looked for {farthest:g} m ({farthest_2:.0f} ft) off and no farther", farthest=FARTHEST, farthest_2=FARTHEST / 0.3048)
    return note


def storm_release(run: Run, water: Water) -> Figure:
    """Storm water that the ground gives off to a run."""
    return figure(tr("Storm water given off by the ground"), "storm-release", k.DISCHARGE,
                  {"area": run.contributing_area, "rain_depth": water.storm_depth,
                   "share_to_drain": water.share_to_drain, "release_time": water.release_time})  # fmt: skip
