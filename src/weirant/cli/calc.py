"""``weirant calc``: the registry of methods on the command line."""

from __future__ import annotations

import json
import sys
from argparse import Namespace
from typing import Any

from weirant.cli.parser import guess
from weirant.cli.streams import lines_in, print_json
from weirant.errors import InputError, WeirantError, short
from weirant.methods.catalogue import REGISTRY, Method
from weirant.units import Dimension


def calc(given: Namespace) -> int:
    """List the methods, run one, or serve lines of JSON from stdin."""
    if given.stdin:
        if given.name:
            raise InputError(given.name, "cannot stand beside --stdin; put it into the JSON lines")
        return _serve()
    if not given.name:
        if given.json:
            print_json(_listing())
        else:
            print(_listing_text())
        return 0
    method = find(given.name)
    if not given.values and not given.json:
        print(f"weirant: {_keys_text(method)}", file=sys.stderr)
        return 2
    results = method.calculate(_pairs(given.values))
    if given.json:
        print_json(_plain(results))
    else:
        print(_results_text(method, results))
    return 0


def find(name: str) -> Method:
    """The method of a name; InputError suggests what is near."""
    if name in REGISTRY:
        return REGISTRY[name]
    raise InputError(short(name), "is not a calculation" + (guess(name[:100], REGISTRY) or "; weirant calc lists them"))


def _pairs(words: list[str]) -> dict[str, object]:
    given: dict[str, object] = {}
    for word in words:
        key, equals, value = word.partition("=")
        if not equals:
            raise InputError(word, "must read key=value")
        if key in given:
            raise InputError(key, "is given twice")
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
            raise InputError("", 'each line must be {"name": …, "args": {…}}')
        arguments = request.get("args", {})
        if not isinstance(arguments, dict):
            raise InputError("args", "must be an object of keys and values")
        return {"name": request["name"], "result": _plain(find(request["name"]).calculate(arguments))}
    except WeirantError as fault:
        return {"error": str(fault)}
    except (ValueError, RecursionError) as fault:
        return {"error": f"the line is not JSON: {short(str(fault))}"}


def _plain(value: Any) -> Any:
    """Results as JSON takes them; NumPy numbers become plain ones."""
    if isinstance(value, dict):
        return {key: _plain(item) for key, item in value.items()}
    return value.item() if hasattr(value, "item") else value


def _listing() -> list[dict[str, Any]]:
    return [{"name": m.name, "summary": m.summary, "formula": m.formula, "sources": list(m.sources), "valid": m.valid,
             "keys": {key: _dimension(d) for key, d in m.keys.items()},
             "results": {key: _dimension(d) for key, d in m.results.items()}}
            for m in sorted(REGISTRY.values(), key=lambda m: m.name)]  # fmt: skip


def _dimension(dimension: object) -> str:
    return dimension.name if isinstance(dimension, Dimension) else "text"


def _listing_text() -> str:
    width = max(map(len, REGISTRY))
    return "\n".join(f"{m.name:<{width}}  {m.summary}\n{'':<{width}}  {' '.join(m.keys)}"
                     for m in sorted(REGISTRY.values(), key=lambda m: m.name))  # fmt: skip


def _keys_text(method: Method) -> str:
    examples = ", ".join(
        f"{key} ({d.name}, such as {d.example})" if isinstance(d, Dimension) else key for key, d in method.keys.items()
    )
    return f"{method.name} needs {examples}"


def _results_text(method: Method, results: dict[str, Any]) -> str:
    width = max(map(len, results))
    return "\n".join(f"{key:<{width}}  {_value_text(value, method.results.get(key))}" for key, value in results.items())


def _value_text(value: Any, dimension: Dimension | None) -> str:
    if value is None:
        return "not reached by what was given"
    if isinstance(value, dict):
        return ", ".join(f"{key} {_value_text(item, dimension)}" for key, item in value.items())
    if isinstance(value, str) or dimension is None:
        return str(value)
    return f"{float(value):.6g} {dimension.si_unit}".strip()
