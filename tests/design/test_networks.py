"""Random networks: whatever a run is called, wherever it stands in the list, however the plan is held, every verdict is the same; and an edit
that uses what the session kept gives what a fresh assessment gives.
"""

from __future__ import annotations

import dataclasses
from itertools import groupby

import numpy as np
import pytest

from laying import COLLECTS, one, with_changes
from weirant.checks import asked_again
from weirant.design.as_built import with_reading
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.layout import add_run, move_node, move_thing_corner
from weirant.design.patterns import pattern
from weirant.design.session import Session
from weirant.errors import InputError
from weirant.ground.inverts import invert_at
from weirant.ground.moves import moved_aside
from weirant.ground.network import laid_run, network_of
from weirant.ground.turning import in_two, turned_round
from weirant.hydraulics.run_flow import StormFlow
from weirant.job.answers import Answer
from weirant.job.exposure import Exposure
from weirant.job.faults import faults
from weirant.job.network import INLET, PLAIN, AsBuilt, Basin, GradeBreak, Node, Outlet, Run, Stretch
from weirant.job.old_drains import OldDrain
from weirant.job.paths import value_at, with_value
from weirant.job.removal import without_run
from weirant.job.section import WRAPS
from weirant.job.site import Feature, SitePoint, Spot
from weirant.job.situations import with_place
from weirant.job.soil import Layer, SievePoint
from weirant.job.source_edits import with_new_source
from weirant.job.water import PAVING, SPRING, Source
from weirant.outcome.finding import State
from weirant.outcome.standing import standing
from weirant.rules import shipped_rules
from weirant.words.facts import doubt_words
from weirant.words.findings import worded

DEMO = demo_job()
SEEDS = range(6)


def random_job(seed):
    """Runs on a slope, each ending at an outlet or joining an earlier one at a node; some solid, some with boxes, roof runs among them."""
    chance = np.random.default_rng(seed)
    nodes, runs = [], []
    for number in range(int(chance.integers(3, 9))):
        joins = number > 0 and chance.random() < 0.7
        host = runs[int(chance.integers(0, number))] if joins else None
        way = [host.nodes[int(chance.integers(1, len(host.nodes)))]] if host is not None else []
        x, y = next((n.x, n.y) for n in nodes if n.id == way[0]) if way else (float(chance.uniform(-40, 40)), 0.0)
        if not way:
            nodes.append(Node(f"n{len(nodes) + 1}", x, y, outlet=Outlet(water_level=29.0 + float(chance.uniform(-1, 1)))))
            way.append(nodes[-1].id)
        for _ in range(int(chance.integers(1, 4))):
            x, y = x + float(chance.uniform(-15, 15)), y + float(chance.uniform(4, 12))
            boxed = chance.random() < 0.15
            nodes.append(Node(f"n{len(nodes) + 1}", x, y, INLET if boxed else PLAIN, rim=29.5 if boxed else None,
                              basin=Basin("round", float(chance.uniform(0.08, 0.3)), 0.05) if boxed else None))  # fmt: skip
            way.append(nodes[-1].id)
        low = next(n for n in nodes if n.id == way[0])
        solid = chance.random() < 0.3
        runs.append(Run(f"r{number + 1}", f"run {number + 1}", tuple(way), 29.2 + 0.02 * low.y + float(chance.uniform(-0.05, 0.2)), 0.02,
                        (Stretch(is_solid=True),) if solid else (COLLECTS,)))  # fmt: skip
    points = tuple(SitePoint(f"p{i}", float(x), float(y), 30.0 + 0.02 * float(y) + 0.3 * float(chance.random()))
                   for i, (x, y) in enumerate(zip(chance.uniform(-70, 70, 150), chance.uniform(-10, 90, 150), strict=True)))  # fmt: skip
    led = [str(chance.choice([n.id for n in nodes])) for _ in range(3)]
    sources = (Source("w1", "roof", node=led[0], area=float(chance.uniform(20, 200))), Source("w2", "spring", SPRING, led[1], inflow=2e-4), Source("w3", "paving", PAVING, led[2]))
    bare = dataclasses.replace(DEMO, sources=sources, runs=tuple(runs), nodes=tuple(nodes), points=points, survey=dataclasses.replace(DEMO.survey, shots=()), features=(), holes=())
    (x, y), (_x1, _y1) = (laid_run(bare, "r1").alignment.point(s) for s in (0.0, 4.0))
    lawn = Feature("t1", "lawn", "the wet place", tuple(Spot(x + dx, y + dy) for dx, dy in ((6, 1), (14, 2), (13, 9), (5, 7))), dry_depth=0.45)
    return with_place(dataclasses.replace(bare, features=(lawn,)), "r1", "t1")


