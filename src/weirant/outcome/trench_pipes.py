"""The pipes that lie in one trench at a station, each in its place."""

from __future__ import annotations

from weirant.ground.network import IN_TRENCH
from weirant.library import Pipe
from weirant.outcome.site import RunOutcome, Site
from weirant.records import dataclass

PITCH = 1.15  # of the outside diameter, from middle to middle of pipes of one run that lie side by side (common practice, no source)


@dataclass(frozen=True)
class PlacedPipe:
    """A pipe of a run: its middle m from the middle of the trench (right of it positive, looking uphill), its underside m over the trench bottom
    (both None where it lies in the trench at its own level, in no place of the section), and its invert over that of the run whose trench it is.
    """

    run: str
    pipe: Pipe
    is_solid: bool
    across: float | None
    height: float | None
    lift: float


def trench_at(site: Site, found: RunOutcome, station: float) -> tuple[RunOutcome, float]:
    """The run whose trench a run lies in at a station m, with the station there; the run itself where it has a trench of its own."""
    host = site.run(found.run.run.trench_of)
    if host is None:
        return found, station
    there, away = host.run.alignment.nearest(found.run.alignment.point(station))
    return (host, there) if away <= IN_TRENCH else (found, station)


def pipes_at(site: Site, found: RunOutcome, station: float) -> list[PlacedPipe]:
    """Pipes in the trench of a run at a station m: its own first, then those of the runs that lie in it there."""
    make, count = found.make(station), found.run.run.pipes
    pitch = PITCH * make.pipe.outer_diameter
    rest = make.section.bedding + make.bore.height
    placed = [PlacedPipe(found.id, make.pipe, make.is_solid, make.bore.across + (i - (count - 1) / 2) * pitch, rest, 0.0) for i in range(count)]
    here, at = found.run.alignment.point(station), found.grade
    for guest in site.in_trench_of(found.id):
        beside, away = guest.run.alignment.nearest(here)
        if away > IN_TRENCH or guest.grade is None or at is None:
            continue
        other = guest.make(beside)
        lift = guest.grade.at(guest.grade.invert, beside) - at.at(at.invert, station)
        bore = make.section.bore(guest.run.run.bore) if guest.run.run.bore else None
        for i in range(guest.run.run.pipes):
            across = None if bore is None else bore.across + (i - (guest.run.run.pipes - 1) / 2) * PITCH * other.pipe.outer_diameter
            placed.append(PlacedPipe(guest.id, other.pipe, other.is_solid, across, None if bore is None else make.section.bedding + bore.height, lift))
    return placed
