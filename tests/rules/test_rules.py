"""Every rule of the trade: its figure against its source, and the verdict it decides on both sides of it."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from laying import one, reason_of, with_changes
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.from_plan import plan_areas
from weirant.design.grade_demands import demand_of
from weirant.design.layout import add_thing, set_at_station
from weirant.design.one_trench import lay_beside
from weirant.design.patterns import pattern
from weirant.ground.crossings import distance_to
from weirant.ground.network import laid_run
from weirant.job.network import Basin, Outlet
from weirant.job.paths import with_value
from weirant.job.run_edits import with_node
from weirant.library import shipped
from weirant.outcome.finding import State
from weirant.rules import Rules, rules_from, shipped_rules, told_rules
from weirant.sources import bibliography

DEMO, RULES, FT, IN = demo_job(), shipped_rules(), 0.3048, 0.0254
DRY = with_value(DEMO, "water.storm_depth", 0.0)  # so that nothing waits for a storm to be simulated
F, T, U, H = State.FAILS, State.TIGHT, State.UNKNOWN, State.HOLDS


def test_published_figures_are_those_of_their_sources():
    """29 CFR 1926.652(a)(1)(ii) and .651(c)(2), and its table for soil of type C; NRCS 606 and USACE EM 1110-2-2300 as recalled; Terzaghi's ratio."""
    published = {"protect_from": 5 * FT, "ladder_from": 4 * FT, "laid_back": 1.5, "least_velocity": 1.4 * FT, "slot_ratio": 1.2, "hole_ratio": 1.0, "permeability_ratio": 4.0,
                 "woven_open_area": 0.04}  # fmt: skip
    for key, figure in published.items():
        assert getattr(RULES, key) == pytest.approx(figure, rel=0.01), key


def test_each_rule_stands_once_with_a_source():
    assert [r.key for r in told_rules()] == [f.name for f in dataclasses.fields(Rules)]
    assert {r.source for r in told_rules()} <= set(bibliography())
    assert all(getattr(DEMO.limits, f.name) == getattr(RULES, f.name) for f in dataclasses.fields(DEMO.limits) if "spec" in f.metadata)
    (rule,) = rules_from(["key,words,value,dimension,source,note", "a,b,1/4 in,length,cp,"])
    assert rule.value == pytest.approx(0.00635)


def let_out(job, run, **outlet):
    """The job with another outlet at the low end of a run."""
    node = laid_run(job, run).nodes[0][0]
    return with_node(job, dataclasses.replace(node, outlet=dataclasses.replace(node.outlet, **outlet)))


def near_wall(depth):
    """A wall 1.2 m beside the green's drain, its footing so deep."""
    def job():
        return with_value(add_thing(DEMO, "wall", [(70 * FT + 1.2, 0.0), (70 * FT + 1.2, 3.0)]), "features.t10.footing_depth", depth)
    return job


def deep():
    return with_value(with_value(DEMO, "runs.r1.invert", DEMO.runs[0].invert - 0.9), "sections.s1.side_slope", 1.2)


def lines_apart(feet):
    """The grid of lines 28 ft apart, worked out as if they lay otherwise."""
    job = pattern("grid").job()
    for run in job.runs:
        job = with_value(job, f"runs.{run.id}.reach", feet * FT)
    return job


def bubbler():
    return with_changes(let_out(DEMO, "r2", kind="bubbler in gravel", rise=0.2), "r2", invert=28.5)


def placed_pipe():
    job = lay_beside(DEMO, "r1", shipped(), RULES, collects=False)[0]
    return with_changes(job, "r5", invert=job.runs[-1].invert + 0.004)


def slab_over(north):
    """A slab that the roof line runs so far into, m."""
    top = laid_run(DEMO, "r2").alignment.point(laid_run(DEMO, "r2").length)
    return add_thing(DEMO, "slab", [(top[0] - 1, top[1] - north), (top[0] + 1, top[1] - north), (top[0] + 1, top[1] + 5), (top[0] - 1, top[1] + 5)])


def boxed(**figures):
    """An inlet half way up the green's drain, with a rim so far m over the ground there, or with a box."""
    job = set_at_station(DEMO, "r3", 12.0, "inlet")
    node = next(n for n in job.nodes if n.kind == "inlet")
    ground = (grade := assess(job).run("r3").grade).at(grade.ground, 12.0)
    rim = ground + figures["over"] if "over" in figures else None
    return with_node(job, dataclasses.replace(node, rim=rim, basin=Basin("round", figures.get("size"), figures.get("sump"))))


