"""Rain as a staircase of rates."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from weirant.errors import InputError
from weirant.language import tr
from weirant.records import dataclass


@dataclass(frozen=True)
class Rain:
    """Rates, m/s, each until the next time, s; the last rate goes on. times start at 0 and grow."""

    times: tuple[float, ...]
    rates: tuple[float, ...]

    def __post_init__(self) -> None:
        if len(self.times) != len(self.rates) or not self.times or self.times[0] != 0:
            raise InputError("rain", tr("needs as many times as rates, the first time being 0"))
        if any(b <= a for a, b in zip(self.times, self.times[1:], strict=False)):
            raise InputError("rain", tr("its times must grow"))
        if not np.all(np.isfinite(self.rates)) or min(self.rates) < 0:
            raise InputError("rain", tr("its rates must be numbers of 0 or more"))

    def rate(self, time: float) -> float:
        """Rate at a time."""
        return self.rates[max(0, int(np.searchsorted(self.times, time, side="right")) - 1)]

    def next_break(self, time: float) -> float:
        """The next time at which the rate changes; infinity after the last."""
        later = int(np.searchsorted(self.times, time * (1 + 1e-12) + 1e-9, side="right"))
        return self.times[later] if later < len(self.times) else float("inf")

    @property
    def depth(self) -> float:
        """Depth of rain until the last time, m."""
        return float(np.sum(np.diff(self.times) * np.array(self.rates[:-1])))

    def until(self, time: float) -> float:
        """Depth of rain up to a time, m."""
        edges = np.minimum(np.append(self.times, max(time, self.times[-1])), time)
        return float(np.sum(np.diff(edges) * np.array(self.rates)))


def steady_rain(rate: float) -> Rain:
    """The same rate for ever, m/s."""
    return Rain((0.0,), (rate,))


def staircase(depths: Sequence[float], step: float, after: float = 0.0) -> Rain:
    """Rain of depths, m, each in a step of so many seconds, then a rate ``after``."""
    count = len(depths)
    return Rain(tuple(i * step for i in range(count + 1)), (*(d / step for d in depths), after))
