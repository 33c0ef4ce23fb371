"""From version 15 to 16: what a laboratory said stands at the layer it said it of, which was the lowest and what is alike above it."""

from __future__ import annotations

from typing import Any

Fields = dict[str, Any]
SAID = ("gradation", "liquid_limit", "plasticity_index")


def _alike(layer: Fields, lowest: Fields) -> bool:
    """Whether a layer is the lowest, or the like of it, of which the result was taken to hold too."""
    return all(layer[field] == lowest[field] for field in ("texture", "conductivity"))


def with_tested_layers(job: Fields) -> Fields:
    """The fields of a job of version 15 in the shape of version 16."""
    soils: list[Fields] = []
    moved: dict[str, str] = {}
    for soil in job["soils"]:
        said = {field: soil[field] for field in SAID if field in soil}
        layers = [{**layer, **said} if _alike(layer, soil["layers"][-1]) else layer for layer in soil["layers"]]
        soils.append({key: value for key, value in soil.items() if key not in SAID} | {"layers": layers})
        moved |= {f"soils.{soil['id']}.{field}": f"soils.{soil['id']}.layers.{len(layers) - 1}.{field}" for field in SAID}
    return {**job, "soils": soils, "assumed": [moved.get(path, path) for path in job["assumed"]]}
