"""One six or two fours: what other sizes and numbers of pipe would do for a run at its own fall and flow, with the trench they want and what they hold."""

from __future__ import annotations

import dataclasses
import math

import numpy as np

from weirant.errors import InputError
from weirant.ground.inverts import least_slope
from weirant.hydraulics.pipes_along import full_conveyance
from weirant.job import Job
from weirant.job.geometry import run_of
from weirant.job.products import OWN
from weirant.job.run_edits import with_pipe, with_run
from weirant.language import tr
from weirant.library import Pipe
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.records import dataclass
from weirant.units.display import System

MOST_PIPES = 3
ALIKE = 0.6, 1.7  # times what its own carry, between which others are set beside them
MOST_ALIKE, MOST_ENOUGH = 11, 4
METRIC = "DN"  # how names of sizes in millimetres begin


@dataclass(frozen=True)
class PipeOption:
    """So many of a pipe side by side: what they carry full at the flattest of the run, m³/s; what flows of that as a share; how many times what the run's own
    pipes carry; how many of them carry as much as those; the trench width m they want; the stone round them m³ and the water that pipe and stone hold m³, along
    what the run collects (of a solid run along all of it, without stone).
    """

    pipe: Pipe
    count: int
    capacity: float
    share: float
    times: float
    equals: float
    width: float
    stone: float
    holds: float
    is_own: bool


def pipe_choices(outcome: Outcome, found: RunOutcome) -> tuple[PipeOption, ...]:
    """The run as it is first; then one to three of each pipe that carry about as much, and the smallest that carry the flow, the least stone first. Sizes in inches
    where the job is in feet, else in millimetres; pipes with openings where the run collects.

    Raises InputError where the run lies level, where what it carries hangs on the levels at its ends.
    """
    slope = least_slope(found.run)[0]
    if slope <= 0:
        raise InputError(found.run.name, tr("lies level somewhere: what a pipe carries there hangs on the water at its ends, and not on its size alone"))
    stretch, flow = found.collecting, _most(found)
    own = _choice(outcome, found, stretch.make.pipe, found.run.run.pipes, slope, flow, None)
    all_of = [_choice(outcome, found, pipe, count, slope, flow, own) for pipe in _candidates(outcome, found) for count in range(1, MOST_PIPES + 1)
              if (pipe.key, count) != (own.pipe.key, own.count)]  # fmt: skip
    alike = sorted((c for c in all_of if ALIKE[0] <= c.times <= ALIKE[1]), key=lambda c: abs(math.log(c.times)))[:MOST_ALIKE]
    enough = sorted((c for c in all_of if c.share <= outcome.job.limits.fullest and c not in alike), key=_small)[:MOST_ENOUGH]
    return (dataclasses.replace(own, is_own=True), *sorted((*alike, *enough), key=_small))


def _small(choice: PipeOption) -> tuple[float, float, int, float]:
    return round(choice.stone, 6), round(choice.width, 6), choice.count, choice.pipe.inner_diameter


def _candidates(outcome: Outcome, found: RunOutcome) -> list[Pipe]:
    """Pipes in the sizes of the job's units and its own, each bore once where openings do not matter."""
    collects, is_imperial = not found.collecting.is_solid, outcome.job.units == System.IMPERIAL
    kept: dict[object, Pipe] = {}
    for pipe in outcome.library.pipes.values():
        if pipe.name.startswith(METRIC) != is_imperial or pipe.key.startswith(OWN):
            if collects and pipe.open_area_per_length > 0:
                kept[pipe.key] = pipe
            elif not collects:
                kept.setdefault((pipe.inner_diameter, pipe.roughness_n), pipe)
    return list(kept.values())


def _most(found: RunOutcome) -> float:
    """The most that flows in the run, as its size is judged, m³/s."""
    flows = [flow.discharge for flow in (found.flow_high, found.storm if found.storm is not None and found.storm.is_simulated else None) if flow is not None]
    return max((float(np.abs(flow).max()) for flow in flows), default=0.0)


def _choice(outcome: Outcome, found: RunOutcome, pipe: Pipe, count: int, slope: float, flow: float, own: PipeOption | None) -> PipeOption:
    section, stretch, rules = found.collecting.make.section, found.collecting, outcome.rules
    one = full_conveyance(pipe) * math.sqrt(slope)
    capacity = count * one
    width = max(count * pipe.outer_diameter + (count + 1) * rules.side_room, 0.0)
    length = found.run.collecting_length if not stretch.is_solid else found.run.length
    outside, inside = count * math.pi / 4 * pipe.outer_diameter**2, count * math.pi / 4 * pipe.inner_diameter**2
    stone = 0.0 if stretch.is_solid or not section.has_stone else max(width * (section.bedding + pipe.outer_diameter + section.stone_cover) - outside, 0.0)
    return PipeOption(pipe, count, capacity, flow / capacity, 1.0 if own is None else capacity / own.capacity, 1.0 if own is None else own.capacity / one, width, stone * length,
                      (inside + stone * found.collecting.make.aggregate.voids) * length, False)  # fmt: skip


def with_choice(job: Job, run: str, key: str, count: int) -> Job:
    """The job with so many of a pipe in a run."""
    return with_run(with_pipe(job, run, key), dataclasses.replace(run_of(with_pipe(job, run, key), run), pipes=count))
