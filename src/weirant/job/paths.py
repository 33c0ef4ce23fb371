"""Reads and replaces one field of a job by its path, such as ``sections.s1.width``, ``runs.r2.slope`` or ``soils.g1.layers.0.texture``.

A step into a list is the identity of a piece that has one, else its number. Some fields of a run follow from its nodes and stretches
(``runs.r2.length``); they are read and set like any other.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

from weirant.errors import InputError
from weirant.job import outlet_edits, run_edits, sediment, situations
from weirant.job.break_levels import level_at_break, with_level_at_break
from weirant.job.fields import Spec
from weirant.job.identity import index_of
from weirant.job.job import Job
from weirant.job.network import OUTLETS, Grate, MainPipe, Soakaway
from weirant.job.products import SoldIn
from weirant.job.sold import PIPE_LENGTH, ROLL_LENGTH, ROLL_WIDTH
from weirant.job.water import Situation
from weirant.language import tr
from weirant.records import dataclass
from weirant.units import display as k


@dataclass(frozen=True)
class Derived:
    """A figure of a run that is not stored but follows: its description, and how it is read and set."""

    spec: Spec | None
    read: Callable[[Job, str], Any]
    write: Callable[[Job, str, Any], Job]
    label: str = ""
    words: tuple[str, ...] = ()
    may_lack: bool = False

    def described(self) -> dataclasses.Field[Any]:
        """The description of the field; it is always there."""
        words = {"words": self.words} if self.words else {}
        found: dataclasses.Field[Any] = dataclasses.field(metadata={"spec": self.spec} if self.spec is not None else {"label": self.label, **words})
        found.type = ("float | None" if self.may_lack else "float") if self.spec is not None else "str"
        return found


def _of_situation(name: str) -> Derived:
    """A figure of the situations of a run."""
    metadata = Situation.__dataclass_fields__[name].metadata
    return Derived(metadata.get("spec"), situations.reader(name), situations.writer(name), metadata.get("label", ""), metadata.get("words", ()))


DERIVED = {
    "pipe": Derived(None, run_edits.pipe_of, run_edits.with_pipe, tr("pipe of the run")),
    "sold_in": Derived(SoldIn.__dataclass_fields__["length"].metadata["spec"], *PIPE_LENGTH, may_lack=True),
    "length": Derived(Spec(tr("whole length"), k.STATION, at_least=0.3, at_most=5000), run_edits.length, run_edits.with_length),
    "solid_length": Derived(Spec(tr("solid outlet length"), k.STATION, at_least=0, at_most=5000), run_edits.solid_length, run_edits.with_solid_length),
    "source": _of_situation("source"),
    "reach": _of_situation("reach"),
    "place": _of_situation("place"),
    "sediment": Derived(Spec(tr("sediment in the old pipe"), k.SECTION, at_least=0, at_most=2), sediment.of_run, sediment.with_run_sediment),
    "distance": Derived(Spec(tr("distance from the drain"), k.DISTANCE, above=0, at_least=0.01, at_most=500), situations.distance, situations.with_distance),
}


OF_SECTION = {
    "roll_length": Derived(Spec(tr("length of the cloth roll"), k.DISTANCE, at_least=0.5, at_most=5000), *ROLL_LENGTH, may_lack=True),
    "roll_width": Derived(SoldIn.__dataclass_fields__["width"].metadata["spec"], *ROLL_WIDTH, may_lack=True),
}
OUTLET_KIND = Derived(None, outlet_edits.outlet_kind, outlet_edits.with_outlet_kind, tr("outlet"), OUTLETS)
BREAK_LEVEL = "break_level"  # runs.r1.break_level.0: the invert at its first grade break


def _set_break(number: int, job: Job, run: str, level: float) -> Job:
    return with_level_at_break(job, run, number, level)


PARTS: Mapping[tuple[str, ...], tuple[Any, Callable[[Job, str], Any], Callable[[Job, str, Any], Job]]] = {  # of a node of the kind that has them
    ("grate",): (Grate, outlet_edits.grate_of, outlet_edits.with_grate), ("outlet", "soaks"): (Soakaway, outlet_edits.soakaway_of, outlet_edits.with_soakaway),
    ("outlet", "main"): (MainPipe, outlet_edits.main_of, outlet_edits.with_main)}  # fmt: skip


def _of_part(steps: list[str]) -> Derived | None:
    """A field of a part of a node."""
    of, read, write = PARTS.get(tuple(steps[2:-1]), (None, None, None))
    name = steps[-1]
    if steps[0] != "nodes" or of is None or name not in of.__dataclass_fields__:
        return None
    assert read is not None and write is not None
    field = of.__dataclass_fields__[name]
    return Derived(field.metadata["spec"], lambda job, node: getattr(read(job, node), name),
                   lambda job, node, value: write(job, node, dataclasses.replace(read(job, node), **{name: value})), may_lack="None" in str(field.type))  # fmt: skip
OLD_SEDIMENT = Derived(Spec(tr("sediment in its pipe"), k.SECTION, at_least=0, at_most=2), sediment.of_drain, sediment.with_drain_sediment, may_lack=True)


def _derived(path: str) -> tuple[Derived, str] | None:
    steps = path.split(".")
    if steps[0] == "nodes" and (part := _of_part(steps)) is not None:
        return part, steps[1]
    if len(steps) == 4 and steps[0] == "nodes" and steps[2:] == ["outlet", "kind"]:
        return OUTLET_KIND, steps[1]
    if len(steps) == 4 and steps[0] == "runs" and steps[2] == BREAK_LEVEL and steps[3].isdecimal():
        number = int(steps[3])
        read, write = partial(level_at_break, number=number), partial(_set_break, number)
        return Derived(Spec(tr("invert at the grade break"), k.LEVEL, at_least=-500, at_most=9000), read, write), steps[1]
    if len(steps) == 3 and steps[0] == "sections" and steps[2] in OF_SECTION:
        return OF_SECTION[steps[2]], steps[1]
    if len(steps) == 3 and steps[0] == "old_drains" and steps[2] == "sediment":
        return OLD_SEDIMENT, steps[1]
    return (DERIVED[steps[2]], steps[1]) if len(steps) == 3 and steps[0] == "runs" and steps[2] in DERIVED else None


def _place(things: tuple[Any, ...], step: str) -> int:
    index = int(step) if step.isdecimal() else index_of(things, step)
    if not 0 <= index < len(things):
        raise KeyError(step)
    return index


def value_at(thing: Any, path: str) -> Any:
    """The value at a path; KeyError where there is no such piece."""
    derived = _derived(path)
    if derived is not None and isinstance(thing, Job):
        return derived[0].read(thing, derived[1])
    for step in path.split("."):
        thing = thing[_place(thing, step)] if isinstance(thing, tuple) else getattr(thing, step)
    return thing


def leads_somewhere(job: Job, path: str) -> bool:
    """Whether there is a field at a path."""
    try:
        value_at(job, path)
    except (KeyError, IndexError, AttributeError):
        return False
    return True


def field_at(job: Job, path: str) -> dataclasses.Field[Any]:
    """The description of the field at a path."""
    derived = _derived(path)
    if derived is not None:
        return derived[0].described()
    parent, _, name = path.rpartition(".")
    owner = value_at(job, parent) if parent else job
    if not dataclasses.is_dataclass(owner):  # such as an outlet that is there no more
        raise KeyError(path)
    return next(f for f in dataclasses.fields(owner) if f.name == name)


def spec_at(job: Job, path: str) -> Spec:
    """The numeric description of the field at a path; KeyError where it is no number."""
    spec: Spec = field_at(job, path).metadata["spec"]
    return spec


def label_at(job: Job, path: str) -> str:
    """The label of the field at a path."""
    metadata = field_at(job, path).metadata
    return metadata["spec"].label if "spec" in metadata else str(metadata.get("label", path))


def with_value(job: Job, path: str, value: Any) -> Job:
    """The job with one value replaced and no longer marked as assumed. Refuses what the field may not take."""
    if isinstance(value, float):
        spec_at(job, path).check(value)
    words = field_at(job, path).metadata.get("words") if not path.rpartition(".")[2].isdecimal() else None
    if words and value not in words:
        raise InputError(label_at(job, path), tr("must be one of {words}", words=", ".join(words)), value)
    derived = _derived(path)
    changed: Job = derived[0].write(job, derived[1], value) if derived is not None else _replaced(job, path.split("."), value)
    if path in job.assumed:
        changed = dataclasses.replace(changed, assumed=tuple(p for p in job.assumed if p != path))
    return changed


def _replaced(thing: Any, steps: list[str], value: Any) -> Any:
    if not steps:
        return value
    if isinstance(thing, tuple):
        index = _place(thing, steps[0])
        return (*thing[:index], _replaced(thing[index], steps[1:], value), *thing[index + 1 :])
    return dataclasses.replace(thing, **{steps[0]: _replaced(getattr(thing, steps[0]), steps[1:], value)})
