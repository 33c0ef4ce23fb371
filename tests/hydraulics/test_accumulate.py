"""Steady flow through a network: against sums over networkx's ancestors, and where it cannot be told."""

from __future__ import annotations

import dataclasses

import networkx as nx
import numpy as np
import pytest

from laying import COLLECTS
from weirant.ground.carried import carried
from weirant.ground.network import joined, lay_out
from weirant.hydraulics.accumulate import EITHER_WAY, WAYS, Drop, Inflow, accumulate, ways_of
from weirant.job.doubt import Doubt
from weirant.job.network import Node, Outlet, Run, Stretch
from weirant.job.water import ROOF_WATER, SPRING, Source

SOLID, HOLE = Stretch(is_solid=True), Doubt("hard-layer", "g1")


def network(places, *runs):
    """Nodes by name and place (the first has the outlet); runs by name, nodes, invert and slope."""
    nodes = {name: Node(name, *place, outlet=Outlet() if i == 0 else None) for i, (name, place) in enumerate(places.items())}
    return joined([lay_out(Run(name, name, tuple(way), invert, slope, (COLLECTS,)), nodes) for name, way, invert, slope in runs])


def random_tree(seed):
    """A tree of runs, each joining an earlier one at any of its nodes, with boxes on their way."""
    chance = np.random.default_rng(seed)
    places, runs, levels = {"o": (0.0, 0.0)}, [], {"o": 0.0}
    for number in range(chance.integers(2, 14)):
        start = "o" if number == 0 else chance.choice([n for n in places if n != "o"])
        way = [str(start)]
        for piece in range(chance.integers(1, 4)):
            x, y = places[way[-1]]
            name = f"n{number}.{piece}"
            places[name] = (x + float(chance.uniform(1, 9)), y + float(chance.uniform(-9, 9)))
            levels[name] = levels[way[-1]] + 0.01 * float(np.hypot(places[name][0] - x, places[name][1] - y))
            way.append(name)
        runs.append((f"r{number}", way, levels[way[0]], 0.01))
    return network(places, *runs), chance


@pytest.mark.parametrize("seed", range(30))
def test_every_piece_carries_what_comes_in_above_it(seed):
    """By networkx: the sum over all ancestors of a piece's upper end, of drops at nodes and of inflow along pieces."""
    found, chance = random_tree(seed)
    inflows = {run.id: Inflow(float(chance.uniform(0, 1e-5))) for run in found.runs}
    drops = {node: Drop(float(chance.uniform(0, 1e-3))) for node in found.at_node if chance.random() < 0.4}
    total = accumulate(found, inflows, drops)
    graph = nx.DiGraph()
    for run in found.runs:
        for (low, a), (high, b) in zip(run.nodes, run.nodes[1:], strict=False):
            graph.add_edge(high.id, low.id, gain=inflows[run.id].spread * (b - a))
    for run in found.runs:
        for index, (node, station) in enumerate(run.nodes[1:]):
            above = nx.ancestors(graph, node.id) | {node.id}
            wanted = sum(drops[n].discharge for n in above if n in drops) + sum(d["gain"] for _, to, d in graph.edges(data=True) if to in above)
            assert total.runs[run.id].tops[index] == pytest.approx(wanted, abs=1e-15) and total.nodes[node.id].discharge == pytest.approx(wanted, abs=1e-15)
            assert total.discharge(run, inflows[run.id], np.array([station + 1e-6 if index + 2 < len(run.nodes) else station]))[0] <= wanted + 1e-12
        assert total.doubt(run) == (None, None)
    whole = sum(d.discharge for d in drops.values()) + sum(d["gain"] for *_, d in graph.edges(data=True))
    assert total.exits["o"].discharge == pytest.approx(whole) and set(total.exits) == {"o"}


