"""A section through a storm to days after: what is kept of it, and what it says."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from weirant.seepage.flow import Flow, Means, State, Step, at_rest
from weirant.seepage.kernel.curves import contents
from weirant.seepage.mesh import Laid
from weirant.seepage.rain import Rain
from weirant.seepage.results import depth_to_water, table_depths

Array = NDArray[np.float64]
STARTS = 2e-8  # m²/s: less than a litre in half a day from a metre of drain does not count as running


@dataclass(frozen=True, eq=False)
class Frame:
    """The section at a time, s: pressure heads (n,) float32, m."""

    time: float
    head: NDArray[np.float32]


@dataclass(eq=False)
class Course:
    """A section through time, growing while it is simulated. ``began`` is the state before, ``frames`` some states on the way."""

    laid: Laid
    rain: Rain
    until: float
    began: Array
    steps: list[Step] = field(default_factory=list)
    frames: list[Frame] = field(default_factory=list)
    table: list[Array] = field(default_factory=list)
    to_water: list[Array] = field(default_factory=list)
    stored_before: float = 0.0
    stored_after: float = 0.0

    @property
    def times(self) -> Array:
        """Times of the states kept, s (frames,)."""
        return np.array([f.time for f in self.frames])

    @property
    def ends(self) -> Array:
        """Ends of the steps, s (steps,)."""
        return np.array([s.time for s in self.steps])

    @property
    def pipe(self) -> Array:
        """Flow into the pipe over each step, m²/s (steps,)."""
        return np.array([s.pipe for s in self.steps])

    def total(self, name: str) -> float:
        """Volume of one of the flows of ``Step`` over all the time, m² (per metre of drain)."""
        return float(sum(s.length * getattr(s, name) for s in self.steps))

    @property
    def balance_error(self) -> float:
        """What the balance lacks, as a share of what came in or went out, whichever is more (0 where nothing moved)."""
        came, went = self.total("taken_in") + self.total("ends_in"), self.total("pipe") + self.total("ends_out") + self.total("seeped_out")
        through = max(came, went, abs(self.stored_after - self.stored_before))
        return abs(came - went - (self.stored_after - self.stored_before)) / through if through > 1e-15 else 0.0

    @property
    def starts_at(self) -> float | None:
        """When the pipe's flow first rises clearly above what it carried before; 0 where it ran already; None: never."""
        flow = self.pipe
        if not len(flow) or flow.max() <= STARTS:
            return None
        before = self.steps[0].pipe
        running = np.nonzero(flow > STARTS)[0] if before <= STARTS else np.nonzero(flow > max(1.1 * before, STARTS))[0]
        return None if not len(running) else float(self.steps[running[0]].time - self.steps[running[0]].length)

    @property
    def peak(self) -> tuple[float, float]:
        """Largest flow into the pipe, m²/s, and when, s."""
        if not self.steps:
            return 0.0, 0.0
        at = int(np.argmax(self.pipe))
        return self.steps[at].pipe, self.steps[at].time

    def depth_at(self, x: float) -> Array:
        """Depth to water at a place across the drain, m, for every kept state (frames,)."""
        centres, rows = self.laid.x, np.array(self.to_water)
        right = min(max(int(np.searchsorted(centres, x)), 1), len(centres) - 1)
        share = min(max((x - centres[right - 1]) / (centres[right] - centres[right - 1]), 0.0), 1.0)
        return np.asarray((1 - share) * rows[:, right - 1] + share * rows[:, right])

    def dry_after(self, x: float, depth: float) -> float | None:
        """When water lastly falls below a depth, m, at a place, s; 0 where it was never above it; None: not within the time."""
        wet = np.nonzero(self.depth_at(x) < depth - 1e-9)[0]
        if not len(wet):
            return 0.0
        last = int(wet[-1])
        if last == len(self.frames) - 1:
            return None
        depths, times = self.depth_at(x), self.times
        gained = depths[last + 1] - depths[last]
        share = (depth - depths[last]) / gained if gained > 1e-12 else 1.0
        return float(times[last] + share * (times[last + 1] - times[last]))


def courses(laid: Laid, rain: Rain, until: float, state: State, means: Means | None = None, frames: int = 160) -> Iterator[Course]:
    """Simulate step by step; gives the growing course after every step, so that it can be shown or left at any time.

    until s; frames is about how many states are kept. Raises SolverError where the flow cannot be solved.
    """
    flow = Flow(laid, state, means)
    course = Course(laid, rain, until, state.head.copy(), stored_before=float(state.stored.sum()))
    _keep(course, state.head, 0.0)
    last = 0.0
    for step in flow.through(rain, until):
        course.steps.append(step)
        # early states change fast: keep them closer
        if step.time - last >= min(until / frames, 0.08 * step.time) or step.time >= until * (1 - 1e-12):
            _keep(course, flow.state.head, step.time)
            last = step.time
        if step.time >= until * (1 - 1e-12):
            course.stored_after = float((laid.mesh.volume * contents(flow.state.head, laid.mesh.material, laid.mesh.table)).sum())
        yield course


def _keep(course: Course, head: Array, time: float) -> None:
    course.frames.append(Frame(time, head.astype(np.float32)))
    course.table.append(table_depths(course.laid, head))
    course.to_water.append(depth_to_water(course.laid, head))


def simulate(laid: Laid, rain: Rain, until: float, state: State | None = None, start_table: float | None = None, means: Means | None = None,
             told: Callable[[float], bool] | None = None) -> Course:  # fmt: skip
    """The whole course at once. ``state`` or ``start_table`` (water at rest at a depth, m) is where it begins; ``told`` is given the
    share done and answers whether to go on.
    """
    begin = state.copy() if state is not None else at_rest(laid, laid.section.depth if start_table is None else start_table)
    course = None
    for course in courses(laid, rain, until, begin, means):
        if told is not None and not told(course.steps[-1].time / until):
            break
    assert course is not None
    return course
