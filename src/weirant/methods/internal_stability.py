"""Whether the fine grains of a soil or a stone stay between its coarse ones by themselves."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.gradation import Gradation, read_gradation
from weirant.methods.registry import method
from weirant.units.dimension import LENGTH, NUMBER

NARROW, FILLS_WIDE, FILLS_NARROW = 3.0, 20.0, 30.0  # uniformity up to which a soil is narrow; percent up to which grains lie loose between others
STEPS = 200  # sizes looked at between the ends of what lies loose
WANTED = 1.0  # of H over F: Kenney and Lau 1986; their first paper asked 1.3


class InternalStability(NamedTuple):
    """The least H/F with the size m it is found at (Kenney and Lau), and d90/d60 with the bounds within which it is stable (Burenkova)."""

    least_ratio: float
    at_size: float
    spread: float
    spread_min: float
    spread_max: float


@method("internal-stability", keys={"gradation": read_gradation},
        results={"least_ratio": NUMBER, "at_size": LENGTH, "spread": NUMBER, "spread_min": NUMBER, "spread_max": NUMBER},
        formula="H/F ≥ 1 for F ≤ 20 % (30 % where C_u ≤ 3), H passing from D to 4D;  0.76 log₁₀(d90/d15) + 1 < d90/d60 < 1.86 log₁₀(d90/d15) + 1",
        sources="kenney_lau1985 burenkova1993", valid=tr("soils without plasticity, whose curve reaches from d90 to d15"))  # fmt: skip
def internal_stability(gradation: Gradation) -> InternalStability:
    """Whether fine grains can be washed out from between the coarse ones of the same soil, by two criteria that may differ.

    gradation must reach d90, d60 and d15. Unstable where the least ratio is under 1, or the spread d90/d60 is not between its bounds. Raises InputError where
    the curve does not reach. Sources: Kenney and Lau 1985, with the limit of their discussion of 1986; Burenkova 1993 (both recalled).
    """
    d90, d60, d15 = (gradation.need(percent) for percent in (90, 60, 15))
    reach = math.log10(d90 / d15)
    loose = FILLS_NARROW if (uniformity := gradation.uniformity) is not None and uniformity <= NARROW else FILLS_WIDE
    finest = gradation.sizes[-1]
    top = gradation.size_at(loose)
    if top is None or gradation.percents[-1] >= loose:
        raise InputError("gradation", tr("must reach {percent:g} % passing", percent=loose))
    worst, at = math.inf, top
    sizes = np.geomspace(finest, top, STEPS)
    sizes = sizes[4 * sizes <= (gradation.sizes[0] if gradation.percents[0] < 100 else math.inf)]  # beyond its coarse end nothing is known
    logs, percents = np.log(gradation.sizes[::-1]), gradation.percents[::-1]
    passing, four = (np.interp(np.log(times * sizes), logs, percents) for times in (1, 4))
    counts = passing > 1e-9
    if counts.any():
        ratios = (four[counts] - passing[counts]) / passing[counts]
        worst, at = float(ratios.min()), float(sizes[counts][ratios.argmin()])
    return InternalStability(worst if math.isfinite(worst) else 10.0, at, d90 / d60, 0.76 * reach + 1, 1.86 * reach + 1)


def is_stable(found: InternalStability) -> tuple[bool, bool]:
    """Whether a soil is stable by Kenney and Lau, and by Burenkova."""
    return found.least_ratio >= WANTED, found.spread_min < found.spread < found.spread_max
