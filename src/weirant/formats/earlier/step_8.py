"""From version 7 to 8: the place to keep dry becomes a thing on the plan, every stretch says where its groundwater comes from and what it keeps dry,
the one soil becomes the first of a list, and the roof a source that is led to a node.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from itertools import accumulate, pairwise
from typing import Any

from weirant.job.beside import Leg, beside, legs_of, outline_beside
from weirant.job.site import Feature, Spot

Fields = dict[str, Any]
KINDS = {"slab edge": "slab", "footing": "building", "lawn": "lawn", "wall": "wall"}
SOIL, SOIL_NAME = "g1", "the ground"  # identity and name of the one soil
AWAY = "away"  # how a source is led that goes off apart from the job
NO_PLACE = "no place yet"  # how a place was called that nobody had chosen
SHAPE = ("points", "from_station", "to_station", "width", "on_left")  # fields of the place that its outline has taken up


def with_places(job: Fields) -> Fields:
    """The fields of a job with the place among its things, and the situation of every stretch."""
    place, water = job["protected"], job["water"]
    serving = place["run"]
    host = next((run for run in job["runs"] if run["id"] == serving), None)
    if host is None and place["name"] != NO_PLACE:
        host = next((run for run in job["runs"] if any(not s["is_solid"] for s in run["stretches"])), None)  # it lay beside no run: kept, beside the first that collects
    things = [{**thing, "dry_depth": None, "dry_within": 86400.0} for thing in job["features"]]
    identity = ""
    if host is not None:
        identity = f"t{max([int(t['id'][1:]) for t in things if t['id'][:1] == 't' and t['id'][1:].isdecimal()], default=0) + 1}"
        things.append(_thing(identity, place, host, job))

    def situated(run: Fields) -> Fields:
        is_served = run["id"] == serving
        stretches = [{**s, "situation": {"source": water["source"], "reach": water["reach"], "place": identity if is_served and not s["is_solid"] else ""}} for s in run["stretches"]]
        return {**run, "stretches": stretches, "contributing_area": water["contributing_area"] if is_served else 0.0}

    kept = {key: value for key, value in water.items() if key not in ("source", "reach", "contributing_area", "roof_area", "roof_goes")}
    sources = _roof(job)
    runs = [situated(run) for run in job["runs"]]
    marked = [new for path in job["assumed"] for new in _paths(path, runs, serving, identity) if sources or not new.startswith("sources.")]
    assumed = dict.fromkeys([*marked, *(f"sources.{source['id']}.intensity" for source in sources if source["intensity"])])
    soil = {**job["soil"], "id": SOIL, "name": SOIL_NAME, "hole": "", "area": ""}
    gone = ("protected", "soil")
    rest = {key: value for key, value in job.items() if key not in gone}
    return {**rest, "soils": [soil], "sources": sources, "runs": runs, "water": kept, "features": things, "assumed": [*assumed]}


def _roof(job: Fields) -> list[Fields]:
    """The roof as a source, led where it was said to go: to the top of the drain, or of the one pipe that carries roof water. Its rain stays the mean of
    the design storm, which it was reckoned by.
    """
    water = job["water"]
    if water["roof_area"] <= 0:
        return []
    tops = [run["nodes"][-1] for run in job["runs"] if run["system"] == "roof" and not _is_joined(job, run)]
    drain = next((run["nodes"][-1] for run in job["runs"] if run["id"] == job["protected"]["run"]), "")
    node = {"into the drain": drain, "own solid pipe": AWAY if not tops else tops[0] if len(tops) == 1 else ""}.get(water["roof_goes"], "")
    mean = water["storm_depth"] / water["storm_duration"]
    return [{"id": "w1", "name": "the roof", "kind": "roof", "node": node, "thing": "", "area": max(water["roof_area"], 1e-6), "share": 0.95,
             "intensity": min(mean, 2e-3) if mean > 0 else None, "inflow": None}]  # fmt: skip


def _is_joined(job: Fields, run: Fields) -> bool:
    """Whether another run ends with its low end on a run, above that one's own low end."""
    return any(other is not run and other["nodes"][0] in run["nodes"][1:] for other in job["runs"])


def _thing(identity: str, place: Fields, host: Fields, job: Fields) -> Fields:
    """The place as an outline laid off square from the middle of its stations, as it was drawn; a wall as its near edge."""
    nodes = {node["id"]: (node["x"], node["y"]) for node in job["nodes"]}
    points = [nodes[n] for n in host["nodes"]]
    stations = [0.0, *accumulate(math.dist(a, b) for a, b in pairwise(points))]
    low, high = place["from_station"], place["to_station"]
    if high - low < 0.1:  # no length was said: all that collects
        ends = [s["to_station"] or stations[-1] for s in host["stretches"]]
        collecting = [(a, min(b, stations[-1])) for (a, b), s in zip(pairwise([0.0, *ends]), host["stretches"], strict=True) if not s["is_solid"]]
        low, high = (collecting[0][0], collecting[-1][1]) if collecting else (0.0, stations[-1])
    corners = _corners(place, legs_of(points, stations, [(0.0, stations[-1])]), low, high)
    if place["kind"] == "wall":
        corners = corners[:2]
    return {
        "id": identity, "kind": KINDS[place["kind"]], "name": place["name"], "points": [{"x": c.x, "y": c.y} for c in corners],
        "footing_depth": place["footing_depth"] if place["kind"] != "lawn" else None, "root_radius": None, "depth": None, "diameter": 0.0508, "is_private": False, "is_located": False,
        "tolerance": 0.6096, "dry_depth": place["dry_depth"], "dry_within": place["dry_within"],
    }  # fmt: skip


def _corners(place: Fields, legs: list[Leg], low: float, high: float) -> tuple[Spot, ...]:
    """Corners of the place; where so wide a one would lie across its own run, of a narrower one: its width was never more than a guess."""
    near, width = place["distance"], place["width"]
    for _ in range(7):
        corners = outline_beside(legs, low, high, near, near + width, on_left=place["on_left"])
        lie = beside(legs, Feature("t0", "slab", "", corners))
        if lie is None or lie.distance > 0:
            break
        width /= 2
    return corners


def _paths(path: str, runs: list[Fields], serving: str, thing: str) -> Iterator[str]:
    """Where a field stands now."""
    owner, _, rest = path.partition(".")
    if owner == "soil":
        yield f"soils.{SOIL}.{rest}" if rest else f"soils.{SOIL}"
    elif path in ("water.source", "water.reach"):
        yield from (f"runs.{run['id']}.{rest}" for run in runs)
    elif path == "water.contributing_area":
        yield from (f"runs.{run['id']}.contributing_area" for run in runs if run["id"] == serving)
    elif path == "water.roof_area":
        yield "sources.w1.area"
    elif path == "water.roof_goes":
        yield "sources.w1.node"
    elif owner == "protected":
        if rest == "distance" and serving:
            yield f"runs.{serving}.distance"
        elif rest in SHAPE and thing:
            yield f"features.{thing}.points"
        elif rest in ("kind", "name", "dry_depth", "footing_depth", "dry_within") and thing:
            yield f"features.{thing}.{rest}"
    else:
        yield path
