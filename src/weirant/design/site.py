"""The site from its shots: the surface through them, the ground under every run, and what the runs meet."""

from __future__ import annotations

from functools import cached_property, partial

import numpy as np
from numpy.typing import NDArray

from weirant.design.session import Session
from weirant.errors import InputError
from weirant.ground.alignment import Point
from weirant.ground.collecting import Collecting, collecting_of
from weirant.ground.crossings import PASSED, Crossing, Passed, passed, places_crossed, stretches_within
from weirant.ground.grade_line import GradeLine, are_like, lay
from weirant.ground.in_place import places_on
from weirant.ground.levels import Ground, LevelBook
from weirant.ground.nearby import Things, things_of
from weirant.ground.network import AT_END, LaidRun, Network, joined, lay_out, meetings, stations_every
from weirant.ground.places import point_of
from weirant.ground.soils import SoilAlong, soils_along
from weirant.ground.stretches import LaidStretch, Makes, levels_key, makes_of
from weirant.ground.surface import Surface, build_surface
from weirant.ground.surface.blunders import spikes
from weirant.job import Job
from weirant.job.geometry import nodes_by_id
from weirant.job.site import Feature
from weirant.job.situations import places_of
from weirant.library import Library
from weirant.outcome.site import RunOutcome, Site
from weirant.records import dataclass

Array = NDArray[np.float64]
SAMPLE = 0.6  # m between the places where the surface under a run is read


def site_points(job: Job, book: LevelBook, network: Network) -> tuple[list[str], Array, Array]:
    """Names, places (n, 2) and levels (n,) of every point with a level: read or taken, booked in plan, booked along a run."""
    names = [p.name for p in job.points]
    places = [(p.x, p.y) for p in job.points]
    levels = [p.level for p in job.points]
    for booked in book.shots:
        shot = booked.shot
        if booked.elevation is None or (shot.place is None and shot.station is None):
            continue
        names.append(shot.point)
        places.append(point_of(shot.place, job.survey) if shot.place is not None else _along(network.run(shot.run), shot.station or 0.0))
        levels.append(booked.elevation)
    # to the nanometre: shots along a straight run lie in a row, and which triangles go through a row must not hang on the last digit
    return names, np.round(np.array(places, dtype=float).reshape(-1, 2), 9), np.array(levels, dtype=float)


def _along(run: LaidRun, station: float) -> Point:
    return run.alignment.point(min(max(station, 0.0), run.length))


def _lie(job: Job, network: Network) -> bytes:
    """How the runs that shots are booked along lie in plan: those shots move with them."""
    booked = {shot.run for shot in job.survey.shots if shot.run}
    return b"".join(run.alignment.points.tobytes() for run in network.runs if run.id in booked)


def _surface(job: Job, book: LevelBook, network: Network) -> tuple[Surface | None, str, tuple[str, ...]]:
    """The surface, or why there is none; and the names of points that stand out from their neighbours."""
    names, places, levels = site_points(job, book, network)
    try:
        surface = build_surface(places, levels)
    except InputError as fault:
        return None, str(fault), ()
    odd = []
    for corner in spikes(surface).tolist():
        nearest = int(np.argmin(np.hypot(*(places - surface.corners[corner]).T)))
        odd.append(names[nearest])
    return surface, "", tuple(odd)


def ground_under(run: LaidRun, book: LevelBook, surface: Surface | None, network: Network, host: LaidRun | None = None) -> Ground | None:
    """The ground along a run: the shots booked along it where there are two, or along the run in whose trench it lies all the way, else the
    surface under it.
    """
    if run.id in book.grounds:
        return _carried_on(book.grounds[run.id], run, book, network)
    if host is not None and host.id in book.grounds and places_on(run, host, np.array([0.0, run.length]))[1].all():
        shot = book.grounds[host.id]
        there, _ = places_on(run, host, stations := np.union1d(stations_every(run, SAMPLE), run.node_stations))
        return Ground(stations, shot.at(there))
    if surface is None:
        return None
    stations = stations_every(run, SAMPLE)
    levels, inside = surface.at(run.alignment.at(stations))
    if not inside.any():
        return None
    return Ground(stations[inside], levels[inside])


def _carried_on(ground: Ground, run: LaidRun, book: LevelBook, network: Network) -> Ground:
    """The ground shot along a run, with the nearest shot beyond each of its ends along a run that goes on from there."""
    stations, levels = ground.stations, ground.elevations
    for other, at in network.others_at(run, run.nodes[0][0].id):
        shot = book.grounds.get(other.id)
        if shot is not None and at > other.length - AT_END and stations[0] > 0:
            stations, levels = np.append(shot.stations[-1] - other.length, stations), np.append(shot.elevations[-1], levels)
    for other, at in network.others_at(run, run.nodes[-1][0].id):
        shot = book.grounds.get(other.id)
        if shot is not None and at < AT_END and stations[-1] < run.length:
            stations, levels = np.append(stations, run.length + shot.stations[0]), np.append(levels, shot.elevations[0])
    kept = np.concatenate([[True], np.diff(stations) > AT_END])
    return Ground(stations[kept], levels[kept])


