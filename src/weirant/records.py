"""Dataclasses that are there at once: their methods are written when they are first called.

The standard library writes and compiles five functions of every frozen class as its module loads, for the most of which nobody asks: of a command
that opens a file that was a quarter of its time. Here the fields are the standard library's, so that ``fields``, ``replace`` and ``asdict`` work as
ever; comparing, hashing and telling are common to all classes, and ``__init__`` is compiled with the first instance.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from operator import attrgetter
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:  # to whoever reads the types it is the same
    from dataclasses import dataclass as dataclass
else:

    def dataclass(cls=None, /, *, frozen=False, eq=True):
        """As the standard library's decorator, with two of its options."""
        return _made(cls, frozen, eq) if cls is not None else lambda cls: _made(cls, frozen, eq)


def _made(cls: type, frozen: bool, eq: bool) -> type:
    own = vars(cls)
    cls = dataclasses.dataclass(init=False, repr=False, eq=False)(cls)
    methods: dict[str, Callable[..., Any] | None] = {"__init__": _to_be_written(cls, frozen), "__repr__": _told}
    if eq:
        values = _values(cls)
        methods |= {"__eq__": lambda self, other: values(self) == values(other) if other.__class__ is self.__class__ else NotImplemented,
                    "__hash__": (lambda self: hash(values(self))) if frozen else None}  # fmt: skip
    if frozen:
        methods |= {"__setattr__": _kept_as_it_is, "__delattr__": _kept_as_it_is}
    for name, method in methods.items():
        if name not in own:
            setattr(cls, name, method)
    return cls


def _values(cls: Any) -> Callable[[Any], tuple[Any, ...]]:
    """What gives the values of an instance that are compared."""
    names = [field.name for field in dataclasses.fields(cls) if field.compare]
    if len(names) > 1:
        return attrgetter(*names)
    return lambda self: tuple(getattr(self, name) for name in names)


def _told(self: Any) -> str:
    values = ", ".join(f"{field.name}={getattr(self, field.name)!r}" for field in dataclasses.fields(self) if field.repr)
    return f"{self.__class__.__qualname__}({values})"


def _kept_as_it_is(self: Any, name: str, *_: Any) -> None:
    raise dataclasses.FrozenInstanceError(f"cannot change {name!r} of {self.__class__.__qualname__}")


def _to_be_written(cls: Any, frozen: bool) -> Callable[..., None]:
    def first(self: Any, *args: Any, **kwargs: Any) -> None:
        written = _written(cls, frozen)
        cls.__init__ = written
        written(self, *args, **kwargs)

    return first


def _written(cls: Any, frozen: bool) -> Callable[..., None]:
    """The ``__init__`` of a class."""
    given: dict[str, Any] = {"_set": object.__setattr__, "_none": object()}
    by_place: list[str] = []
    by_name: list[str] = []
    body = []
    for field in dataclasses.fields(cls):
        name, value, takes = field.name, field.name, by_name if field.kw_only is True else by_place
        if field.default is not dataclasses.MISSING:
            given[f"_d_{name}"] = field.default
            takes.append(f"{name}=_d_{name}")
        elif field.default_factory is not dataclasses.MISSING:
            given[f"_d_{name}"] = field.default_factory
            takes.append(f"{name}=_none")
            value = f"_d_{name}() if {name} is _none else {name}"
        else:
            takes.append(name)
        body.append(f" _set(self, {name!r}, {value})" if frozen else f" self.{name} = {value}")
    if hasattr(cls, "__post_init__"):
        body.append(" self.__post_init__()")
    asked = ", ".join(["self", *by_place, *(["*", *by_name] if by_name else [])])
    exec(f"def __init__({asked}):\n" + "\n".join(body or [" pass"]), given)
    found: Callable[..., None] = given["__init__"]
    found.__qualname__ = f"{cls.__qualname__}.__init__"
    return found
