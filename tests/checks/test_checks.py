"""Each check on the side of its limit where it holds, and on the side where it fails."""

from __future__ import annotations

import dataclasses

import pytest

from laying import sieved
from weirant.checks.judge import judge
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.errors import InputError
from weirant.job.paths import with_value
from weirant.job.soil import Band, Layer, SievePoint
from weirant.outcome.finding import State
from weirant.sources import citation
from weirant.words.findings import worded

FT, IN = 0.3048, 0.0254
SAND = ((4.75e-3, 100.0), (0.6e-3, 85.0), (0.3e-3, 50.0), (0.2e-3, 15.0), (0.15e-3, 8.0), (75e-6, 2.0))
F, T, U, H = State.FAILS, State.TIGHT, State.UNKNOWN, State.HOLDS


def changed(job, changes):
    for path, value in changes.items():
        job = with_value(job, path, value)
    return job


def demo_with(job, changes):
    return of_slab_drain(assess(changed(job, changes)))


def of_slab_drain(outcome):
    """Findings of the job and of its slab drain, by their keys."""
    return {f.code: f for f in outcome.findings if f.subject in ("", "r1")}


@pytest.mark.parametrize(
    ("key", "changes", "state", "says"),
    [
        ("slope", {"runs.r1.slope": 0.004}, F, "falls 0.40 %"),
        ("slope", {"runs.r1.slope": 0.0052}, T, "falls 0.52 %"),
        ("slope", {"limits.least_slope": 0.0}, H, "1 1/2 in in 10 ft"),
        ("closure", {"survey.allowed_misclosure": 0.001}, F, "more than the"),
        ("daylight", {"runs.r1.invert": 94.0 * FT}, F, "does not daylight"),
        ("daylight", {"runs.r1.invert": 98.0 * FT}, F, "comes out of the ground at station"),
        ("outlet-level", {"nodes.n1.outlet.water_level": None}, U, "highest mark"),
        ("outlet-level", {"nodes.n1.outlet.water_level": 90.0 * FT}, H, "above the water"),
        ("outlet-level", {"nodes.n1.outlet.water_level": 95.0 * FT}, T, "above the water"),
        ("cover", {"runs.r1.invert": 96.7 * FT}, F, "least cover"),
        ("cap", {"sections.s1.stone_cover": 0.7}, F, "out of the trench"),
        ("drain-level", {"features.t10.dry_depth": 40 * IN}, F, "no drier than that"),
        ("drain-level", {"soils.g1.water_table_depth": 0.9, "soils.g1.hard_layer_depth": 2.0}, H, "by itself when it is wet"),
        ("drain-level", {"soils.g1.water_table_depth": 0.9, "soils.g1.hard_layer_depth": 2.0, "features.t10.dry_depth": 1.0}, F, "by itself when it is wet"),
        ("table", {"features.t10.dry_depth": 30.2 * IN}, F, "Water is expected"),
        ("barrier", {"soils.g1.hard_layer_depth": 60 * IN}, T, "passes under the drain"),
        ("reach", {"runs.r1.length": 150 * FT}, F, "misses 14.0 ft"),
        ("roof", {"sources.w1.node": "n3"}, F, "leaves and grit"),
        ("capacity", {"runs.r1.contributing_area": 80000.0}, F, "the pipe carries"),
        ("velocity", {"runs.r1.slope": 0.003}, T, "silt may settle"),
        ("velocity", {"runs.r1.slope": 0.4}, F, "anchoring"),
        ("intake", {"limits.blocked": 0.99, "runs.r1.contributing_area": 40000.0}, F, "less than comes"),
        ("retention", {"sections.s1.geotextile": "monofilament-open"}, F, "lets this soil through"),
        ("permittivity", {"sections.s1.geotextile": "slit-film"}, F, "Permittivity 0.050 /s"),
        ("clogging", {"sections.s1.geotextile": "slit-film"}, F, "blinds in silt"),
        ("soil-stone", {"sections.s1.wrap": "none"}, F, "wash into its voids"),
        ("stone-drains", {"sections.s1.aggregate": "crusher-run"}, F, "Use washed stone"),
        ("stone-pipe", {"sections.s1.aggregate": "c33-sand"}, F, "D85 is 0.74 times the 1.6 mm slots"),
        ("stone-pipe", {"runs.r1.pipe": "pvc-100-two-row", "sections.s1.aggregate": "no-57"}, T, "13 mm holes"),
        ("stone-pipe", {"sections.s1.aggregate": "c33-sand", "sections.s1.wrap": "sock"}, H, "mm openings of the sock"),
        ("sock", {"sections.s1.wrap": "sock"}, T, "of the area a full wrap"),
        ("walls", {"runs.r1.invert": 92.0 * FT}, F, "nobody goes in"),
        ("walls", {"runs.r1.invert": 93.5 * FT}, T, "keep a ladder"),
        ("walls", {"runs.r1.invert": 92.0 * FT, "sections.s1.bench_width": 2.0}, T, "stepped back, no wall of them over 4 ft"),
        ("walls", {"runs.r1.invert": 92.0 * FT, "sections.s1.bench_width": 0.5}, F, "nobody goes in"),
        ("walls", {"runs.r1.invert": 92.0 * FT, "sections.s1.bench_width": 3.0, "sections.s1.bench_height": 1.3}, F, "nobody goes in"),
        ("walls", {"runs.r1.invert": 92.0 * FT, "sections.s1.bench_width": 3.0, "soils.g1.layers.0.texture": "sand"}, F, "nobody goes in"),
        ("footing", {"features.t10.footing_depth": None, "runs.r1.distance": 3 * FT}, U, "Dig a small hole"),
        ("footing", {"runs.r1.distance": 1.5 * FT, "features.t10.footing_depth": 4 * IN}, F, "inside the 45° line"),
        ("footing", {"runs.r1.distance": 0.4 * FT}, F, "under the clubhouse slab itself"),
        ("private-lines-checked", {"permissions.private_lines_checked": False}, F, "Find the private lines first"),
        ("discharge-allowed", {"permissions.discharge_allowed": None}, U, "Ask whether"),
    ],
)  # fmt: skip
def test_states(job, key, changes, state, says):
    found = demo_with(job, changes)[key]
    assert (found.state, says in worded(found, job).reason) == (state, True), found
    assert citation(found.source)
    if found.state == F and found.value is not None:
        assert found.margin is not None and found.margin <= 1e-9


