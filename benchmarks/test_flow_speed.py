"""Figures of the flow in pipes: a network of 60 runs and 3,000 reaches in steady state, and one that is a mesh throughout."""

from __future__ import annotations

import numpy as np
from test_speed import held

from weirant.ground.grade_line import GradeLine
from weirant.ground.network import joined, lay_out
from weirant.ground.stretches import makes_of
from weirant.hydraulics.accumulate import Inflow, accumulate
from weirant.hydraulics.mesh_sketch import MeshSketch, Undecided
from weirant.hydraulics.outlet_relation import OutletRelation
from weirant.hydraulics.pipes_along import pipes_along
from weirant.hydraulics.routing import Brings, Stores, route
from weirant.hydraulics.run_flow import run_flow
from weirant.hydraulics.settling import settled
from weirant.job.network import Node, Outlet, Run, Stretch
from weirant.job.section import TrenchSection
from weirant.library import shipped

INFLOW = Inflow(2e-6)


def laid(runs: list[tuple[str, list[str], float, float]], places: dict[str, tuple[float, float]]):
    nodes = {name: Node(name, *place, outlet=Outlet(water_level=0.05) if name == "o" else None) for name, place in places.items()}
    network = joined([lay_out(Run(name, name, tuple(way), invert, slope, (Stretch(),)), nodes) for name, way, invert, slope in runs])
    makes = makes_of(network.runs, (TrenchSection(),), shipped())
    return network, {run.id: makes.along(run) for run in network.runs}


def line_of(run, count: int) -> GradeLine:
    stations = np.linspace(0, run.length, count)
    invert = run.invert + run.slope * stations
    return GradeLine(stations, invert + 1, invert, invert - 0.1, np.full(count, 1.1), np.full(count, 0.9), None, 0.0)


def tree():
    """A main of 0.3 % with a lateral at each of 59 nodes, its outlet under water."""
    places = {"o": (0.0, 0.0)} | {f"m{i}": (5.0 * i, 0.0) for i in range(1, 61)} | {f"l{i}": (5.0 * i, 40.0) for i in range(1, 60)}
    runs = [("main", ["o", *(f"m{i}" for i in range(1, 61))], 0.0, 0.003)]
    runs += [(f"r{i}", [f"m{i}", f"l{i}"], 0.015 * i, 0.005) for i in range(1, 60)]
    return laid(runs, places)


def test_tree_of_60_runs_and_3000_reaches(benchmark):
    """Added up, and the surface in every reach."""
    network, stretches = tree()
    lines = {run.id: line_of(run, 51) for run in network.runs}

    def work() -> None:
        inflows = dict.fromkeys(lines, INFLOW)
        total = accumulate(network, inflows, {})
        main = network.run("main")
        found = run_flow(pipes_along(lines["main"], main, stretches["main"]), total.discharge(main, INFLOW, lines["main"].stations), 0.05)
        for run in network.runs[1:]:
            level = float(np.interp(run.nodes[0][0].x, lines["main"].stations, found.surface))
            run_flow(pipes_along(lines[run.id], run, stretches[run.id]), total.discharge(run, INFLOW, lines[run.id].stations), level)

    benchmark(work)
    held(benchmark, 0.030)


def test_mesh_of_60_runs(benchmark):
    """A grid of 30 falling lines crossed by 30 level ones within, all its flows undecided."""
    count = 8
    places = {f"n{i}.{j}": (6.0 * i, 6.0 * j) for i in range(count) for j in range(count)} | {"o": (-6.0, 0.0)}
    runs = [("out", ["o", "n0.0"], 0.0, 0.01)]
    runs += [(f"a{i}{j}", [f"n{i}.{j}", f"n{i + 1}.{j}"], 0.06 + 0.03 * (i + j), 0.005) for i in range(count - 1) for j in range(count)][:30]
    runs += [(f"b{i}{j}", [f"n{i}.{j}", f"n{i}.{j + 1}"], 0.06 + 0.03 * (i + j), 0.005) for j in range(count - 1) for i in range(count)][:29]
    used = {name for _, way, *_ in runs for name in way}
    network, stretches = laid(runs, {name: place for name, place in places.items() if name in used})
    inflows = {run.id: INFLOW for run in network.runs}
    total = accumulate(network, inflows, {})

    def work() -> None:
        assert settled(Undecided(network, total, inflows, {}, stretches, lambda _: None)).levels

    benchmark(work)
    held(benchmark, 0.030)


def test_72_hours_of_storm_through_the_tree(benchmark):
    """A day of rain with its peak in the middle on a paved place at the top of every lateral and of the main, stone round every pipe; in its own reaches."""
    network, stretches = tree()
    total = accumulate(network, {}, {})
    sketch = MeshSketch(Undecided(network, total, {}, {}, stretches, lambda _: OutletRelation(0.0, stands=0.05)))
    pieces = list(total.sums.tops)
    for piece in pieces:
        sketch.draw(piece)
    mesh = sketch.mesh(pieces)
    count, reaches = len(mesh.low), len(mesh.above)
    stores = Stores(np.ones(reaches), np.full(reaches, 0.12), np.full(reaches, 0.35), np.zeros(count), np.full(count, np.inf), np.zeros(count), np.full(count, -1, dtype=np.intp))
    moments = np.linspace(0, 86400, 289)
    rates = np.exp(-(((moments[:-1] - 43200) / 3000) ** 2)) + 0.03
    volumes = np.concatenate(([0.0], np.cumsum(rates * 300.0)))
    brings = [Brings(moments, volumes, ((sketch.numbers[node], 2.5e-4),)) for node in (*(f"l{i}" for i in range(1, 60)), "m60")]
    assert route(mesh, stores, brings, 72 * 3600.0).off < 1e-9
    benchmark(lambda: route(mesh, stores, brings, 72 * 3600.0))
    held(benchmark, 0.5)
