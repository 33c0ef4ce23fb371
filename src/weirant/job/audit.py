"""Looks every reference of a job through: what points nowhere, stands twice, points at itself or goes round."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Iterator
from typing import Any

from weirant.job.geometry import APART
from weirant.job.job import Job
from weirant.job.network import Run
from weirant.job.paths import leads_somewhere
from weirant.job.products import OWN
from weirant.job.water import AWAY
from weirant.language import tr

Fault = tuple[str, str]


def reference_faults(job: Job) -> list[Fault]:
    """Every fault of a job's references with its path; empty where all is sound. Linear in what the job holds."""
    doubled = [*_identities(job)]
    return doubled if doubled else [*_products(job), *_sections(job), *_soils(job), *_runs(job), *_guests(job), *_others(job)]


def _identities(job: Job) -> Iterator[Fault]:
    lists: tuple[tuple[str, tuple[Any, ...]], ...] = (("runs", job.runs), ("nodes", job.nodes), ("features", job.features), ("holes", job.holes), ("soils", job.soils),
                                                   ("sources", job.sources), ("old_drains", job.old_drains),
                                                   ("sections", job.sections))  # fmt: skip
    within = ((f"runs[{i}].stretches", run.stretches) for i, run in enumerate(job.runs))
    beside = ((f"sections[{i}].bores", section.bores) for i, section in enumerate(job.sections))
    for name, things in (*lists, *within, *beside):
        times = Counter(thing.id for thing in things)
        for index, thing in enumerate(things):
            if not thing.id or thing.id.isdecimal() or "." in thing.id or thing.id != thing.id.strip():
                yield f"{name}[{index}].id", tr("an identity is a letter and a number, such as r1: '{id}'", id=thing.id)
            elif times[thing.id] > 1:
                yield f"{name}[{index}].id", tr("the identity {id} stands {times} times; each needs its own", id=thing.id, times=times[thing.id])


def _sections(job: Job) -> Iterator[Fault]:
    """Every stretch lies in a section that is there, and every section has a place for a pipe."""
    sections = {section.id for section in job.sections}
    for index, section in enumerate(job.sections):
        if not section.bores:
            yield f"sections[{index}].bores", tr("{section} needs a place for a pipe", section=section.name)
        if not section.name.strip():
            yield f"sections[{index}].name", tr("a trench section needs a name")
    for index, run in enumerate(job.runs):
        for number, stretch in enumerate(run.stretches):
            if stretch.section not in sections:
                yield f"runs[{index}].stretches[{number}].section", tr("{run} lies in the trench section {section}, which is not there", run=run.name, section=stretch.section)


def _soils(job: Job) -> Iterator[Fault]:
    """One soil holds everywhere, every other round a hole or within an outline of its own."""
    holes, things, taken = {hole.id for hole in job.holes}, {f.id: f for f in job.features}, set()
    if sum(not soil.hole and not soil.area for soil in job.soils) != 1:
        yield "soils", tr("one soil, and only one, must hold where no other does")
    for index, soil in enumerate(job.soils):
        if not soil.name.strip():
            yield f"soils[{index}].name", tr("a soil needs a name")
        if soil.hole and soil.area:
            yield f"soils[{index}].area", tr("{soil} holds round a test hole or within an outline; take one of them", soil=soil.name)
        elif soil.hole and soil.hole not in holes:
            yield f"soils[{index}].hole", tr("{soil} holds round the test hole {hole}, which is not there", soil=soil.name, hole=soil.hole)
        elif soil.area and soil.area not in things:
            yield f"soils[{index}].area", tr("{soil} holds within the thing {area}, which is not there", soil=soil.name, area=soil.area)
        elif soil.area and not things[soil.area].is_outline:
            yield f"soils[{index}].area", tr("{soil} holds within {things}, which is no outline; let it hold elsewhere first", soil=soil.name, things=things[soil.area].name)
        where = soil.hole or soil.area
        if where and where in taken:
            yield f"soils[{index}].{'hole' if soil.hole else 'area'}", tr("{soil} holds where another soil does; give it another place", soil=soil.name)
        taken.add(where)


def _products(job: Job) -> Iterator[Fault]:
    """The keys of own products are told from those that are shipped, and stand once."""
    lists: tuple[tuple[str, tuple[Any, ...]], ...] = (("products.pipes", job.products.pipes), ("products.stones", job.products.stones), ("products.fabrics", job.products.fabrics),
                                                      ("parts.own", job.parts.own))
    for name, things in lists:
        times = Counter(thing.key for thing in things)
        for index, thing in enumerate(things):
            if not thing.key.startswith(OWN):
                yield f"{name}[{index}].key", tr("the key of an own product begins with {own}: '{key}'", own=OWN, key=thing.key)
            elif times[thing.key] > 1:
                yield f"{name}[{index}].key", tr("the key {key} stands {times} times; each needs its own", key=thing.key, times=times[thing.key])
            if name == "parts.own" and not thing.name.strip():
                yield f"{name}[{index}].name", tr("an own product needs a name")
    for key, count in Counter(one.key for one in job.products.sold_in).items():
        if count > 1:
            yield "products.sold_in", tr("the key {key} stands {times} times; each needs its own", key=key, times=count)
    counted = Counter((rule.part, rule.wanted) for rule in job.parts.counts)
    for index, rule in enumerate(job.parts.counts):
        if counted[rule.part, rule.wanted] > 1:
            yield f"parts.counts[{index}]", tr("how many of {part} there are is told twice", part=rule.part)


