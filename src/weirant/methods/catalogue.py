"""Imports every file of methods, so that the registry is whole."""

from weirant.methods import (  # noqa: F401
    aprons,
    cloth,
    cloth_cut,
    cover,
    critical_flow,
    cutting_stock,
    dry_well,
    earthwork,
    falling_table,
    field_tests,
    geotextile,
    granular_filter,
    groundwater,
    hydrometer,
    inlets,
    intake,
    internal_stability,
    levelling,
    loads,
    pipe_flow,
    pumps,
    rain,
    soil_classes,
    soil_tests,
    spoil,
    storms,
    usda_texture,
)
from weirant.methods.registry import REGISTRY, Method

__all__ = ["REGISTRY", "Method"]
