"""A storm of a job through its pipes: every source as a hydrograph, every part of the network with what it stores."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from functools import partial

import numpy as np
from numpy.typing import NDArray

from weirant.design.across import Stand
from weirant.design.flows import drawn_on
from weirant.design.hydrographs import Hydrograph, Known, Told, gives_off, runs_off
from weirant.design.sources import area_of
from weirant.design.storms import rain_of
from weirant.errors import InputError, WeirantError
from weirant.hydraulics.accumulate import Piece
from weirant.hydraulics.mesh_sketch import MeshSketch, Reach, Undecided
from weirant.hydraulics.routing import Brings, Stores, route
from weirant.hydraulics.settling import hanging_together
from weirant.job.doubt import Doubt
from weirant.job.network import SQUARE, Basin
from weirant.job.rain import Storm
from weirant.job.water import SHEDS
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.routed import Along, RoutedPart, StormThrough
from weirant.outcome.site import RunOutcome
from weirant.outcome.standing import OPEN
from weirant.seepage.rain import Rain

Array = NDArray[np.float64]
HOURS = 72.0
Ground = Mapping[tuple[str, float], Hydrograph]  # by run and the station of what collects
USUAL_BOX = 0.3048  # m inside, of a box whose size is not said (cp)


def through_pipes(outcome: Outcome, storm: Storm, hours: float = HOURS, told: Told | None = None, known: Known | None = None,
                  plugged: Sequence[str] = (), ground: Ground | None = None) -> StormThrough | None:  # fmt: skip
    """Follow a storm for so many hours after it began, with exits that are ``plugged``. ``told`` is given the share done now and then and answers whether to go on; None where not.
    ``known`` keeps what the ground gave off from one asking to the next; where it is given as ``ground``, what hangs together with some that is not
    there is not followed.
    """
    known, rain, until = {} if known is None else known, rain_of(outcome.job, storm), hours * 3600.0
    given = drawn_on(outcome, plugged)

    def of_ground(number: int, stand: Stand) -> Hydrograph | None:
        if ground is None:
            return gives_off(outcome, stand, rain, until, _within(told, number, len(groups)), known)
        if (stand.found.id, stand.part.station) not in ground:
            raise InputError(stand.found.run.name, tr("what its ground gives off in the storm is not worked out"))
        return ground[stand.found.id, stand.part.station]

    parts, missing = [], dict[str, Doubt]()
    groups = hanging_together(given.network, list(given.total.sums.tops))
    for number, pieces in enumerate(groups):
        runs = list(dict.fromkeys(run for run, _ in pieces))
        doubt = next((doubt for piece in pieces for doubt in (given.total.sums.tops[piece].missing, given.total.sums.gained[piece].missing) if doubt), None)
        if doubt is None:
            try:
                found = _part(outcome, given, pieces, rain, until, partial(of_ground, number))
            except WeirantError as fault:
                doubt = Doubt("figures", runs[0], str(fault))
            else:
                if found is None:
                    return None
                parts.append(found)
        if doubt is not None:
            missing |= dict.fromkeys(runs, doubt)
    return StormThrough(storm, rain.times[-1], until, tuple(parts), missing)


def _within(told: Told | None, number: int, of: int) -> Told | None:
    return None if told is None else lambda share: told((number + share) / of)


def _part(outcome: Outcome, given: Undecided, pieces: Sequence[Piece], rain: Rain, until: float,
          of_ground: Callable[[Stand], Hydrograph | None]) -> RoutedPart | None:  # fmt: skip
    sketch = MeshSketch(given)
    for piece in pieces:
        sketch.draw(piece)
    mesh, brings = sketch.mesh(pieces), list[Brings]()
    for run in dict.fromkeys(run for run, _ in pieces):
        found = outcome.site.run(run)
        for part in found.water.parts if found is not None and found.water is not None else ():
            assert found is not None
            hydrograph = of_ground(Stand(found, part.of, part.of.station))
            if hydrograph is None:
                return None
            lengths = defaultdict[int, float](float)
            for reach in sketch.reaches:
                if reach.run.id == run:
                    above = part.of.above(np.array([reach.low, reach.high]))
                    for section in (reach.below, reach.above):
                        lengths[section] += float(above[0] - above[1]) / 2
            brings.append(_over(hydrograph, lengths))
            for section, length in lengths.items():
                mesh.inflow[section] += hydrograph.before * length
    brings += [_over(runs_off(rain, area, source.share, outcome.rules.sized_by), {sketch.numbers[source.node]: 1.0}) for source in outcome.job.sources
               if source.kind in SHEDS and source.node in sketch.numbers and (area := area_of(outcome.job, source, outcome.rules)) is not None]  # fmt: skip
    routed = route(mesh, _stores(outcome, sketch), brings, until)
    return RoutedPart(routed, _along(sketch), dict(sketch.numbers))


def _over(hydrograph: Hydrograph, into: Mapping[int, float]) -> Brings:
    """What comes over that before the storm."""
    return Brings(hydrograph.moments, hydrograph.volumes - hydrograph.before * hydrograph.moments, tuple((k, share) for k, share in into.items() if share > 0))


def _along(sketch: MeshSketch) -> dict[str, Along]:
    by_run = defaultdict[str, list[tuple[int, Reach]]](list)
    for number, reach in enumerate(sketch.reaches):
        by_run[reach.run.id].append((number, reach))
    found = {}
    for run, reaches in by_run.items():
        reaches.sort(key=lambda item: item[1].low)
        stations = [reaches[0][1].low, *(reach.high for _, reach in reaches)]
        sections = [reaches[0][1].below, *(reach.above for _, reach in reaches)]
        found[run] = Along(np.array(stations), np.array(sections, dtype=np.intp), np.array([number for number, _ in reaches], dtype=np.intp))
    return found


def _stores(outcome: Outcome, sketch: MeshSketch) -> Stores:
    """What the pipes, the stone round them and the boxes hold, and over which rims water comes out. Stone under the invert is taken for full; that of a
    trench with several runs belongs to the one whose trench it is.
    """
    count = len(sketch.low)
    pipes, pores, stone = (np.zeros(len(sketch.reaches)) for _ in range(3))
    plan, rim, edge = np.zeros(count), np.full(count, np.inf), np.zeros(count)
    for number, reach in enumerate(sketch.reaches):
        found = outcome.site.run(reach.run.id)
        pipes[number] = reach.run.run.pipes
        if found is None or found.grade is None or reach.stretch.is_solid:
            continue
        ground = np.interp([reach.low, reach.high], found.grade.stations, found.grade.ground)
        for section, level in zip((reach.below, reach.above), ground.tolist(), strict=True):
            rim[section] = min(rim[section], level)
            edge[section] += (reach.high - reach.low) / 2
        if not reach.run.run.trench_of:
            pores[number], stone[number] = _stone(found, reach)
    for node, number in sketch.numbers.items():
        of = next(n for joint in sketch.given.network.at_node[node] for n, _ in sketch.given.network.run(joint.run).nodes if n.id == node)
        if of.kind in OPEN:
            plan[number], around = _box(of.basin)
            comes_out = of.rim if of.rim is not None else outcome.site.node(of).ground
            if comes_out is not None and comes_out <= rim[number]:
                rim[number], edge[number] = comes_out, max(edge[number], around)
    rim = np.maximum(rim, np.array(sketch.low))
    return Stores(pipes, pores, stone, plan, rim, edge, np.full(count, -1, dtype=np.intp))


def _stone(found: RunOutcome, reach: Reach) -> tuple[float, float]:
    """The voids of the stone over the invert, m² in a metre of height and length, and how high over the invert it goes, m."""
    make, grade = reach.stretch.make, found.grade
    assert grade is not None
    middle = (reach.low + reach.high) / 2
    top = float(make.stone(np.array(grade.at(grade.cut, middle))))
    height = top - make.below
    if height <= 0:
        return 0.0, 0.0
    round_pipe = float(make.area(np.array(top)) - make.area(np.array(make.below))) - math.pi / 4 * make.pipe.outer_diameter**2 * reach.run.run.pipes
    return max(round_pipe, 0.0) * make.aggregate.voids / height, height


def _box(basin: Basin | None) -> tuple[float, float]:
    """Area m² inside a box and m round it."""
    size = basin.size if basin is not None and basin.size is not None else USUAL_BOX
    return (size * size, 4 * size) if basin is not None and basin.shape == SQUARE else (math.pi / 4 * size * size, math.pi * size)

