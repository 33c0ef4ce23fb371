"""A section through a storm to days after: what is kept of it, and what it says."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from weirant.records import dataclass
from weirant.seepage.flow import Flow, FlowState, Means, TimeStep, at_rest
from weirant.seepage.mesh import Laid
from weirant.seepage.rain import Rain
from weirant.seepage.results import depth_to_water, pipe_flow, table_depths

Array = NDArray[np.float64]
RISES = 1.1  # times the flow before that count as a rise
NONE = np.zeros((0, 2))
STARTS = 2e-8  # m²/s: less than a litre in half a day from a metre of drain does not count as running


@dataclass(frozen=True, eq=False)
class Snapshot:
    """The section at a time, s: pressure heads (n,) float32, m; what is read off them is worked out when it is asked for."""

    laid: Laid
    time: float
    head: NDArray[np.float32]

    @cached_property
    def table(self) -> Array:
        """Depth of the water table in every column, m (columns,)."""
        return table_depths(self.laid, self.head.astype(float))

    def to_water(self, columns: slice) -> Array:
        """Depth to water in some columns, m."""
        return depth_to_water(self.laid, self.head.astype(float), columns)


@dataclass(eq=False)
class Course:
    """A section through time. ``frames`` are some states on the way; before it ``stored_before`` m² of water were in the cells and the pipe took
    ``pipe_before`` m²/s.

    It may be read while another thread makes it grow: every reading goes by one look at what is there.
    """

    laid: Laid
    rain: Rain
    until: float
    steps: list[TimeStep] = field(default_factory=list)
    frames: list[Snapshot] = field(default_factory=list)
    stored_before: float = 0.0
    pipe_before: float = 0.0
    _seen: dict[int, Array] = field(default_factory=dict, repr=False)

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

    @property
    def reached(self) -> float:
        """How far it has come, s."""
        return self.steps[-1].time if self.steps else 0.0

    @property
    def is_whole(self) -> bool:
        """Whether it went to its end, and was not left on the way."""
        return self.reached >= self.until * (1 - 1e-12)

    def total(self, name: str) -> float:
        """Volume of one of the flows of ``Step`` over all the time, m² (per metre of drain)."""
        return float(sum(s.length * getattr(s, name) for s in self.steps))

    @property
    def stored_after(self) -> float:
        """Water in the cells as far as it has come, m²."""
        return self.steps[-1].stored if self.steps else self.stored_before

    @property
    def balance_error(self) -> float:
        """What the balance lacks, as a share of what came in or went out, whichever is more (0 where nothing moved)."""
        steps = list(self.steps)
        came = sum(s.length * (s.taken_in + s.ends_in) for s in steps)
        went = sum(s.length * (s.pipe + s.ends_out + s.seeped_out + s.used) for s in steps)
        gained = (steps[-1].stored if steps else self.stored_before) - self.stored_before
        through = max(came, went, abs(gained))
        return abs(came - went - gained) / through if through > 1e-15 else 0.0

    @property
    def ran_before(self) -> bool:
        """Whether the pipe ran already before."""
        return self.pipe_before > STARTS

    @property
    def starts_at(self) -> float | None:
        """When the pipe's flow first rises clearly above what it carried before, s; None: never."""
        rising = np.nonzero(self.pipe > max(RISES * self.pipe_before, STARTS))[0]
        return None if not len(rising) else float(self.steps[rising[0]].time - self.steps[rising[0]].length)

    @property
    def peak(self) -> tuple[float, float]:
        """Largest flow into the pipe, m²/s, and when, s."""
        if not self.steps:
            return 0.0, 0.0
        at = int(np.argmax(self.pipe))
        return self.steps[at].pipe, self.steps[at].time

    def depth_at(self, x: float) -> Array:
        """Depth to water at a place across the drain, m, for every kept state (frames,)."""
        centres = self.laid.x
        right = min(max(int(np.searchsorted(centres, x)), 1), len(centres) - 1)
        share = min(max((x - centres[right - 1]) / (centres[right] - centres[right - 1]), 0.0), 1.0)
        seen = self._seen.get(right, NONE)
        frames = self.frames[len(seen) :]
        if frames:  # while it grows, and it is watched, only what is new is read
            seen = self._seen[right] = np.vstack((seen, [frame.to_water(slice(right - 1, right + 1)) for frame in frames]))
        return np.asarray((1 - share) * seen[:, 0] + share * seen[:, 1])

    def dry_after(self, x: float, depth: float) -> float | None:
        """When water lastly falls below a depth, m, at a place, s; 0 where it was never above it; None: not within the time."""
        depths, times = self.depth_at(x), self.times
        wet = np.nonzero(depths < depth - 1e-9)[0]
        if not len(wet):
            return 0.0
        last = int(wet[-1])
        if last == len(depths) - 1:
            return None
        gained = depths[last + 1] - depths[last]
        share = (depth - depths[last]) / gained if gained > 1e-12 else 1.0
        return float(times[last] + share * (times[last + 1] - times[last]))


def courses(laid: Laid, rain: Rain, until: float, state: FlowState, means: Means | None = None, frames: int = 160) -> Iterator[Course]:
    """Simulate step by step; gives the growing course after every step, so that it can be shown or left at any time.

    until s; frames is about how many states are kept. Raises SolverError where the flow cannot be solved.
    """
    flow = Flow(laid, state, means)
    course = Course(laid, rain, until, stored_before=float(state.stored.sum()), pipe_before=pipe_flow(laid, state.head))
    _keep(course, state.head, 0.0)
    last = 0.0
    for step in flow.through(rain, until):
        course.steps.append(step)
        # early states change fast: keep them closer
        if step.time - last >= min(until / frames, 0.08 * step.time) or course.is_whole:
            _keep(course, flow.state.head, step.time)
            last = step.time
        yield course


def _keep(course: Course, head: Array, time: float) -> None:
    course.frames.append(Snapshot(course.laid, time, head.astype(np.float32)))


def simulate(laid: Laid, rain: Rain, until: float, state: FlowState | None = None, start_table: float | None = None, means: Means | None = None,
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
