"""The cloth in itself and the soil beside it: each verdict at its limit, from the job on."""

from __future__ import annotations

import dataclasses

import pytest

from laying import one, reason_of, sieved
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.effects import tried
from weirant.job.paths import with_value
from weirant.job.soil import SievePoint
from weirant.library import shipped
from weirant.methods.geotextile import geotextile_limits
from weirant.methods.gradation import gradation_of
from weirant.methods.internal_stability import internal_stability, is_stable

DEMO, LIBRARY = demo_job(), shipped()


def talbot(power, top=19.0, finest=0.01):
    """A curve along a parabola of a power, of which H over F is 4 to the power less 1 everywhere."""
    count = 60
    return [(finest * (top / finest) ** (i / count) / 1e3, 100 * (finest / top * (top / finest) ** (i / count)) ** power) for i in range(count + 1)]


@pytest.mark.parametrize(("power", "kenney", "burenkova"), [(0.505, True, True), (0.495, False, True), (0.70, True, False), (0.3, False, True)])
def test_a_parabola_is_stable_by_its_power(power, kenney, burenkova):
    """H/F = 4ⁿ − 1, which is one for Fuller's (n = 1/2)."""
    found = internal_stability(gradation_of(talbot(power)))
    assert found.least_ratio == pytest.approx(4**power - 1, rel=2e-2) and is_stable(found) == (kenney, burenkova)


def test_what_is_looked_at_ends_where_grains_no_longer_lie_loose():
    """At 25 % passing H is 0.64 F, which counts in a narrow soil alone: in one of many sizes all over 20 % carries."""
    wide = gradation_of([(s / 1e3, p) for s, p in ((0.02, 4), (0.1, 12), (0.2, 20), (0.3, 25), (0.8, 40.5), (1.3, 41), (5, 80), (19, 100))])
    assert wide.uniformity > 3 and internal_stability(wide).least_ratio == pytest.approx(1.025, abs=0.01)


@pytest.mark.parametrize(("points", "index", "state", "case"), [
    (talbot(0.52), 3.0, "holds", ""), (talbot(0.45), 3.0, "tight", "differ"),
    ([(19e-3, 100.0), (9.5e-3, 40.0), (4.75e-3, 25.0), (0.3e-3, 22.0), (0.075e-3, 14.0), (0.01e-3, 2.0)], 0.0, "tight", "loose"),
    (talbot(0.45), 7.5, "", ""), ([(4.75e-3, 100.0), (0.3e-3, 60.0), (0.075e-3, 40.0)], 3.0, "unknown", ""),
])  # fmt: skip
def test_a_soil_whose_fines_lie_loose_is_told_and_clay_is_not_asked(points, index, state, case):
    soil = sieved(DEMO.soils[0], gradation=tuple(SievePoint(*p) for p in sorted(points, reverse=True)), plasticity_index=index)
    found = [f for f in assess(dataclasses.replace(DEMO, soils=(soil,))).findings if f.code == "soil-stability" and f.subject == "r1"]
    assert [(str(f.state), f.case) for f in found] == ([(state, case)] if state else [])
    assert not [f for f in assess(dataclasses.replace(DEMO, soils=(sieved(DEMO.soils[0], gradation=()),))).findings if f.code == "soil-stability"]


@pytest.mark.parametrize(("points", "index", "case"), [
    ([(4.75e-3, 100.0), (0.075e-3, 4.9)], 7.1, "contradict"), ([(4.75e-3, 100.0), (0.075e-3, 5.1)], 7.1, ""), ([(4.75e-3, 100.0), (0.075e-3, 4.9)], 6.9, ""),
    ([(4.75e-3, 100.0), (0.075e-3, 4.9)], None, ""), ([(4.75e-3, 100.0), (0.075e-3, 30.5)], 3.0, "stops"), ([(4.75e-3, 100.0), (0.075e-3, 29.5)], 3.0, ""),
])  # fmt: skip
def test_what_the_laboratory_says_must_hang_together_and_go_far_enough(points, index, case):
    soil = sieved(DEMO.soils[0], gradation=tuple(SievePoint(*p) for p in points), plasticity_index=index)
    found = [f for f in assess(dataclasses.replace(DEMO, soils=(soil,))).findings if f.code == "soil-tests" and f.subject == "r1"]
    assert [f.case for f in found] == ([case] if case else []) and all(f.state == "tight" for f in found)


