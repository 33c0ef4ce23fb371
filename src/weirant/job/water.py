"""Where the water comes from, and what is to be kept dry."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.job.fields import choice, plain, quantity
from weirant.units import display as k

HILLSIDE, ONE_SIDE, BOTH_SIDES, PARALLEL = "hillside", "one side", "both sides", "parallel lines"
NO_ROOF, ROOF_APART, ROOF_IN_DRAIN = "none", "own solid pipe", "into the drain"


@dataclass(frozen=True)
class Water:
    """Sources of water. Rates in m/s, areas m², depths m, times s."""

    source: str = choice("water comes from", HILLSIDE, ONE_SIDE, BOTH_SIDES, PARALLEL, default=HILLSIDE)
    reach: float = quantity("distance to undisturbed water table", k.DISTANCE, above=0, at_most=1000, default=15.24)
    drainage_rate: float = quantity("wet-season seepage", k.RAIN_RATE, at_least=0, at_most=1e-5, default=3.6749e-8)
    contributing_area: float = quantity("contributing area", k.AREA, at_least=0, at_most=1e6, default=0.0)
    storm_depth: float = quantity("storm depth", k.RAIN_DEPTH, at_least=0, at_most=1, default=0.0508)
    storm_duration: float = quantity("storm duration", k.DURATION, above=0, at_most=30 * 86400, default=21600.0)
    share_to_drain: float = quantity("share that soaks to the drain", k.SHARE, at_least=0, at_most=1, default=0.3)
    release_time: float = quantity(
        "time the ground gives it off", k.DURATION, above=0, at_most=60 * 86400, default=86400.0
    )
    roof_area: float = quantity("roof area", k.AREA, at_least=0, at_most=1e5, default=0.0)
    roof_goes: str = choice("roof water goes", NO_ROOF, ROOF_APART, ROOF_IN_DRAIN, default=NO_ROOF)


@dataclass(frozen=True)
class Protected:
    """The place to be kept dry, beside the run of an identity: stations of that run, distances m from its centre line."""

    kind: str = choice("what is protected", "slab edge", "footing", "lawn", "wall", default="slab edge")
    name: str = plain("name of the place", "the wet place")
    distance: float = quantity("distance from the drain", k.DISTANCE, above=0, at_most=500, default=3.048)
    dry_depth: float = quantity("depth to be dry", k.DEPTH, above=0, at_most=10, default=0.4572)
    footing_depth: float | None = quantity("footing depth", k.DEPTH, at_least=0, at_most=10, default=None)
    from_station: float = quantity("from station", k.STATION, at_least=-1e4, at_most=1e4, default=0.0)
    to_station: float = quantity("to station", k.STATION, at_least=-1e4, at_most=1e4, default=0.0)
    width: float = quantity("size across", k.DISTANCE, above=0, at_most=500, default=9.144)
    on_left: bool = plain("lies left of the line, looking uphill", True)
    dry_within: float = quantity("dry again within", k.DURATION, above=0, at_most=30 * 86400, default=86400.0)
    run: str = plain("served by the run", "")