def told(outcome):
    """Findings by what they are about, by name, with state and figures; the job's own under no name."""
    names = {thing.id: thing.name for thing in (*outcome.job.runs, *outcome.job.features)}
    return sorted((f.code, names.get(f.subject, ""), str(f.state), f.value, f.limit) for f in outcome.findings if f.code != "roof")


def alike(one_outcome, other):
    for a, b in zip(told(one_outcome), told(other), strict=True):
        assert a[:3] == b[:3] and all((x is None) == (y is None) and (x is None or x == pytest.approx(y, rel=1e-6, abs=1e-7)) for x, y in zip(a[3:], b[3:], strict=True)), (a, b)


@pytest.mark.parametrize("seed", SEEDS)
def test_which_run_came_first_and_what_it_is_called_changes_no_finding(seed):
    job = random_job(seed)
    assert faults(job) == []
    new = {run.id: f"r{90 - i}" for i, run in enumerate(job.runs)} | {node.id: f"n{900 - i}" for i, node in enumerate(job.nodes)}
    runs = tuple(dataclasses.replace(r, id=new[r.id], nodes=tuple(new[n] for n in r.nodes)) for r in job.runs[::-1])
    nodes = tuple(dataclasses.replace(n, id=new[n.id]) for n in job.nodes[::-1])
    other = dataclasses.replace(job, runs=runs, nodes=nodes, sources=tuple(dataclasses.replace(s, node=new[s.node]) for s in job.sources[::-1]))
    alike(assess(job), assess(other))
    assert {f.code for f in assess(job).findings if f.subject} >= {"slope", "depth", "walls"}


@pytest.mark.parametrize("seed", SEEDS)
@pytest.mark.parametrize("lay", ["mirrored", "turned", "metric"])
def test_how_the_plan_is_held_changes_no_finding(seed, lay):
    job = random_job(seed)

    def held(thing):
        return dataclasses.replace(thing, x=-thing.x) if lay == "mirrored" else dataclasses.replace(thing, x=-thing.y, y=thing.x)

    if lay == "metric":
        other = with_value(job, "units", "metric")
    else:
        things = tuple(dataclasses.replace(f, points=tuple(map(held, f.points))) for f in job.features)
        other = dataclasses.replace(job, nodes=tuple(map(held, job.nodes)), points=tuple(map(held, job.points)), features=things)
    alike(assess(job), assess(other))


