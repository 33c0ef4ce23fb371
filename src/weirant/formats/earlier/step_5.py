"""From version 4 to 5: runs, things and test holes get identities, and what referred to them by name refers to those."""

from __future__ import annotations

from typing import Any

Fields = dict[str, Any]
MAIN, MAIN_NAME = "main", "main line"  # how the main line was referred to, and the name it has from now on
LINE = "r1"  # its identity


def with_identities(job: Fields) -> Fields:
    """The fields of a job with identities. What referred to a run or thing that is not there is kept as a line of what could not be read."""
    names: dict[str, str] = {}
    branches = []
    for number, branch in enumerate(job["branches"]):
        branches.append({"id": f"r{number + 2}", **branch, "name": branch["name"].strip() or f"run {number + 2}"})
        names.setdefault(branch["name"], f"r{number + 2}")
    names[MAIN] = LINE
    for branch in branches:
        branch["joins"], branch["trench_of"] = names.get(branch["joins"], ""), names.get(branch["trench_of"], "")
    things: dict[str, str] = {}
    features = []
    for number, thing in enumerate(job["features"]):
        features.append({"id": f"t{number + 1}", **thing})
        things.setdefault(thing["name"], f"t{number + 1}")
    lost = [f"invert as built of {b['run']} at {b['station']:g} m: {b['level']:g} m" for b in job["as_built"] if b["run"] not in names]
    lost += [f"{c['run']} passes {c['feature']} {c['way']}" for c in job["crossings"] if c["run"] not in names or c["feature"] not in things]
    choice = {key: value for key, value in job["choice"].items() if key != "pipe_count"}
    shots = [{**shot, "run": LINE if shot["station"] is not None else ""} for shot in job["survey"]["shots"]]
    return {
        **job, "branches": branches, "features": features, "choice": choice, "pipes": job["choice"]["pipe_count"],
        "holes": [{"id": f"h{number + 1}", **hole} for number, hole in enumerate(job["holes"])],
        "survey": {**job["survey"], "shots": shots}, "protected": {**job["protected"], "run": LINE},
        "as_built": [{**b, "run": names[b["run"]]} for b in job["as_built"] if b["run"] in names],
        "crossings": [{"run": names[c["run"]], "thing": things[c["feature"]], "way": c["way"]} for c in job["crossings"]
                      if c["run"] in names and c["feature"] in things],
        "unread": [*job["unread"], *lost], "assumed": [path for path in (_path(job, p) for p in job["assumed"]) if path],
    }  # fmt: skip


def _path(job: Fields, path: str) -> str:
    """A path into a list by the identity of the piece in place of its number; empty where there is no such piece."""
    steps = path.split(".")
    letter = {"branches": "r", "features": "t", "holes": "h"}.get(steps[0])
    if letter is None or len(steps) < 2 or not steps[1].isdecimal():
        return path
    number = int(steps[1])
    if number >= len(job[steps[0]]):
        return ""
    return ".".join([steps[0], f"{letter}{number + (2 if letter == 'r' else 1)}", *steps[2:]])