FIXED = {
    "slope": {"runs.r1.slope": 0.004}, "daylight": {"runs.r1.invert": 94.0 * FT}, "outlet-level": {}, "cover": {"runs.r1.invert": 96.7 * FT},
    "cap": {"sections.s1.stone_cover": 0.7}, "drain-level": {"features.t10.dry_depth": 36 * IN}, "reach": {"runs.r1.length": 150 * FT},
    "roof": {"sources.w1.node": "n3"}, "capacity": {"runs.r1.contributing_area": 40000.0},
    "retention": {"sections.s1.geotextile": "monofilament-open"}, "clogging": {"sections.s1.geotextile": "slit-film"}, "soil-stone": {"sections.s1.wrap": "none"},
    "stone-drains": {"sections.s1.aggregate": "crusher-run"}, "stone-pipe": {"sections.s1.aggregate": "c33-sand"}, "walls": {"runs.r1.invert": 92.0 * FT},
    "footing": {"runs.r1.distance": 1.5 * FT, "features.t10.footing_depth": 4 * IN},
}  # fmt: skip


def test_a_fix_for_what_is_gone_is_refused_in_words(job):
    """A command that was made for a job which has lost the section or the run since."""
    other = dataclasses.replace(job, sections=(dataclasses.replace(job.sections[0], id="s9"),), runs=tuple(dataclasses.replace(r, id=f"{r.id}9") for r in job.runs))
    for key in ("cap", "slope", "daylight"):
        for fix in demo_with(job, FIXED[key])[key].fixes:
            with pytest.raises(InputError, match=r"not there any more|not on this site"):
                fix.made(other)


@pytest.mark.parametrize("key", FIXED)
def test_the_first_fix_cures(job, key):
    found = demo_with(job, FIXED[key])[key]
    assert found.state == F and found.fixes
    after = of_slab_drain(assess(found.fixes[0].made(changed(job, FIXED[key]))))
    assert key not in after or after[key].state != F, after[key]


