"""Whether the machines of a way to dig fit the job: its gate, its ground, and the depth and width of its trenches."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator

import numpy as np

from weirant.job.network import PLANNED
from weirant.job.work_terms import PLOUGH
from weirant.library.machines import Machine, machines
from weirant.library.rates import rates
from weirant.outcome.amounts import PLOUGHED
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass

GATE, DEEP, STEEP, NARROW, PASSES, LEANS = "gate", "deep", "steep", "narrow", "passes", "leans"
SPAN = 2.0  # m of ground that a machine stands on


@dataclass(frozen=True)
class Fit:
    """What is said of a machine at a run (empty: at the gate): of what kind, its figure against that of the machine (m, or m/m), and in how many passes."""

    machine: Machine
    kind: str
    run: str
    value: float
    limit: float
    passes: int = 1

    @property
    def is_trouble(self) -> bool:
        """Whether the machine cannot do it."""
        return self.kind in (GATE, DEEP, STEEP)


def machine_fits(outcome: Outcome, method: str, gate: float | None = None) -> tuple[Fit, ...]:
    """What does not fit, and where the trench asks for several passes or gets wider than drawn; ``gate`` is the narrowest place m on the way in, where it is known."""
    used = {rate.machine for rate in rates() if rate.machine and rate.method == method}
    told: list[Fit] = []
    for machine in (machine for key, machine in machines().items() if key in used):
        works = [found for found in outcome.site.runs if found.grade is not None and found.run.run.status == PLANNED and not found.run.run.trench_of]
        if machine.key == PLOUGH:
            works = [found for found in works if found.amounts.all_of(PLOUGHED)]
        elif method == PLOUGH:
            works = [found for found in works if found.amounts.dug > 0]
        if not works:
            continue
        if gate is not None and gate < machine.gate:
            told.append(Fit(machine, GATE, "", gate, machine.gate))
        for found in works:
            told += _at(machine, found, outcome.site.in_trench_of(found.id))
    return tuple(told)


def _at(machine: Machine, found: RunOutcome, guests: Iterable[RunOutcome]) -> Iterator[Fit]:
    grade = found.grade
    assert grade is not None
    steep = _steepest(grade.stations, grade.ground)
    if steep > machine.slope:
        yield Fit(machine, STEEP, found.id, steep, machine.slope)
    deep = max([float(grade.cut.max()), *(float(guest.grade.cut.max()) for guest in guests if guest.grade is not None)])
    if machine.deep and deep > machine.deep:
        yield Fit(machine, DEEP, found.id, deep, machine.deep)
    if not machine.widths:
        return
    wide = max(float(np.max(stretch.make.edge(grade.cut[stretch.holds(grade.stations)]), initial=0.0)) - stretch.make.section.width / 2 for stretch in found.stretches)
    if machine.is_upright and wide > 0:
        yield Fit(machine, LEANS, found.id, wide, 0.0)
    widths = [stretch.make.section.width for stretch in found.stretches]
    if min(widths) < machine.widths[0] - 1e-3:
        yield Fit(machine, NARROW, found.id, min(widths), machine.widths[0])
    passes = math.ceil(max(widths) / machine.widths[-1] - 1e-2)
    if passes > 1:
        yield Fit(machine, PASSES, found.id, max(widths), machine.widths[-1], passes)


def _steepest(stations: np.ndarray, ground: np.ndarray) -> float:
    """The steepest that the ground falls or rises along a run, over the length that a machine stands on."""
    length = float(stations[-1] - stations[0])
    if length <= 0:
        return 0.0
    at = np.linspace(stations[0], stations[-1], max(math.ceil(length / SPAN), 1) + 1)
    return float(np.max(np.abs(np.diff(np.interp(at, stations, ground)) / np.diff(at))))
