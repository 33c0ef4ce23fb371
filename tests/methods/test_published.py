"""Every calculation against something outside the project: published tables and examples, other libraries, hand sums.

"recalled" marks a published value written down from memory.
"""

from __future__ import annotations

import math

import fluids
import numpy as np
import pytest
from scipy.integrate import quad
from scipy.optimize import brentq, minimize_scalar
from shapely.geometry import Point, Polygon

from weirant.methods.catalogue import REGISTRY
from weirant.methods.groundwater import (
    glover_dumm_spacing,
    hooghoudt_equivalent_depth,
    hooghoudt_mid_head,
    hooghoudt_spacing,
)
from weirant.methods.pipe_flow import central_angle, central_angles, pipe_full_flow, pipe_partial_flow
from weirant.methods.soil_tests import water_viscosity


def _wet(diameter, depth):
    angle = 2 * math.acos(1 - 2 * depth / diameter)
    return diameter**2 / 8 * (angle - math.sin(angle))


_WHEEL = 16_000 * 0.45359237 * 9.80665  # N
CFS, FT, INCH, GPM, DAY = 0.3048**3, 0.3048, 0.0254, 3.785411784e-3 / 60, 86400.0

# name, arguments as typed, result key, value, relative tolerance, source of the value
CASES = [
    ("pipe-full-flow", {"diameter": "12 in", "roughness_n": 0.013, "slope": "1 %"}, "discharge", 3.56 * CFS, 0.005,
     "concrete-pipe design tables, 12 in at 1 % (recalled)"),
    ("pipe-full-flow", {"diameter": 0.1, "roughness_n": 0.012, "slope": 0.01}, "velocity",
     fluids.open_flow.V_Manning(Rh=0.025, S=0.01, n=0.012), 1e-9, "fluids.open_flow.V_Manning"),
    ("pipe-count-equivalent", {"diameter": "6 in", "other_diameter": "4 in", "roughness_n": 0.012, "other_roughness_n": 0.012},
     "count", 1.5 ** (8 / 3), 1e-9, "8/3 power law, about 2.9"),
    ("perforation-intake", {"open_area_per_length": "20 cm2/m", "head": "50 mm", "blocked_fraction": "50 %"}, "inflow_per_length",
     0.6 * 0.001 * math.sqrt(2 * 9.80665 * 0.05), 1e-9, "FHWA HEC-22 orifice, hand sum"),
    ("drilled-pattern", {"hole_diameter": "1/2 in", "rows": 2, "spacing": "3 in"}, "open_area_per_length",
     2 * math.pi / 4 * 0.5**2 * 4 * INCH**2 / FT, 1e-9, "hand sum: 8 holes a foot"),
    ("roof-volume", {"area": "1000 ft2", "rain_depth": "1 in", "runoff_coefficient": 1}, "volume", 623.4 * 3.785411784e-3, 1e-3,
     "623 US gal for 1 in on 1,000 ft²"),
    ("rational-peak", {"runoff_coefficient": 1, "intensity": "1 in/h", "area": "1 acre"}, "discharge", 1.008 * CFS, 1e-3,
     "HEC-22: 1 in/h on 1 acre is 1.008 ft³/s"),
    ("kirpich", {"length": "1000 ft", "slope": "1 %"}, "time_of_concentration", 60 * 9.37, 2e-3, "Kirpich 1940, hand sum in feet"),
    ("grate-capacity", {"perimeter": 2, "open_area": 0.1, "depth": 0.05, "blocked_fraction": 0}, "discharge", 1.66 * 2 * 0.05**1.5, 1e-9,
     "HEC-22 weir, hand sum"),
    ("grate-capacity", {"perimeter": 2, "open_area": 0.02, "depth": 0.3, "blocked_fraction": "50 %"}, "discharge",
     0.67 * 0.01 * math.sqrt(2 * 9.80665 * 0.3), 1e-9, "HEC-22 orifice, hand sum"),
    ("pit-inflow", {"cycle_time": "30 s", "run_time": "8 s", "pit_area": "1.5 ft2", "level_on": "1 ft", "level_off": "4 in"}, "inflow",
     1.0 / 22 * FT**3, 1e-9, "a cubic foot comes while it rests, hand sum"),
    ("sump", {"inflow": "5 gpm", "pump_discharge": "20 gpm", "pit_area": "2 ft2", "level_on": "1 ft", "level_off": "0 ft"}, "cycle_time",
     2 * 7.4805 / 5 * 60 + 2 * 7.4805 / 15 * 60, 1e-4, "hand sum in gallons"),
    ("row-intake", {"diameter": 0.1, "angle": 60, "open_area_per_length": 0.002, "level": 0.075, "blocked_fraction": 0}, "inflow_per_length", 0.6 * 0.002 * math.sqrt(2 * 9.80665 * 0.05),
     1e-9, "an orifice under 50 mm, a quarter of the pipe over its bottom, hand sum"),
    ("inlet-spacing", {"capacity": "1 cfs", "runoff_coefficient": 0.5, "intensity": "2 in/h", "width": "100 ft"}, "spacing", 43_560 / 100 * FT / 1.008, 1e-3,
     "HEC-22: 1 in/h on 1 acre is 1.008 ft³/s"),
    ("through-the-sod", {"conductivity": "1 in/h", "thickness": "2 in", "ponding": "1 in", "area": "100 ft2"}, "discharge", 1.5 * 100 / 12 / 3600 * CFS, 1e-9, "Darcy by hand in feet"),
    ("erosion-stone", {"discharge": "85 cfs", "diameter": "60 in", "tailwater": "2 ft"}, "stone", 0.2 * 5 * (85 / (math.sqrt(32.174) * 5**2.5)) ** (4 / 3) * 5 / 2 * FT, 2e-3,
     "HEC-14 eq. 10.4 in feet, a pipe of 5 ft (its example 10.1 has about 5 in; recalled)"),
    ("wheel-pressure", {"wheel": "16000 lb", "cover": "3 ft"}, "pressure", quad(lambda y: quad(lambda x: 3 * _WHEEL * 1.206 / (0.508 * 0.254) / (2 * math.pi)
     * 0.9144**3 / (x * x + y * y + 0.9144**2) ** 2.5, -0.254, 0.254)[0], -0.127, 0.127)[0], 0.15, "Boussinesq under the middle of the patch, by scipy: the even spread is near it"),
    ("ring-deflection", {"cover": "10 ft", "soil_density": "120 lb/ft3", "live_pressure": 0, "pipe_stiffness": "46 psi", "soil_modulus": "1000 psi", "lag": 1}, "deflection",
     0.0123, 5e-3, "pipe handbooks: a pipe of 46 psi in tipped crushed rock under 10 ft (recalled)"),
    ("pit-uplift", {"pit_area": "2.25 ft2", "water_over_floor": "3 ft", "pit_mass": "120 lb"}, "safety", 120 / (2.25 * 3 * 62.43), 1e-3, "62.4 lb of water in a cubic foot"),
    ("pump-head", {"discharge": "50 gpm", "static_lift": 0, "pipe_diameter": "2 in", "length": "100 ft", "roughness_c": 140, "minor_k": 0},
     "total_head", 0.2083 * (100 / 140) ** 1.852 * 50**1.852 / 2**4.8655 * FT, 0.02, "Hazen–Williams in US units (plumbing handbooks)"),
    ("pipe-critical-depth", {"diameter": 0.3, "discharge": 0.05}, "energy",
     minimize_scalar(lambda y: y + (0.05 / _wet(0.3, y)) ** 2 / (2 * 9.80665), bounds=(0.05, 0.299), method="bounded", options={"xatol": 1e-10}).fun, 1e-9,
     "least of the energy by scipy"),
    ("pump-duty", {"shut_off_head": 7, "rated_discharge": 0.003, "rated_head": 4, "static_lift": 2.5, "pipe_diameter": 0.05, "length": 30, "roughness_c": 140, "minor_k": 3},
     "discharge", brentq(lambda q: 7 - 3 * (q / 0.003) ** 2 - 2.5 - 10.67 * 30 * q**1.852 / (140**1.852 * 0.05**4.8704) - 3 * (q / (math.pi * 0.05**2 / 4)) ** 2 / (2 * 9.80665),
                         1e-6, 0.01, xtol=1e-15), 1e-9, "Hazen–Williams against the parabola, by scipy"),
    ("dry-well", {"radius": 0.6, "full_depth": 1.2, "end_depth": 0.1, "conductivity": 1e-5, "voids": 0.4}, "time",
     quad(lambda h: 0.4 * math.pi * 0.36 / (1e-5 * (2 * math.pi * 0.6 * h + math.pi * 0.36)), 0.1, 1.2)[0], 1e-9, "area of the pit over area that soaks, by scipy"),
    ("dupuit-inflow", {"conductivity": 1e-5, "head_far": 4, "head_drain": 1, "distance": 20}, "discharge_per_length", 3.75e-6, 1e-9,
     "dam discharge K (h₁² − h₂²)/2L by hand"),
    ("dupuit-table", {"head_far": 4, "head_drain": 1, "distance": 20, "place": 10}, "head", math.sqrt(8.5), 1e-9, "hand sum"),
    ("interceptor-flow", {"conductivity": "1 m/day", "saturated_depth": 1, "slope": "5 %"}, "discharge_per_length", 0.05 / DAY, 1e-9, "Darcy"),
    ("downslope-table", {"conductivity": "1 m/day", "slope": 0.1, "drain_depth": 1.5, "wet_depth": 0.2, "drainage_rate": "5 mm/day", "place": 10},
     "table_depth", 1.0, 1e-9, "hand sum: 1.5 − 0.005 · 10 / 0.1"),
    ("storm-release", {"area": 100, "rain_depth": 0.05, "share_to_drain": 0.2, "release_time": "1 day"}, "discharge", 1 / DAY, 1e-9, "hand sum"),
    ("kirkham-ponded", {"conductivity": 1e-5, "drain_depth": 1, "depth_to_barrier": 1000, "drain_radius": 0.05, "ponded_depth": 0}, "discharge_per_length",
     2 * math.pi * 1e-5 * 0.95 / math.log(1.95 / 0.05), 1e-4, "image well in deep soil: ln((2d − r)/r)"),
    ("ellipse-spacing", {"conductivity": "1 m/day", "drain_height": 0.5, "mid_height": 1, "drainage_rate": "5 mm/day"}, "spacing", math.sqrt(600), 1e-9,
     "NEH 650 ch. 14 ellipse, hand sum"),
    ("van-schilfgaarde-spacing", {"conductivity": "1 m/day", "equivalent_depth": 1e6, "time": "2 day", "drainable_porosity": 0.1, "initial_mid_head": 1,
                                  "final_mid_head": 0.5}, "spacing", math.sqrt(9 * 2 * 1e6 / (0.1 * math.log(2))), 1e-5, "hand sum, heads small beside d"),
    ("glover-mid-head", {"conductivity": 1, "saturated_depth": 1, "spacing": 1, "drainable_porosity": 1, "initial_head": 1, "time": 0.1}, "mid_head", 0.4745, 2e-4,
     "Carslaw and Jaeger 1959, middle of a slab at Fourier number 0.1 (recalled)"),
    ("curve-number-runoff", {"curve_number": 75, "rain_depth": "5 in"}, "runoff", 2.45 * INCH, 2e-3, "TR-55 table 2-1 (recalled)"),
    ("green-ampt", {"conductivity": "0.65 cm/h", "suction": "16.68 cm", "moisture_deficit": 0.34, "rain_rate": "5 cm/h", "time": "1 h"}, "depth", 0.0302, 3e-3,
     "Chow, Maidment and Mays 1988 example 5.4.2: 3.02 cm (recalled)"),
    ("auger-hole", {"hole_radius": "4 cm", "depth_below_water_table": "90 cm", "mean_drawdown": "35 cm", "rise": "5 cm", "time": "50 s",
                    "barrier_at_bottom": "no"},
     "conductivity", 4000 * 4**2 / ((90 + 20 * 4) * (2 - 35 / 90) * 35) * 5 / 50 / DAY, 1e-9, "van Beers 1958 in cm, s and m/day"),
    ("auger-hole", {"hole_radius": "4 cm", "depth_below_water_table": "90 cm", "mean_drawdown": "35 cm", "rise": "5 cm", "time": "50 s",
                    "barrier_at_bottom": "yes"},
     "conductivity", 3600 * 4**2 / ((90 + 10 * 4) * (2 - 35 / 90) * 35) * 5 / 50 / DAY, 1e-9, "van Beers 1958, hole on the barrier"),
    ("porchet", {"hole_radius": "4 cm", "start_depth": "40 cm", "end_depth": "30 cm", "time": "600 s"}, "conductivity",
     1.15 * 4 * (math.log10(42) - math.log10(32)) / 600 / 100, 2e-3, "ILRI 16: K = 1.15 r Δlog(h + r/2)/Δt in cm and s"),
    ("hvorslev", {"pipe_radius": 0.05, "open_radius": 0.05, "open_length": 1.0, "start_head": math.e, "end_head": 1, "time": 100}, "conductivity",
     0.05**2 * math.log(20) / 200, 1e-9, "Hvorslev 1951: K = r² ln(L/R)/(2 L T₀) with basic time lag T₀ (recalled)"),
    ("percolation-rate", {"drop": "1 in", "time": "30 min"}, "time_per_length", 30 * 60 / INCH, 1e-9, "30 minutes an inch"),
    ("hazen", {"d10": "0.2 mm", "coefficient": 100}, "conductivity", 4e-4, 1e-9, "Hazen 1911: 100 · 0.02² cm/s"),
    ("kozeny-carman", {"d_effective": "1 mm", "void_ratio": 0.6, "temperature": "20 °C"}, "conductivity",
     9.80665 * 998.2 * 1e-9 / fluids.packed_bed.Carman(dp=1e-3, voidage=0.375, vs=1e-9, rho=998.2, mu=1.002e-3), 5e-3,
     "fluids.packed_bed.Carman in creeping flow"),
    ("terzaghi-filter", {"filter_d15": "4 mm", "soil_d15": "0.1 mm", "soil_d85": "1 mm"}, "retention_ratio", 4.0, 1e-9, "Terzaghi and Peck 1948"),
    ("stone-perforation", {"stone_d85": "19 mm", "opening": "10 mm"}, "ratio", 1.9, 1e-9, "USACE ratio by hand"),
    ("footing-clearance", {"trench_depth": 1.5, "footing_depth": 0.5, "distance": 1.2}, "clearance", 0.2, 1e-9, "45° line by hand"),
    ("daylight", {"ground_elevation": 100, "ground_slope": "3 %", "pipe_elevation": 99, "pipe_slope": "1 %"}, "distance", 50.0, 1e-9, "hand sum"),
    ("granular-filter-limits", {"gradation": "4.75 mm:100, 0.06 mm:90, 0.045 mm:85, 0.002 mm:15"}, "d15_max", 9 * 0.045e-3, 1e-9,
     "NEH 633 ch. 26 category 1: 9 d85 (recalled)"),
    ("geotextile-limits", {"percent_passing_75um": 60, "d85": "0.1 mm", "d15": "0.01 mm", "uniformity": 8, "plasticity_index": 4,
                           "soil_conductivity": "1e-6 m/s", "application": "critical", "wrap_kind": "non-woven"},
     "o95_max", 0.18e-3, 1e-9, "FHWA NHI-07-092: B = 1.8 for nonwovens on silt"),
    ("hooghoudt-equivalent-depth", {"spacing": 100, "depth_to_barrier": 1000, "drain_radius": 0.1}, "equivalent_depth", 6.82, 2e-3,
     "Hooghoudt's table, ILRI 16 table 8.1, infinite depth (recalled)"),
    ("usda-texture", {"sand": "40 %", "silt": "40 %", "clay": "20 %"}, "texture", "loam", 0, "USDA Soil Survey Manual ch. 3 (recalled)"),
    ("uscs", {"gradation": "4.75 mm:92, 0.075 mm:18", "liquid_limit": 0, "plasticity_index": 0}, "symbol", "SM", 0, "ASTM D2487"),
    ("level-notes", {"benchmark": "100 ft", "notes": "BM:bs 4.32, A:fs 5.10, BM:fs 4.32", "length_unit": "ft"}, "misclosure", 0.0, 1e-9, "hand sum"),
    ("trench-volumes", {"length": 10, "bottom_width": 0.3, "depth": 0.6, "bedding": 0.05, "stone_cover": 0.15, "pipe_outer_diameter": 0.12,
                        "pipe_count": 1, "side_slope": 0.5, "overlap": 0.15, "swell": "25 %"}, "excavation", 3.6, 1e-9, "hand sum"),
    ("spoil-spread", {"volume": 6, "length": 30, "width": 2}, "depth", 0.2, 1e-9, "a wedge of 30 m, 2 m wide and 0.2 m deep is 6 m³, hand sum"),
    ("cloth-cut", {"girth": "6 ft", "length": "160 ft", "roll_width": "12.5 ft", "roll_length": "300 ft", "lap": "1 ft"}, "roll_used", 80 * FT, 1e-9,
     "two strips of 160 ft off 80 ft, hand sum"),
    ("cutting-stock", {"pieces": "94 ft, 78 ft, 18 ft, 68 ft, 16 ft, 52 ft", "stock": "100 ft", "prefer": "few joints"}, "lengths", 4, 1e-9, "78 + 18, 68 + 16, 94 and 52, by trying"),
    ("pipe-partial-flow", {"diameter": 0.1, "roughness_n": 0.012, "slope": 0.01, "discharge": "1.4 L/s"}, "velocity", 0.83 * 0.7125, 0.01,
     "hydraulic-element chart: at Q/Q_full 0.25 the velocity is 0.83 of full (recalled)"),
    ("internal-stability", {"gradation": ", ".join(f"{0.075 * 2 ** (i / 4)} mm:{100 * (2 ** (i / 4 - 8)) ** 0.5}" for i in range(33))}, "least_ratio", 1.0, 0.01,
     "Kenney and Lau 1986: along Fuller's parabola H = F (recalled)"),
    ("internal-stability", {"gradation": ", ".join(f"{0.075 * 2 ** (i / 4)} mm:{100 * (2 ** (i / 4 - 8)) ** 0.5}" for i in range(33))}, "spread", 2.25, 0.01,
     "d90/d60 = (0.9/0.6)² along Fuller's parabola"),
    ("cloth-head", {"inflow_per_length": 1e-4, "girth": 2, "permittivity": 0.5, "layers": 2, "doubled": 0, "clogged_fraction": 0}, "head", 1e-4 / (0.25 * 2), 1e-9,
     "FHWA NHI-07-092: q = ψ h A; two layers in series by hand"),
    ("cloth-head", {"inflow_per_length": 1e-4, "girth": 2, "permittivity": 0.5, "layers": 1, "doubled": 0.5, "clogged_fraction": 0.5}, "head", 1e-4 / (0.25 * 1.5 + 0.125 * 0.5), 1e-9,
     "two parts in parallel, one of them in two layers, by hand"),
    ("gradient-ratio", {"head_at_cloth": 0.030, "length_at_cloth": 0.025, "head_in_soil": 0.040, "length_in_soil": 0.050}, "ratio", 1.5, 1e-12, "ASTM D5101: gradients 1.2 and 0.8, by hand"),
    ("hydrometer-point", {"reading": 20, "correction": 0, "time": 120, "temperature": "20 °C", "specific_gravity": 2.65, "dry_grams": 50}, "size", 0.01365e-3 * (13.0 / 2) ** 0.5, 5e-3,
     "ASTM D422 tables 2 and 3: L 13.0 cm, K 0.01365 (recalled)"),
    ("cloth-strength", {"stone_size": "1 in", "trench_depth": "4 ft"}, "strength_class", 3.0, 0, "AASHTO M 288, subsurface drainage (recalled)"),
    ("hooghoudt-mid-head", {"conductivity": 1e-5, "depth_to_barrier": 0, "drain_radius": 0.05, "spacing": 20, "drainage_rate": 1e-8},
     "mid_head", math.sqrt(1e-8 * 400 / 4e-5), 1e-9, "ellipse on the barrier by hand"),
    ("hooghoudt-spacing", {"conductivity_above": 1e-5, "conductivity_below": 1e-5, "depth_to_barrier": 0, "drain_radius": 0.05,
                           "mid_head": 0.316227766, "drainage_rate": 1e-8}, "spacing", 20.0, 1e-6, "ellipse on the barrier by hand"),
    ("glover-dumm-spacing", {"conductivity": "1 m/day", "equivalent_depth": 2, "time": "10 day", "drainable_porosity": 0.05,
                             "initial_mid_head": 1, "final_mid_head": 0.5}, "spacing",
     math.pi * math.sqrt(1 * 2 * 10 / 0.05 / math.log(2.32)), 1e-9, "Dumm 1960 by hand in m and days"),
]  # fmt: skip


