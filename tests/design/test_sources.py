"""Water that comes in at nodes: what roofs and paving shed, what springs and pumps bring, where it goes, and what nobody has said yet."""

from __future__ import annotations

import dataclasses
import itertools
import math

import networkx as nx
import numpy as np
import pytest

from laying import one, reason_of
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.layout import add_run, taken_out_at
from weirant.design.patterns import PATTERNS, pattern
from weirant.design.session import Session
from weirant.design.sources import area_of, short_rain
from weirant.formats import job_file
from weirant.job.faults import faults
from weirant.job.geometry import length_of, nodes_by_id
from weirant.job.network import INLET
from weirant.job.paths import with_value
from weirant.job.rain import RainfallDepth
from weirant.job.removal import without_run, without_thing
from weirant.job.source_edits import entries_of, of_kind, with_new_source, without_source
from weirant.job.water import AWAY, CARRIED_AS, OPEN_GROUND, PAVING, ROOF_WATER, SPRING, Source
from weirant.outcome.finding import State
from weirant.rules import shipped_rules
from weirant.words.findings import worded

JOB, RULES = demo_job(), shipped_rules()
FT, IN = 0.3048, 0.0254


def test_a_roof_sheds_what_the_rational_method_says():
    """HEC-22 eq. 3-1, in its own units: Q cfs = C i A, i in/h, A acres (1.008 taken as 1 there). 0.70 in fall in ten minutes once in ten years."""
    water = assess(JOB).site.brought[0]
    cfs = 0.95 * (0.70 * 6) * (1800 / 43560)
    assert water.figure.value == pytest.approx(1.0083 * cfs * FT**3, rel=1e-3) and water.figure.method == "rational-peak"
    assert assess(JOB).run("r2").flow_high.discharge[0] == pytest.approx(water.figure.value) and assess(JOB).run("r2").flow.missing is None


def test_the_short_rain_is_read_off_the_table_and_not_made_up_from_a_day():
    assert short_rain(JOB, RULES) == pytest.approx(0.70 * IN / 600)
    table = (RainfallDepth(900.0, 2.0, 0.02), RainfallDepth(900.0, 25.0, 0.05), RainfallDepth(3600.0, 2.0, 0.03))
    two = short_rain(dataclasses.replace(JOB, rainfall=table), RULES)  # two years are nearer to ten than twenty-five
    assert two == pytest.approx(0.02 * (600 / 900) ** (math.log(1.5) / math.log(4)) / 600)
    for longest, known in ((3.0 * 600, True), (3.01 * 600, False)):
        assert (short_rain(dataclasses.replace(JOB, rainfall=(RainfallDepth(longest, 10.0, 0.03), RainfallDepth(86400.0, 10.0, 0.1))), RULES) is not None) == known
    assert short_rain(dataclasses.replace(JOB, rainfall=()), RULES) is None


def test_an_area_is_typed_or_measured_on_the_plan():
    plan = Source("w9", "paving", PAVING, thing="t10")
    assert area_of(JOB, plan, RULES) == pytest.approx(76 * 34 * FT**2, rel=1e-5) and area_of(JOB, dataclasses.replace(plan, area=5.0), RULES) == 5.0
    assert area_of(JOB, dataclasses.replace(plan, thing="t5"), RULES) == pytest.approx(130 * FT * RULES.walk_width, rel=1e-6) and area_of(JOB, Source("w9", "x"), RULES) is None
    shed, told = without_thing(with_value(JOB, "sources.w1.thing", "t10"), "t10").job, without_thing(with_value(JOB, "sources.w1.thing", "t10"), "t10").with_it
    assert shed.sources[0].thing == "" and told[0] == "clubhouse roof then has no outline" and faults(shed) == []


def test_several_sources_at_a_node_add_up_and_one_unknown_makes_it_at_least():
    job, spring = with_new_source(JOB, SPRING, "n10")
    job, ground = with_new_source(job, OPEN_GROUND, "n10")
    job = with_value(with_value(job, f"sources.{spring}.inflow", 3e-4), f"sources.{ground}.area", 200.0)
    alone, both = (assess(j).run("r3").flow.discharge[0] for j in (JOB, job))
    assert both - alone == pytest.approx(3e-4 + 0.35 * 0.70 * IN / 600 * 200, rel=0.02)  # the water stands a little higher in the pipe, so that less comes from the ground
    unknown = assess(with_value(job, f"sources.{ground}.area", None))
    assert one(unknown, "capacity", "r3").state == State.UNKNOWN and "the area of open ground 1" in reason_of(unknown, "capacity", "r3")
    assert of_kind(job, ground, PAVING).sources[-1].share == 0.9 and without_source(without_source(job, spring), ground) == JOB


