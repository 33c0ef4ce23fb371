"""The registry: datasheets are whole, and every bad input is refused by the name of its key."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from weirant.errors import InputError, SolverError, WeirantError
from weirant.methods.catalogue import REGISTRY
from weirant.methods.groundwater import bisection
from weirant.sources import bibliography
from weirant.units import Dimension

PIPE = {"diameter": "4 in", "roughness_n": 0.012, "slope": "1 %"}
BRIEF = """pipe-full-flow pipe-partial-flow pipe-count-equivalent perforation-intake drilled-pattern roof-volume
    rational-peak kirpich grate-capacity hooghoudt-equivalent-depth hooghoudt-spacing glover-dumm-spacing dupuit-inflow
    interceptor-flow auger-hole porchet hazen kozeny-carman uscs granular-filter-limits geotextile-limits sump pump-head
    trench-volumes daylight level-notes""".split()


def test_every_promised_calculation_is_there():
    assert set(BRIEF) <= set(REGISTRY)


@pytest.mark.parametrize("method", REGISTRY.values(), ids=REGISTRY)
def test_datasheets_are_whole(method):
    assert method.summary.endswith(".") and method.formula and method.valid
    assert method.results and set(method.sources) <= set(bibliography())


@pytest.mark.parametrize(
    ("name", "changes", "says"),
    [
        ("pipe-full-flow", {"diameter": "-4 in"}, r"diameter must be more than 0: -4 in$"),  # as it was typed
        ("pipe-full-flow", {"diameter": "4 gpm"}, "diameter takes a value of length"),
        ("pipe-full-flow", {"diameter": "nan"}, "diameter must be a finite number"),
        ("pipe-full-flow", {"diameter": None}, "diameter takes a value of length"),
        ("pipe-full-flow", {"slope": "150 %"}, "slope must be between 0 and 1"),
        ("pipe-full-flow", {"colour": "red"}, "colour is not a key of pipe-full-flow"),
        ("pipe-full-flow", {"diameter": 1e308}, "cannot be worked out"),
        ("pipe-partial-flow", {**PIPE, "discharge": "500 gpm"}, "discharge is more than the pipe carries"),
        ("grate-capacity", {"perimeter": 1, "open_area": 1, "depth": 1, "blocked_fraction": 1.5}, "blocked_fraction must be between"),
        ("drilled-pattern", {"hole_diameter": 0.01, "rows": 1.5, "spacing": 0.1}, "rows must be a whole number"),
        ("hooghoudt-equivalent-depth", {"spacing": 0.1, "depth_to_barrier": 1, "drain_radius": 0.1}, "spacing must be more than π"),
        ("hooghoudt-spacing", {"conductivity_above": 1e-8, "conductivity_below": 1e-8, "depth_to_barrier": 1, "drain_radius": 0.05,
                               "mid_head": 0.5, "drainage_rate": 1e-7}, "drainage_rate must be less than"),
        ("glover-dumm-spacing", {"conductivity": 1e-5, "equivalent_depth": 1, "time": 1, "drainable_porosity": 0.1,
                                 "initial_mid_head": 0.5, "final_mid_head": 0.6}, "initial_mid_head must be more than"),
        ("dupuit-inflow", {"conductivity": 1e-5, "head_far": 1, "head_drain": "80 in", "distance": 5}, r"head_drain must not be more than head_far: 80 in$"),
        ("auger-hole", {"hole_radius": 0.04, "depth_below_water_table": 0.5, "mean_drawdown": 0.6, "rise": 0.05, "time": 10,
                        "barrier_at_bottom": "maybe"}, "barrier_at_bottom must be yes or no"),
        ("porchet", {"hole_radius": 0.04, "start_depth": 0.2, "end_depth": 0.3, "time": 60}, "end_depth must be less"),
        ("hazen", {"d10": "0.2 mm", "coefficient": 1}, "coefficient .* must be between 10 and 1000"),
        ("kozeny-carman", {"d_effective": 1e-3, "void_ratio": 0.6, "temperature": 293.15}, "temperature in °C must be between"),
        ("geotextile-limits", {"percent_passing_75um": 60, "d85": 1e-4, "d15": 1e-3, "uniformity": 8, "plasticity_index": 4,
                               "soil_conductivity": 1e-6, "application": "critical", "wrap_kind": "woven"}, "d15 must be between"),
        ("geotextile-limits", {"percent_passing_75um": 60, "d85": 1e-4, "d15": 1e-5, "uniformity": 8, "plasticity_index": 4,
                               "soil_conductivity": 1e-6, "application": "casual", "wrap_kind": "woven"}, "application must be one of"),
        ("dry-well", {"radius": 1, "full_depth": 1, "end_depth": 1, "conductivity": 1e-5, "voids": 0.4}, "end_depth must be less"),
        ("pump-duty", {"shut_off_head": 5, "rated_discharge": 0.003, "rated_head": 4, "static_lift": 5, "pipe_diameter": 0.05, "length": 30, "roughness_c": 140, "minor_k": 3},
         "shut_off_head must be more than static_lift"),
        ("sump", {"inflow": 2, "pump_discharge": 1, "pit_area": 1, "level_on": 1, "level_off": 0}, "pump_discharge must be more"),
        ("sump", {"inflow": 1, "pump_discharge": 2, "pit_area": 1, "level_on": 0, "level_off": 1}, "level_on must lie above"),
        ("trench-volumes", {"length": 1, "bottom_width": 0.3, "depth": 0.2, "bedding": 0.1, "stone_cover": 0.1, "pipe_outer_diameter": 0.1,
                            "pipe_count": 1, "side_slope": 0, "overlap": 0, "swell": 0}, "depth must be at least"),
        ("trench-volumes", {"length": 1, "bottom_width": 0.3, "depth": 1, "bedding": 0, "stone_cover": 0.1, "pipe_outer_diameter": 0.2,
                            "pipe_count": 2, "side_slope": 0, "overlap": 0, "swell": 0}, "bottom_width is too narrow"),
        ("daylight", {"ground_elevation": 9, "ground_slope": 0.01, "pipe_elevation": 8, "pipe_slope": 0.02}, "never comes to daylight"),
        ("daylight", {"ground_elevation": 8, "ground_slope": 0.01, "pipe_elevation": 9, "pipe_slope": 0.02}, "pipe_elevation must not be above"),
        ("daylight", {"ground_elevation": 9, "ground_slope": 2, "pipe_elevation": 8, "pipe_slope": 0.02}, "ground_slope must be between"),
        ("kirkham-ponded", {"conductivity": 1e-5, "drain_depth": 0.05, "depth_to_barrier": 2, "drain_radius": 0.05, "ponded_depth": 0}, "drain_depth must be more than the radius"),
        ("kirkham-ponded", {"conductivity": 1e-5, "drain_depth": 1, "depth_to_barrier": 1, "drain_radius": 0.05, "ponded_depth": 0}, "depth_to_barrier must be below"),
        ("ellipse-spacing", {"conductivity": 1e-5, "drain_height": 1, "mid_height": 0.5, "drainage_rate": 1e-8}, "mid_height must be more than"),
        ("van-schilfgaarde-spacing", {"conductivity": 1e-5, "equivalent_depth": 1, "time": 86400, "drainable_porosity": 0.1, "initial_mid_head": 0.4,
                                      "final_mid_head": 0.5}, "initial_mid_head must be more than"),
        ("glover-mid-head", {"conductivity": 1e-5, "saturated_depth": 1, "spacing": 9, "drainable_porosity": 1.5, "initial_head": 0.4, "time": 0}, "drainable_porosity must be"),
        ("curve-number-runoff", {"curve_number": 101, "rain_depth": 0.05}, "curve_number must be between"),
        ("green-ampt", {"conductivity": 1e-6, "suction": 0.1, "moisture_deficit": 1.2, "rain_rate": 1e-5, "time": 60}, "moisture_deficit must be between"),
        ("uscs", {"gradation": "4.75 mm:90, 0.075 mm:60", "liquid_limit": 20, "plasticity_index": 30}, "plasticity_index must not be more"),
    ],
)  # fmt: skip
def test_bad_input_is_refused_by_name(name, changes, says):
    given_values = {**PIPE, **changes} if name == "pipe-full-flow" else changes
    with pytest.raises(InputError, match=says):
        REGISTRY[name].calculate(given_values)


def test_a_missing_key_lists_what_is_needed():
    with pytest.raises(InputError, match=r"slope is missing; pipe-full-flow needs diameter, roughness_n, slope"):
        REGISTRY["pipe-full-flow"].calculate({"diameter": 1, "roughness_n": 0.01})


@given(st.sampled_from(sorted(REGISTRY)), st.lists(st.floats(), min_size=10, max_size=10))
def test_no_number_makes_a_traceback_or_a_nan(name, numbers):
    method = REGISTRY[name]
    values = {key: n if isinstance(reader, Dimension) else "4.75 mm:90, 0.075 mm:30"
              for (key, reader), n in zip(method.keys.items(), numbers, strict=False)}  # fmt: skip
    try:
        results = method.calculate(values)
    except WeirantError:
        return
    assert all(math.isfinite(v) for v in results.values() if isinstance(v, float))


def test_a_solver_that_finds_no_root_says_so():
    with pytest.raises(SolverError, match="drain spacing did not converge"):
        bisection(lambda x: x + 10, 0.0, 1.0, "drain spacing")
