"""Looks a job through and lists every value that cannot be, each with its path."""

from __future__ import annotations

import dataclasses
import math
from collections import deque
from collections.abc import Iterator
from functools import cache
from itertools import pairwise
from typing import Any

from weirant.errors import InputError
from weirant.job.audit import reference_faults
from weirant.job.fields import LONGEST_TEXT
from weirant.job.job import Job
from weirant.job.network import BASINS, DRY_WELL, INLET, MAIN, PUMP_PIT, PUMPED_ON, RISES, Node, Run
from weirant.job.rain import OWN
from weirant.job.section import CAN_BE_PAVED, MOST_FOLDS, OPEN_TOP, SOIL_CAP
from weirant.job.soil import Soil
from weirant.job.work_terms import is_sound
from weirant.language import tr
from weirant.units.display import RAIN_DEPTH, in_both

Fault = tuple[str, str]
MANY = 100
MOST_IN_A_STEP = 1.0  # m of rain
_clean: deque[tuple[Any, ...]] = deque(maxlen=8)  # long lists that were looked through and are as they were


def faults(job: Job, sound: Job | None = None) -> list[Fault]:
    """Every fault of a job: fields out of their limits, values that contradict each other, references that lead nowhere.

    Fields of pieces that it shares with a ``sound`` job, one that was looked through and has none, are not looked at again.
    """
    return [*(_walk(job, "") if sound is None else _changed(job, sound)), *_contradictions(job), *reference_faults(job)]


def _changed(job: Job, sound: Job) -> Iterator[Fault]:
    """The faults of the fields in which a job differs from a sound one."""
    for field, checked in _fields(Job):
        value, before = getattr(job, field.name), getattr(sound, field.name)
        if value is before:
            continue
        if not isinstance(value, tuple) or len(value) >= MANY:
            yield from _field_faults(field, field.name, value, checked)
            continue
        known = {id(item) for item in before}
        if len(value) > field.metadata.get("most", len(value)):
            yield from _field_faults(field, field.name, value, checked)
        for index, item in enumerate(value):
            if id(item) not in known:
                yield from _walk(item, f"{field.name}[{index}]")


def faults_of(thing: Any) -> list[Fault]:
    """Every field of a part of a job that is out of its limits."""
    return list(_walk(thing, ""))


def _walk(thing: Any, path: str) -> Iterator[Fault]:
    if isinstance(thing, tuple):
        if len(thing) < MANY:
            for index, item in enumerate(thing):
                yield from _walk(item, f"{path}[{index}]")
        elif not any(thing is clean for clean in _clean):
            found = [] if _are_sound(thing) else [fault for index, item in enumerate(thing) for fault in _walk(item, f"{path}[{index}]")]
            yield from found
            if not found:
                _clean.append(thing)
    elif dataclasses.is_dataclass(thing):
        for field, checked in _fields(thing.__class__):
            yield from _field_faults(field, f"{path}.{field.name}".lstrip("."), getattr(thing, field.name), checked)


def _field_faults(field: dataclasses.Field[Any], path: str, value: Any, checked: bool) -> Iterator[Fault]:
    if checked:
        yield from _check(field, path, value)
    if isinstance(value, str):
        yield from _text_fault(path, value)
    elif isinstance(value, tuple) and len(value) > field.metadata.get("most", len(value)):
        yield path, tr("{metadata} must be {metadata_2:,} at most: {value:,}", metadata=field.metadata["label"], metadata_2=field.metadata["most"], value=len(value))
    elif not isinstance(value, (float, bool)):
        yield from _walk(value, path)


@cache
def _bounds(cls: Any) -> tuple[tuple[str, float, float], ...] | None:
    """Name and bounds of the numbers of a class that has nothing but numbers under limits and texts; None for any other."""
    if not dataclasses.is_dataclass(cls) or any(f.type not in ("float", "str", "float | None", "bool") or "words" in f.metadata for f in dataclasses.fields(cls)):
        return None
    specs = [(f.name, f.metadata["spec"]) for f in dataclasses.fields(cls) if "spec" in f.metadata]
    return tuple((name, max(v for v in (spec.above, spec.at_least, -math.inf) if v is not None), spec.at_most if spec.at_most is not None else math.inf) for name, spec in specs)


