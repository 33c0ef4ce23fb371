"""Rain: volumes and peak flows."""

from __future__ import annotations

from weirant.language import tr
from weirant.methods.domain import between, not_negative, positive, share
from weirant.methods.registry import method
from weirant.units.dimension import AREA, DISCHARGE, LENGTH, NUMBER, SLOPE, SPEED, TIME, VOLUME


@method("roof-volume", keys={"area": AREA, "rain_depth": LENGTH, "runoff_coefficient": NUMBER},
        results={"volume": VOLUME}, formula="V = C · P · A", sources="geometry", valid=tr("one storm on a hard roof"))  # fmt: skip
def roof_volume(area: float, rain_depth: float, runoff_coefficient: float) -> float:
    """Water that a roof sheds in a storm: area m² (> 0), rain_depth m (> 0), runoff_coefficient 0 to 1; gives m³."""
    positive(area=area, rain_depth=rain_depth)
    share(runoff_coefficient=runoff_coefficient)
    return area * rain_depth * runoff_coefficient


@method("rational-peak", keys={"runoff_coefficient": NUMBER, "intensity": SPEED, "area": AREA},
        results={"discharge": DISCHARGE}, formula="Q = C · i · A", sources="hec22",
        valid=tr("small catchments (below 80 ha), rain at least as long as the time of concentration"))  # fmt: skip
def rational_peak(runoff_coefficient: float, intensity: float, area: float) -> float:
    """Peak runoff of a small catchment by the rational method.

    runoff_coefficient 0 to 1, intensity m/s (> 0), area m² (> 0); gives m³/s. Source: FHWA HEC-22 (2009) eq. 3-1.
    """
    share(runoff_coefficient=runoff_coefficient)
    positive(intensity=intensity, area=area)
    return runoff_coefficient * intensity * area


@method("kirpich", keys={"length": LENGTH, "slope": SLOPE}, results={"time_of_concentration": TIME},
        formula="t_c [min] = 0.0078 · L[ft]^0.77 · S^−0.385", sources="kirpich1940",
        valid=tr("small farm catchments, slope 0.1 % to 100 %"))  # fmt: skip
def kirpich(length: float, slope: float) -> float:
    """Time of concentration of a small catchment.

    length m of the longest flow path (> 0), slope m/m (above 0 to 1); gives s. Source: Kirpich 1940.
    """
    positive(length=length, slope=slope)
    between(0.0, 1.0, slope=slope)
    return float(60 * 0.0078 * (length / 0.3048) ** 0.77 * slope**-0.385)


@method("storm-release", keys={"area": AREA, "rain_depth": LENGTH, "share_to_drain": NUMBER, "release_time": TIME},
        results={"discharge": DISCHARGE}, formula="Q = A · P · share / t", sources="geometry",
        valid=tr("the ground holds the storm back and gives it off evenly; peaks are higher on open stone"))  # fmt: skip
def storm_release(area: float, rain_depth: float, share_to_drain: float, release_time: float) -> float:
    """Mean flow of a storm that soaks in and leaves by the drain within a time.

    area m² and rain_depth m (0 or more), share_to_drain 0 to 1, release_time s (> 0); gives m³/s. Balance of volume.
    """
    share(share_to_drain=share_to_drain)
    not_negative(area=area, rain_depth=rain_depth)
    positive(release_time=release_time)
    return area * rain_depth * share_to_drain / release_time
