"""The demo's other side: the same club with both its roofs, a box at the low spot west of the clubhouse, and a pump in place of the way into the brook."""

from __future__ import annotations

import dataclasses

import numpy as np

from weirant.design.demo import demo_job
from weirant.design.layout import add_run, move_node, set_at_station
from weirant.ground.inverts import invert_at
from weirant.ground.network import laid_run
from weirant.ground.ways_in import with_clean_outs
from weirant.job import Job
from weirant.job.network import (
    AIR_GAP,
    INLET,
    LEAF_BASKET,
    PUMPED_ON,
    ROOF_ENTRY,
    SQUARE,
    Basin,
    Grate,
    Pump,
    PumpPoint,
)
from weirant.job.outlet_edits import with_outlet_kind
from weirant.job.paths import with_value
from weirant.job.run_edits import with_node
from weirant.job.water import OPEN_GROUND, ROOF_WATER, Source
from weirant.language import tr
from weirant.rules import shipped_rules

FT, IN, GPM = 0.3048, 0.0254, 6.30902e-5
LOW_SPOT = ((-97.0, 36.0), (-110.0, 43.0))  # ft: round the corner of the slab to where the lawn lies lowest
PIT = 40.0  # ft up the slab drain from the brook, beyond the walk, where there is earth enough over it
CURVE = ((0, 40), (6, 38), (12, 30), (17, 20), (20, 10))  # ft of head at gpm: a small pump, invented


def roofs_job() -> Job:
    """The club with its roofs: nothing in it fails but what the storm shows."""
    job = dataclasses.replace(demo_job(), name=tr("Clubhouse, its roofs and a sump"))
    job = with_value(job, "nodes.n6.kind", ROOF_ENTRY)
    job = with_value(job, "nodes.n6.entry", LEAF_BASKET)
    job = set_at_station(job, "r2", 20 * FT, ROOF_ENTRY)
    second = next(node for node, station in laid_run(job, "r2").nodes if abs(station - 20 * FT) < 1e-6)
    job = with_node(job, dataclasses.replace(second, name=tr("terrace"), entry=AIR_GAP))
    job = _led(job, Source("w2", tr("terrace roof"), ROOF_WATER, second.id, area=round(700 * FT**2, 3)))
    job = _with_box(job)
    return with_clean_outs(_with_sump(job), "r1", shipped_rules().way_in_within)


def _led(job: Job, source: Source) -> Job:
    return dataclasses.replace(job, sources=(*job.sources, source))


def _with_box(job: Job) -> Job:
    """A solid line from the low spot to the top of the roofs' own, with a box at its end and what the lawn sheds led to it."""
    top = next(node for node in job.nodes if node.id == "n6")
    job = add_run(job, [(top.x, top.y), *((x * FT, y * FT) for x, y in LOW_SPOT)], collects=False, joins="r2", name=tr("lawn line"))
    line = job.runs[-1]
    job = with_value(job, f"runs.{line.id}.pipe", "pvc-150-two-row")
    job = set_at_station(job, line.id, laid_run(job, line.id).length, INLET)
    box = next(node for node in job.nodes if node.id == line.nodes[-1])
    job = with_node(job, dataclasses.replace(box, name=tr("low spot"), basin=Basin(SQUARE, 12 * IN, 6 * IN), grate=Grate(0.4, 3 * IN, 3.0)))
    return _led(job, Source("w3", tr("lawn west of the clubhouse"), OPEN_GROUND, box.id, area=round(4200 * FT**2, 3), share=0.35))


def _with_sump(job: Job) -> Job:
    """The slab drain's water lifted out of a pit, since the brook stands over its outlet when wet."""
    drain = laid_run(job, "r1")
    level = round(float(invert_at(drain, np.array(PIT * FT))), 6)
    job = with_outlet_kind(move_node("r1", 0)(job, (0.0, PIT * FT)), "n1", PUMPED_ON)
    job = with_value(with_value(job, "runs.r1.invert", level), "runs.r1.slope", drain.slope)
    pit = next(node for node in job.nodes if node.id == "n1")
    assert pit.outlet is not None
    pump = Pump(starts=18 * IN, curve=tuple(PumpPoint(round(flow * GPM, 7), round(head * FT, 4)) for flow, head in CURVE), lets_go_at=round(97.5 * FT, 6),
                battery=8 * 3600.0, freeze_relief=True)  # fmt: skip
    return with_node(job, dataclasses.replace(pit, outlet=dataclasses.replace(pit.outlet, pump=pump, water_level=None)))