def _runs(job: Job) -> Iterator[Fault]:
    nodes = {node.id: node for node in job.nodes}
    if not job.runs:
        yield "runs", tr("a job needs one run at least")
    for index, run in enumerate(job.runs):
        path = f"runs[{index}].nodes"
        missing = [n for n in run.nodes if n not in nodes]
        if missing:
            yield path, tr("{run} goes through node {missing}, which is not there", run=run.name, missing=missing[0])
        elif len(run.nodes) < 2:
            yield path, tr("{run} needs a node at each end", run=run.name)
        else:
            for before, here in zip(run.nodes, run.nodes[1:], strict=False):
                a, b = nodes[before], nodes[here]
                if math.hypot(a.x - b.x, a.y - b.y) < APART:
                    yield path, tr("{run} goes through {before} and {here}, which are one place; take one of them out", run=run.name, before=before, here=here)
                    break


def _guests(job: Job) -> Iterator[Fault]:
    """A run may lie in the trench of another that has a trench of its own; each place there is taken once."""
    runs = {run.id: run for run in job.runs}
    places = {section.id: [bore.id for bore in section.bores] for section in job.sections}
    taken: set[tuple[str, str]] = set()
    for index, run in enumerate(job.runs):
        path, host = f"runs[{index}].trench_of", runs.get(run.trench_of)
        if not run.trench_of:
            if run.bore:
                yield f"runs[{index}].bore", tr("{run} has a place in a trench, but none is named; say whose", run=run.name)
        elif host is None:
            yield path, tr("{run} lies in the trench of {trench_of}, which is not there", run=run.name, trench_of=run.trench_of)
        elif host is run:
            yield path, tr("{run} cannot lie in its own trench as in another's", run=run.name)
        elif host.trench_of:
            yield path, tr("{run} lies in the trench of {host}, which itself lies in another's; choose the run whose trench is dug", run=run.name, host=host.name)
        elif run.bore:
            yield from _place(f"runs[{index}].bore", run, host, places, taken)


def _place(path: str, run: Run, host: Run, places: dict[str, list[str]], taken: set[tuple[str, str]]) -> Iterator[Fault]:
    along = [places.get(stretch.section, []) for stretch in host.stretches]
    if any(run.bore not in bores for bores in along):
        yield path, tr("{run} takes the place {bore} in the trench of {host}, which has none such all along", run=run.name, bore=run.bore, host=host.name)
    elif any(bores[0] == run.bore for bores in along) or (host.id, run.bore) in taken:
        yield path, tr("the place that {run} takes in the trench of {host} is taken; give it another", run=run.name, host=host.name)
    taken.add((host.id, run.bore))


def _others(job: Job) -> Iterator[Fault]:
    runs, things = {run.id for run in job.runs}, {f.id for f in job.features}
    for index, run in enumerate(job.runs):
        for number, stretch in enumerate(run.stretches):
            if stretch.situation.place and stretch.situation.place not in things:
                yield f"runs[{index}].stretches[{number}].situation.place", tr("{run} keeps the thing {place} dry, which is not there", run=run.name, place=stretch.situation.place)
    for index, shot in enumerate(job.survey.shots):
        if shot.run and shot.run not in runs:
            yield f"survey.shots[{index}].run", tr("{point} is booked along the run {run}, which is not there", point=shot.point, run=shot.run)
        elif shot.station is not None and not shot.run:
            yield f"survey.shots[{index}].run", tr("{point} has a station; say along which run", point=shot.point)
    for index, built in enumerate(job.as_built):
        if built.run not in runs:
            yield f"as_built[{index}].run", tr("an invert as built is of the run {run}, which is not there", run=built.run)
    for index, choice in enumerate(job.crossings):
        if choice.run not in runs:
            yield f"crossings[{index}].run", tr("a way past a buried line is of the run {run}, which is not there", run=choice.run)
        if choice.thing not in things:
            yield f"crossings[{index}].thing", tr("a way past a buried line is of the thing {thing}, which is not there", thing=choice.thing)
    for index, drain in enumerate(job.old_drains):
        if drain.run and drain.run not in runs:
            yield f"old_drains[{index}].run", tr("{name} is the run {run}, which is not there", name=drain.name, run=drain.run)
        if not drain.name.strip():
            yield f"old_drains[{index}].name", tr("an old drain needs a name")
    nodes = {node.id for node in job.nodes}
    for index, source in enumerate(job.sources):
        if source.node and source.node != AWAY and source.node not in nodes:
            yield f"sources[{index}].node", tr("{source} is led to node {node}, which is not there", source=source.name, node=source.node)
        if source.thing and source.thing not in things:
            yield f"sources[{index}].thing", tr("{source} sheds from the thing {thing}, which is not there", source=source.name, thing=source.thing)
        if not source.name.strip():
            yield f"sources[{index}].name", tr("a source needs a name")
    for index, path in enumerate(job.assumed):
        if not leads_somewhere(job, path):
            yield f"assumed[{index}]", tr("{path} is marked as assumed, but there is no such field", path=path)