EDITS = [
    lambda j, c: with_value(j, f"runs.{c.choice([r.id for r in j.runs])}.invert", 29.0 + float(c.uniform(0, 1))),
    lambda j, c: with_value(j, f"runs.{c.choice([r.id for r in j.runs])}.slope", float(c.uniform(0.0, 0.05))),
    lambda j, c: with_value(j, f"runs.{c.choice([r.id for r in j.runs])}.name", f"name {c.integers(99)}"),
    lambda j, c: with_value(j, "sections.s1.width", float(c.uniform(0.2, 0.6))), lambda j, c: with_value(j, "soils.g1.hard_layer_depth", float(c.uniform(0.4, 2))),
    lambda j, c: with_value(j, "limits.least_slope", float(c.uniform(0, 0.03))), lambda j, c: with_value(j, "units", str(c.choice(["metric", "imperial"]))),
    lambda j, c: move_node(str(c.choice([r.id for r in j.runs])), 1)(j, (float(c.uniform(-30, 30)), float(c.uniform(5, 60)))),
    lambda j, c: without_run(j, str(c.choice([r.id for r in j.runs]))).job if len(j.runs) > 2 else j,
    lambda j, c: turned_round(j, str(c.choice([r.id for r in j.runs]))),
    lambda j, c: dataclasses.replace(j, runs=(*j.runs[:-1], dataclasses.replace(j.runs[-1], id=f"r{c.integers(50, 99)}"))),  # taken out, and drawn through the same nodes
    lambda j, c: with_value(j, f"runs.{j.runs[-1].id}.trench_of", j.runs[0].id if len(j.runs) > 1 else ""),
    lambda j, c: dataclasses.replace(j, as_built=(AsBuilt(j.runs[0].id, 2.0, float(c.uniform(28, 31))),)),
    lambda j, c: dataclasses.replace(j, points=j.points[3:]),
    lambda j, c: with_place(j, str(c.choice([r.id for r in j.runs])), str(c.choice(["", "t1"]))),
    lambda j, c: with_value(j, "features.t1.dry_depth", float(c.uniform(0.1, 1.0))),
    lambda j, c: move_thing_corner("t1", 0)(j, (float(c.uniform(-20, 20)), float(c.uniform(0, 30)))),
    lambda j, c: with_value(j, f"runs.{c.choice([r.id for r in j.runs])}.source", str(c.choice(["hillside", "both sides", "parallel lines"]))),
    lambda j, c: with_value(j, f"sections.s1.{c.choice(['bedding', 'stone_cover'])}", float(c.uniform(0.03, 0.2))),
    lambda j, c: with_value(j, f"runs.{j.runs[0].id}.stretches.{j.runs[0].stretches[0].id}.pipe", str(c.choice(["corrugated-75", "corrugated-150"]))),
    lambda j, c: with_value(with_value(j, "sections.s1.wrap", str(c.choice(WRAPS))), "sections.s1.sand_thickness", float(c.uniform(0.03, 0.15))),
    lambda j, c: with_value(j, f"soils.g1.layers.{len(j.soils[0].layers) - 1}.gradation",
                            tuple(SievePoint(s / 1e3, p) for s, p in ((2.0, 100.0), (0.2, float(c.uniform(50, 100))), (0.02, 15.0)))),
    lambda j, c: dataclasses.replace(j, soils=(dataclasses.replace(j.soils[0], layers=(Layer("loam", float(c.uniform(0.1, 0.8))), j.soils[0].layers[-1])),)),
    lambda j, c: dataclasses.replace(j, exposure=Exposure(bool(c.integers(2)), bool(c.integers(2)), float(c.uniform(0, 1)))),
    lambda j, c: with_value(j, "limits.filters", str(c.choice(["less-critical", "critical", "dynamic"]))),
    lambda j, c: with_value(with_value(j, f"runs.{j.runs[-1].id}.status", str(c.choice(["planned", "existing"]))), f"runs.{j.runs[-1].id}.sediment", float(c.uniform(0, 0.06))),
    lambda j, c: dataclasses.replace(j, old_drains=(OldDrain("d1", seen=(Answer("between", str(c.choice(["nothing", "sand"]))), Answer("stone", "mud all through it"))),)),
    lambda j, c: with_value(j, "features.t1.has_board", bool(c.integers(2))),
]  # fmt: skip


@pytest.mark.parametrize("seed", SEEDS)
def test_what_the_session_keeps_never_goes_stale(seed):
    """Fifty edits of any kind, one after the other; and a trial beside the session leaves it as it was."""
    chance, job, session = np.random.default_rng(seed), random_job(seed), Session()
    for turn in range(50):
        try:
            changed = EDITS[int(chance.integers(len(EDITS)))](job, chance)
        except InputError:
            continue
        if faults(changed):
            continue
        if turn % 5 == 0:
            assess(changed, session=Session(session))
            changed = job
        job, fresh, kept = changed, assess(changed), assess(changed, session=session)
        assert kept.findings == fresh.findings, turn
        assert [f.amounts for f in kept.site.runs] == [f.amounts for f in fresh.site.runs] and {r.id for r in job.runs} >= {f.subject for f in kept.findings} - {"", "t1", "d1"}


