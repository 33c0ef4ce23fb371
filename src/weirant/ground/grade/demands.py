"""What a grade line has to satisfy, run by run, in plain figures; levels and lengths m, slopes m/m."""

from __future__ import annotations

from dataclasses import field
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from weirant.records import dataclass

Array = NDArray[np.float64]


class Aim(StrEnum):
    """What the best line is best at."""

    LEAST_DIG = "least dig"
    FEWEST_BREAKS = "fewest grade breaks"
    DEEPEST = "deepest interception"


class Family(StrEnum):
    """The kinds of demand; the user may give way on one kind at a time."""

    OUTLET = "outlet"
    SLOPE = "least slope"
    STEEP = "steepest slope"
    COVER = "cover"
    CAP = "soil over the stone"
    DEPTH = "deepest trench"
    COLLECT = "depth of the collecting run"
    HELD = "held invert"
    CROSSING = "crossing"
    JOINT = "joint"


@dataclass(frozen=True)
class CrossingDemand:
    """A thing to pass at a station, by its identity: its top and bottom level with the clearance added, and ``over``, ``under`` or ``best``."""

    station: float
    name: str
    top: float
    bottom: float
    way: str


@dataclass(frozen=True, eq=False)
class RunDemand:
    """One run by its identity: stations and ground, shape (n,), from the low end up; nodes, shape (k,), where the grade may change.

    least_slopes has shape (k − 1,), one for each length between nodes. ``above`` is from invert to the outside of the
    crown, ``below`` from invert to the trench bottom, ``wall`` from invert to the outside of the pipe's underside, ``width`` that of the trench,
    each one figure or (n,).
    covered (n,) tells the stations where cover is demanded; collect_levels (n,) is the highest invert allowed there, or
    infinity; so is cap_levels, for soil over the stone (None: not asked). dug is false where the run lies in another run's trench.
    """

    name: str
    stations: Array
    ground: Array
    nodes: Array
    least_slopes: Array
    most_slope: float
    above: Array | float
    below: Array | float
    wall: Array | float
    width: Array | float
    cover: float
    covered: NDArray[np.bool_]
    most_depth: float
    collect_levels: Array
    collecting: NDArray[np.bool_]
    outlet_least: float | None = None
    held: tuple[tuple[float, float], ...] = ()
    crossings: tuple[CrossingDemand, ...] = ()
    dug: bool = True
    cap_levels: Array | None = None

    def here(self, figure: Array | float, station: float) -> float:
        """One of the figures of its section at a station; where it changes, the larger."""
        if not isinstance(figure, np.ndarray):
            return figure
        index = int(np.searchsorted(self.stations, station - 1e-9))
        return float(figure[max(index - 1, 0) : index + 1].max())


@dataclass(frozen=True)
class MeetingDemand:
    """Two runs of the network that cross without a joint: one has to pass over the other."""

    first: str
    second: str
    first_station: float
    second_station: float


@dataclass(frozen=True)
class JointDemand:
    """Two runs at one node: the upper one comes in over the lower one's invert there, by no more than the drop allowed (m).

    With a ``lift`` m two runs in one trench: the upper one lies that much over the lower one, and by no more than the drop over that.
    """

    upper: str
    upper_station: float
    lower: str
    lower_station: float
    drop: float
    lift: float = 0.0


@dataclass(frozen=True)
class NetworkDemand:
    """All runs, the joints between them, and the clearance between runs that cross."""

    runs: tuple[RunDemand, ...]
    clearance: float
    joints: tuple[JointDemand, ...] = ()
    meetings: tuple[MeetingDemand, ...] = field(default=())

    def run(self, name: str) -> RunDemand:
        """The run of an identity."""
        return next(r for r in self.runs if r.name == name)
