"""The published range of every calculation, as rules that can be asked: outside of it an answer may still be had, but it says so.

Where a source gives no figure for "small" or "nearly", the one here is common practice. A method that holds for any values it does not refuse has no
rule.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from weirant.language import tr

Values = Mapping[str, Any]
# what should be so; whether it is, of the arguments and the results, in SI; and the one result that it is about, where the others hold without it
Rule = tuple[str, Callable[[Values, Values], bool]] | tuple[str, Callable[[Values, Values], bool], str]

FLAT = 4.0  # times that flow is as long as it is high, from which on it counts as level
SMALL = 0.5  # share of the depth of flow up to which a head is small beside it
TURBULENT = 4000.0  # Reynolds number
VISCOSITY = 1.3e-6  # m²/s of water at 10 °C
ROUGHNESS: Rule = (tr("Manning's n should be 0.008 to 0.035"), lambda a, _: all(0.008 <= a[key] <= 0.035 for key in a if key.endswith("roughness_n")))


def _is_flat(height: str, length: str) -> Rule:
    return (tr("the {length} should be at least {flat:g} times the {height}: flow is taken to be level", length=length, flat=FLAT, height=height.replace("_", " ")),
            lambda a, r: {**a, **r}[length] >= FLAT * {**a, **r}[height])  # fmt: skip


def _is_between(key: str, low: float, high: float, says: str) -> Rule:
    return tr("{key} should be {says}", key=key.replace("_", " "), says=says), lambda a, _: low * (1 - 1e-9) <= a[key] <= high * (1 + 1e-9)


RANGES: Mapping[str, tuple[Rule, ...]] = {
    "hooghoudt-equivalent-depth": (), "kirkham-ponded": (), "perforation-intake": (), "drilled-pattern": (), "roof-volume": (), "storm-release": (),
    "green-ampt": (), "porchet": (), "dry-well": (), "pipe-critical-depth": (), "percolation-rate": (), "sump": (), "pit-uplift": (), "row-intake": (), "inlet-spacing": (),
    "through-the-sod": (), "erosion-stone": (), "cloth-strength": (),
    "grate-capacity": (), "footing-clearance": (), "trench-volumes": (), "cloth-cut": (), "spoil-spread": (), "cutting-stock": (),
    "pit-inflow": (),
    "level-notes": (), "daylight": (), "uscs": (), "usda-texture": (), "stone-perforation": (),
    "hooghoudt-spacing": (_is_flat("mid_head", "spacing"),),
    "hooghoudt-mid-head": (_is_flat("mid_head", "spacing"), (tr("the drainage rate should be less than the conductivity"), lambda a, _: a["drainage_rate"] < a["conductivity"])),
    "glover-dumm-spacing": ((tr("the first head should be at most half of the equivalent depth"), lambda a, _: a["initial_mid_head"] <= SMALL * a["equivalent_depth"]),
                            (tr("the table should fall by a fifth at least: earlier it has another shape"), lambda a, _: a["final_mid_head"] <= 0.8 * a["initial_mid_head"])),
    "van-schilfgaarde-spacing": (_is_flat("initial_mid_head", "spacing"),),
    "glover-mid-head": ((tr("the first head should be at most half of the saturated depth"), lambda a, _: a["initial_head"] <= SMALL * a["saturated_depth"]),
                        _is_flat("saturated_depth", "spacing")),
    "ellipse-spacing": (_is_flat("mid_height", "spacing"), (tr("the drain's height should be at most a tenth of the spacing"), lambda a, r: a["drain_height"] <= 0.1 * r["spacing"])),
    "dupuit-inflow": ((tr("the distance should be at least 1.5 times the head far off"), lambda a, _: a["distance"] >= 1.5 * a["head_far"]),),
    "dupuit-table": ((tr("the distance should be at least 1.5 times the head far off"), lambda a, _: a["distance"] >= 1.5 * a["head_far"]),
                     (tr("the place should lie between the drain and the undisturbed table"), lambda a, _: a["place"] <= a["distance"])),
    "interceptor-flow": (_is_between("slope", 0.0, 0.30, tr("at most 30 %")),),
    "downslope-table": (_is_between("slope", 0.0, 0.30, tr("at most 30 %")), (tr("the recharge should be less than the conductivity"), lambda a, _: a["drainage_rate"] < a["conductivity"])),
    "pipe-full-flow": (ROUGHNESS, (tr("the flow should be rough-turbulent: this pipe is too small or too flat"),
                                   lambda a, r: r["velocity"] * a["diameter"] >= TURBULENT * VISCOSITY)),
    "pipe-partial-flow": (ROUGHNESS,), "pipe-count-equivalent": (ROUGHNESS,),
    "rational-peak": (_is_between("area", 0.0, 80e4, tr("at most 80 ha (200 acres)")),),
    "kirpich": (_is_between("slope", 0.001, 1.0, tr("0.1 % to 100 %")),),
    "curve-number-runoff": ((tr("less than half an inch (13 mm) of runoff is not told well by a curve number"), lambda _, r: r["runoff"] == 0 or r["runoff"] >= 0.0127),),
    "auger-hole": (_is_between("hole_radius", 0.03, 0.07, tr("3 to 7 cm")), _is_between("depth_below_water_table", 0.2, 2.0, tr("0.2 to 2 m")),
                   (tr("the drawdown should be more than a fifth of the hole below the water table"), lambda a, _: a["mean_drawdown"] >= 0.2 * a["depth_below_water_table"]),
                   (tr("the rise should be less than a quarter of the first drawdown"), lambda a, _: a["rise"] <= 0.25 * (a["mean_drawdown"] + a["rise"] / 2) * (1 + 1e-9))),
    "hvorslev": ((tr("the open length should be at least 8 times its radius"), lambda a, _: a["open_length"] >= 8 * a["open_radius"]),),
    "hazen": (_is_between("d10", 0.1e-3, 3e-3, tr("0.1 to 3 mm")), _is_between("coefficient", 40, 150, tr("40 to 150"))),
    "kozeny-carman": (_is_between("d_effective", 0.06e-3, 3e-3, tr("0.06 to 3 mm: in finer soil clay counts, in coarser stone flow is no longer laminar")),),
    "gradient-ratio": ((tr("a ratio over 3 tells that the cloth clogs; under 1 soil is washed through it"), lambda _, r: 1 <= r["ratio"] <= 3),),
    "hydrometer-point": ((tr("grains of 0.001 to 0.075 mm: larger ones sink too quickly, smaller ones hardly at all"), lambda _, r: 1e-6 <= r["size"] <= 80e-6),),
    "internal-stability": ((tr("the finest sieve should let 15 % through or less: what is finer is not looked at"), lambda a, _: a["gradation"].percents[-1] <= 15),),
    "cloth-head": ((tr("the head should be under 50 mm (2 in), as permittivity is measured: more is lost where water is quicker"), lambda _, r: r["head"] <= 0.05),),
    "wheel-pressure": (_is_between("cover", 0.15, 6, tr("0.15 to 6 m (6 in to 20 ft)")),),
    "ring-deflection": (_is_between("lag", 1, 3, tr("1 to 3")), _is_between("soil_modulus", 1e5, 3e7, tr("0.1 to 30 MPa (15 to 4,000 psi)"))),
    "pump-head": (_is_between("pipe_diameter", 0.05, 1e9, tr("50 mm (2 in) or more")), _is_between("roughness_c", 60, 150, tr("60 to 150"))),
    "pump-duty": (_is_between("pipe_diameter", 0.05, 1e9, tr("50 mm (2 in) or more")), _is_between("roughness_c", 60, 150, tr("60 to 150"))),
    "granular-filter-limits": ((tr("the limits exclude each other: no one stone both holds this soil and drains it; two layers, or a fabric, are called for"),
                                lambda _, r: r["d15_min"] <= r["d15_max"]),),
    "terzaghi-filter": ((tr("the soil should be uniform: its d85 at most 20 times its d15"), lambda a, _: a["soil_d85"] <= 20 * a["soil_d15"], "retention_ratio"),
                        (tr("the soil should not be clay: its d15 at least 0.002 mm"), lambda a, _: a["soil_d15"] >= 2e-6)),
    "geotextile-limits": ((tr("a sand so widely graded (uniformity over 20) may not hold itself together: have a filtration test made"),
                           lambda a, _: a["uniformity"] <= 20 or a["percent_passing_75um"] > 50, "o95_max"),),
}  # fmt: skip


def outside(name: str, arguments: Values, results: Values, about: str = "") -> tuple[str, ...]:
    """What is not as the published range of a method wants it, for arguments and results in SI; none where all is. ``about`` is the one result that
    is asked for.
    """
    return tuple(says for says, holds, *only in RANGES[name] if not (about and only and about not in only) and not holds(arguments, results))
