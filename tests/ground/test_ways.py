"""Ways down through a network: all of them, each from a top, downhill, from joint to joint."""

import itertools

import networkx as nx
import numpy as np
import pytest

from laying import COLLECTS
from weirant.design.patterns import PATTERNS, pattern
from weirant.ground.inverts import invert_at
from weirant.ground.network import joined, lay_out, network_of
from weirant.ground.ways import MOST, Leg, way_over, ways_through
from weirant.job.network import Node, Outlet, Run
from weirant.rules import shipped_rules

STEP = shipped_rules().step_at_joint  # m by which a run may come in under the one it joins


def anywhere(_):
    return True


@pytest.mark.parametrize("key", PATTERNS)
def test_ways_go_downhill_from_joint_to_joint_over_the_run_and_none_is_told_twice(key):
    network = network_of(pattern(key).job())
    for run in network.runs:
        ways = ways_through(network, run, anywhere)
        assert 0 < len(ways) <= MOST and len(set(ways)) == len(ways)
        assert (ways[0][0].run, ways[0][0].high) == (run.id, run.length)  # its own top first
        for way in ways:
            assert run.id in {leg.run for leg in way} and way[-1].low == 0.0 and way[0].high == pytest.approx(network.run(way[0].run).length)
            assert all(leg.high > leg.low for leg in way)
            for upper, lower in itertools.pairwise(way):
                out, into = network.run(upper.run), network.run(lower.run)
                assert out.alignment.point(upper.low) == pytest.approx(into.alignment.point(lower.high), abs=1e-6)
                assert float(invert_at(out, np.array(upper.low))) >= float(invert_at(into, np.array(lower.high))) - STEP
            assert way_over(network, tuple(leg.run for leg in way), anywhere) is not None


def test_all_ways_of_a_grid_are_those_of_the_graph():
    """By networkx: every simple path between neighbouring nodes, down from the tops that lie over the run to the outlet, that goes over some of the run once."""
    network = network_of(pattern("grid").job())
    graph = nx.DiGraph((high.id, low.id, {"run": run.id}) for run in network.runs for (low, _), (high, _) in itertools.pairwise(run.nodes))
    wanted = set()
    for top, bottom in itertools.product([r.nodes[-1][0].id for r in network.runs], [n for n in graph if not graph.out_degree(n)]):
        for path in nx.all_simple_paths(graph, top, bottom):
            over = [run for run, _ in itertools.groupby(graph[a][b]["run"] for a, b in itertools.pairwise(path))]
            if len(set(over)) == len(over) and network.run(over[0]).nodes[-1][0].id == top:
                wanted.add(tuple(over))
    found = {tuple(leg.run for leg in way) for run in network.runs for way in ways_through(network, run, anywhere)}
    assert found == wanted and len(found) > 12


def test_a_way_that_is_not_there_any_more_is_none():
    network = network_of(pattern("old-drain").job())
    (upper, lower) = (next(run.id for run in network.runs if run.run.name == name) for name in ("new line", "old drain"))
    assert [leg.run for leg in way_over(network, (upper, lower), anywhere)] == [upper, lower]
    for runs in ((lower, upper), (upper, "r99"), ()):
        assert way_over(network, runs, anywhere) is None
    assert way_over(network, (upper, lower), lambda run: run.id != lower) is None
    assert [leg.run for way in ways_through(network, network.run(upper), lambda run: run.id != lower) for leg in way] == [upper]


def test_runs_that_meet_twice_can_be_left_at_either_joint_and_the_lowest_is_kept():
    places = {"o": (0, 0), "a": (0, 10), "b": (0, 20), "t": (0, 30), "p": (-5, 10), "c": (5, 15), "q": (-5, 25)}
    nodes = {name: Node(name, *place, outlet=Outlet() if name in "op" else None) for name, place in places.items()}
    runs = [lay_out(Run(name, name, tuple(way), level, 0.01, (COLLECTS,)), nodes) for name, way, level in (("main", "oabt", 0.0), ("side", "pacbq", 0.0))]
    network = joined(tuple(runs))
    low, high = (next(s for node, s in runs[0].nodes if node.id == name) for name in "ab")
    assert way_over(network, ("main", "side"), anywhere)[0] == Leg("main", runs[0].length, low)
    left = {way[0].low for way in ways_through(network, runs[0], anywhere) if [leg.run for leg in way] == ["main", "side"]}
    assert left == {low, high}
