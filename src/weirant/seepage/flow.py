"""The state of a section and its way through time."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from weirant.errors import SolverError
from weirant.language import tr
from weirant.records import dataclass
from weirant.seepage.kernel.curves import contents, not_too_dry
from weirant.seepage.kernel.step import newton_step
from weirant.seepage.mesh import Laid
from weirant.seepage.rain import Rain

Array = NDArray[np.float64]
GROWTH, EASY, HARD, MOST, SHRINK, SLOWER = 1.6, 5, 9, 14, 1 / 3, 0.75
TOLERANCE = 1e-4  # share of a cell's volume that Newton may leave over in a step; it is carried into the next
CLOSE = 1e-9  # the same for a step that lands on a break or the end, where nothing is carried on
SHORTEST = 1e-4  # s
RUN_ON, SAME = 4, 0.005  # times that a step is taken until what runs on to open stone is the same, to a share of it
TRIES, TRIES_PER_STEP = 2000, 4  # steps tried before it is given up, and as many more for each hour and each change of the rain
PATIENT = 20  # turns allowed to a step towards the steady state, which is long and worth them
LIGHT, LEAP = 4, 1000.0  # turns up to which the next of these steps may be so many times as long
ROOTED = 0.5  # m down to which plants take water, less the deeper (cp)
THIRSTY, WILTED = -4.0, -10.0  # m of pressure head from which on they take less, and none; Feddes 1978 (recalled)
FARTHEST, CAREFUL = 2.0, 0.2  # times the last step, and m, as which a cell is taken to go on at the most
RAINING = 0.5  # times the share to follow while it rains, so that the most that comes is told
STEADY = 1e12  # s: a step so long that nothing is stored
NOTHING = 5e-12  # m²/s: what a section without inflow may still lose in such a step


@dataclass
class FlowState:
    """Pressure heads (n,) m and water in the cells (n,) m², water standing on the surface (columns,) m, and what ran over the
    ground to open stone in the last step, m²/s. One per simulation, changed in place.
    """

    head: Array
    stored: Array
    pond: Array
    overland: float = 0.0

    def copy(self) -> FlowState:
        """The same state apart."""
        return FlowState(self.head.copy(), self.stored.copy(), self.pond.copy(), self.overland)


@dataclass(frozen=True)
class TimeStep:
    """One accepted step: its end and length, s, and the flows in it, m²/s: rain on the ground, what went in at the surface and
    what of it on open stone, what came out there, what ran off, what the pipe took, what came in at the ends and went out there;
    ``stored`` is the water in the cells at its end, m², by the soils' curves; ``used`` is what plants and air took.
    """

    time: float
    length: float
    rain: float
    taken_in: float
    on_stone: float
    seeped_out: float
    ran_off: float
    pipe: float
    ends_in: float
    ends_out: float
    stored: float
    turns: int
    used: float = 0.0


@dataclass(frozen=True)
class Means:
    """How a simulation is run: longest step s, water that may stand on the ground m, whether what runs off above the trench reaches it;
    steps need not be shorter than ``finest`` s, nor than the share ``follow`` of the time since a break, only to follow the course; after the last
    break of the rain plants and air use as much as ``drying`` m/s, as far as there is water for them.
    """

    longest: float = 7200.0
    pond: float = 0.003
    run_on: bool = True
    finest: float = 900.0
    follow: float = 0.1
    drying: float = 0.0


BRISK = Means(longest=7200.0, finest=1800.0, follow=0.2)  # for samples by the dozen


def at_rest(laid: Laid, table: float | Array) -> FlowState:
    """Water at rest over a water table at a depth, m, along the whole section, or in each column (columns,); no drier than 10 m of suction."""
    depth = np.broadcast_to(laid.depth, laid.media.shape)
    head = np.maximum((depth - np.reshape(table, (-1, 1))) * math.cos(math.atan(laid.section.slope)), -10.0)
    return state_of(laid, head.ravel())


def state_of(laid: Laid, head: Array) -> FlowState:
    """The state of given pressure heads (n,), m; heads too dry for the curves are raised."""
    head = np.array(head, dtype=float)
    not_too_dry(head, laid.mesh.material, laid.mesh.table)
    return FlowState(head, laid.mesh.volume * contents(head, laid.mesh.material, laid.mesh.table), np.zeros(laid.mesh.columns))


def carried_over(old: Laid, head: Array, new: Laid) -> FlowState:
    """The state on another grid of nearly the same section: the nearest cell's, at rest between the two depths."""
    column = np.abs(new.x[:, None] - old.x[None, :]).argmin(axis=1)
    row = np.abs(new.depth[:, None] - old.depth[None, :]).argmin(axis=1)
    near = head.reshape(old.media.shape)[np.ix_(column, row)]
    return state_of(new, (near + (new.depth - old.depth[row])[None, :]).ravel())