def value(outcome, found):
    return found.value


# rule, finding, run, the job, where the rule turns the verdict (from outcome and finding), and the verdict with the rule just under that and just over it
TURNS = [
    ("freeboard", "outlet-level", "r3", lambda: let_out(DEMO, "r3", water_level=DEMO.runs[2].invert - 0.06), value, H, T),
    ("outlet_proud", "daylight", "r2", bubbler, lambda o, f: f.value, F, H),
    ("step_at_joint", "joints", "r4", lambda: with_changes(DEMO, "r4", invert=DEMO.runs[3].invert - 0.0222), lambda o, f: abs(f.value), F, H),
    ("least_cap", "cap", "r1", lambda: with_value(DEMO, "sections.s1.stone_cover", 0.5), value, T, F),
    ("near_cap", "cap", "r1", lambda: with_value(DEMO, "sections.s1.stone_cover", 0.5), lambda o, f: f.value - RULES.least_cap, H, T),
    ("side_room", "fits", "r1", lambda: DEMO, lambda o, f: (f.limit - f.value) / 2, H, T),
    ("side_room", "fits", "r1", lambda: lay_beside(DEMO, "r1", shipped(), RULES, collects=False)[0], value, H, T),
    ("in_place", "in-place", "r5", placed_pipe, value, F, H),
    ("least_velocity", "velocity", "r1", lambda: DEMO, lambda o, f: f.value / 1.1, H, T),
    ("most_velocity", "velocity", "r1", lambda: DEMO, value, F, H),
    ("head_all_round", "intake", "r1", lambda: DRY, lambda o, f: RULES.head_all_round * (f.value / f.limit) ** 2, F, T),
    ("head_on_low_holes", "intake", "r1", lambda: with_value(DRY, "runs.r1.pipe", "pvc-100-two-row"), lambda o, f: RULES.head_on_low_holes * (f.value / f.limit) ** 2, F, T),
    ("slot_ratio", "stone-pipe", "r1", lambda: DEMO, value, T, F),
    ("hole_ratio", "stone-pipe", "r1", lambda: with_value(DEMO, "runs.r1.pipe", "pvc-100-two-row"), value, T, F),
    ("sure_ratio", "stone-pipe", "r1", lambda: DEMO, value, H, T),
    ("permeability_ratio", "stone-drains", "r1", lambda: DEMO, value, T, F),
    ("woven_open_area", "clogging", "r1", lambda: with_value(DEMO, "sections.s1.geotextile", "monofilament-open"), lambda o, f: shipped().geotextile("monofilament-open").open_area, H, F),
    ("protect_from", "walls", "r1", deep, value, F, T), ("laid_back", "walls", "r1", deep, lambda o, f: 1.2, T, F),
    ("ladder_from", "walls", "r3", lambda: DEMO, value, T, H),
    ("near_footing_line", "footing", "r3", near_wall(0.8), value, H, T),
    ("rim_over_ground", "rim", "r3", lambda: boxed(over=0.02), value, F, H), ("rim_under_ground", "rim", "r3", lambda: boxed(over=-0.1), value, T, H),
    ("basin_wall", "basin", "r3", lambda: boxed(size=0.2), lambda o, f: (f.limit - f.value) / 2, H, T),
    ("way_in_within", "clean-outs", "r4", lambda: DEMO, value, T, H), ("head_in_cloth", "cloth-head", "r1", lambda: DEMO, value, T, H),
    ("turf_over_cloth", "cloth-under-turf", "r1", lambda: DEMO, value, H, T),
    ("least_sump", "basin", "r3", lambda: boxed(size=0.3, sump=0.08), lambda o, f: 0.08, H, T),
    ("spacing_slack", "spacing", "t1", lambda: lines_apart(27.5), lambda o, f: f.value / f.limit - 1, F, H),
    ("place_missed", "reach", "r1", lambda: with_value(DEMO, "runs.r1.length", 46.0), value, F, H),
]  # fmt: skip


@pytest.mark.parametrize(("rule", "key", "run", "make", "turns", "under", "over"), TURNS, ids=[f"{t[0]}-{t[1]}-{i}" for i, t in enumerate(TURNS)])
def test_a_verdict_turns_at_its_rule(rule, key, run, make, turns, under, over):
    job = make()
    before = assess(job)
    at = float(turns(before, one(before, key, run)))
    assert at > 0
    states = [one(assess(job, rules=dataclasses.replace(RULES, **{rule: at * share})), key, run).state for share in (1 - 1e-5, 1 + 1e-5)]
    assert states == [under, over]


