"""From version 5 to 6: the main line and the branches become runs through nodes; outlets, bends, joints and fittings become nodes."""

from __future__ import annotations

import math
from dataclasses import field
from typing import Any

from weirant.formats.earlier.step_5 import LINE, MAIN_NAME
from weirant.records import dataclass

Fields = dict[str, Any]
Point = tuple[float, float]
APART = 1e-3  # m: what lies nearer on a run is one node


@dataclass
class _Laid:
    """A run as it lay: corners by station, and the nodes set on it, (station, identity)."""

    run: Fields
    stations: list[float]
    points: list[Point]
    nodes: list[tuple[float, str]] = field(default_factory=list)

    def point(self, station: float) -> Point:
        index = max(i for i in range(len(self.stations) - 1) if i == 0 or self.stations[i] <= station + 1e-9)
        (x0, y0), (x1, y1) = self.points[index], self.points[index + 1]
        share = min(max((station - self.stations[index]) / (self.stations[index + 1] - self.stations[index]), 0.0), 1.0)
        return x0 + share * (x1 - x0), y0 + share * (y1 - y0)


class _Nodes:
    """The nodes as they are made."""

    def __init__(self) -> None:
        self.made: list[Fields] = []

    def on(self, laid: _Laid, station: float, kind: str = "plain") -> str:
        """The node of a run at a station: one that is there, or a new one."""
        for at, name in laid.nodes:
            if abs(at - station) < APART:
                if kind != "plain":
                    node = next(n for n in self.made if n["id"] == name)
                    if node["kind"] == "plain":
                        node["kind"] = kind
                    else:
                        node["name"] = f"{node['name']} {kind}".strip()  # two things were set at one station
                return name
        x, y = laid.point(station)
        name = f"n{len(self.made) + 1}"
        self.made.append({"id": name, "x": x, "y": y, "kind": kind, "name": "", "outlet": None})
        laid.nodes.append((station, name))
        return name


def as_network(job: Fields) -> Fields:
    """The fields of a job with nodes and runs in the place of the main line and the branches."""
    main = {"id": LINE, "name": _fresh(MAIN_NAME, job), "line": job["line"], "joins": "", "joins_at": 0.0, "x": job["x"], "y": job["y"],
            "bearing": job["bearing"], "trench_of": "", "pipes": job["pipes"]}  # fmt: skip
    old = {run["id"]: run for run in (main, *job["branches"])}
    laid: dict[str, _Laid] = {}
    nodes = _Nodes()
    for identity in _after_what_they_join(old):
        laid[identity] = _lay(old[identity], laid, nodes)
    hosts = {run["id"]: run["trench_of"] for run in old.values()}
    runs = [_run(laid[identity], hosts, nodes) for identity in old]
    gone = ("line", "branches", "pipes", "x", "y", "bearing")
    outlets = {run["id"]: run["nodes"][0] for run in runs}
    assumed = [path for path in (_path(p, outlets) for p in job["assumed"]) if path]
    return {**{key: value for key, value in job.items() if key not in gone}, "runs": runs, "nodes": nodes.made, "assumed": assumed}


def _fresh(name: str, job: Fields) -> str:
    taken = {branch["name"] for branch in job["branches"]}
    return name if name not in taken else next(f"{name} {n}" for n in range(2, len(taken) + 3) if f"{name} {n}" not in taken)


def _after_what_they_join(old: dict[str, Fields]) -> list[str]:
    """Every run after the one it joins; runs that went round, which no version could lay, get an outlet of their own."""
    order: list[str] = []
    waiting = list(old)
    while waiting:
        ready = [i for i in waiting if not old[i]["joins"] or old[i]["joins"] in order]
        if not ready:
            old[waiting[0]] = {**old[waiting[0]], "joins": ""}
            continue
        order += ready
        waiting = [i for i in waiting if i not in order]
    return order


def _lay(run: Fields, laid: dict[str, _Laid], nodes: _Nodes) -> _Laid:
    """Corners of a run as they followed from its bearing and bends; its nodes at its ends, bends, fittings, and where it joins."""
    line, first = run["line"], ""
    start = (run["x"], run["y"])
    if run["joins"]:
        host = laid[run["joins"]]
        at = min(run["joins_at"], host.stations[-1])
        first, start = nodes.on(host, at), host.point(at)
    bends = sorted((b for b in line["bends"] if 0 < b["station"] < line["length"]), key=lambda b: b["station"])
    stations, points, way = [0.0], [start], math.radians(run["bearing"])
    for stop, turn in [*((b["station"], b["angle"]) for b in bends), (line["length"], 0.0)]:
        ahead = stop - stations[-1]
        if ahead > 1e-9:
            stations.append(stop)
            points.append((points[-1][0] + ahead * math.cos(way), points[-1][1] + ahead * math.sin(way)))
        way += math.radians(turn)
    found = _Laid(run, stations, points)
    if first:
        found.nodes.append((0.0, first))
    else:
        node = nodes.made[int(nodes.on(found, 0.0)[1:]) - 1]
        node["outlet"] = {"kind": line["outlet"], "water_level": line["receiving_level"], "rise": None}
    for station in stations[1:]:
        nodes.on(found, station)
    for fitting in line["fittings"]:
        nodes.on(found, min(fitting["station"], line["length"]), fitting["kind"])
    return found


def _run(laid: _Laid, hosts: dict[str, str], nodes: _Nodes) -> Fields:
    run, line = laid.run, laid.run["line"]
    host = run["trench_of"]
    if host == run["id"] or hosts.get(host, ""):
        host = ""  # two that named each other, or a chain, were dug by nobody
    collects = {"is_solid": False, "to_station": None}
    solid = {"is_solid": True, "to_station": None}
    if line["solid_length"] >= line["length"] - 1e-9:
        stretches = [solid]
    elif line["solid_length"] > 0.01:
        stretches = [{**solid, "to_station": line["solid_length"]}, collects]
    else:
        stretches = [collects]
    return {
        "id": run["id"], "name": run["name"], "nodes": [name for _, name in sorted(laid.nodes)], "invert": line["outlet_invert"], "slope": line["slope"],
        "stretches": stretches, "breaks": line["breaks"], "held": line["held"], "pipes": run.get("pipes", 1), "system": line["system"],
        "least_depth": line["least_depth"], "trench_of": host,
    }  # fmt: skip


def _path(path: str, low_ends: dict[str, str]) -> str:
    """A path to a field of a line as a path to where that field stands now; empty where it has gone."""
    steps = path.split(".")
    if steps[0] == "branches" and len(steps) > 3 and steps[2] == "line":
        identity, rest = steps[1], steps[3:]
    elif steps[0] == "line":
        identity, rest = LINE, steps[1:]
    else:
        return "" if steps[0] in ("branches", "bearing", "x", "y") or path == "choice.pipe_count" else path
    if rest[0] in ("outlet", "receiving_level"):
        return f"nodes.{low_ends[identity]}.outlet.{'kind' if rest[0] == 'outlet' else 'water_level'}"
    return f"runs.{identity}.invert" if rest[0] == "outlet_invert" else f"runs.{identity}.{rest[0]}" if rest[0] in ("slope", "length", "solid_length") else ""
