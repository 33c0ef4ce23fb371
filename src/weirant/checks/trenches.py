"""Trenches: whether pipes, stone and soil have room in the section of each stretch, and pipes lie in the places they take."""

from __future__ import annotations

import dataclasses
from functools import partial
from itertools import combinations

import numpy as np

from weirant.checks.judge import judge
from weirant.ground.in_place import in_place, off_its_place
from weirant.ground.stretches import LaidStretch
from weirant.job import Job
from weirant.job.section import SOIL_CAP
from weirant.job.section_edits import section_of, with_section
from weirant.outcome.commands import Set, do
from weirant.outcome.facts import Amount, Fact, Named
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.outcome.trench_pipes import PITCH, PlacedPipe, pipes_at
from weirant.units import display as k


def stone_fits(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """Stone and soil cap fit into the depth, in the stretch that leaves the least soil."""
    grade = found.grade
    if grade is None:
        return None
    worst: tuple[float, float, LaidStretch, float] | None = None
    for stretch in found.stretches:
        here = stretch.holds(grade.stations)
        if stretch.is_solid or stretch.make.section.top != SOIL_CAP or not stretch.make.section.has_stone or not here.any():
            continue
        bottom = grade.invert[here] - stretch.make.below
        caps = grade.ground[here] - bottom - stretch.make.natural_stone
        lowest = int(np.argmin(caps))
        asked = stretch.make.least_cap(outcome.rules.least_cap)
        if worst is None or caps[lowest] - asked < worst[0] - worst[3]:
            worst = (float(caps[lowest]), float(grade.stations[here][lowest]), stretch, asked)
    if worst is None:
        return None
    cap, station, stretch, asked = worst
    section = stretch.make.section
    state = judge(cap, asked, at_most=False, near=outcome.rules.near_cap)
    less, path = section.stone_cover - (asked - cap), f"sections.{section.id}.stone_cover"
    fixes = (Fix("stone-over", Set(path, less), {"stone": Amount(less, k.SECTION)}),) if state == State.FAILS and less >= 0 else ()
    facts: dict[str, Fact] = {"out": Amount(-cap, k.DEPTH), "paved": section.pavement > 0}
    return Finding(state, "" if cap >= 0 else "out", source="cp", facts=facts, value=cap, limit=asked, kind=k.COVER, at_most=False,
                   station=station, piece=stretch.id, fixes=fixes, elements=(path,))  # fmt: skip


def pipes_fit(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """All pipes in the trench of a run have room in it, with stone between and beside them; of its stretches the one with the least."""
    if found.run.run.trench_of or found.grade is None:
        return None
    placed = any(guest.run.run.bore for guest in outcome.site.in_trench_of(found.id))
    judged = [_placed(outcome, found, s) if placed else _side_by_side(outcome, found, s) for s in found.stretches]
    return min(judged, key=lambda f: (f.state.rank, f.margin or 0.0))


def _side_by_side(outcome: Outcome, found: RunOutcome, stretch: LaidStretch) -> Finding:
    """Pipes in no place of their own lie side by side on the bedding."""
    section, size = stretch.make.section, stretch.make.pipe.outer_diameter
    guests = [guest.collecting.make.pipe.outer_diameter for guest in outcome.site.in_trench_of(found.id) for _ in range(guest.run.run.pipes)]
    count = found.run.run.pipes + len(guests)
    room = section.width + 2 * section.side_slope * (section.bedding + size / 2)  # at the height of the pipes' middle
    bare = found.run.run.pipes * size + sum(guests)
    wanted = bare + (count + 1) * outcome.rules.side_room
    state = State.FAILS if bare > room + 1e-9 else State.TIGHT if wanted > room + 1e-9 else State.HOLDS
    facts = {"count": count if count > 1 else None, "one": count == 1, "size": Amount(size, k.SECTION), "room": Amount(outcome.rules.side_room, k.SECTION)}
    wide, path = section.width + wanted - room, f"sections.{section.id}.width"
    fixes = (Fix("dig-wide", Set(path, wide), {"width": Amount(wide, k.SECTION)}),) if state == State.FAILS and wide <= outcome.rules.widest_trench else ()
    return Finding(state, source="cp", facts=facts, value=bare, limit=room, kind=k.SECTION, fixes=fixes, station=stretch.low, piece=stretch.id,
                   elements=(path, f"runs.{found.id}.pipes"))  # fmt: skip


def _placed(outcome: Outcome, found: RunOutcome, stretch: LaidStretch) -> Finding:
    """Pipes in the places of the section: none in another, none in a wall; where runs begin and end beside it as well as in the middle."""
    assert found.grade is not None
    ends = [found.run.alignment.nearest(guest.run.alignment.point(s))[0] for guest in outcome.site.in_trench_of(found.id) for s in (0.0, guest.run.length)]
    stations = [(stretch.low + stretch.high) / 2, *(s for s in ends if stretch.low <= s <= stretch.high)]
    room, station, what = min(_least_room(outcome, found, stretch, s) for s in stations)
    section, path = stretch.make.section, f"sections.{stretch.make.section.id}.bores"
    said = partial(Finding, source="cp", value=room, limit=0.0, kind=k.SECTION, at_most=False, station=station, piece=stretch.id,
                   elements=(path, f"sections.{section.id}.width"))  # fmt: skip
    if room < -1e-9:
        of, other = what
        facts: dict[str, Fact] = {"run": Named(of), "other": Named(other) if other else None, "by": Amount(-room, k.SECTION)}
        return said(State.FAILS, "pipes" if other else "wall", facts=facts, fixes=_apart(outcome, found, stretch))
    if room < outcome.rules.side_room - 1e-9:
        return said(State.TIGHT, "placed")
    return said(State.HOLDS, "placed", facts={"room": Amount(outcome.rules.side_room, k.SECTION)})


def _least_room(outcome: Outcome, found: RunOutcome, stretch: LaidStretch, station: float) -> tuple[float, float, tuple[str, str]]:
    """The least room m between pipes, or between a pipe and a wall, at a station, and the runs that lack it: one and the wall (empty), or two."""
    section = stretch.make.section
    pipes = [p for p in pipes_at(outcome.site, found, station) if p.across is not None]
    rooms = []
    for p in pipes:
        radius, middle = p.pipe.outer_diameter / 2, _middle(p)[1]
        rooms.append((section.width / 2 + section.side_slope * middle - abs(p.across or 0.0) - radius, station, (p.run, "")))
    for p, q in combinations(pipes, 2):
        gap = float(np.hypot(*np.subtract(_middle(p), _middle(q)))) - (p.pipe.outer_diameter + q.pipe.outer_diameter) / 2
        if p.run != q.run:
            rooms.append((gap, station, (p.run, q.run)))
    return min(rooms)


def _middle(placed: PlacedPipe) -> tuple[float, float]:
    return placed.across or 0.0, (placed.height or 0.0) + placed.pipe.outer_diameter / 2


def _apart(outcome: Outcome, found: RunOutcome, stretch: LaidStretch) -> tuple[Fix, ...]:
    """All pipes that take a place in the section set side by side on the bedding in the order they lie in, and the trench as wide as they ask, as a fix."""
    section, room = stretch.make.section, outcome.rules.side_room
    sizes = {section.bores[0].id: _width_of(found)} | {guest.run.run.bore: _width_of(guest) for guest in outcome.site.in_trench_of(found.id) if guest.run.run.bore}
    wide = sum(sizes.values()) + (len(sizes) + 1) * room
    if wide > outcome.rules.widest_trench:
        return ()
    left, places = -wide / 2 + room, {}
    for bore in sorted(section.bores, key=lambda b: (b.across, b.height)):
        if bore.id in sizes:
            places[bore.id] = left + sizes[bore.id] / 2
            left += sizes[bore.id] + room
    width = max(section.width, round(wide + 5e-7, 6))
    return (Fix("set-apart", do(set_apart, section=section.id, places=places, width=width), {"width": Amount(width, k.SECTION)}),)


def _width_of(found: RunOutcome) -> float:
    """How wide the pipes of a run lie, m: of its largest pipe, side by side."""
    size = max(s.make.pipe.outer_diameter for s in found.stretches)
    return size * (1 + PITCH * (found.run.run.pipes - 1))


def set_apart(job: Job, section: str, places: dict[str, float], width: float) -> Job:
    """The job with places of a section set on the bedding, so far m from the middle of the trench, and it so wide, m."""
    here = section_of(job, section)
    bores = tuple(dataclasses.replace(b, across=round(places[b.id], 6), height=0.0) if b.id in places else b for b in here.bores)
    return with_section(job, dataclasses.replace(here, bores=bores, width=width))


def lies_in_place(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """A run that takes a place in another's trench lies there, at the height the section gives it."""
    run = found.run.run
    if not run.bore:
        return None
    off = off_its_place(outcome.job, outcome.library, run.id)
    said = partial(Finding, source="geometry", facts={"host": Named(run.trench_of)}, kind=k.SECTION, limit=outcome.rules.in_place, elements=(f"runs.{run.id}.bore",))
    if off is None:
        return said(State.FAILS, "rises")
    if off > outcome.rules.in_place:
        return said(State.FAILS, value=off, fixes=(Fix("in-place", do(in_place, library=outcome.library)),))
    return said(State.HOLDS, value=off)


RUN = {"in-place": lies_in_place, "fits": pipes_fit, "cap": stone_fits}