LIMITS = [
    ("least_slope", "slope", "r1", lambda: with_changes(DEMO, "r1", slope=0.011)), ("least_slope_solid", "slope", "r2", lambda: DEMO),
    ("least_cover", "cover", "r1", lambda: DEMO),
    ("most_depth", "depth", "r1", lambda: DEMO), ("fullest", "capacity", "r1", lambda: with_value(DRY, "water.drainage_rate", 3e-7)),
    ("clearance", "crossings", "r1", lambda: DEMO), ("drop_at_joints", "joints", "r4", lambda: DEMO),
    ("least_slope_trees", "roots", "r1", lambda: with_value(DEMO, "features.t9.root_radius", 8.0)),
]  # fmt: skip


@pytest.mark.parametrize(("limit", "key", "run", "make"), LIMITS)
def test_a_verdict_turns_at_the_users_limit(limit, key, run, make):
    """With the limit a hair on the good side of what is found, and a hair on the bad side."""
    job = make()
    found = one(assess(job), key, run)
    sides = [one(assess(with_value(job, f"limits.{limit}", found.value * share)), key, run) for share in ((1 + 1e-5, 1 - 1e-5) if found.at_most else (1 - 1e-5, 1 + 1e-5))]
    assert [f.limit == pytest.approx(found.value, rel=2e-5) for f in sides] == [True, True]
    assert sides[0].state in (T, H) and sides[1].state == (T if key == "roots" else F)  # a flat pipe among roots is no failure


def test_a_footing_of_unknown_depth_is_asked_for_within_so_many_depths():
    job = add_thing(DEMO, "wall", [(24.0, 3.0), (24.0, -1.0)])
    found = assess(job).run("r3")
    near = float(np.min(distance_to(found.run.alignment, job.features[-1], found.grade.stations) / found.grade.cut.clip(1e-9)))
    for share, states in ((1 - 1e-6, [H]), (1 + 1e-6, [U])):
        outcome = assess(job, rules=dataclasses.replace(RULES, near_footing=near * share))
        assert [f.state for f in outcome.findings if (f.code, f.subject) == ("footing", "r3")] == states


def test_what_lies_within_an_outline_for_less_than_a_slip_is_not_crossed():
    for north, more in ((RULES.through_outline * 0.99, False), (RULES.through_outline * 1.01, True)):
        assert ("and 1 more" in reason_of(assess(slab_over(north)), "paving", "r2")) == more  # it passes the walk in any case


def test_the_best_grade_goes_by_the_same_rules():
    """What is asked of the outlet, of the soil over the stone, and of a pipe that water rises from, moves with its rule and by as much."""
    job = let_out(let_out(DEMO, "r1", water_level=29.3), "r2", kind="pop-up emitter")
    plain = assess(job)
    moved = dataclasses.replace(RULES, freeboard=RULES.freeboard + 0.1, least_cap=RULES.least_cap + 0.1, deepest_outlet=RULES.deepest_outlet + 0.1, room_in_pipe=RULES.room_in_pipe + 0.1)
    before, after = (demand_of(dataclasses.replace(plain, rules=rules)) for rules in (RULES, moved))
    assert after.run("r1").outlet_least - before.run("r1").outlet_least == pytest.approx(0.1)
    assert before.run("r2").outlet_least - after.run("r2").outlet_least == pytest.approx(0.1)
    one_cap, other = (d.run("r1").cap_levels[np.isfinite(d.run("r1").cap_levels)] for d in (before, after))
    assert one_cap - other == pytest.approx(0.1)
    dry, wetter = (d.run("r1").collect_levels[np.isfinite(d.run("r1").collect_levels)] for d in (before, after))
    assert dry - wetter == pytest.approx(0.1 * shipped().pipe("corrugated-100").inner_diameter)


def test_areas_of_the_plan_go_by_the_width_of_a_walk():
    walks = assess(DEMO), assess(DEMO, rules=dataclasses.replace(RULES, walk_width=2 * RULES.walk_width))
    paved = [plan_areas(walk, "r1").paving - 76 * 34 * 0.3048**2 for walk in walks]  # beside the slab
    assert paved[1] == pytest.approx(2 * paved[0], rel=1e-4) and Outlet().kind == "open pipe"