@pytest.mark.parametrize(
    ("name", "given", "key", "value", "tolerance", "source"), CASES, ids=[f"{c[0]}:{c[2]}" for c in CASES]
)
def test_against_published(name, given, key, value, tolerance, source):
    found = REGISTRY[name].calculate(given)[key]
    assert found == (value if isinstance(value, str) else pytest.approx(value, rel=tolerance, abs=1e-12)), source


def test_every_calculation_has_an_outside_check():
    assert {case[0] for case in CASES} == set(REGISTRY)


@pytest.mark.parametrize(
    ("depth_share", "flow_share"), [(0.1, 0.0209), (0.25, 0.137), (0.5, 0.5), (0.75, 0.912), (0.93, 1.0755)]
)
def test_partial_flow_follows_the_hydraulic_element_chart(depth_share, flow_share):
    """Depth over diameter against flow over full flow: the chart of hydraulic elements, ASCE sewer manual (recalled)."""
    full = pipe_full_flow(0.3, 0.013, 0.005)
    found = pipe_partial_flow(0.3, 0.013, 0.005, flow_share * full.discharge)
    assert found.depth / 0.3 == pytest.approx(depth_share, rel=6e-3)
    angle = 2 * math.acos(1 - 2 * found.depth / 0.3)
    radius = 0.3 / 4 * (1 - math.sin(angle) / angle)
    assert found.velocity == pytest.approx(fluids.open_flow.V_Manning(Rh=radius, S=0.005, n=0.013), rel=1e-9)


