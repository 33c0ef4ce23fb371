"""From the level book to ground levels: reduces every shot, marks the ones that cannot be, keeps them all."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from weirant.job.survey import Shot, Survey
from weirant.language import tr
from weirant.methods.levelling import Sight, reduce_levels
from weirant.records import dataclass
from weirant.units.display import LEVEL, STATION, System, shown

SPIKE = 1.0  # m off the straight line between its neighbours: more is looked at twice (common practice, no source)


@dataclass(frozen=True)
class BookedShot:
    """A shot with its adjusted elevation in m (None where not known) and what is wrong with it, if anything."""

    shot: Shot
    elevation: float | None
    mark: str = ""
    left_out: bool = False


@dataclass(frozen=True, eq=False)
class Ground:
    """Ground along a run: stations m rising, shape (n,), and elevations m, shape (n,)."""

    stations: NDArray[np.float64]
    elevations: NDArray[np.float64]

    def at(self, stations: NDArray[np.float64] | float) -> NDArray[np.float64]:
        """Elevations at stations, straight between shots and level beyond the last ones; any shape."""
        return np.asarray(np.interp(stations, self.stations, self.elevations))

    def beyond(self, low: float, high: float) -> float:
        """Length in m of a stretch of stations that no shot covers."""
        return max(0.0, float(self.stations[0]) - low) + max(0.0, high - float(self.stations[-1]))


@dataclass(frozen=True)
class LevelBook:
    """The reduced level book. misclosure m, None where the loop is not closed; the ground along each run that has two shots or more,
    by the run's identity.
    """

    shots: tuple[BookedShot, ...]
    misclosure: float | None
    grounds: Mapping[str, Ground]

    @property
    def marked(self) -> tuple[BookedShot, ...]:
        """The shots that want a second look."""
        return tuple(s for s in self.shots if s.mark)


def reduce_book(survey: Survey, system: System) -> LevelBook:
    """Reduce the level book. Shots that cannot be are marked and left out; nothing raises and nothing is dropped."""
    marks = [_fault_of(survey, index, system) for index in range(len(survey.shots))]
    sights, used = _usable(survey, marks)
    if not sights:
        return LevelBook(tuple(BookedShot(s, None, m or tr("no levels before it"), True)
                               for s, m in zip(survey.shots, marks, strict=True)), None, {})  # fmt: skip
    levels = reduce_levels(survey.benchmark_elevation, sights)
    booked = []
    for index, (shot, mark) in enumerate(zip(survey.shots, marks, strict=True)):
        point = used.get(index)
        elevation = levels.adjusted_elevations.get(point) if point is not None else None
        booked.append(BookedShot(shot, elevation, mark, point is None))
    booked = _mark_spikes(booked, system)
    return LevelBook(tuple(booked), levels.misclosure, _grounds(booked))


def _fault_of(survey: Survey, index: int, system: System) -> str:
    shot = survey.shots[index]
    where = (
        tr("Station {station}", station=shown(shot.station, STATION, system))
        if shot.station is not None
        else tr("Shot {index} on {point}", index=index + 1, point=shot.point)
    )
    if shot.unread:
        return tr('{where}: the entry "{unread}" is not a reading. Type the reading again.', where=where, unread=shot.unread)
    for reading in (shot.backsight, shot.foresight):
        if reading is not None and abs(reading) > survey.staff_length + 1e-6:
            return (tr("{where}: rod reading {reading} is longer than your {staff_length} staff. Check the reading or the staff length.", where=where,
                       reading=shown(reading, LEVEL, system), staff_length=shown(survey.staff_length, LEVEL, system)))  # fmt: skip
    if index and shot.foresight is None:
        return tr("{where}: there is no rod reading. Type one, or take the line out.", where=where)
    if index == 0 and shot.backsight is None:
        return tr("The first shot must be a backsight on the benchmark. Type its reading.")
    return ""


def _usable(survey: Survey, marks: list[str]) -> tuple[list[Sight], dict[int, str]]:
    """Sights up to the first broken turning point, and the name each shot's elevation is found under."""
    sights: list[Sight] = []
    used: dict[int, str] = {}
    for index, (shot, mark) in enumerate(zip(survey.shots, marks, strict=True)):
        if mark and (index == 0 or shot.backsight is not None):
            break
        if mark:
            continue
        closing = index > 0 and shot.station is None and shot.point == survey.shots[0].point
        name = "first" if index == 0 or closing else tr("shot {index}", index=index)
        sights.append(Sight(name, shot.backsight, shot.foresight if index else None))
        used[index] = name
    return sights, used


def _mark_spikes(booked: list[BookedShot], system: System) -> list[BookedShot]:
    known = sorted((i for i, b in enumerate(booked) if b.elevation is not None and b.shot.station is not None),
                   key=lambda i: (booked[i].shot.run, booked[i].shot.station or 0.0))  # fmt: skip
    for trio in zip(known, known[1:], known[2:], strict=False):
        if len({booked[i].shot.run for i in trio}) > 1:
            continue
        here = trio[1]
        (x0, z0), (x1, z1), (x2, z2) = (_position(booked[i]) for i in trio)
        if x2 > x0 and abs(z1 - (z0 + (z2 - z0) * (x1 - x0) / (x2 - x0))) > SPIKE + abs(z2 - z0) / 2:
            text = (tr("Station {x1}: the ground stands more than {spike} off its neighbours. Look at the reading again; it is still used.",
                       x1=shown(x1, STATION, system), spike=shown(SPIKE, LEVEL, system)))  # fmt: skip
            booked[here] = BookedShot(booked[here].shot, z1, text)
    return booked


def _position(booked: BookedShot) -> tuple[float, float]:
    return booked.shot.station or 0.0, booked.elevation or 0.0


def _grounds(booked: list[BookedShot]) -> dict[str, Ground]:
    """Ground along each run from the shots with a station; of two at one station the later counts."""
    levels: dict[str, dict[float, float]] = {}
    for b in booked:
        if b.shot.station is not None and b.elevation is not None:
            levels.setdefault(b.shot.run, {})[b.shot.station] = b.elevation
    return {run: Ground(np.array(sorted(found)), np.array([found[s] for s in sorted(found)])) for run, found in levels.items() if len(found) > 1}
