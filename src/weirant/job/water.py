"""Where the water comes from."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.job.fields import choice, plain, quantity
from weirant.units import display as k

HILLSIDE, ONE_SIDE, BOTH_SIDES, PARALLEL = "hillside", "one side", "both sides", "parallel lines"
NO_ROOF, ROOF_APART, ROOF_IN_DRAIN = "none", "own solid pipe", "into the drain"


@dataclass(frozen=True)
class Situation:
    """Where the groundwater of a stretch comes from, how far off it is undisturbed (between parallel lines: their spacing), m, and the thing by
    its identity that the stretch keeps dry (empty: none).
    """

    source: str = choice("water comes from", HILLSIDE, ONE_SIDE, BOTH_SIDES, PARALLEL, default=HILLSIDE)
    reach: float = quantity("distance to undisturbed water table", k.DISTANCE, above=0, at_most=1000, default=15.24)
    place: str = plain("keeps dry", "")


@dataclass(frozen=True)
class Water:
    """Rain and seepage of the site. Rates in m/s, areas m², depths m, times s."""

    drainage_rate: float = quantity("wet-season seepage", k.RAIN_RATE, at_least=0, at_most=1e-5, default=3.6749e-8)
    storm_depth: float = quantity("storm depth", k.RAIN_DEPTH, at_least=0, at_most=1, default=0.0508)
    storm_duration: float = quantity("storm duration", k.DURATION, above=0, at_most=30 * 86400, default=21600.0)
    share_to_drain: float = quantity("share that soaks to the drain", k.SHARE, at_least=0, at_most=1, default=0.3)
    release_time: float = quantity(
        "time the ground gives it off", k.DURATION, above=0, at_most=60 * 86400, default=86400.0
    )
    roof_area: float = quantity("roof area", k.AREA, at_least=0, at_most=1e5, default=0.0)
    roof_goes: str = choice("roof water goes", NO_ROOF, ROOF_APART, ROOF_IN_DRAIN, default=NO_ROOF)