@pytest.mark.parametrize(("cloth", "stone", "state"), [("nonwoven-light", "no-57", "holds"), ("nonwoven-light", "no-4", "tight"), ("nonwoven-medium", "no-4", "holds"),
                                                       ("nonwoven-3", "no-57", "tight"), ("weed-thin", "no-8", "tight")])  # fmt: skip
def test_cloth_is_as_strong_as_the_stone_asks_and_its_fix_makes_it_so(cloth, stone, state):
    job = with_value(with_value(DEMO, "sections.s1.geotextile", cloth), "sections.s1.aggregate", stone)
    found = one(assess(job), "cloth-strength", "r1")
    assert found.state == state
    for fix in found.fixes:
        assert one(assess(tried(fix, job, LIBRARY)), "cloth-strength", "r1").state == "holds"
    assert bool(found.fixes) == (state == "tight")


def test_a_deep_trench_asks_the_usual_class():
    deep = with_value(DEMO, "runs.r1.invert", DEMO.runs[0].invert - 1.3)
    assert one(assess(deep), "cloth-strength", "r1").facts["wanted"] == 2 and one(assess(DEMO), "cloth-strength", "r1").facts["wanted"] == 3


def test_what_a_cloth_costs_the_water_grows_as_its_area_shrinks_and_is_told_doubled():
    """A doubled cloth costs twice as much, which is next to nothing; a film that lets through a thirtieth, with most of it clogged, is over an inch."""
    wrap, sock = one(assess(DEMO), "cloth-head", "r1"), one(assess(with_value(DEMO, "sections.s1.wrap", "sock")), "cloth-head", "r1")
    assert sock.value > 3 * wrap.value and wrap.facts["twice"].value == pytest.approx(2 * wrap.facts["new"].value) and wrap.value == pytest.approx(10 * wrap.facts["new"].value)
    heads = [one(assess(with_value(with_value(DEMO, "sections.s1.wrap", "sock"), "sections.s1.geotextile", key)), "cloth-head", "r1") for key in ("nonwoven-16", "slit-film")]
    assert heads[0].value < heads[1].value and heads[1].value == pytest.approx(sock.value * 1.7 / 0.05)
    wet = with_value(with_value(DEMO, "runs.r1.contributing_area", 40000.0), "sections.s1.geotextile", "slit-film")
    told = one(assess(with_value(wet, "sections.s1.wrap", "sock")), "cloth-head", "r1")
    assert told.state == ("tight" if told.value > 0.025 else "holds") and "clogged" in reason_of(assess(wet), "cloth-head", "r1")
    assert not [f for f in assess(with_value(DEMO, "sections.s1.wrap", "none")).findings if f.code == "cloth-head"]


@pytest.mark.parametrize(("hangs", "openings", "conductivity"), [("less-critical", 1.0, 1.0), ("critical", 1.0, 10.0), ("dynamic", 0.5 * 0.15e-3 / 0.22e-3, 10.0)])
def test_what_hangs_on_the_filter_asks_more_of_its_cloth(hangs, openings, conductivity):
    """FHWA NHI-07-092 (recalled): ten times the soil's conductivity where much hangs on it, half of d85 under flow to and fro."""
    silt = sieved(DEMO.soils[0], gradation=tuple(SievePoint(*p) for p in ((2e-3, 100.0), (0.15e-3, 85.0), (0.075e-3, 68.0), (0.02e-3, 30.0), (0.002e-3, 8.0))))
    job = with_value(dataclasses.replace(DEMO, soils=(silt,)), "limits.filters", hangs)
    figures = {f.code: f for f in assess(job).findings if f.subject == "r1"}
    assert figures["retention"].limit == pytest.approx(openings * 0.22e-3, rel=1e-6)
    soil = assess(job).layer(silt, 1)
    assert geotextile_limits(**figures["permittivity"].figure.arguments).conductivity_min == pytest.approx(conductivity * soil.conductivity.high)
