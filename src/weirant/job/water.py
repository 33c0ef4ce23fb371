"""Where the water comes from."""

from __future__ import annotations

from weirant.job.fields import choice, plain, quantity
from weirant.records import dataclass
from weirant.units import display as k

HILLSIDE, ONE_SIDE, BOTH_SIDES, PARALLEL = "hillside", "one side", "both sides", "parallel lines"
ROOF_WATER, PAVING, OPEN_GROUND, SPRING, PUMPED = "roof", "paving", "open ground", "spring", "pump"
GROUND, SURFACE, ROOF, PUMP = "ground", "surface", "roof", "pump"  # what a run carries
CARRIED_AS = {ROOF_WATER: ROOF, PAVING: SURFACE, OPEN_GROUND: SURFACE, SPRING: SURFACE, PUMPED: PUMP}
SHEDS = (ROOF_WATER, PAVING, OPEN_GROUND)  # what rain runs off; the others bring a steady inflow
USUAL_SHARE = {ROOF_WATER: 0.95, PAVING: 0.9, OPEN_GROUND: 0.35}  # of the rain that runs off (common practice, no source)
# what plants and air use in a day of the season in question, m/s, by climate: the low ends of FAO-56 table 2 (recalled); none is the cautious way
NO_DRYING = "left out"
CLIMATES = {NO_DRYING: 0.0, "cool, humid": 1e-3 / 86400, "mild, humid": 2e-3 / 86400, "mild, dry": 4e-3 / 86400, "warm, humid": 4e-3 / 86400, "warm, dry": 6e-3 / 86400}
AWAY = "away"  # stands for a node: led off apart from this job


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
    climate: str = choice("what plants and air use", *CLIMATES, default=NO_DRYING)
    evapotranspiration: float | None = quantity("plants and air, measured", k.RAIN_RATE, at_least=0, at_most=2e-7, default=None)

    @property
    def drying(self) -> float:
        """What plants and air use after a storm, m/s: as typed, or else by the climate."""
        return CLIMATES[self.climate] if self.evapotranspiration is None else self.evapotranspiration


@dataclass(frozen=True)
class Source:
    """Water that comes in at a node: what an area m² sheds (its own, or that of a thing's outline) at a share of the rain of an intensity m/s (None:
    by the rainfall table), or a steady inflow m³/s. With a curve number it sheds in a storm what
    that leaves of the rain, and not the share. Its node is empty where nobody has said yet, ``AWAY`` where it is led off elsewhere.
    """

    id: str = plain("identity of the source")
    name: str = plain("name of the source")
    kind: str = choice("kind of source", *SHEDS, SPRING, PUMPED, default=ROOF_WATER)
    node: str = plain("led to", "")
    thing: str = plain("outline on the plan", "")
    area: float | None = quantity("area that sheds", k.AREA, above=0, at_most=1e6, default=None)
    share: float = quantity("share that runs off", k.SHARE, above=0, at_most=1, default=USUAL_SHARE[ROOF_WATER])
    intensity: float | None = quantity("rain intensity", k.RAIN_RATE, above=0, at_most=2e-3, default=None)
    inflow: float | None = quantity("steady inflow", k.DISCHARGE, at_least=0, at_most=10, default=None)
    curve_number: float | None = quantity("curve number", k.COUNT, at_least=30, at_most=100, default=None)