class Flow:
    """Takes a state through time. ``dt`` is the length of the next step to try, s."""

    def __init__(self, laid: Laid, state: FlowState, means: Means | None = None) -> None:
        self.laid, self.state, self.means = laid, state, means or Means()
        mesh = laid.mesh
        self.time, self.dt, self.turns, self.refused, self.tries = 0.0, 30.0, 0, 0, 0
        self.top, self.pipe = np.zeros(mesh.columns), np.zeros(len(mesh.sink_cell))
        self.ends, self.runs = np.zeros(len(mesh.head_cell)), np.zeros(len(mesh.run_cell))
        self._above = (laid.x < 0) & (mesh.top > 0) & ~laid.on_stone
        stone = laid.rain_width * laid.on_stone
        self._last: tuple[Array, float, float] | None = None  # heads before the last step, its length and rain
        self._roots = _roots(laid)
        self._runs_on = self.means.run_on and float(stone.sum()) > 0
        self._on_stone = stone / stone.sum() if self._runs_on else np.zeros_like(stone)

    def try_step(self, dt: float, rate: float, tolerance: float = TOLERANCE, most: int = MOST, drying: float = 0.0) -> TimeStep | None:
        """One step of a length, s, under a rain rate, m/s, while plants and air use as much as ``drying`` m/s; None where Newton did not close and
        nothing has changed.
        """
        state, mesh, laid = self.state, self.laid.mesh, self.laid
        self.tries += 1
        falls, head, turns = laid.rain_width * (rate + state.pond / dt), self._guess(dt, rate), 0
        used = drying * self._roots * np.clip((state.head - WILTED) / (THIRSTY - WILTED), 0.0, 1.0) if drying > 0 else None
        comes = state.overland  # what runs on to the stone in this step: as much as in the last, until it is as much as it is
        for _ in range(RUN_ON):
            stored = state.stored.copy() if used is None else state.stored - dt * used
            supply = falls + comes * self._on_stone
            more, _, held = newton_step(mesh, head, stored, dt, supply, state.pond, tolerance, most, self.top, self.pipe, self.ends, self.runs)
            turns += abs(more)
            if more < 0 or not np.all(np.isfinite(head)):
                self.refused += 1
                self._last = None
                return None
            left = np.maximum(supply - self.top, 0.0) * dt  # m² per column that did not go in, with what came out
            keep = np.minimum(left, self.means.pond * laid.rain_width * ~laid.on_stone)
            over = left - keep
            runs_on = float(over[self._above].sum()) / dt if self._runs_on else 0.0
            if abs(runs_on - comes) <= SAME * max(runs_on, comes):
                break
            comes = runs_on
        self.turns += turns
        came = float((supply - falls).sum())
        self._last = (state.head, dt, rate)
        state.head, state.stored, state.overland = head, stored, runs_on
        state.pond = np.divide(keep, laid.rain_width, out=np.zeros_like(keep), where=laid.rain_width > 0)
        self.time += dt
        return TimeStep(self.time, dt, float(laid.rain_width.sum()) * rate, float(np.maximum(self.top, 0).sum()), float(np.maximum(self.top, 0)[laid.on_stone].sum()),
                    float(-np.minimum(self.top, 0).sum()), float(over.sum()) / dt - came, float(self.pipe.sum()), float(np.maximum(self.ends, 0).sum()),
                    float(-np.minimum(self.ends, 0).sum() + self.runs.sum()), held, turns, 0.0 if used is None else float(used.sum()))  # fmt: skip

    def _guess(self, dt: float, rate: float) -> Array:
        """Where the heads are looked for first: where they go on to as in the last step, while it rains as it did; that saves a turn in six."""
        head = self.state.head
        if self._last is None or self._last[2] != rate:
            return head.copy()
        before, length, _ = self._last
        move = (head - before) * min(dt / length, FARTHEST)
        return np.asarray(head + np.where(np.abs(move) < CAREFUL, move, 0.0))

    def through(self, rain: Rain, until: float) -> Iterator[TimeStep]:
        """Steps up to a time, s, landing on the breaks of the rain.

        Raises SolverError where no step is short enough, or where it takes far more of them than any storm should: it says how far it came.
        """
        since = self.time
        allowed = self.tries + TRIES + TRIES_PER_STEP * (len(rain.times) + math.ceil(until / self.means.longest))
        while self.time < until * (1 - 1e-12):
            target = min(rain.next_break(self.time), until)
            left = target - self.time
            # near a break things change fast, and when the drain starts is to be told to the quarter of an hour
            follow = self.means.follow * (RAINING if self.time < rain.times[-1] else 1.0)
            dt = min(self.dt, self.means.longest, max(self.means.finest, follow * (self.time - since)))
            dt = left if dt >= left * 0.999 else min(dt, left / 2) if dt > left / 2 else dt
            if self.tries >= allowed:
                raise SolverError(tr("the flow in the section came to {time:.2f} h of {until:.1f} h in {allowed:,} steps, and", time=self.time / 3600,
                                     until=until / 3600, allowed=allowed), self.dt)
            drying = self.means.drying if self.time >= rain.times[-1] else 0.0
            step = self.try_step(dt, rain.rate(self.time), TOLERANCE if dt < left else CLOSE, drying=drying)
            if step is None:
                self.dt = dt * SHRINK
                if self.dt < SHORTEST:
                    raise SolverError(tr("the flow in the section at {time:.2f} h", time=self.time / 3600), self.dt)
                continue
            if dt == left:
                self.time = since = target
                self.dt = max(self.dt, dt) if step.turns <= HARD else dt
                if target < until:
                    self.dt = min(self.dt, max(1.0, 0.05 * (min(rain.next_break(target), until) - target)))
            self.dt *= GROWTH if step.turns <= EASY else SLOWER if step.turns > HARD else 1.0
            yield step


