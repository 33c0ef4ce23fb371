"""Stone or sand as a filter against soil, and stone against the openings of a pipe."""

from __future__ import annotations

from typing import NamedTuple

from weirant.language import tr
from weirant.methods.domain import positive
from weirant.methods.gradation import NO_4, NO_200, Gradation, read_gradation
from weirant.methods.registry import method
from weirant.units.dimension import LENGTH, NUMBER

# largest D90 for a smallest D10, both mm, against segregation: NEH 633 table 26-6
_SEGREGATION = ((0.5, 20.0), (1.0, 25.0), (2.0, 30.0), (5.0, 40.0), (10.0, 50.0), (50.0, 60.0))


class FilterLimits(NamedTuple):
    """Base-soil category, limits of the filter's D15 and the control points of its band, all sizes m."""

    category: int
    d15_min: float
    d15_max: float
    band_d15_min: float
    band_d15_max: float
    band_d60_min: float
    band_d60_max: float
    band_d5_min: float
    band_d90_max: float
    band_d100_max: float


class TerzaghiRatios(NamedTuple):
    """D15/d85 (holds the soil back) and D15/d15 (lets water through)."""

    retention_ratio: float
    permeability_ratio: float


@method("granular-filter-limits", keys={"gradation": read_gradation},
        results={"category": NUMBER} | dict.fromkeys(FilterLimits._fields[1:], LENGTH),
        formula="D15max: 9 d85 | 0.7 mm | ((40−A)/25)(4 d85 − 0.7) + 0.7 mm | 4 d85 by category;  "
                "D15min = 4 d15 ≥ 0.1 mm;  band width ≤ 5, C_u ≤ 6",
        sources="neh633_26", valid=tr("non-dispersive base soils; regraded on the No. 4 sieve where gravel is present"))  # fmt: skip
def granular_filter_limits(gradation: Gradation) -> FilterLimits:
    """Limits and design band of a granular filter for a base soil.

    gradation must reach 0.075 mm and d15 and d85. Category by fines after regrading on No. 4: 1 over 85 %, 2 from
    40 to 85 %, 3 from 15 to 39 %, 4 under 15 %. Category 4 takes d85 before regrading. Raises InputError where the
    curve does not reach. Source: USDA NRCS NEH Part 633 ch. 26 (1994), tables 26-2 to 26-6, steps 3 to 10
    (recalled from memory).
    """
    gradation.need_percent(NO_200)
    regraded = gradation.regraded_on(NO_4)
    fines = regraded.need_percent(NO_200)
    category = 1 if fines > 85 else 2 if fines >= 40 else 3 if fines >= 15 else 4
    d85 = (gradation if category == 4 else regraded).need(85)
    widest = _retention_limit(category, d85, fines)
    narrowest = max(4 * _d15(gradation), 0.1e-3)
    low = max(narrowest, widest / 5)
    return FilterLimits(category, narrowest, widest, low, widest, widest, widest / 1.2 * 6, 75e-6,
                        _largest_d90(low / 1.2), 75e-3)  # fmt: skip


def _d15(gradation: Gradation) -> float:
    """d15, or the finest size known where more than 15 % is finer: the limit then rests on its floor of 0.1 mm."""
    return gradation.size_at(15) or (gradation.sizes[-1] if gradation.percents[-1] > 15 and
                                     4 * gradation.sizes[-1] <= 0.1e-3 else gradation.need(15))  # fmt: skip


def _retention_limit(category: int, d85: float, fines: float) -> float:
    if category == 1:
        return max(9 * d85, 0.2e-3)
    if category == 2:
        return 0.7e-3
    if category == 3:
        return (40 - fines) / 25 * (max(4 * d85, 0.7e-3) - 0.7e-3) + 0.7e-3
    return 4 * d85


def _largest_d90(smallest_d10: float) -> float:
    for limit, d90 in _SEGREGATION:
        if smallest_d10 * 1e3 < limit:
            return d90 * 1e-3
    return 60e-3


@method("terzaghi-filter", keys={"filter_d15": LENGTH, "soil_d15": LENGTH, "soil_d85": LENGTH},
        results={"retention_ratio": NUMBER, "permeability_ratio": NUMBER},
        formula="retention D15/d85 ≤ 4 to 5;  permeability D15/d15 ≥ 4 to 5", sources="terzaghi_peck",
        valid=tr("uniform soils without much clay or gravel; not for gap-graded or dispersive soils"))  # fmt: skip
def terzaghi_filter(filter_d15: float, soil_d15: float, soil_d85: float) -> TerzaghiRatios:
    """The two classic ratios of stone against the soil beside it.

    sizes m (> 0); the stone's D15 with the soil's d15 and d85. Source: Terzaghi and Peck 1948, §11.
    """
    positive(filter_d15=filter_d15, soil_d15=soil_d15, soil_d85=soil_d85)
    return TerzaghiRatios(filter_d15 / soil_d85, filter_d15 / soil_d15)


@method("stone-perforation", keys={"stone_d85": LENGTH, "opening": LENGTH}, results={"ratio": NUMBER},
        formula="ratio = D85 / opening;  ≥ 1.2 slots, ≥ 1.0 holes", sources="usace_2300",
        valid=tr("washed stone without fines, placed round the pipe without segregation"))  # fmt: skip
def stone_perforation(stone_d85: float, opening: float) -> float:
    """Size of the stone against the width of a slot or the diameter of a hole.

    sizes m (> 0). Source: USACE EM 1110-2-2300 filter appendix: D85 over slot width at least 1.2, over hole diameter
    at least 1.0; USBR asks 2 of the largest opening.
    """
    positive(stone_d85=stone_d85, opening=opening)
    return stone_d85 / opening
