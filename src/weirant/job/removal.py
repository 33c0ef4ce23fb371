"""Taking things out of a job, with all that hangs on them; what went with them is told in words."""

from __future__ import annotations

import dataclasses

from weirant.errors import InputError
from weirant.job.geometry import nodes_by_id, points_of, run_of
from weirant.job.job import Job
from weirant.job.network import Node, Run
from weirant.job.paths import leads_somewhere
from weirant.job.situations import places_of, without_place
from weirant.job.source_edits import let_go
from weirant.job.survey import Place, Shot
from weirant.language import tr
from weirant.records import dataclass


@dataclass(frozen=True)
class Removal:
    """The job without a thing, and what went with it or was changed for it, each in a few words."""

    job: Job
    with_it: tuple[str, ...]


def _cleaned(job: Job) -> Job:
    """The job without marks of fields that are gone."""
    kept = tuple(path for path in job.assumed if leads_somewhere(job, path))
    return job if len(kept) == len(job.assumed) else dataclasses.replace(job, assumed=kept)


def _some(count: int, one: str, many: str) -> list[str]:
    return [] if not count else [f"1 {one}" if count == 1 else f"{count} {many}"]


def without_run(job: Job, identity: str) -> Removal:
    """The job without a run, its readings as built and its ways past buried lines; shots booked along it keep their places in plan.

    Runs that joined it end where they did, nodes that no run goes through any more go. Raises InputError for the last run.
    """
    run = run_of(job, identity)
    if len(job.runs) == 1:
        raise InputError(run.name, tr("is the only run; a job needs one"))
    nodes = nodes_by_id(job)
    runs = tuple(dataclasses.replace(r, trench_of="", bore="") if r.trench_of == identity else r for r in job.runs if r.id != identity)
    used = {n for r in runs for n in r.nodes}
    kept = tuple(n for n in job.nodes if n.id in used or n.id not in run.nodes)
    guests = [r.name for r in job.runs if r.trench_of == identity]
    loose = [r.name for r in runs if r.nodes[0] in run.nodes[1:] and nodes[r.nodes[0]].outlet is None and not any(o is not r and r.nodes[0] in o.nodes for o in runs)]
    booked = sum(s.run == identity for s in job.survey.shots)
    built, ways = (sum(x.run == identity for x in things) for things in (job.as_built, job.crossings))
    kept_dry = [f.name for f in places_of(job) if _is_served(job.runs, f.id) and not _is_served(runs, f.id)]
    told = [*_some(built, tr("reading as built"), tr("readings as built")), *_some(ways, tr("way past a buried line"), tr("ways past buried lines")),
            *(tr("{name} gets a trench of its own", name=name) for name in guests), *(tr("{name} then leads nowhere", name=name) for name in loose),
            *_some(booked, tr("shot booked along it keeps its place in plan"), tr("shots booked along it keep their places in plan")),
            *(tr("no run keeps {name} dry any more", name=name) for name in kept_dry),
            *(tr("{name} is no run of the job then", name=d.name) for d in job.old_drains if d.run == identity)]  # fmt: skip
    survey = dataclasses.replace(job.survey, shots=tuple(_in_plan(job, shot, nodes) if shot.run == identity else shot for shot in job.survey.shots))
    gone = dataclasses.replace(
        job, runs=runs, nodes=kept, survey=survey if booked else job.survey, as_built=tuple(b for b in job.as_built if b.run != identity),
        crossings=tuple(c for c in job.crossings if c.run != identity),
        old_drains=tuple(dataclasses.replace(d, run="") if d.run == identity else d for d in job.old_drains),
    )  # fmt: skip
    gone, unled = let_go(gone, {n.id for n in job.nodes} - {n.id for n in kept})
    return Removal(_cleaned(gone), (*told, *(tr("water of {name} then leads nowhere", name=name) for name in unled)))


def _is_served(runs: tuple[Run, ...], place: str) -> bool:
    return any(s.situation.place == place for run in runs for s in run.stretches)


def _in_plan(job: Job, shot: Shot, nodes: dict[str, Node]) -> Shot:
    """A shot by its place in plan instead of a station of a run that goes; stations beyond the ends are taken as the ends."""
    if shot.station is None:
        return dataclasses.replace(shot, run="")
    x, y = along(points_of(run_of(job, shot.run), nodes), shot.station)
    return dataclasses.replace(shot, run="", station=None, place=Place("plan", x, y))


def along(points: list[tuple[float, float]], station: float) -> tuple[float, float]:
    """The point at a station of a line through points, m; beyond the ends the ends."""
    for (x0, y0), (x1, y1) in zip(points, points[1:], strict=False):
        size = ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5
        if station <= size:
            share = max(station, 0.0) / size
            return x0 + share * (x1 - x0), y0 + share * (y1 - y0)
        station -= size
    return points[-1]


def without_thing(job: Job, identity: str) -> Removal:
    """The job without a thing on the site, and without the ways chosen past it; what kept it dry keeps nothing dry then."""
    ways = sum(c.thing == identity for c in job.crossings)
    gone = dataclasses.replace(job, features=tuple(f for f in job.features if f.id != identity), crossings=tuple(c for c in job.crossings if c.thing != identity))
    gone, served_by = without_place(gone, identity)
    gone, soils = _without_soils(gone, {identity})
    shed = [s.name for s in job.sources if s.thing == identity]
    gone = dataclasses.replace(gone, sources=tuple(dataclasses.replace(s, thing="") if s.thing == identity else s for s in gone.sources)) if shed else gone
    told = (*(tr("{name} then has no outline", name=name) for name in shed), *soils, *_some(ways, tr("way past it"), tr("ways past it")), *(tr("{name} then keeps no place dry",
                                                                                                                                               name=name) for name in served_by))
    return Removal(_cleaned(gone), told)


def without_hole(job: Job, identity: str) -> Removal:
    """The job without a test hole and its tests."""
    hole = next(h for h in job.holes if h.id == identity)
    gone = dataclasses.replace(job, holes=tuple(h for h in job.holes if h.id != identity))
    gone, soils = _without_soils(gone, {identity})
    return Removal(_cleaned(gone), (*_some(len(hole.tests), tr("test"), tr("tests")), *soils))


def _without_soils(job: Job, places: set[str]) -> tuple[Job, list[str]]:
    """The job without the soils that hold round a hole or within a thing that goes, and their names."""
    going = [soil for soil in job.soils if soil.hole in places or soil.area in places]
    return dataclasses.replace(job, soils=tuple(s for s in job.soils if s not in going)) if going else job, [tr("the soil {s}, which held there", s=s.name) for s in going]
