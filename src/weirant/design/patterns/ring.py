"""A ring round a building: two legs that share their top, each with a second, solid pipe in its trench."""

from __future__ import annotations

import dataclasses

from weirant.design.layout import add_run, rename_run, set_at_station
from weirant.design.one_trench import lay_beside, sides_changed
from weirant.design.patterns.sketch import FT, Sketch, si
from weirant.ground.in_place import in_place
from weirant.ground.network import laid_run
from weirant.job import Job
from weirant.job.geometry import run_of
from weirant.job.network import DRY_CREEK, INLET, PUMP_PIT, ROOF_ENTRY
from weirant.job.paths import with_value
from weirant.job.run_edits import with_run, without_unused
from weirant.job.water import BOTH_SIDES, PUMPED, ROOF_WATER, Source
from weirant.language import tr
from weirant.library import shipped
from weirant.rules import shipped_rules

GPM = 3.785411784e-3 / 60  # m³/s
KEY, TITLE = "ring", tr("Ring round a building")
HINT = tr("two legs that share the top, perforated outside and solid inside in one trench, roof entries, a pump line, a box every 100 ft")


def job() -> Job:
    """A village hall; both legs fall at 1 % to a dry creek."""
    site = Sketch(TITLE, tr("a village hall (invented)"), lambda x, y: 100 if y > -20 else 100 - (-20 - y) * 5.4 / 150)
    hall = site.thing("building", tr("the hall"), (0, 0), (140, 0), (140, 100), (0, 100), footing_depth=si(2))
    site.thing("brook", tr("dry creek"), (-60, -176), (70, -178), (200, -176))
    top = site.at(70, 106)
    west = [site.at(-6, -170, outlet=DRY_CREEK, water=93), site.at(-6, -70), site.at(-6, 30), site.at(-6, 106), top]
    east = [site.at(146, -170, outlet=DRY_CREEK, water=93), site.at(146, -70), site.at(146, 30), site.at(146, 106), top]
    legs = [site.run(tr("west leg"), west, 94.7, 1, solid=150), site.run(tr("east leg"), east, 94.7, 1, solid=150)]
    site.dry(hall, 1.2, *legs)
    return _with_solid_pipes(site.job(source=BOTH_SIDES, reach=60), legs)


def _with_solid_pipes(job: Job, legs: list[str]) -> Job:
    """A solid pipe beside each leg, boxes on it, and the roof's and the pump's pipes led into it."""
    library, rules = shipped(), shipped_rules()
    for leg, name in zip(legs, (tr("west solid"), tr("east solid")), strict=True):
        job, solid = lay_beside(job, leg, library, rules, collects=False)
        job = rename_run(sides_changed(job, solid) if leg == legs[1] else job, solid, name)  # inside of either leg
        job = in_place(job, library)
        job = with_value(job, f"nodes.{laid_run(job, solid).nodes[0][0].id}.outlet.water_level", si(93))
        for station in (100, 200, 300):
            job = set_at_station(job, solid, si(station), INLET)
    solids = [run.id for run in job.runs if run.trench_of]
    west, east = (run_of(job, solid) for solid in solids)  # the solid pipes share their top as the legs do
    job = without_unused(with_run(job, dataclasses.replace(east, nodes=(*east.nodes[:-1], west.nodes[-1]))), (east.nodes[-1],))
    corners = ((solids[0], -3, 2), (solids[0], -3, 50), (solids[0], 30, 103), (solids[1], 143, 2), (solids[1], 143, 50))
    for number, (solid, x, y) in enumerate(corners):
        at = laid_run(job, solid).alignment.point(laid_run(job, solid).alignment.nearest((si(x), si(y)))[0])
        job = add_run(job, [at, (si(x), si(y))], collects=False, joins=solid, name=tr("downspout {number}", number=number + 1))
        job = set_at_station(job, job.runs[-1].id, laid_run(job, job.runs[-1].id).length, ROOF_ENTRY)
    tops = [run.nodes[-1] for run in job.runs[-len(corners):]]
    roofs = tuple(Source(f"w{i + 1}", tr("roof to downspout {i}", i=i + 1), ROOF_WATER, top, area=si(2800, FT**2)) for i, top in enumerate(tops))
    pumped = Source(f"w{len(roofs) + 1}", tr("cellar pump"), PUMPED, inflow=si(25, GPM))
    at = laid_run(job, solids[1]).alignment.point(si(300))
    job = add_run(job, [at, (at[0], at[1] - si(2.6))], collects=False, joins=solids[1], name=tr("pump line"))
    job = set_at_station(job, job.runs[-1].id, laid_run(job, job.runs[-1].id).length, PUMP_PIT)
    sources = (*roofs, dataclasses.replace(pumped, node=job.runs[-1].nodes[-1]))
    return in_place(dataclasses.replace(job, sources=sources, assumed=(*job.assumed, *(f"sources.{s.id}.{'inflow' if s is sources[-1] else 'area'}" for s in sources))), library)