@pytest.mark.parametrize(("wide", "texture", "state"), [(2.0, "silt-loam", T), (0.0, "silt-loam", F), (2.0, "loamy-sand", F)])
def test_the_walls_of_every_stretch_are_asked_not_of_the_deepest_alone(job, wide, texture, state):
    """The solid stretch is benched; the collecting one, not quite so deep, is what it is given, in a soil that may be loose below."""
    job = changed(job, {"runs.r1.invert": 92.0 * FT, "sections.s1.bench_width": 2.0, "soils.g1.layers.1.texture": texture})
    other = dataclasses.replace(job.sections[0], id="s9", name="other", bench_width=wide)
    job = dataclasses.replace(job, sections=(*job.sections, other))
    found = demo_with(job, {"runs.r1.stretches.p2.section": "s9"})["walls"]
    assert (found.state, found.case) == (state, "benched" if state == T else "") and (wide or found.piece == "p2")


def test_an_assumed_gradation_is_never_shown_as_sure(job):
    soil = sieved(job.soils[0], gradation=())
    found = of_slab_drain(assess(dataclasses.replace(job, soils=(soil,))))
    assert found["retention"].state in (F, T) and "only assumed" in worded(found["retention"], job).reason


def test_a_curve_that_stops_short_is_unknown(job):
    soil = sieved(job.soils[0], gradation=(SievePoint(2e-3, 80.0), SievePoint(1e-3, 60.0)))
    found = of_slab_drain(assess(dataclasses.replace(job, soils=(soil,))))
    assert found["retention"].state == U and "sieved, with a wash" in worded(found["retention"], job).reason


def test_a_uniform_sand_asks_for_the_most_open_fabric(job):
    soil = sieved(job.soils[0], gradation=tuple(SievePoint(s, p) for s, p in SAND))
    found = of_slab_drain(assess(dataclasses.replace(job, soils=(soil,))))
    assert "take the most open fabric" in worded(found["clogging"], job).reason


def test_without_levels_the_ground_is_unknown(bare):
    found = of_slab_drain(assess(bare))
    assert found["ground"].state == U and found["closure"].state == U and "daylight" not in found


@pytest.mark.parametrize(
    ("value", "limit", "at_most", "band", "state"),
    [
        (5, 10, True, None, H), (9.5, 10, True, None, T), (11, 10, True, None, F), (10.5, 10, False, None, T), (11.5, 10, False, None, H), (9, 10, False, None, F),
        (5, 10, True, (1, 12), T), (5, 10, True, (1, 9.5), H), (20, 10, False, (5, 30), T), (0, 0, True, None, H),
    ],
)  # fmt: skip
def test_judge(value, limit, at_most, band, state):
    assert judge(value, limit, at_most=at_most, band=band) == state


def test_of_a_sieve_that_stops_above_the_finest_tenth_the_least_opening_is_allowed():
    """12 % pass No. 200: how uniform the soil is nobody knows, and B is 1, not what the finest sieve would have it; "uniform" is not said of it."""
    sieve = tuple(SievePoint(size / 1000, percent) for size, percent in ((2.0, 100.0), (0.85, 95.0), (0.4, 85.0), (0.25, 60.0), (0.15, 30.0), (0.075, 12.0)))
    job = dataclasses.replace(demo_job(), soils=(sieved(demo_job().soils[0], gradation=sieve),))
    found = {f.code: f for f in assess(job).findings if f.subject == "r1"}
    assert found["retention"].limit == pytest.approx(0.4e-3) and found["clogging"].case == ""


def test_a_plastic_clay_is_offered_what_is_in_use_for_it():
    clay = dataclasses.replace(demo_job().soils[0], layers=(Layer("clay", None, Band(1e-7, 2e-7, 4e-7), plasticity_index=32.0),))
    found = next(f for f in assess(dataclasses.replace(demo_job(), soils=(clay,))).findings if f.code == "retention")
    loose = next(f for f in assess(dataclasses.replace(demo_job(), soils=(sieved(clay, plasticity_index=5.0),))).findings if f.code == "retention")
    assert (found.state, found.case, loose.state) == (State.TIGHT, "cohesive", State.FAILS)
