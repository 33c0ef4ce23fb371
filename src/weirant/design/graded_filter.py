"""Stone and sand of the library, and blends of two of them, that hold a soil back and let its water through as a graded filter should."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from weirant.library import Aggregate, Library
from weirant.methods.gradation import Gradation
from weirant.methods.granular_filter import FilterLimits, granular_filter_limits
from weirant.records import dataclass

Array = NDArray[np.float64]
SHARES = tuple(round(0.1 * i, 1) for i in range(1, 10))  # of a blend: no loader measures finer
SIZES = np.geomspace(0.05e-3, 100e-3, 120)  # m at which curves are told
FINES, MOST_FINES = 75e-6, 5.0  # percent that may pass No. 200: NEH 633 ch. 26, step 8 (recalled)


@dataclass(frozen=True)
class GradedFilter:
    """One or two of the library's, the share of the first, and by how much it keeps within what is asked: the least of its margins as factors of size (over 1
    fits); D15 m of its fine and of its coarse side.
    """

    parts: tuple[Aggregate, ...]
    share: float
    margin: float
    d15: tuple[float, float]

    @property
    def fits(self) -> bool:
        """Whether every stone within its band keeps to all that is asked."""
        return self.margin >= 1


def graded_filters(soil: Gradation, library: Library, most: int = 8) -> list[GradedFilter]:
    """What fits a soil best, first those that need no blending, then blends that keep a better margin; at most so many. Nothing fits where the first of them does not.

    Raises InputError where the soil's curve does not tell its limits. Source of what is asked: USDA NRCS NEH Part 633 ch. 26 (recalled): D15 from four times d15 to the
    retention limit, no more than 5 % fines, D90 against segregation, D100 of 3 in.
    """
    limits = granular_filter_limits(soil)
    curves = {stone.key: (_curve(stone.fine_side), _curve(stone.coarse_side)) for stone in library.aggregates.values() if stone.washed}
    pairs = [(one, other, share) for one, other in combinations(curves, 2) for share in SHARES]
    kinds = [((library.aggregates[key],), 1.0) for key in curves] + [((library.aggregates[one], library.aggregates[other]), share) for one, other, share in pairs]
    fine, coarse = (_all(curves, pairs, side) for side in (0, 1))
    all_of_them = [GradedFilter(parts, share, margin, d15) for (parts, share), margin, d15 in zip(kinds, *_judged(fine, coarse, limits), strict=True)]
    single, blends = all_of_them[: len(curves)], all_of_them[len(curves) :]
    alone, mixed = _best(single), _best(_one_of_each(blends))
    mixed = [found for found in mixed if found.margin > alone[0].margin]  # what is worth the mixing
    fitting = [found for found in (*alone, *mixed) if found.fits]
    return (fitting or _best([*alone, *mixed]))[:most]


def _best(found: Iterable[GradedFilter]) -> list[GradedFilter]:
    return sorted(found, key=lambda f: -f.margin)


def _one_of_each(blends: list[GradedFilter]) -> list[GradedFilter]:
    """Of each pair the share that fits best."""
    best: dict[tuple[str, ...], GradedFilter] = {}
    for found in blends:
        key = tuple(part.key for part in found.parts)
        if key not in best or found.margin > best[key].margin:
            best[key] = found
    return list(best.values())


def _curve(side: Gradation) -> Array:
    """Percent finer at SIZES; under the finest sieve as the last two sieves go on, no less than nought."""
    sizes, percents = np.log(np.array(side.sizes[::-1])), np.array(side.percents[::-1])
    if len(sizes) > 1 and percents[0] > 0:
        slope = (percents[1] - percents[0]) / (sizes[1] - sizes[0])
        down = max(slope, 1e-3)
        sizes, percents = np.concatenate([[sizes[0] - percents[0] / down], sizes]), np.concatenate([[0.0], percents])
    found: Array = np.interp(np.log(SIZES), sizes, percents)
    return found


def _all(curves: dict[str, tuple[Array, Array]], pairs: list[tuple[str, str, float]], side: int) -> Array:
    """The fine (0) or coarse (1) sides of all stones, and of all blends of two with the share of the first, (kinds, sizes)."""
    rows = {key: row for row, key in enumerate(curves)}
    alone = np.array([of[side] for of in curves.values()]).reshape(len(curves), len(SIZES))
    first, second = [rows[one] for one, _, _ in pairs], [rows[other] for _, other, _ in pairs]
    shares = np.array([share for _, _, share in pairs])[:, None]
    return np.concatenate([alone, shares * alone[first] + (1 - shares) * alone[second]]) if pairs else alone


def _sizes_at(curves: Array, percent: float) -> Array:
    """The size m of each curve at a percent finer, (kinds,)."""
    rises = np.maximum.accumulate(curves, axis=1) + np.arange(curves.shape[1]) * 1e-9
    above = np.clip((rises < percent).sum(axis=1), 1, curves.shape[1] - 1)
    row, log = np.arange(len(curves)), np.log(SIZES)
    low, high = rises[row, above - 1], rises[row, above]
    along = np.clip((percent - low) / (high - low), 0.0, 1.0)
    found: Array = np.exp(log[above - 1] + along * (log[above] - log[above - 1]))
    return found


def _judged(fine: Array, coarse: Array, limits: FilterLimits) -> tuple[list[float], list[tuple[float, float]]]:
    """The least margin of each kind, and its D15 on both sides."""
    finest, coarsest = _sizes_at(fine, 15), _sizes_at(coarse, 15)
    at = int(np.searchsorted(SIZES, FINES))
    along = np.log(FINES / SIZES[at - 1]) / np.log(SIZES[at] / SIZES[at - 1])
    fines = fine[:, at - 1] + along * (fine[:, at] - fine[:, at - 1])
    margins = np.min([limits.d15_max / coarsest, finest / limits.d15_min, limits.band_d90_max / _sizes_at(coarse, 90), limits.band_d100_max / _sizes_at(coarse, 99.9),
                      MOST_FINES / np.maximum(fines, 1e-3)], axis=0)  # fmt: skip
    return margins.tolist(), list(zip(finest.tolist(), coarsest.tolist(), strict=True))
