"""Ways down through the network: over which runs one can go from a top to where water leaves, and between which stations of each."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import islice

from weirant.ground.network import AT_END, LaidRun, Network
from weirant.records import dataclass

MOST = 24  # ways that are offered; a grid has hundreds


@dataclass(frozen=True)
class Leg:
    """A length of a run on a way, from station m ``high`` down to ``low``."""

    run: str
    high: float
    low: float


Way = tuple[Leg, ...]
Usable = Callable[[LaidRun], bool]


def ways_through(network: Network, run: LaidRun, usable: Usable, most: int = MOST) -> tuple[Way, ...]:
    """The ways down that go over some of a run, each from the top; first the one from its own top, staying on each run to its low end.

    At every joint below it a way may go on in any run that leads down from there; above it, come from any run that leads down to there. Only runs
    that are ``usable`` are gone over, each once; no more than ``most`` ways are given.
    """
    return tuple(islice(_through(network, run, usable), most))


def way_over(network: Network, runs: tuple[str, ...], usable: Usable) -> Way | None:
    """The way that goes over runs in their order from the top down, leaving each as low as it can; None where it can not, or not any more."""
    laid = {run.id: run for run in network.runs}
    if not runs or not all(run in laid and usable(laid[run]) for run in runs):
        return None
    legs, enters = [], laid[runs[0]].length
    for run, following in zip(runs, runs[1:], strict=False):
        met = ((station, at) for node, station in laid[run].nodes if station < enters - AT_END
               for other, at in network.others_at(laid[run], node.id) if other.id == following and at > AT_END)  # fmt: skip
        joint = next(met, None)
        if joint is None:
            return None
        legs.append(Leg(run, enters, joint[0]))
        enters = joint[1]
    return (*legs, Leg(runs[-1], enters, 0.0))


def _through(network: Network, run: LaidRun, usable: Usable) -> Iterator[Way]:
    for above, enters in _from_above(network, run, run.length, (run.id,), usable):
        used = (*(leg.run for leg in above), run.id)
        for leaves, below in _down(network, run, enters, used, usable):
            yield (*above, Leg(run.id, enters, leaves), *below)


def _down(network: Network, run: LaidRun, enters: float, used: tuple[str, ...], usable: Usable) -> Iterator[tuple[float, Way]]:
    """Where a way that goes down a run from a station can leave it, its low end first, and how it can go on from there."""
    for node, station in run.nodes:
        if station > enters - AT_END:
            break
        on = [(other, at) for other, at in network.others_at(run, node.id) if at > AT_END and other.id not in used and usable(other)]
        for other, at in on:
            yield from ((station, (Leg(other.id, at, leaves), *below)) for leaves, below in _down(network, other, at, (*used, other.id), usable))
        if station < AT_END and not on:
            yield station, ()


def _from_above(network: Network, run: LaidRun, high: float, used: tuple[str, ...], usable: Usable) -> Iterator[tuple[Way, float]]:
    """How a way can come to a run, and the station at which it enters: at its own top first."""
    tops = [(other, at, station) for node, station in reversed(run.nodes) if AT_END < station <= high + AT_END for other, at in network.others_at(run, node.id)
            if other.id not in used and usable(other)]  # fmt: skip
    yield (), high
    for other, at, station in tops:
        for above, enters in _from_above(network, other, other.length, (*used, other.id), usable):
            if enters - at > AT_END:
                yield (*above, Leg(other.id, enters, at)), station