def test_depths_of_many_flows_are_the_roots_that_scipy_finds():
    """To eleven digits, of thin streams as of nearly full pipes; together and each by itself."""
    shares = np.concatenate([np.linspace(1e-3, 1.07, 200), np.geomspace(1e-9, 1.0, 200), [0.5] * 3])
    roots = [brentq(lambda a, q=q: (a - math.sin(a)) ** (5 / 3) / (2 * math.pi * a ** (2 / 3)) - q, 1e-7, 5.2781, xtol=1e-15, rtol=1e-14) for q in shares]
    assert central_angles(shares) == pytest.approx(np.array(roots), rel=1e-11)
    assert [central_angle(q) for q in shares] == pytest.approx(roots, rel=1e-11)
    assert central_angles(np.array([0.0, 2.0])).tolist() == [0.0, 2 * math.pi] and central_angle(2.0) is None


@pytest.mark.parametrize(("spacing", "table"), [(5, 0.71), (10, 1.14), (50, 3.88), (100, 6.82)])
def test_equivalent_depth_on_deep_soil(spacing, table):
    """Hooghoudt's table for a drain of 0.1 m radius, last row (ILRI 16 table 8.1, recalled)."""
    assert hooghoudt_equivalent_depth(spacing, 1e4, 0.1) == pytest.approx(table, abs=0.012)