def test_more_stone_over_the_pipe_works_out_no_grade_line_and_no_flow_anew():
    session = Session()
    before, after = (assess(with_value(DEMO, "sections.s1.stone_cover", stone), session=session) for stone in (0.15, 0.16))
    assert all(a.grade is b.grade and a.flow_high is b.flow_high for a, b in zip(before.site.runs, after.site.runs, strict=True))
    assert before.run("r1").amounts != after.run("r1").amounts


def test_three_collecting_branches_are_felt_by_the_run_they_join():
    """Once they added nothing to its flow, and its capacity held."""
    job = dataclasses.replace(DEMO, runs=DEMO.runs[:1], nodes=DEMO.nodes)
    alone = assess(job).run("r1").flow_high.discharge[0]
    for number, y in enumerate((24.5, 25.0, 25.5)):
        nodes = (*job.nodes, Node(f"n{30 + number}", -12.0 - 3 * number, y + 6.0))
        job = dataclasses.replace(job, nodes=nodes, runs=(*job.runs, Run(f"r{5 + number}", f"side {number}", ("n2", f"n{30 + number}"), 29.3, 0.02)))
    outcome = assess(job)
    own = [f.flow_high.discharge[0] for f in outcome.site.runs[1:]]
    assert min(own) > 0 and outcome.run("r1").flow_high.discharge[0] == pytest.approx(alone + sum(own), rel=0.2) and outcome.run("r1").flow_high.discharge[0] > alone + 0.8 * sum(own)
    unknown = with_value(job, "soils.g1.hard_layer_depth", None)
    assert one(assess(unknown), "capacity", "r1").state == State.UNKNOWN


def test_water_that_stands_at_the_outlet_stands_in_what_joins_above_it():
    """28.9 m at the green drain's outlet lies over its joint and some way up the side that comes in there."""
    outcome = assess(with_value(DEMO, "nodes.n7.outlet.water_level", 28.9))
    side, grade = outcome.run("r4").flow_high, outcome.run("r4").grade
    assert side.surface[0] == pytest.approx(28.9, abs=1e-3) and side.standing == pytest.approx((28.9 - grade.invert[0]) / 0.01, rel=0.1)
    assert assess(DEMO).run("r4").flow_high.standing == 0


def test_a_riser_holds_water_up_to_its_rim_in_the_pipe():
    low = with_value(with_value(with_changes(DEMO, "r3", invert=28.2), "nodes.n7.outlet.kind", "bubbler in gravel"), "nodes.n7.outlet.water_level", None)
    ground = float(assess(low).run("r3").grade.ground[0])
    for rise, rim in ((None, ground), (0.1, 28.3)):
        assert assess(with_value(low, "nodes.n7.outlet.rise", rise)).run("r3").flow_high.surface[0] == pytest.approx(rim + 0.002, abs=0.002)  # a film over its edge


def test_roof_water_is_still_there_where_surface_water_comes_in_at_the_same_top():
    """A later source at the node took the place of the roof's: its pipe stood empty."""
    roof = next(run for run in DEMO.runs if run.name == "roof line")
    before = assess(DEMO).run(roof.id).flow_high.discharge[0]
    both = assess(with_new_source(DEMO, SPRING, roof.nodes[-1])[0])
    assert both.run(roof.id).flow_high.discharge[0] == pytest.approx(before) and before > 0
    assert doubt_words(both.run(roof.id).flow_high.missing, both.job) == "how much spring 1 brings: time a bucket" and both.site.carries[roof.id] == ("surface", "roof")