def site_of(job: Job, book: LevelBook, library: Library, session: Session) -> Site:
    """Surface, runs and what they meet."""
    nodes = nodes_by_id(job)
    laid = tuple(session.once(f"laid {run.id}", (run, *(nodes[n] for n in run.nodes)), partial(lay_out, run, nodes)) for run in job.runs)
    network = session.once("network", laid, lambda: joined(laid))
    lie = _lie(job, network)
    surface, why, odd = session.once("surface", (job.points, job.survey, lie), lambda: _surface(job, book, network))
    met = session.once("meetings", (*(run.alignment.points.tobytes() for run in laid), *(run.run.trench_of for run in laid), *(run.id for run in laid)),
                       lambda: tuple(meetings(network)))  # fmt: skip
    things = session.once("things", (job.features,), lambda: things_of(job.features))
    makes = makes_of(laid, job.sections, library)
    runs = _Runs(job, network, makes, book, surface, lie, things, session)
    return Site(surface, why, odd, network, tuple(runs.found(run) for run in laid), met, {}, things)


@dataclass(frozen=True, eq=False)
class _Runs:
    """What the runs of one assessment rest on; the session has what did not change since the last."""

    job: Job
    network: Network
    makes: Makes
    book: LevelBook
    surface: Surface | None
    lie: bytes
    things: Things
    session: Session

    @cached_property
    def dry(self) -> dict[str, Feature]:
        """What is to be kept dry, by identity."""
        return {place.id: place for place in places_of(self.job)}

    def stretches(self, run: LaidRun) -> tuple[LaidStretch, ...]:
        """The stretches of a run as they are made."""
        on = (run, self.job.sections, self.makes.library, self.makes.hosts.get(run.run.trench_of), *self.makes.guests.get(run.id, ()))
        return self.session.once(f"stretches {run.id}", on, partial(self.makes.along, run))

    def soils(self, run: LaidRun) -> tuple[SoilAlong, ...]:
        """The soils along a run."""
        several = len(self.job.soils) > 1  # one holds wherever things and holes lie
        on = (run, self.job.soils, *((self.job.holes, self.job.features) if several else ()))
        return self.session.once(f"soils {run.id}", on, lambda: soils_along(run.alignment, self.job))

    def collecting(self, run: LaidRun, soils: tuple[SoilAlong, ...]) -> tuple[Collecting, ...]:
        """What of a run collects, by its situation and soil."""
        on = (run, soils, *(self.dry.get(s.situation.place) for s in run.run.stretches))
        return self.session.once(f"collecting {run.id}", on, lambda: collecting_of(run, soils, self.dry))

    def found(self, run: LaidRun) -> RunOutcome:
        """A run with its ground, its grade line and what it meets; where nothing is otherwise that any of that rests on, as it was."""
        job, makes = self.job, self.makes
        ends = tuple(other for node in (run.nodes[0][0].id, run.nodes[-1][0].id) for other, _ in self.network.others_at(run, node)) if run.id in self.book.grounds else ()
        on = (run, job.points, job.survey, self.lie, job.features, job.soils, job.holes, job.sections, makes.library, makes.hosts.get(run.run.trench_of),
              *makes.guests.get(run.id, ()), *ends)  # fmt: skip
        parts = tuple(f"{part} {run.id}" for part in ("stretches", "soils", "collecting", "ground", "met", "grade", "run"))
        return self.session.once(f"all of {run.id}", on, lambda: self._found(run), of=parts)

    def _found(self, run: LaidRun) -> RunOutcome:
        job, session, place = self.job, self.session, run.alignment.points.tobytes()
        stretches, soils = self.stretches(run), self.soils(run)
        collects = self.collecting(run, soils)
        host = self.makes.hosts.get(run.run.trench_of) if run.run.bore else None
        ends = tuple(other.id for node in (run.nodes[0][0].id, run.nodes[-1][0].id) for other, _ in self.network.others_at(run, node))
        on = (job.points, job.survey, self.lie, place, ",".join(ends), host.alignment.points.tobytes() if host is not None else b"")
        ground = session.once(f"ground {run.id}", on, lambda: ground_under(run, self.book, self.surface, self.network, host))
        met, passes = session.once(f"met {run.id}", (job.features, place), lambda: (_met(self.things, run), _passed(self.things, run)))
        # a wider trench, another stone or fabric leave the levels as they are; more stone over the pipe may
        grade = session.once(f"grade {run.id}", (ground, run, levels_key(stretches)), lambda: None if ground is None else lay(ground, run, stretches), are_like)

        def made() -> RunOutcome:
            return RunOutcome(run, stretches, soils, collects, grade, tuple(_levelled(feature, station, at, by_hand, grade) for feature, station, at, by_hand in met), passes)

        return session.once(f"run {run.id}", (*on, job.features, run, stretches, soils, collects, grade), made)


Met = tuple[Feature, float, Point, tuple[float, float]]


def _met(things: Things, run: LaidRun) -> tuple[Met, ...]:
    """Every buried line that a run meets, with station, place and the stretch to dig by hand, from the low end up."""
    found: list[Met] = []
    for feature in things.near(run, 0.1):
        if not feature.is_buried:
            continue
        for station, at in places_crossed(run.alignment, feature):
            stretches = stretches_within(run.alignment, feature, feature.tolerance)
            by_hand = next(((a, b) for a, b in stretches if a - 1e-6 <= station <= b + 1e-6), (station, station))
            found.append((feature, station, at, by_hand))
    return tuple(sorted(found, key=lambda met: met[1]))


def _passed(things: Things, run: LaidRun) -> tuple[Passed, ...]:
    """Every thing on the ground that a run goes through."""
    return tuple(found for feature in things.near(run, 0.1) if feature.kind in PASSED for found in passed(run.alignment, feature))


def _levelled(feature: Feature, station: float, at: Point, by_hand: tuple[float, float], grade: GradeLine | None) -> Crossing:
    ground = None if grade is None else grade.at(grade.ground, station)
    top = None if ground is None or feature.depth is None else ground - feature.depth
    return Crossing(feature, station, at, top, None if top is None else top - feature.diameter, *by_hand)