@pytest.mark.parametrize("depth", [1.0, 2.0, 5.0, 12.0])
def test_equivalent_depth_near_moodys_closed_form(depth):
    """Moody 1966, as in van Schilfgaarde 1974: D/(1 + D/L (8/π ln(D/r) − 3.4)) for D/L up to 0.3."""
    moody = depth / (1 + depth / 50 * (8 / math.pi * math.log(depth / 0.1) - 3.4))
    assert hooghoudt_equivalent_depth(50, depth, 0.1) == pytest.approx(moody, rel=0.045)


def test_series_and_closed_form_meet():
    """The two forms of F(x) agree where one hands over to the other."""
    depth = 0.5 * 50 / (2 * math.pi)
    below, above = (hooghoudt_equivalent_depth(50, depth * share, 0.1) for share in (1 - 1e-9, 1 + 1e-9))
    assert below == pytest.approx(above, rel=1e-3)


def test_spacing_and_mid_head_are_each_others_inverse():
    found = hooghoudt_spacing(9e-6, 9e-6, 5, 0.1, 0.6, 2.3e-8)
    assert hooghoudt_mid_head(9e-6, 5, 0.1, found.spacing, 2.3e-8) == pytest.approx(0.6, rel=1e-6)
    assert found.equivalent_depth == pytest.approx(hooghoudt_equivalent_depth(found.spacing, 5, 0.1))