@pytest.mark.parametrize("key", ["demo", *PATTERNS])
def test_what_a_run_carries_is_what_is_led_in_above_it(key):
    """By networkx: over all nodes and pieces above each piece, one more source at a time led to every node."""
    base = JOB if key == "demo" else pattern(key).job()
    for kind, node in zip(itertools.cycle(CARRIED_AS), [node.id for node in base.nodes][:6], strict=False):
        job, _ = with_new_source(base, kind, node)
        site = assess(job).site
        graph = nx.DiGraph()
        for run in site.network.runs:
            for (low, a), (high, b), fall in zip(run.nodes, run.nodes[1:], run.falls, strict=False):
                graph.add_edge(high.id, low.id, collects=-np.diff(run.collecting_above(np.array([a, b])))[0] > 1e-6)
                if fall < 1e-9:
                    graph.add_edge(low.id, high.id, collects=graph.edges[high.id, low.id]["collects"])
        led = {n.id: {CARRIED_AS[s.kind] for s in job.sources if s.node == n.id} or ({"surface"} if n.kind == INLET else set()) for n in job.nodes}
        for run in site.network.runs:
            tops = {n for (low, _), (high, _), fall in zip(run.nodes, run.nodes[1:], run.falls, strict=False) for n in ((low.id, high.id) if fall < 1e-9 else (high.id,))}
            above = tops.union(*(nx.ancestors(graph, n) for n in tops))
            wanted = set().union(*(led[n] for n in above)) | ({"ground"} if run.collecting_length > 1e-6 or any(graph.edges[e]["collects"] for e in graph.edges if e[1] in above) else set())
            assert set(site.carries[run.id]) == wanted, (run.name, kind, node)


def test_a_dry_spring_led_in_is_seen_by_what_is_kept_of_a_run():
    """It changes neither flow nor doubt, only that something is led in."""
    job, session = without_source(JOB, "w1"), Session()
    assert one(assess(job, session=session), "capacity", "r2").case == "nothing"
    led, spring = with_new_source(job, SPRING, "n6")
    assert one(assess(with_value(led, f"sources.{spring}.inflow", 0.0), session=session), "capacity", "r2").state == State.HOLDS


def test_sources_go_with_no_node_but_lose_it():
    gone = without_run(JOB, "r2")
    assert "water of clubhouse roof then leads nowhere" in gone.with_it and gone.job.sources[0].node == "" and faults(gone.job) == []
    assert one(assess(gone.job), "source-led").state == State.UNKNOWN
    fitted = with_value(JOB, "sources.w1.node", "n5")  # at the clean-out
    assert faults(taken_out_at(fitted, "r2", 35 * FT)) == []
    for change, says in (({"node": "n99"}, "which is not there"), ({"thing": "t99"}, "which is not there"), ({"name": " "}, "needs a name")):
        assert any(says in words for _, words in faults(dataclasses.replace(JOB, sources=(dataclasses.replace(JOB.sources[0], **change),))))


def test_a_roof_in_the_drain_is_led_apart_by_its_fix():
    job = with_value(JOB, "sources.w1.node", "n3")
    finding = one(assess(job), "roof", "r1")
    assert finding.state == State.FAILS and [fix.made(job) for fix in finding.fixes] == [JOB]
    assert assess(job).run("r1").flow.discharge[0] > assess(JOB).run("r1").flow.discharge[0] + 0.004
    assert one(assess(with_value(job, "sources.w1.node", AWAY)), "roof").state == State.HOLDS
    spare = add_run(with_new_source(JOB, ROOF_WATER, "n3")[0], [(-60.0, 0.0), (-60.0, 9.0)], collects=False, ground=29.0)
    first = dataclasses.replace(spare, runs=(spare.runs[-1], *spare.runs[:-1]))  # of two solid pipes the one that has roof water already is offered first
    assert [worded(one(assess(first), "roof"), first).offers[i].name for i in (0, 1)] == ["Lead roof 1 into roof line", "Lead roof 1 into solid 1"]
    by_side = with_value(with_value(JOB, "runs.r4.solid_length", length_of(JOB.runs[3], nodes_by_id(JOB))), "runs.r3.solid_length", 0.0)
    through = one(assess(with_value(by_side, "sources.w1.node", "n11")), "roof", "r3")  # let in at the top of a solid pipe that ends in one that collects
    assert through.state == State.FAILS and "green drain" in worded(through, JOB).reason
    nowhere = [f for f in assess(with_value(JOB, "sources.w1.node", "")).findings if f.code in ("roof", "source-led")]
    assert [(f.code, f.state) for f in nowhere] == [("source-led", State.UNKNOWN)]  # and not kept out of the pipes
    assert [node.id for node, _ in entries_of(JOB)] == ["n3", "n6", "n5", "n9", "n11", "n10"]
    assert job_file.from_text(job_file.to_text(job)) == job and Source("w1", "x", ROOF_WATER).node == ""
