"""The soil as the sums take it: conductivity of the wet part, gradation, and what of it is only assumed."""

from __future__ import annotations

import dataclasses

from weirant.job.soil import Band, Layer, Soil
from weirant.library import Library
from weirant.methods.gradation import Gradation
from weirant.outcome.outcome import SoilFigures


def soil_figures(soil: Soil, library: Library) -> SoilFigures:
    """A soil as a whole: conductivity averaged over its wet thickness, and the rest of its lowest layer."""
    lowest = layer_figures(soil, len(soil.layers) - 1, library)
    return dataclasses.replace(lowest, conductivity=wet_conductivity(soil, library), conductivity_assumed=any(layer.conductivity is None for layer in soil.layers))


def layer_figures(soil: Soil, number: int, library: Library) -> SoilFigures:
    """A layer of a soil in itself: its conductivity, its gradation and what belongs to them."""
    layer = soil.layers[number]
    beside, points = library.texture(layer.texture), layer.gradation
    own = Gradation(tuple(p.size for p in points), tuple(p.percent for p in points)) if len(points) >= 2 else None
    plasticity = layer.plasticity_index
    return SoilFigures(
        id=soil.id,
        layer=number,
        conductivity=layer_conductivity(layer, library),
        conductivity_assumed=layer.conductivity is None,
        gradation=own or beside.gradation,
        gradation_assumed=own is None,
        plasticity_index=beside.plasticity_index if plasticity is None else plasticity,
        drainable_porosity=beside.drainable_porosity,
        texture_name=beside.name,
    )


def layer_conductivity(layer: Layer, library: Library) -> Band:
    """Own figures of a layer, else those usual for its texture."""
    return layer.conductivity or library.texture(layer.texture).conductivity


def wet_conductivity(soil: Soil, library: Library) -> Band:
    """Mean of the layers' conductivities, weighted by their thickness between water table and hard layer.

    Flow along layers adds up by thickness (parallel flow; Darcy). With depths unknown the lowest layer counts alone.
    """
    bands = [layer_conductivity(layer, library) for layer in soil.layers]
    top, bottom = soil.water_table_depth, soil.hard_layer_depth
    begins = [depth for depth in soil.boundaries if depth is not None]
    if len(bands) == 1 or top is None or bottom is None or len(begins) < len(bands) or bottom <= top:
        return bands[-1]
    wet = [max(0.0, min(end, bottom) - max(start, top)) for start, end in zip(begins, [*begins[1:], bottom], strict=True)]
    return Band(*(sum(getattr(band, end) * thick for band, thick in zip(bands, wet, strict=True)) / sum(wet) for end in ("low", "best", "high")))