def _are_sound(things: tuple[Any, ...]) -> bool:
    """Whether the plain pieces of a long list are clearly within their limits, told by whole columns; what is not is looked at piece by piece."""
    bounds = _bounds(things[0].__class__)
    if bounds is None or any(thing.__class__ is not things[0].__class__ for thing in things):
        return False
    for name, low, high in bounds:
        column = [thing.__dict__[name] for thing in things]
        if None in column or not (math.isfinite(sum(column)) and low < min(column) and max(column) <= high):
            return False
    texts = [name for name, value in things[0].__dict__.items() if value.__class__ is str]
    return all("".join(column).isascii() and len(max(column, key=len)) <= LONGEST_TEXT for column in ([thing.__dict__[name] for thing in things] for name in texts))


def _text_fault(path: str, text: str) -> Iterator[Fault]:
    if len(text) > LONGEST_TEXT:
        yield path, tr("text must have {longest_text:,} characters at most: {text:,}", longest_text=LONGEST_TEXT, text=len(text))
    if not text.isascii() and any("\ud800" <= c <= "\udfff" for c in text):
        yield path, tr("text holds half a character, which no file can keep; write it anew")


@cache
def _fields(cls: Any) -> tuple[tuple[dataclasses.Field[Any], bool], ...]:
    """Fields of a class, and whether each has limits or words of its own."""
    return tuple((f, "spec" in f.metadata or "words" in f.metadata) for f in dataclasses.fields(cls))


def _check(field: dataclasses.Field[Any], path: str, value: Any) -> Iterator[Fault]:
    spec, words = field.metadata.get("spec"), field.metadata.get("words")
    if spec is not None and value is not None:
        try:
            spec.check(value)
        except InputError as fault:
            yield path, str(fault)
    if words and value not in words:
        yield path, tr("{metadata} must be one of {words}: {value}", metadata=field.metadata["label"], words=", ".join(words), value=value)


def _pump_faults(path: str, node: Node, nodes: set[str]) -> Iterator[Fault]:
    """A pump where the outlet is one, in a pit; floats that can work, and a curve that falls."""
    name, outlet = node.name or node.id, node.outlet
    if outlet is None:
        return
    if (outlet.pump is not None) != (outlet.kind == PUMPED_ON):
        yield f"{path}.pump", tr("{kind} {name} has no pump", kind=tr(outlet.kind), name=name) if outlet.pump is not None else tr("{name} is a pump in a pit; say which pump", name=name)
    if (outlet.main is not None and outlet.kind != MAIN) or (outlet.soaks is not None and outlet.kind not in (*RISES, DRY_WELL)):
        yield path, tr("{kind} {name} leads neither into a main nor into the ground", kind=tr(outlet.kind), name=name)
    pump = outlet.pump
    if pump is None:
        return
    if node.kind != PUMP_PIT:
        yield f"{path}.pump", tr("the pump of {name} needs a pump pit to stand in", name=name)
    if pump.starts <= pump.stops:
        yield f"{path}.pump.starts", tr("the pump of {name} must start higher than it stops", name=name)
    if not 1 <= pump.pumps <= 4:
        yield f"{path}.pump.pumps", tr("number of pumps must be 1 to 4: {pumps}", pumps=pump.pumps)
    points = pump.curve
    if len(points) < 2 or any(b.discharge <= a.discharge or b.head >= a.head for a, b in zip(points, points[1:], strict=False)):
        yield f"{path}.pump.curve", tr("a pump curve needs two points or more, of growing discharge and falling head")
    if pump.leads and (pump.leads not in nodes or pump.leads == node.id):
        yield f"{path}.pump.leads", tr("the pump of {name} leads to a node that is not there", name=name)