def test_glover_dumm_against_the_series_for_a_fourth_degree_parabola():
    """Dumm 1960: h/h₀ = 192/π³ Σ (n² − 8/π²)/n⁵ (−1)^((n−1)/2) e^(−n² α t), n odd."""
    conductivity, depth, porosity, time = 1e-5, 2.0, 0.05, 10 * DAY
    spacing = glover_dumm_spacing(conductivity, depth, time, porosity, 1.0, 0.4)
    alpha = math.pi**2 * conductivity * depth / (porosity * spacing**2)
    total = sum(
        (n * n - 8 / math.pi**2) / n**5 * (-1) ** ((n - 1) // 2) * math.exp(-n * n * alpha * time)
        for n in range(1, 40, 2)
    )
    assert 192 / math.pi**3 * total == pytest.approx(0.4, rel=0.015)


@pytest.mark.parametrize(("celsius", "handbook"), [(0, 1.787e-6), (10, 1.307e-6), (20, 1.004e-6), (40, 0.658e-6)])
def test_viscosity_of_water(celsius, handbook):
    """Kinematic viscosity in m²/s, handbook tables (recalled)."""
    assert water_viscosity(celsius) == pytest.approx(handbook, rel=0.005)


def test_trench_section_against_polygons():
    """Areas and girth from shapely."""
    given = {"length": 1, "bottom_width": 0.4, "depth": 0.9, "bedding": 0.05, "stone_cover": 0.2, "pipe_outer_diameter": 0.12,
             "pipe_count": 2, "side_slope": 0.25, "overlap": 0.3, "swell": 0.2}  # fmt: skip
    found, height, lean = REGISTRY["trench-volumes"].calculate(given), 0.37, 0.25

    def shape(h):
        return Polygon([(-0.2, 0), (0.2, 0), (0.2 + lean * h, h), (-0.2 - lean * h, h)])

    pipes = Point(-0.1, 0.11).buffer(0.06, 512).union(Point(0.1, 0.11).buffer(0.06, 512))
    assert found["excavation"] == pytest.approx(shape(0.9).area)
    assert found["stone"] == pytest.approx(shape(height).difference(pipes).area, rel=1e-5)
    assert found["fabric_area"] == pytest.approx(shape(height).length + 0.3)
    assert found["spoil_loose"] == pytest.approx(shape(0.9).area * 1.2)
