"""Pipes that share the stone of one trench, in a storm: water comes into the stone, and each takes it in as it stands at its openings, the lower ones first."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

import numpy as np

from weirant.ground.inverts import invert_at
from weirant.ground.network import IN_TRENCH
from weirant.hydraulics.accumulate import Piece
from weirant.hydraulics.mesh_sketch import MeshReach, MeshSketch
from weirant.hydraulics.outlet_relation import Passage
from weirant.methods.intake import GRAVITY, ORIFICE_COEFFICIENT
from weirant.outcome.outcome import Outcome
from weirant.outcome.rows import rows_of

COMES_ON = 0.02  # m over the lowest openings within which all of them come on


def with_one_stone(outcome: Outcome, groups: list[list[Piece]]) -> list[list[Piece]]:
    """Parts of a network, those taken together of which runs that collect lie in one trench."""
    for run in outcome.site.runs:
        host = run.run.run.trench_of
        if host and run.run.collecting_length > 0 and (of_host := outcome.site.run(host)) is not None and of_host.run.collecting_length > 0:
            met = [pieces for pieces in groups if any(piece[0] in (run.id, host) for piece in pieces)]
            groups = [*(pieces for pieces in groups if pieces not in met), [piece for pieces in met for piece in pieces]] if len(met) > 1 else groups
    return groups


def share_stone(outcome: Outcome, sketch: MeshSketch) -> dict[int, int]:
    """Join the sections of pipes that collect in another's trench with those of the run whose trench it is, through the openings of both; and by each such
    section the one in whose stone its water stands first.
    """
    by_run = defaultdict[str, list[MeshReach]](list)
    for reach in sketch.reaches:
        if not reach.stretch.is_solid:
            by_run[reach.run.id].append(reach)
    shared: dict[int, int] = {}
    for reaches in by_run.values():
        hosts = by_run.get(reaches[0].run.run.trench_of, [])
        if not hosts:
            continue
        lengths = defaultdict[int, float](float)
        places = dict[int, tuple[MeshReach, float]]()
        for reach in reaches:
            for section, station in ((reach.below, reach.low), (reach.above, reach.high)):
                lengths[section] += (reach.high - reach.low) / 2
                places[section] = reach, station
        for section, (reach, station) in places.items():
            found = _beside(hosts, reach, station)
            if found is None or found[1] == section:
                continue
            host, there, at = found
            crest, area = -np.inf, np.inf
            for of, on in ((reach, station), (host, at)):
                pipe = of.stretch.make.pipe
                rows = rows_of(outcome.job, pipe)
                crest = max(crest, float(invert_at(of.run, np.array(on))) + (rows[0].height if rows else pipe.inner_diameter))
                area = min(area, pipe.open_area_per_length * of.run.run.pipes)
            area *= (1 - outcome.job.limits.blocked) * lengths[section]
            if area > 0:
                sketch.join(there, section, crest, Passage(ORIFICE_COEFFICIENT * area * (2 * GRAVITY) ** 0.5, COMES_ON))
                shared[section] = there
    return shared


def _beside(hosts: Sequence[MeshReach], reach: MeshReach, station: float) -> tuple[MeshReach, int, float] | None:
    """The reach of the run whose trench it is beside a station of another, with the nearer of its sections and its station there."""
    at, away = hosts[0].run.alignment.nearest(reach.run.alignment.point(station))
    if away > IN_TRENCH:
        return None
    host = min(hosts, key=lambda h: max(h.low - at, at - h.high, 0.0))
    if max(host.low - at, at - host.high) > reach.high - reach.low:
        return None
    return (host, host.below, host.low) if at - host.low <= host.high - at else (host, host.above, host.high)
