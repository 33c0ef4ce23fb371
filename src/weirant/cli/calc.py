"""``weirant calc``: the registry of methods on the command line."""

from __future__ import annotations

import json
import shlex
import sys
import textwrap
from argparse import Namespace
from typing import Any

from weirant.cli.parser import guess
from weirant.cli.streams import lines_in, print_json
from weirant.errors import InputError, WeirantError, short
from weirant.language import tr
from weirant.methods.catalogue import REGISTRY, Method
from weirant.methods.examples import EXAMPLES
from weirant.sources import citation
from weirant.units import Dimension
from weirant.words.typed_units import TypedUnits, result_text, typed_units

OUTSIDE = "outside_range"  # key of what is outside of the published range, in JSON


def calc(given: Namespace) -> int:
    """List the methods, run one, or serve lines of JSON from stdin."""
    if given.stdin:
        if given.name:
            raise InputError(given.name, tr("cannot stand beside --stdin; put it into the JSON lines"))
        return _serve()
    if not given.name:
        if given.json:
            print_json(_listing())
        else:
            print(_listing_text())
        return 0
    method = find(given.name)
    if not given.values:
        if given.json:
            print_json(_datasheet(method))
        else:
            print(_datasheet_text(method))
        return 0
    pairs = _pairs(given.values)
    results, beyond = method.answered(pairs)
    if given.json:
        print_json(_plain(results) | {OUTSIDE: list(beyond)})
    else:
        print(_results_text(method, results, typed_units(method, pairs)))
        for says in beyond:
            print(tr("weirant: outside its range: {says}", says=says), file=sys.stderr)
    return 0


def find(name: str) -> Method:
    """The method of a name; InputError suggests what is near."""
    if name in REGISTRY:
        return REGISTRY[name]
    raise InputError(short(name), tr("is not a calculation") + (guess(name[:100], REGISTRY) or tr("; weirant calc lists them")))


def _pairs(words: list[str]) -> dict[str, object]:
    given: dict[str, object] = {}
    for word in words:
        key, equals, value = word.partition("=")
        if not equals:
            raise InputError(word, tr("must read key=value"))
        if key in given:
            raise InputError(key, tr("is given twice"))
        given[key] = value
    return given


def _serve() -> int:
    """Answer JSON lines one by one; a bad line is answered with an error and the next is read. Exit 2 if any was bad."""
    worst = 0
    for line in lines_in():
        if not line.strip():
            continue
        answer = _answer(line)
        worst = 2 if "error" in answer else worst
        print(json.dumps(answer, allow_nan=False))
        sys.stdout.flush()
    return worst


def _answer(line: str) -> dict[str, Any]:
    try:
        request = json.loads(line)
        if (
            not isinstance(request, dict)
            or set(request) - {"name", "args", "id"}
            or not isinstance(request.get("name"), str)
        ):
            raise InputError("", tr('each line must be {"name": …, "args": {…}}'))
        arguments = request.get("args", {})
        if not isinstance(arguments, dict):
            raise InputError("args", tr("must be an object of keys and values"))
        results, beyond = find(request["name"]).answered(arguments)
        return {"name": request["name"], "result": _plain(results), OUTSIDE: list(beyond)}
    except WeirantError as fault:
        return {"error": str(fault)}
    except (ValueError, RecursionError) as fault:
        return {"error": tr("the line is not JSON: {fault}", fault=short(str(fault)))}


def _plain(value: Any) -> Any:
    """Results as JSON takes them; NumPy numbers become plain ones."""
    if isinstance(value, dict):
        return {key: _plain(item) for key, item in value.items()}
    return value.item() if hasattr(value, "item") else value


def _listing() -> list[dict[str, Any]]:
    return [_datasheet(m) for m in sorted(REGISTRY.values(), key=lambda m: m.name)]


def _datasheet(m: Method) -> dict[str, Any]:
    return {"name": m.name, "summary": m.summary, "formula": m.formula, "sources": list(m.sources), "valid": m.valid,
            "keys": {key: _dimension(d) for key, d in m.keys.items()},
            "results": {key: _dimension(d) for key, d in m.results.items()}, "example": dict(EXAMPLES[m.name])}  # fmt: skip


def _dimension(dimension: object) -> str:
    return dimension.name if isinstance(dimension, Dimension) else "text"


def _listing_text() -> str:
    width = max(map(len, REGISTRY))
    return "\n".join(f"{m.name:<{width}}  {m.summary}\n{'':<{width}}  {' '.join(m.keys)}"
                     for m in sorted(REGISTRY.values(), key=lambda m: m.name))  # fmt: skip


def _datasheet_text(method: Method) -> str:
    """What it is, what it needs, within which range, by whom, and an example that runs."""
    example = EXAMPLES[method.name]
    width = max(map(len, (*method.keys, *method.results)))
    needs = [tr("  {key}  {d}; here {example}", key=format(key, f'<{width}'), d=_needed(d), example=example[key]) for key, d in method.keys.items()]
    gives = [f"  {key:<{width}}  {_needed(d)}" for key, d in method.results.items()]
    typed = " ".join(shlex.quote(f"{key}={value}") for key, value in example.items())
    answer = textwrap.indent(_results_text(method, method.calculate(example), typed_units(method, example)), "  ")
    return "\n".join((f"{method.name}: {method.summary}", "", f"  {method.formula}", "", tr("Needs"), *needs, "", tr("Gives"), *gives, "",
                      tr("Holds for: {valid}.", valid=method.valid), tr("Source: {source}", source=citation(method.sources)), "", tr("Example: weirant calc {method} {typed}",
                                                                                                                                     method=method.name, typed=typed), answer))  # fmt: skip


def _needed(dimension: object) -> str:
    if not isinstance(dimension, Dimension):
        return tr("as text") if dimension is not None else tr("a word or a table")
    return tr("{dimension} (a bare number is in {si_unit})", dimension=tr(dimension.name), si_unit=dimension.si_unit) if dimension.si_unit else tr(dimension.name)


def _results_text(method: Method, results: dict[str, Any], units: TypedUnits) -> str:
    width = max(map(len, results))
    return "\n".join(f"{key:<{width}}  {result_text(units, value, method.results.get(key))}" for key, value in results.items())
