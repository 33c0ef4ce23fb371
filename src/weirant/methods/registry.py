"""The registry of methods: every published formula under the name by which it is asked for, with its datasheet."""

from __future__ import annotations

import inspect
import math
from collections.abc import Callable, Mapping
from typing import Any, TypeVar

from weirant.errors import InputError, WeirantError
from weirant.language import tr
from weirant.methods.ranges import outside
from weirant.records import dataclass
from weirant.units import Dimension, parse
from weirant.units.dimension import NUMBER

Reader = Callable[[object, str], Any]
Function = TypeVar("Function", bound=Callable[..., Any])


@dataclass(frozen=True)
class Method:
    """A formula with its datasheet.

    ``keys`` gives for each argument its dimension, or a function that reads it from text; ``results`` for each
    result its dimension, or None where it is no number. ``sources`` are keys of the bibliography.
    """

    name: str
    function: Callable[..., Any]
    keys: Mapping[str, Dimension | Reader]
    results: Mapping[str, Dimension | None]
    formula: str
    sources: tuple[str, ...]
    valid: str

    @property
    def summary(self) -> str:
        """First sentence of the docstring."""
        return tr((inspect.getdoc(self.function) or "").split("\n\n")[0].replace("\n", " "))

    def read(self, given: Mapping[str, object]) -> dict[str, Any]:
        """Turn typed or JSON arguments into SI; raises InputError that names the key at fault."""
        unknown = [key for key in given if key not in self.keys]
        if unknown:
            raise InputError(unknown[0], tr("is not a key of {name}; its keys are {keys}", name=self.name, keys=", ".join(self.keys)))
        missing = [key for key in self.keys if key not in given]
        if missing:
            raise InputError(missing[0], tr("is missing; {name} needs {keys}", name=self.name, keys=", ".join(self.keys)))
        return {key: self._read_one(key, value) for key, value in given.items()}

    def _read_one(self, key: str, value: object) -> Any:
        reader = self.keys[key]
        if not isinstance(reader, Dimension):
            return reader(value, key)
        if not isinstance(value, (str, int, float)):
            raise InputError(key, tr("takes a value of {reader}, such as {example}", reader=tr(reader.name), example=reader.example), value)
        return parse(value, reader, key, strict=True)

    def results_of(self, outcome: Any) -> dict[str, Any]:
        """The function's return value as a dictionary under the result keys."""
        values = outcome._asdict() if hasattr(outcome, "_asdict") else {next(iter(self.results)): outcome}
        for key, value in values.items():
            if isinstance(value, float) and not math.isfinite(value):
                raise InputError(key, tr("comes out beyond all numbers; check the values given"))
        return values

    def outside(self, arguments: Mapping[str, Any], about: str = "") -> tuple[str, ...]:
        """What is not as the published range wants it, for arguments in SI; none where all is. ``about`` is the one result that is asked for."""
        return outside(self.name, arguments, self.results_of(self.function(**arguments)), about)

    def calculate(self, given: Mapping[str, object]) -> dict[str, Any]:
        """Read the arguments, run the formula, give the results in SI. NaN and infinity never leave it."""
        return self.answered(given)[0]

    def answered(self, given: Mapping[str, object]) -> tuple[dict[str, Any], tuple[str, ...]]:
        """The same, with what is outside of the published range."""
        arguments = self.read(given)
        try:
            results = self.results_of(self.function(**arguments))
            return results, outside(self.name, arguments, results)
        except InputError as fault:
            if fault.value is None or not isinstance(given.get(fault.field), str):
                raise
            raise InputError(fault.field, fault.rule, given[fault.field]) from fault  # in the units in which it was typed
        except WeirantError:
            raise
        except (ArithmeticError, ValueError) as fault:
            raise InputError("", tr("{name} cannot be worked out with such values; check sizes and units", name=self.name)) from fault


REGISTRY: dict[str, Method] = {}


def method(
    name: str,
    *,
    keys: Mapping[str, Dimension | Reader],
    results: Mapping[str, Dimension | None],
    formula: str,
    sources: str,
    valid: str,
) -> Callable[[Function], Function]:
    """Enter the decorated function in the registry; it stays a plain function."""

    def enter(function: Function) -> Function:
        expected = list(inspect.signature(function).parameters)
        if expected != list(keys) or name in REGISTRY:
            raise TypeError(tr("datasheet of {name} does not fit its function: {expected}", name=name, expected=expected))
        REGISTRY[name] = Method(name, function, keys, results, tr(formula), tuple(sources.split()), valid)
        return function

    return enter


def read_choice(*allowed: str) -> Reader:
    """A reader for a word out of a list; hyphens, spaces and case do not matter."""

    def read(value: object, key: str) -> str:
        def plain(word: object) -> str:
            return str(word).lower().replace("-", "").replace(" ", "").replace("_", "")

        for word in allowed:
            if plain(word) == plain(value):
                return word
        raise InputError(key, tr("must be one of {allowed}", allowed=", ".join(allowed)), value)

    return read


def read_yes_no(value: object, key: str) -> bool:
    """A reader for yes or no."""
    if isinstance(value, bool):
        return value
    word = str(value).strip().lower()
    if word in ("yes", "true", "1"):
        return True
    if word in ("no", "false", "0"):
        return False
    raise InputError(key, tr("must be yes or no"), value)


def read_text(value: object, key: str) -> str:
    """A reader for words as they are."""
    if not isinstance(value, str) or not value.strip():
        raise InputError(key, tr("must be text"))
    return value


def read_percent(value: object, key: str) -> float:
    """A reader for a percentage: ``40`` and ``40 %`` both give 40."""
    if isinstance(value, str) and value.strip().endswith("%"):
        return 100 * parse(value, NUMBER, key, strict=True)
    if not isinstance(value, (str, int, float)):
        raise InputError(key, tr("takes a percentage, such as 40 %"), value)
    return parse(value, NUMBER, key, strict=True)