def test_a_run_is_turned_round_with_all_that_counts_along_it():
    job = turned_round(with_changes(DEMO, "r1", held=()), "r1")
    before, after = laid_run(DEMO, "r1"), laid_run(job, "r1")
    assert after.alignment.point(0.0) == pytest.approx(before.alignment.point(before.length))
    assert after.spans == ((0.0, pytest.approx(28.6512), False), (pytest.approx(28.6512), pytest.approx(52.4256), True))
    assert after.outlet == before.outlet and before.nodes[0][0].id == after.nodes[-1][0].id and after.nodes[-1][0].outlet is None
    ground = (assess(DEMO).run("r1").grade, assess(job).run("r1").grade)
    assert ground[1].at(ground[1].ground, 10.0) == pytest.approx(ground[0].at(ground[0].ground, before.length - 10.0)) and faults(job) == []
    assert turned_round(job, "r1").runs[0].nodes == DEMO.runs[0].nodes


def test_moving_the_drain_moves_the_drain():
    """The fix once edited a number beside the drawing. The place stays, and every station keeps its way off it."""
    close = with_value(with_value(DEMO, "runs.r1.distance", 0.6), "features.t10.footing_depth", 0.1)
    finding = one(assess(close), "footing", "r1")
    moved, before = laid_run(finding.fixes[0].made(close), "r1"), laid_run(close, "r1")
    by = value_at(finding.fixes[0].made(close), "runs.r1.distance") - 0.6
    assert by > 0.1 and finding.fixes[0].made(close).features == close.features
    for station in (30.0, 40.0, 50.0):
        assert before.alignment.nearest(moved.alignment.point(station))[1] == pytest.approx(by, abs=1e-6)
    assert one(assess(finding.fixes[0].made(close)), "footing", "r1").state != State.FAILS and moved.alignment.point(0.0) == before.alignment.point(0.0)
    with pytest.raises(InputError, match="has an outlet or another run on what collects"):
        moved_aside(DEMO, "r3", 1.0)


@pytest.mark.parametrize("station", [10.0, 30.0, 45.0])
def test_a_run_in_two_says_the_same_of_the_same_ground(station):
    """Levels, water, quantities and flow are where they were; readings, shots and the place go with the part they lie on."""
    broken = with_changes(DEMO, "r1", breaks=(GradeBreak(20.0, 0.014), GradeBreak(36.0, 0.011)))
    run = laid_run(broken, "r1")
    job = with_reading(with_reading(broken, "r1", 5.0, 29.0), "r1", 50.0, 29.5)
    parted, upper = in_two(job, "r1", station)
    assert not faults(parted) and [r.name for r in parted.runs][:2] == ["slab drain", "slab drain, upper"] and len(parted.runs) == 5
    assert laid_run(parted, "r1").length + laid_run(parted, upper).length == pytest.approx(run.length)
    before, after = assess(job), assess(parted)
    for at in np.linspace(0.5, run.length - 0.5, 23):
        part, there = ("r1", at) if at <= station else (upper, at - station)
        old, new = before.run("r1"), after.run(part)
        assert float(invert_at(new.run, np.array(there))) == pytest.approx(float(invert_at(run, np.array(at))), abs=1e-9)
        assert new.run.is_solid_at(there) == old.run.is_solid_at(at) and new.grade.at(new.grade.ground, there) == pytest.approx(old.grade.at(old.grade.ground, at), abs=1e-6)
    assert after.run("r1").flow.discharge[0] == pytest.approx(before.run("r1").flow.discharge[0], rel=0.25)  # either part's inflow is that of its own middle
    assert [f.value for f in after.takeoff.rows()] == pytest.approx([f.value for f in before.takeoff.rows()], rel=1e-6)
    assert [(b.run, b.station) for b in parted.as_built] == [("r1", 5.0), (upper, pytest.approx(50.0 - station))]
    assert {s.run for s in parted.survey.shots if s.station is not None} == {"r1", upper}
    assert [bool(o.serving) for o in (after.run("r1"), after.run(upper))] == [station > 28.0, True]  # what collects still keeps the slab dry
    assert one(after, "reach", "t10" if station > 28.0 else upper).state == State.HOLDS
    assert one(after, "joints", upper).state == State.HOLDS
    with pytest.raises(InputError, match="cannot be parted at its end"):
        in_two(job, "r1", 0.0)