def _contradictions(job: Job) -> Iterator[Fault]:
    for index, soil in enumerate(job.soils):
        yield from _soil_faults(f"soils[{index}]", soil)
    for index, run in enumerate(job.runs):
        if not run.name.strip():
            yield f"runs[{index}].name", tr("a run needs a name")
        if not 1 <= run.pipes <= 4:
            yield f"runs[{index}].pipes", tr("number of pipes must be 1 to 4: {pipes}", pipes=run.pipes)
        yield from _stretch_faults(index, run)
    for index, section in enumerate(job.sections):
        if not 1 <= section.layers <= MOST_FOLDS:
            yield f"sections[{index}].layers", tr("a sheet on top lies in 1 to {most} layers: {layers}", most=MOST_FOLDS, layers=section.layers)
    for index, storm in enumerate(job.storms):
        if not storm.name.strip():
            yield f"storms[{index}].name", tr("a storm needs a name")
        if not all(0 <= depth <= MOST_IN_A_STEP for depth in storm.readings):
            yield f"storms[{index}].readings", tr("rain in a step must be between 0 and {most}", most=in_both(MOST_IN_A_STEP, RAIN_DEPTH))
        if storm.shape == OWN and not storm.readings:
            yield f"storms[{index}].readings", tr("a storm of own readings needs at least one")
    for index, pipe in enumerate(job.products.pipes):
        if any(row.spacing <= row.diameter for row in pipe.rows):
            yield f"products.pipes[{index}].rows", tr("the holes of {pipe} must lie farther apart than they are wide", pipe=pipe.name)
    for index, node in enumerate(job.nodes):
        if (node.basin is not None) != (node.kind in BASINS):
            yield f"nodes[{index}].basin", (tr("{kind} {name} has no box", kind=tr(node.kind), name=node.name or node.id) if node.basin is not None
                                               else tr("{kind} {name} is a box; say its shape", kind=tr(node.kind), name=node.name or node.id))
        if node.grate is not None and node.kind != INLET:
            yield f"nodes[{index}].grate", tr("{kind} {name} has no grate", kind=tr(node.kind), name=node.name or node.id)
        yield from _pump_faults(f"nodes[{index}].outlet", node, {n.id for n in job.nodes})
    for index, section in enumerate(job.sections):
        if section.pavement and section.top not in CAN_BE_PAVED:
            yield f"sections[{index}].pavement", tr("{section} cannot be paved over {top}; let it have a {soil_cap} or {open_top}, or take the pavement off first",
                                                    section=section.name, top=tr(section.top), soil_cap=tr(SOIL_CAP), open_top=tr(OPEN_TOP))
    yield from _hole_faults(job)
    try:
        is_sound(job.work)
    except InputError as fault:
        yield "work", str(fault)
    for index, feature in enumerate(job.features):
        if not feature.points:
            yield f"features[{index}].points", tr("{thing} has no place; it needs a point at least", thing=feature.name or feature.kind)
        if any(not (abs(spot.x) <= 1e5 and abs(spot.y) <= 1e5) for spot in feature.points):
            yield f"features[{index}].points", tr("points must lie within 100 km of the outlet")


def _soil_faults(path: str, soil: Soil) -> Iterator[Fault]:
    if not soil.layers:
        yield f"{path}.layers", tr("soil needs a layer at least")
    for index, layer in enumerate(soil.layers):
        if index + 1 < len(soil.layers) and layer.thickness is None:
            yield f"{path}.layers[{index}].thickness", tr("a layer above another needs its thickness")
        band = layer.conductivity
        if band and not band.low <= band.best <= band.high:
            yield f"{path}.layers[{index}].conductivity", tr("low, best and high must not fall")
        for name in ("size", "percent"):
            points = [getattr(p, name) for p in layer.gradation]
            if points != sorted(points, reverse=True) or (name == "size" and len(set(points)) != len(points)):
                yield f"{path}.layers[{index}].gradation", tr("sieve {name} must fall from the first line to the last", name=name)


def _stretch_faults(index: int, run: Run) -> Iterator[Fault]:
    path, ends = f"runs[{index}].stretches", [s.to_station for s in run.stretches]
    if not run.stretches:
        yield path, tr("{run} needs a stretch of pipe", run=run.name)
    elif ends[-1] is not None:
        yield f"{path}[{len(ends) - 1}].to_station", tr("the last stretch of {run} goes to its top end; leave its station open", run=run.name)
    elif None in ends[:-1] or any(b <= a for a, b in pairwise(e for e in ends[:-1] if e is not None)):
        yield path, tr("the stretches of {run} must end one above the other", run=run.name)


def _hole_faults(job: Job) -> Iterator[Fault]:
    taken: set[str] = set()
    for index, hole in enumerate(job.holes):
        path = f"holes[{index}]"
        if not hole.name.strip() or hole.name in taken:
            yield f"{path}.name", tr("a hole needs a name of its own: {hole}", hole=hole.name)
        taken.add(hole.name)
        depths = [h.to_depth for h in hole.log]
        if any(b <= a for a, b in pairwise(depths)):
            yield f"{path}.log", tr("each layer must go deeper than the one above")
        for number, test in enumerate(hole.tests):
            times = [r.time for r in test.readings]
            if any(b <= a for a, b in pairwise(times)):
                yield f"{path}.tests[{number}].readings", tr("each reading must be later than the one before")