def _roots(laid: Laid) -> Array:
    """Width m, as a share of each cell (n,), from which plants and air take water: most near the ground, none under what is covered or of stone."""
    rows = np.maximum(1 - laid.depth / ROOTED, 0.0) * np.diff(laid.grid.depth)
    open_width, shares = np.where(laid.on_stone, 0.0, laid.rain_width), np.where(laid.solid, 0.0, rows[None, :])
    whole = shares.sum(axis=1, keepdims=True)
    return np.asarray((open_width[:, None] * np.divide(shares, whole, out=np.zeros_like(shares), where=whole > 0)).ravel())


def settle(laid: Laid, state: FlowState, rate: float, means: Means | None = None, first: float = 3600.0) -> TimeStep:
    """Go to the steady state under a rain rate, m/s, by ever longer steps, in place; gives the last step.

    Raises SolverError where it does not come to rest. ``first`` is the first step, s: long where the state is nearly steady.
    """
    means = means or Means()
    flow = Flow(laid, state, Means(STEADY, 0.0, means.run_on))
    dt, growth, leap, done = first, 6.0, LEAP, 0.0
    for _ in range(200):
        step = flow.try_step(dt, rate, most=PATIENT)
        if step is None:
            dt, growth, leap = min(3.0 * done, dt / 5) if done else dt / 5, 3.0, 6.0  # after a leap back to where it held
            if dt < SHORTEST:
                break
            continue
        through = step.taken_in + step.ends_in
        out = step.pipe + step.ends_out + step.seeped_out
        if dt >= STEADY and abs(through - out) <= 1e-6 * max(through, out) + NOTHING:
            state.overland = 0.0  # what ran over the ground in so long a step is no water that stands there now
            state.stored = laid.mesh.volume * contents(state.head, laid.mesh.material, laid.mesh.table)  # nothing is left over from it
            return step
        done = dt
        dt = min(dt * (leap if step.turns <= LIGHT else growth if step.turns <= EASY else 3.0 if step.turns <= HARD else 1.0), STEADY)
    raise SolverError(tr("the steady flow in the section"), dt)
