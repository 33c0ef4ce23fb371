"""Which runs the water goes through that is let in at a node, or that leaves a run."""

from __future__ import annotations

from collections.abc import Iterator

from weirant.ground.network import LaidRun, Network

NOUGHT = 1e-6  # m along a run


def passed_from(network: Network, node: str) -> Iterator[tuple[LaidRun, float]]:
    """The runs that water let in at a node goes through, each once, with the station m from which it goes down in them."""
    for joint in network.at_node.get(node, ()):
        if joint.station > NOUGHT:
            run = network.run(joint.run)
            yield run, joint.station
            yield from passed_below(network, run)


def passed_below(network: Network, run: LaidRun) -> Iterator[tuple[LaidRun, float]]:
    """The runs that the water of a run goes through below its low end, each once."""
    seen, ahead = {run.id}, network.drains_to(run)
    while ahead:
        other, at = ahead.pop()
        if other.id not in seen:
            seen.add(other.id)
            yield other, at
            ahead += network.drains_to(other)


def collects_below(run: LaidRun, station: float) -> bool:
    """Whether a run has pipe that collects below a station m."""
    return any(not is_solid and low < station - NOUGHT for low, _, is_solid in run.spans)
