"""The strict reader of a shape of job, built from its classes: by pydantic's core alone, which loads in a quarter of the time of the whole."""

from __future__ import annotations

import dataclasses
import importlib.util
import sys
import types
import typing
from functools import cache
from importlib.machinery import PathFinder
from threading import Lock
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from pydantic_core import SchemaValidator

_LOADING = Lock()  # jobs are read beside the interface too
_STRICT = {"strict": True, "extra_fields_behavior": "forbid", "allow_inf_nan": False}
_PLAIN = {float: "float", int: "int", bool: "bool", str: "str"}


@cache
def compiled_core() -> Any:
    """The compiled part of pydantic's core, with ``SchemaValidator`` and ``ValidationError``. The package round it first names all its types, which takes
    twice as long as reading a job and is needed by none of it; where the part is not found alone, it is the whole.
    """
    name = "pydantic_core._pydantic_core"
    package = importlib.util.find_spec("pydantic_core")
    part = PathFinder.find_spec(name, package.submodule_search_locations) if package is not None else None
    with _LOADING:
        if name not in sys.modules and part is not None and part.loader is not None:
            module = importlib.util.module_from_spec(part)
            part.loader.exec_module(module)
            sys.modules[name] = module  # whoever wants the whole package later finds this one in it: it can be loaded once only
    return sys.modules.get(name) or importlib.import_module("pydantic_core")


@cache
def reader_of(shape: type, is_early: bool) -> SchemaValidator:
    """What reads the text of a whole file whose field ``job`` has a shape. ``is_early`` leaves each list at its first fault: a million wrong pieces
    would cost gigabytes to tell. Raises TypeError where a class has a field that no reader is known for.
    """
    fields = {"job": {"type": "typed-dict-field", "schema": _of_class(shape, is_early), "required": True}}
    reader: SchemaValidator = compiled_core().SchemaValidator({"type": "typed-dict", "fields": fields, "extra_behavior": "ignore", "strict": True})
    return reader


def _of_class(cls: Any, is_early: bool) -> dict[str, Any]:
    hints, fields = typing.get_type_hints(cls), dataclasses.fields(cls)
    arguments = {"type": "dataclass-args", "dataclass_name": cls.__name__, "fields": [_of_field(field, hints[field.name], is_early) for field in fields]}
    return {"type": "dataclass", "cls": cls, "fields": [field.name for field in fields], "config": _STRICT | {"title": cls.__name__}, "schema": arguments,
            "slots": "__slots__" in vars(cls), "post_init": hasattr(cls, "__post_init__")}  # fmt: skip


def _of_field(field: dataclasses.Field[Any], hint: Any, is_early: bool) -> dict[str, Any]:
    schema = _of(hint, is_early)
    if field.default is not dataclasses.MISSING:
        schema = {"type": "default", "schema": schema, "default": field.default}
    elif field.default_factory is not dataclasses.MISSING:
        schema = {"type": "default", "schema": schema, "default_factory": field.default_factory}
    return {"type": "dataclass-field", "name": field.name, "schema": schema, "kw_only": False}


def _of(hint: Any, is_early: bool) -> dict[str, Any]:
    parts = typing.get_args(hint)
    if hint in _PLAIN:
        return {"type": _PLAIN[hint]}
    if isinstance(hint, types.UnionType) and len(parts) == 2 and parts[1] is types.NoneType:
        return {"type": "nullable", "schema": _of(parts[0], is_early)}
    if typing.get_origin(hint) is tuple:
        is_list = parts[-1] is Ellipsis
        items = [_of(part, is_early) for part in parts if part is not Ellipsis]
        return {"type": "tuple", "items_schema": items} | ({"variadic_item_index": 0} if is_list else {}) | ({"fail_fast": True} if is_early else {})
    if dataclasses.is_dataclass(hint):
        return _of_class(hint, is_early)
    raise TypeError(f"a field of a job cannot be a {hint}")
