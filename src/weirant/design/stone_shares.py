"""Groundwater in the stone of a trench with several pipes in it: one water, which the lower pipes take first."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from weirant.ground.inverts import invert_at
from weirant.ground.network import IN_TRENCH
from weirant.hydraulics.accumulate import Inflow
from weirant.hydraulics.pipes_along import full_conveyance, full_flow
from weirant.job import Job
from weirant.outcome.rows import rows_of
from weirant.outcome.site import RunOutcome, Site
from weirant.outcome.stone_share import StoneShare
from weirant.records import dataclass

Array = NDArray[np.float64]
AT_ONCE = 0.02  # m of level within which openings come on together, as in a storm
PLACES = 41  # along a run, at which it is looked whether another lies beside it
LEVEL_CARRIES = 1e-3  # m/m of water surface at which a level pipe is taken to carry what it can


@dataclass(frozen=True)
class _Taker:
    """A run in a shared trench: m³/s that were worked out to come to it alone, share of its collecting length that lies beside the others, m of its lowest openings over
    those of the run whose trench it is, and what it carries full, m³/s.
    """

    id: str
    alone: float
    beside: float
    level: float
    carries: float

    @property
    def shares(self) -> float:
        """What was worked out to come to it where others lie beside it, m³/s."""
        return self.alone * self.beside


def stone_shares(job: Job, site: Site, inflows: Mapping[str, Inflow]) -> tuple[dict[str, Inflow], dict[str, StoneShare]]:
    """What runs take in that collect in one trench with others, and the share of each; nothing of those that do so alone, or where what comes is not known.

    Into the stone comes what the one alone would draw that draws most. The lowest openings take it until their pipes are full, those within two centimetres of them together
    by what they carry, then the next higher; what none can carry any more presses on all of them. What comes to a pipe from above is not taken off what it carries.
    """
    found: dict[str, Inflow] = {}
    told: dict[str, StoneShare] = {}
    for host in site.runs:
        guests = [guest for guest in site.in_trench_of(host.id) if _collects(guest, inflows)]
        if not guests or not _collects(host, inflows):
            continue
        takers = _takers(job, host, guests, inflows)
        comes = max(taker.shares for taker in takers)
        if comes <= 0:
            continue
        for taker, takes in zip(takers, allotted(comes, [(t.level, t.carries) for t in takers]), strict=True):
            if taker.beside > 0:
                by = 1 - taker.beside + (takes / taker.alone if taker.alone > 0 else 0.0)
                alone = inflows[taker.id]
                found[taker.id] = dataclasses.replace(alone, spread=alone.spread * by, seeps=tuple(dataclasses.replace(seep, rate=seep.rate * by) for seep in alone.seeps))
                told[taker.id] = StoneShare(comes, takes / comes, tuple(t.id for t in takers if t.id != taker.id and t.beside > 0))
    return found, told


def _collects(found: RunOutcome, inflows: Mapping[str, Inflow]) -> bool:
    inflow = inflows[found.id]
    return found.grade is not None and found.run.collecting_length > 0.1 and not inflow.missing and not any(seep.missing for seep in inflow.seeps)


def allotted(comes: float, takers: list[tuple[float, float]]) -> list[float]:
    """What each takes of so much m³/s, by the level m of its openings and what it carries m³/s: the lower first; together always all of it."""
    takes, left = [0.0] * len(takers), comes
    waiting = sorted(range(len(takers)), key=lambda i: takers[i][0])
    while waiting and left > 0:
        tier = [i for i in waiting if takers[i][0] <= takers[waiting[0]][0] + AT_ONCE]
        carries = sum(takers[i][1] for i in tier)
        goes = min(left, carries)
        for i in tier:
            takes[i] = goes * takers[i][1] / carries if carries > 0 else 0.0
        left -= goes
        waiting = [i for i in waiting if i not in tier]
    carries = sum(carry for _, carry in takers)
    return [take + (left * carry / carries if carries > 0 else left / len(takers)) for take, (_, carry) in zip(takes, takers, strict=True)]


def _takers(job: Job, host: RunOutcome, guests: list[RunOutcome], inflows: Mapping[str, Inflow]) -> list[_Taker]:
    found = []
    longest = 0.0
    for guest in guests:
        stations = _collecting_places(guest)
        there = [host.run.alignment.nearest(point) for point in guest.run.alignment.at(stations)]
        beside = np.array([away <= IN_TRENCH and any(part.holds(at) for part in host.collects) for at, away in there])
        if not beside.any():
            continue
        at = np.array([at for at, _ in there])[beside]
        lift = float(np.mean(invert_at(guest.run, stations[beside]) - invert_at(host.run, at)))
        share = float(beside.mean())
        longest = max(longest, share * guest.run.collecting_length)
        found.append(_Taker(guest.id, _gain(guest, inflows[guest.id]), share, lift + _lowest(job, guest) - _lowest(job, host), _carries(guest)))
    of_host = min(longest / host.run.collecting_length, 1.0)
    return [_Taker(host.id, _gain(host, inflows[host.id]), of_host, 0.0, _carries(host)), *found]


def _collecting_places(found: RunOutcome) -> Array:
    """Stations m evenly over what collects of a run."""
    spans = [span for part in found.collects for span in part.spans]
    lengths = [high - low for low, high in spans]
    counts = [max(2, round(PLACES * length / sum(lengths))) for length in lengths]
    return np.concatenate([low + (high - low) * (np.arange(n) + 0.5) / n for (low, high), n in zip(spans, counts, strict=True)])


def _gain(found: RunOutcome, inflow: Inflow) -> float:
    return inflow.spread * found.run.collecting_length + sum(seep.rate * seep.of.length for seep in inflow.seeps)


def _lowest(job: Job, found: RunOutcome) -> float:
    """Height m of the lowest openings over the inside bottom."""
    pipe = found.collecting.make.pipe
    rows = rows_of(job, pipe)
    return rows[0].height if rows else pipe.inner_diameter


def _carries(found: RunOutcome) -> float:
    """What a run carries full where it carries least, m³/s."""
    return min(full_flow(found.run, s)[0] or full_conveyance(s.make.pipe) * LEVEL_CARRIES**0.5 * found.run.run.pipes for s in found.stretches)
