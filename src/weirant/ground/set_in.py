"""What is set into a run: what follows from how the runs lie, and what the user put there."""

from __future__ import annotations

import math

from weirant.ground.network import AT_END, SLANTING, LaidRun, Network
from weirant.job.network import EXISTING, PLAIN, Node
from weirant.language import tr
from weirant.records import dataclass

SET, BEND, WYE, TEE, CROSS, TOP_WYE, COUPLER, END_CAP = "set", "bend", "wye", "tee", "cross", "wye at the top", "coupler", "end cap"


@dataclass(frozen=True)
class SetIn:
    """One thing at a station m of a run: its code, the node it is at, the runs that meet there, and by how many degrees the run turns (left positive)."""

    station: float
    code: str
    node: Node
    others: tuple[LaidRun, ...] = ()
    turn: float = 0.0

    @property
    def words(self) -> str:
        """What it is, for a sheet."""
        if self.code == SET:
            return set_there(self.node)
        if self.code == BEND:
            return tr("bend {turn:.0f}° left", turn=self.turn) if self.turn > 0 else tr("bend {turn:.0f}° right", turn=-self.turn)
        if self.code == END_CAP:
            return tr("end cap")
        what = {WYE: tr("wye"), TOP_WYE: tr("wye"), TEE: tr("tee"), CROSS: tr("cross"), COUPLER: tr("coupler")}[self.code]
        return tr("{what} to {names}", what=what, names=", ".join(other.name for other in self.others))


def set_in(network: Network, run: LaidRun) -> list[SetIn]:
    """Everything set into a run, from its low end up; at a joint it belongs to the run that goes on there."""
    found = [SetIn(station, SET, node) for node, station in run.nodes if node.kind != PLAIN and (station > AT_END or not network.others_at(run, node.id))]
    at = {round(station, 6): node for node, station in run.nodes}
    found += [SetIn(station, BEND, at[round(station, 6)], turn=turn) for station, turn in run.bends]
    is_joined_at_top = False
    for node, station in run.nodes[1:]:
        here = tuple(other for other, _ in network.others_at(run, node.id))
        if not here:
            continue
        at_top = station > run.length - AT_END
        is_joined_at_top |= at_top
        found.append(SetIn(station, (TOP_WYE if len(here) > 1 else COUPLER) if at_top else _joint(network, run, node.id, station), node, here))
    if not is_joined_at_top:
        found.append(SetIn(run.length, END_CAP, run.nodes[-1][0]))
    return sorted(found, key=lambda one: (one.station, one.words))


def fittings_of(network: Network, run: LaidRun) -> list[tuple[float, str]]:
    """Stations and names of everything set into a run."""
    return [(one.station, one.words) for one in set_in(network, run)]


def set_there(node: Node) -> str:
    """What is set at a node, in words: its kind, its name, and whether it is there already."""
    return " ".join(words for words in (tr(node.kind), node.name, tr("(there already)") if node.status == EXISTING else "") if words)


def _joint(network: Network, run: LaidRun, node: str, station: float) -> str:
    """The fitting where others meet a run between its ends: a cross where two come in or one goes through, else a tee or a wye."""
    legs = [leg for other, at in network.others_at(run, node) for leg in _legs(other, at)]
    if len(legs) > 1:
        return CROSS
    between = math.degrees(legs[0] - run.alignment.bearing(station - 1e-5))
    return TEE if abs((between + 180) % 360 - 180) > SLANTING else WYE


def _legs(run: LaidRun, station: float) -> list[float]:
    """Bearings, rad, in which a run leaves a node."""
    up = [run.alignment.bearing(station)] if station < run.length - AT_END else []
    down = [run.alignment.bearing(station - 1e-5) + math.pi] if station > AT_END else []
    return [*up, *down]
