"""The cycles of a pump in its pit, start by start: of what comes in the course of a storm, the moments at which the floats start and stop it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weirant.records import dataclass

Array = NDArray[np.float64]
HOUR = 3600.0
MOST = 100_000  # starts that are followed


@dataclass(frozen=True, eq=False)
class PitCycles:
    """Moments s at which the pump started and stopped, both (c,), the last stop that of the end where it still runs, and the volume lifted, m³."""

    starts: Array
    stops: Array
    lifted: float

    @property
    def run_time(self) -> float:
        """For how long it ran in all, s."""
        return float((self.stops - self.starts).sum())

    @property
    def most_in_an_hour(self) -> int:
        """The most starts within any hour."""
        return int((np.searchsorted(self.starts, self.starts + HOUR, side="left") - np.arange(len(self.starts))).max(initial=0))


def pit_cycles(ends: Array, comes: Array, volume: float, lifts: float, idle: tuple[float, float] = (0.0, 0.0), full: float = 0.0) -> PitCycles:
    """The cycles of a pump that lifts so many m³/s, with so many m³ between its floats, for what comes in, m³/s, until each of ``ends`` s, both (n,).

    From ``full`` m³ over where it stops, off. Exact between the ends, in which what comes is steady; what comes faster than it lifts waits over the upper
    float. Between the times ``idle`` s it does not run. Source: balance of volume.
    """
    starts, stops, now, held, runs, lifted = list[float](), list[float](), 0.0, full, False, 0.0
    edges = np.unique(np.concatenate((ends, [moment for moment in idle if 0.0 < moment < ends[-1]]))) if len(ends) else ends
    rates = comes[np.searchsorted(ends, edges, side="left")] if len(ends) else comes
    for end, rate in zip(edges.tolist(), rates.tolist(), strict=True):
        may_run = not idle[0] <= now < idle[1]
        if runs and not may_run:
            stops.append(now)
            runs = False
        while now < end and len(starts) < MOST:
            if not runs and may_run and held >= volume:
                starts.append(now)
                runs = True
            gains = rate - lifts if runs else rate
            reaches = (0.0 if runs else volume) - held
            after = reaches / gains if gains != 0.0 and reaches / gains > 0.0 else np.inf
            step = min(after, end - now) if runs or may_run else end - now
            now, held = now + step, held + gains * step
            lifted += lifts * step if runs else 0.0
            if step == after and now < end:
                held = 0.0 if runs else volume
                if runs:
                    stops.append(now)
                    runs = False
        now = end
    if runs:
        stops.append(now)
    return PitCycles(np.array(starts), np.array(stops), lifted)