def test_an_outlet_on_another_run_is_joined_by_its_fix():
    """A pair at the limit; the fix leads the water into that run, and the finding is gone."""
    near = laid_run(DEMO, "r1").alignment.point(15.0)
    for off, count in ((0.1523, 1), (0.1525, 0)):
        job = add_run(DEMO, [(near[0] + off, near[1]), (near[0] + 9.0, near[1] + 1.0)], collects=True, ground=29.0)
        found = [f for f in assess(job).findings if f.code == "outlet-on-run"]
        assert len(found) == count
        if found:
            joined = found[0].fixes[0].made(job)
            assert not faults(joined) and network_of(joined).drains_to(network_of(joined).runs[-1])[0][0].id == "r1"
            assert "outlet-on-run" not in {f.code for f in assess(joined).findings}


def test_a_run_drawn_from_its_high_end_is_offered_to_be_turned():
    wrong = turned_round(DEMO, "r3")
    found = one(assess(wrong), "against-fall", "r3")
    assert found.state == State.TIGHT and laid_run(found.fixes[0].made(wrong), "r3").nodes[0][0].id == "n7"
    limit = found.value
    for share, count in ((1 - 1e-6, 1), (1 + 1e-6, 0)):
        assert sum(f.code == "against-fall" for f in assess(wrong, rules=dataclasses.replace(shipped_rules(), against_fall=limit * share)).findings) == count


@pytest.mark.parametrize(("intensity", "state", "words"), [(1e-6, State.HOLDS, "stands 1 in over"), (2e-5, State.HOLDS, "stands 3 7/8 in"), (6e-5, State.TIGHT, "runs full"),
                                                         (1.5e-4, State.FAILS, "over the ground")])  # fmt: skip
def test_a_level_pipe_is_judged_by_how_high_water_stands_in_it(intensity, state, words):
    """Boxes in a solid pipe that comes to daylight, laid level: at the end the ground lies under it, which is no water over the ground."""
    eave = pattern("eave").job()
    level = with_changes(dataclasses.replace(eave, sources=tuple(dataclasses.replace(s, intensity=intensity) for s in eave.sources)), eave.runs[0].id, slope=0.0, breaks=())
    outcome = assess(level)
    found = one(outcome, "capacity", eave.runs[0].id)
    assert found.state == state and words in worded(found, level).reason
    run = outcome.site.runs[0]  # a design storm that brings less than the short, hard rain takes nothing back of that
    mild = StormFlow(run.flow_high.discharge * 0.01, run.flow_high.full_fraction, run.grade.invert + 1e-3, is_simulated=True)
    again = asked_again(outcome, "capacity", dataclasses.replace(run, storm=mild))
    assert (again.state, again.value) == (found.state, found.value) and "in the design storm" not in worded(again, level).reason


def test_in_a_grid_every_flow_is_known_and_what_comes_in_leaves():
    site = assess(pattern("grid").job()).site
    assert all(found.flow_high.shared is None and found.flow_high.missing is None for found in site.runs)
    comes = sum(seep.rate * part.length for found in site.runs for seep in found.water.inflow_high.seeps for part in [seep.of])
    assert sum(leaves.discharge for leaves in site.exits.values()) == pytest.approx(comes + sum(found.water.storm_flow for found in site.runs), rel=1e-6)


@pytest.mark.parametrize(("level", "words"), [(29.2, "full|part full"), (29.6, "full|over the stone|in the stone|part full"), (30.2, "full|over the ground|over the stone")])
def test_where_water_stands_goes_up_with_what_it_falls_into(level, words):
    """From the low end up: pressed in the solid pipe, then where its level lies above the ground, the stone, the crown."""
    found = standing(assess(with_value(DEMO, "nodes.n1.outlet.water_level", level)).site.run("r1"))
    assert [word for word, _ in groupby(found.stands)] == words.split("|")
    for word, surface, crown, stone, ground in zip(found.stands, found.surface, found.crown, found.stone, found.ground, strict=True):
        low, high = {"part full": (-np.inf, crown), "in the stone": (crown, stone), "over the stone": (stone, ground), "over the ground": (ground, np.inf)}.get(word, (crown, np.inf))
        assert low - 1e-5 <= surface <= high + 1e-5