@pytest.mark.parametrize("seed", range(20))
def test_what_is_added_up_again_below_an_edit_is_what_adding_up_anew_gives(seed):
    """To the last digit, edit upon edit: other inflows, some not known, other drops, a run regraded or laid level; what lies elsewhere is the very same."""
    found, chance = random_tree(seed)
    inflows, drops = {run.id: Inflow(float(chance.uniform(0, 1e-5))) for run in found.runs}, {}
    ways = ways_of(found)
    last = accumulate(found, inflows, drops, ways)
    for turn in range(12):
        edited = found.runs[chance.integers(len(found.runs))]
        if turn % 4 == 3:
            other = {"slope": (0.02, 0.0)[turn // 4 % 2]} if turn != 7 else {"stretches": (SOLID,)}
            regraded = lay_out(dataclasses.replace(edited.run, **other), {node.id: node for node, _ in edited.nodes})
            found = joined([regraded if run is edited else run for run in found.runs])
            if [run.lead for run in found.runs] != [run.lead for run in last.sums.network.runs]:
                ways = ways_of(found)
        elif turn % 4 == 2:
            drops = {**drops, str(chance.choice(list(found.at_node))): Drop(float(chance.uniform(0, 1e-3)))}
        else:
            inflows = {**inflows, edited.id: Inflow(float(chance.uniform(0, 1e-5)), HOLE if chance.random() < 0.3 else None)}
        again, anew = accumulate(found, inflows, drops, ways, last), accumulate(found, inflows, drops)
        assert again.nodes == anew.nodes and again.exits == anew.exits
        for run in found.runs:
            a, b = again.runs[run.id], anew.runs[run.id]
            assert a.tops.tolist() == b.tops.tolist() and (a.missing, a.shared) == (b.missing, b.shared)
        same = accumulate(found, inflows, drops, ways, again)
        assert all(same.runs[run.id] is again.runs[run.id] for run in found.runs)
        last = again


def test_what_is_missing_makes_all_below_it_at_least():
    tree = network({"o": (0, 0), "a": (10, 0), "b": (20, 0), "c": (10, 10)}, ("main", "oab", 0.0, 0.01), ("side", "ac", 0.1, 0.01))
    total = accumulate(tree, {"side": Inflow(0.0, HOLE), "main": Inflow(1e-5)}, {})
    assert total.runs["main"].missing == (HOLE, None) and total.doubt(tree.run("side")) == (HOLE, None)


def test_two_ways_down_and_level_tubes_are_shared_and_bounded_by_all_of_it():
    """A ring of two legs from one top; a level tube between two drains; pipes that go round."""
    ring = network({"o": (0, 0), "t": (20, 0), "w": (10, 8), "h": (30, 0)}, ("east", "ot", 0.0, 0.01), ("west", "owt", 0.0, 0.01), ("feed", "th", 0.2, 0.01))
    total = accumulate(ring, {}, {"h": Drop(0.002)})
    assert [total.runs[r].tops.max() for r in ("east", "west")] == [0.002, 0.002] and total.doubt(ring.run("east"))[1] == WAYS
    assert total.doubt(ring.run("feed")) == (None, None) and not any(accumulate(ring, {}, {}).runs["east"].shared)
    tube = network({"o": (0, 0), "a": (10, 0), "p": (0, 9), "b": (10, 9), "x": (20, 0)}, ("one", "oax", 0.0, 0.01), ("two", "pb", 0.0, 0.01), ("tube", "ab", 0.1, 0.0))
    total = accumulate(tube, {}, {"x": Drop(0.001)})
    assert total.runs["tube"].shared[0] == EITHER_WAY and total.runs["two"].tops[0] == total.runs["one"].tops[0] == 0.001
    assert total.doubt(tube.run("two"))[1] and total.runs["one"].shared[1] is None
    for kind, node, more in ((SPRING, "x", ["surface"]), (ROOF_WATER, "b", ["roof"]), (ROOF_WATER, "o", [])):  # either way through the tube; nothing comes up from an outlet
        assert carried(tube, [Source("w1", "it", kind, node)]) == dict.fromkeys(("one", "two", "tube"), ("ground", *more)), node
    round_ = network({"o": (0, 0), "a": (10, 0), "b": (10, 10), "c": (0, 10)}, ("one", "abc", 0.0, 0.01), ("two", "ca", 0.0, 0.01))
    assert all(carried.shared[0] for carried in accumulate(round_, {}, {"b": Drop(0.001)}).runs.values())
