"""The published JSON Schema of the job file, made from the classes of a job and what their fields say of themselves."""

from __future__ import annotations

import dataclasses
import typing
from typing import Any

from weirant.formats.job_file import FORMAT, VERSION
from weirant.job import Job
from weirant.language import tr


def schema() -> dict[str, Any]:
    """The published JSON Schema of the job file."""
    from pydantic import ConfigDict, TypeAdapter  # slow to load, and needed here alone

    for cls in _classes(Job, {}).values():  # its classes know nothing of it, so their settings are hung on them here
        cls.__pydantic_config__ = ConfigDict(strict=True, extra="forbid", allow_inf_nan=False)
    job = TypeAdapter(Job).json_schema(ref_template="#/$defs/{model}")
    definitions = job.pop("$defs", {})
    _describe(job, definitions)
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": tr("Weirant job"),
        "description": tr("One drain at one place. All quantities SI: metres, seconds, m/s; slopes and shares as ratios."),
        "type": "object",
        "properties": {"format": {"const": FORMAT}, "version": {"enum": list(range(1, VERSION + 1))}, "job": job},
        "required": ["format", "version", "job"],
        "additionalProperties": False,
        "$defs": definitions,
    }


def _describe(job: dict[str, Any], definitions: dict[str, Any]) -> None:
    """Put labels, units and limits of the fields into the schema."""
    for cls in _classes(Job, {}).values():
        target = job if cls is Job else definitions.get(cls.__name__, {})
        for field in dataclasses.fields(cls):
            entry, spec = target.get("properties", {}).get(field.name), field.metadata.get("spec")
            if entry is None:
                continue
            entry["description"] = spec.label if spec else str(field.metadata.get("label", field.name))
            if spec and spec.kind.dimension.si_unit:
                entry["description"] += f", {spec.kind.dimension.si_unit}"
            if "most" in field.metadata:
                entry["maxItems"] = field.metadata["most"]
            if "words" in field.metadata:
                entry["enum"] = list(field.metadata["words"])
            if spec:
                limits = {"exclusiveMinimum": spec.above, "minimum": spec.at_least, "maximum": spec.at_most}
                number = (entry.get("anyOf") or [entry])[0]
                number.update({key: limit for key, limit in limits.items() if limit is not None})


def _classes(cls: Any, seen: dict[str, Any]) -> dict[str, Any]:
    """Every dataclass reachable from one, by name."""
    if dataclasses.is_dataclass(cls) and isinstance(cls, type) and cls.__name__ not in seen:
        seen[cls.__name__] = cls
        for hint in typing.get_type_hints(cls).values():
            for part in (hint, *typing.get_args(hint)):
                _classes(part, seen)
    return seen
