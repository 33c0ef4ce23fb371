"""Dry in time after the design storm, as a finding: it agrees with the simulation it comes from, and knows when it cannot say."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
import shapely

from weirant.design import storm_peak, storm_verdict
from weirant.design.across import Stand, hard_layer_ends, section_at, stand_at
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.effects import clears, effect_of
from weirant.design.flows import with_storm
from weirant.design.simulation import Wish, simulated, steady_state
from weirant.design.storm_verdict import of_the_band, storm_findings
from weirant.design.storms import DESIGN, storm_named
from weirant.design.table_verdict import table_findings
from weirant.design.worked_out import simulated_findings, with_nothing_waiting
from weirant.drawing.across import across_drawing
from weirant.drawing.primitives import Words
from weirant.errors import InputError
from weirant.job.paths import with_value
from weirant.job.site import Feature, Spot
from weirant.job.soil import Band, Layer
from weirant.job.survey import Survey
from weirant.outcome.commands import Instead, Set
from weirant.outcome.finding import DRY_IN_TIME, WAITS, Fix, State
from weirant.outcome.outcome import with_findings
from weirant.seepage.grid import ROUGH, USUAL
from weirant.seepage.mesh import lay_out
from weirant.seepage.results import depth_to_water
from weirant.units.display import System
from weirant.words.findings import worded
from weirant.words.storm import details, dry_words, verdict


def changed(**values):
    job = demo_job()
    for path, value in values.items():
        job = with_value(job, path.replace("__", "."), value)
    return assess(job)


def the_finding(outcome, told=None, known=None):
    """Of the one place that the demo keeps dry."""
    found = storm_findings(outcome, told, known)
    return found if found is None else found[0]


def said(finding, job=None):
    return worded(finding, job or demo_job()).reason


@pytest.fixture(scope="module")
def outcome():
    return assess(demo_job())


def test_the_finding_is_the_simulations_and_its_band_the_soils(outcome):
    found = the_finding(outcome)
    simulation = simulated(outcome, Wish(storm_named(outcome.job, DESIGN)))
    assert found.value == pytest.approx(simulation.after_rain) and found.limit == 86400.0 and found.state == State.HOLDS
    assert "over the range of the soil 2 h to 21 h" in said(found) and "2.00 in in 6 h" in said(found)
    low = dataclasses.replace(outcome, soils={"g1": dataclasses.replace(outcome.soils["g1"], conductivity=Band(*[outcome.soils["g1"].conductivity.best] * 3))})
    assert "over the range" not in said(the_finding(low))


def test_where_the_line_is_not_trusted_the_table_is_the_simulators(outcome):
    """In clay that hardly takes the seepage: unknown at once, then told; where the line is trusted nothing is asked. A fix is not said to cure what nobody has seen."""
    layer = (Layer("clay", None, Band(1e-8, 2e-8, 4e-8)),)
    clay = assess(dataclasses.replace(demo_job(), soils=(dataclasses.replace(demo_job().soils[0], layers=layer),)))
    at_once, (told,) = next(f for f in clay.findings if f.code == "table"), table_findings(clay)
    assert (at_once.state, at_once.case, at_once.value) == (State.UNKNOWN, WAITS, None) and table_findings(outcome) == ()
    says = [" ".join(w.text for w in across_drawing(o, 38.4).shapes if isinstance(w, Words)) for o in (clay, outcome)]
    assert ["guess" in text for text in says] == [True, False]
    inflow = clay.run("r1").water.parts[0].inflow
    assert inflow.band[1] >= 3 * inflow.value and inflow.band[0] <= inflow.value / 3  # so that the pipe is large enough
    simulation = simulated(clay, Wish(storm_named(clay.job, DESIGN), hours=0.1))
    assert told.state == State.FAILS and told.about == at_once.about and told.value == pytest.approx(float(simulation.course.depth_at(simulation.place)[0]), abs=0.01)
    known = with_findings(clay, (told,))
    assert [f.state for f in known.findings if f.code == "table"] == [State.FAILS]
    effect = effect_of(Fix("dig-wide", Set("sections.s1.width", 0.5)), known)
    assert told.about in {f.about for f in effect.to_be_seen} and told.about not in {f.about for f in effect.cured}


@pytest.mark.parametrize("side", ["west", "middle", "east"])
def test_along_a_place_over_two_soils_each_is_told_and_nothing_is_dry_before_both_are(side):
    slab = next(f for f in demo_job().features if f.id == "t10")
    west, south, east, north = shapely.bounds(shapely.linestrings([(p.x, p.y) for p in slab.points])).tolist()
    low, high = {"west": (west - 9, (west + east) / 2), "middle": ((west + east) / 2 - 3, (west + east) / 2 + 3), "east": ((west + east) / 2, east + 9)}[side]
    patch = Feature("t90", "lawn", "clay patch", (Spot(low, south - 5), Spot(high, south - 5), Spot(high, north + 9), Spot(low, north + 9)))
    soils = (*demo_job().soils, dataclasses.replace(demo_job().soils[0], id="g2", area="t90", layers=(Layer("clay", None, Band(1e-8, 2e-8, 4e-8)),)))
    two = assess(with_value(dataclasses.replace(demo_job(), features=(*demo_job().features, patch), soils=soils), "features.t10.dry_depth", 0.85))
    assert all(two.run("r1").part_at(part.station) is part for part in two.run("r1").serving)
    (wet, clay), known = sorted((f for f in two.findings if f.code == "table"), key=lambda f: f.case), [f for f in with_nothing_waiting(two).findings if f.code == "table"]
    assert (wet.state, clay.state) == (State.FAILS, State.UNKNOWN) and {f.station: f.state for f in known} == {wet.station: State.FAILS, clay.station: State.FAILS}
    assert wet in known and next(f for f in known if f is not wet).value == pytest.approx(0.0, abs=0.01)  # clay so tight is wet to the top
    drier = effect_of(Fix("dry-to", Set("features.t10.dry_depth", 0.1)), two)
    assert ["table" in {f.code for f in told} for told in (drier.cured, drier.settled, drier.to_be_seen)] == [False, False, True]


@pytest.mark.parametrize(("depth", "states", "says"), [(0.4572, ("unknown", "unknown"), "Not known until you have the depth of the hard layer"),
                                                       (0.78, ("fails", "fails"), "either way")])  # fmt: skip
def test_without_the_depth_of_the_hard_layer_both_ends_are_told_and_nothing_holds(outcome, depth, states, says):
    """Neither better than the worse end allows; both ends are what they would be with that depth."""
    open_ = changed(soils__g1__hard_layer_depth=None, features__t10__dry_depth=depth)
    now, storm = next(f for f in open_.findings if f.code == "table"), the_finding(open_)
    assert (now.state, storm.state) == states and says in said(now, open_.job) and ("either way" in said(storm, open_.job)) == (states[1] == "fails")
    ends = hard_layer_ends(stand_at(open_, None, "r1"))
    tables = [next(f for f in changed(soils__g1__hard_layer_depth=end, features__t10__dry_depth=depth).findings if f.code == "table").value for end in ends]
    assert [now.facts[name].depth for name in ("under", "deep")] == pytest.approx(tables, abs=3e-3)  # the pipe carries next to nothing yet
    assert next(f.state for f in changed(soils__g1__hard_layer_depth=None, features__t10__dry_depth=0.74).findings if f.code == "table") == State.UNKNOWN  # one end holds
    assert storm.facts["under"].seconds >= 0 and "hard layer right under the trench" in said(storm, open_.job)


def test_the_most_of_the_storm_reaches_the_pipes_it_flows_through():
    """From the same courses as drying does. At once only what no storm can exceed is known; what that does not settle waits, and is told on paper."""
    hard, calm = changed(water__storm_depth=0.3, water__storm_duration=7200.0), changed(water__storm_depth=0.0)
    at_once, known = {f.subject: f for f in hard.findings if f.code == "capacity"}, with_findings(hard, simulated_findings(hard))
    assert [at_once[run].case for run in ("r1", "r3", "r4")] == [WAITS] * 3 and at_once["r2"].state == State.HOLDS and "waits" not in {f.case for f in calm.findings}
    by_code = {(f.code, f.subject): f for f in known.findings}
    course = simulated(hard, Wish(storm_named(hard.job, DESIGN), run="r1")).course
    storm, part = known.run("r1").storm, hard.run("r1").water.parts[0]
    assert not storm.is_simulated and storm.discharge[0] > 20 * by_code["capacity", "r1"].facts["comes"].value  # the bound, far over what comes
    assert course.peak[0] * part.of.length <= by_code["capacity", "r1"].facts["comes"].value < 3 * course.peak[0] * part.of.length  # more in quicker soil
    assert by_code["capacity", "r3"].facts["comes"].value > by_code["capacity", "r4"].facts["comes"].value > 1e-4  # what joins above flows on
    assert by_code["capacity", "r1"].value > 2 * next(f for f in changed(water__storm_depth=0.05).findings if f.code == "capacity" and f.subject == "r1").value
    assert "in the design storm" in said(by_code["capacity", "r3"], hard.job) and by_code["capacity", "r1"].value <= storm.full_fraction.max()
    assert {(f.code, f.subject): (f.state, f.value) for f in with_nothing_waiting(hard).findings if f.code in ("capacity", "intake")} == {
        key: (f.state, pytest.approx(f.value)) for key, f in by_code.items() if key[0] in ("capacity", "intake")}  # fmt: skip
    assert simulated_findings(hard, lambda _: False) is None
    narrow = dataclasses.replace(hard, job=dataclasses.replace(hard.job, limits=dataclasses.replace(hard.job.limits, fullest=0.1)))
    failing = next(f for f in simulated_findings(narrow) if (f.code, f.subject) == ("capacity", "r1"))
    assert failing.state == State.FAILS and [fix.code for fix in failing.fixes] == ["take-product", "take-product", "more-pipes"]


def test_a_run_the_simulator_refuses_leaves_the_others_their_answers(monkeypatch):
    def refusing(outcome, station, *, run, ground):
        if run == "r4":
            raise InputError("", "no such ground")
        return section_at(outcome, station, run=run, ground=ground)

    for module in (storm_peak, storm_verdict):
        monkeypatch.setattr(module, "section_at", refusing)
    peaks = {}
    monkeypatch.setattr(storm_peak, "with_storm", lambda outcome, found, runs, through: peaks.update(found) or with_storm(outcome, found, runs, through))
    hard = changed(water__storm_depth=0.3, water__storm_duration=7200.0)
    told = {f.subject: f for f in storm_peak.carrying_findings(hard) if f.code == "capacity"}
    assert {run for run, f in told.items() if f.case == "refused"} == {"r3", "r4"} and "no such ground" in said(told["r3"], hard.job)  # r4 flows into r3
    assert told["r1"].case != "refused" and told["r1"].value is not None
    part = hard.run("r1").water.parts[0].of
    most = max(answer.peak for answer in of_the_band(hard, Stand(hard.run("r1"), part, part.station), hard.soil(part.soil).conductivity, None, {}))
    assert peaks["r1", part.station] == pytest.approx(1.06 * most, rel=1e-6)  # with what shorter steps would add


def test_on_a_hard_layer_that_the_trench_is_cut_into_usual_cells_are_fine_enough(outcome):
    """Water comes to the trench as a sheet on it, thinner than a usual cell; against cells a quarter as large."""
    stand, section, depths = stand_at(outcome, None, "r1"), section_at(outcome, run="r1"), []
    for cells in (USUAL, USUAL.times(0.25)):
        laid = lay_out(section, cells)
        depths.append(np.interp(stand.place_across(section), laid.x, depth_to_water(laid, steady_state(laid, outcome.job.water.drainage_rate).head)))
    assert depths[0] == pytest.approx(depths[1], abs=0.03)


def test_what_plants_use_counts_once_it_is_said_and_is_left_out_aloud_before():
    """FAO-56 table 2, the low end of temperate and humid at 20 °C: 2 mm a day (recalled)."""
    without, with_them = the_finding(changed()), the_finding(changed(water__climate="warm, dry"))
    assert "left out, which is cautious" in said(without) and with_them.value < 0.95 * without.value
    assert "use 0.079 in/day" in said(the_finding(changed(water__climate="mild, humid"))) and "left out" not in said(with_them)
    assert the_finding(changed(water__climate="warm, dry", water__evapotranspiration=0.0)).value == without.value  # what was measured counts before the climate


@pytest.mark.parametrize("measured", [0.1, 0.1524, 0.4])
def test_ground_without_its_drain_stands_as_was_measured(measured):
    """By the seepage that lets it; where none does it is told."""
    wet = changed(soils__g1__water_table_depth=measured)
    bare = simulated(wet, Wish(storm_named(wet.job, DESIGN), hours=0.2, drained=False))
    begins = float(bare.course.depth_at(bare.place)[0])
    assert bare.measured == measured and 0 <= bare.seepage <= 3 * wet.job.water.drainage_rate
    assert (abs(begins - measured) <= 0.05) == (bare.misses is None) and bare.misses is None
    tight = dataclasses.replace(bare, measured=measured + 0.3)
    assert tight.misses == pytest.approx(begins - measured - 0.3) and "no seepage makes this ground stand so" in verdict(bare, tight, System.METRIC)
    assert "as was measured" in verdict(bare, bare, System.METRIC)
    lines = changed(runs__r1__source="parallel lines", soils__g1__water_table_depth=measured)
    between = simulated(lines, Wish(storm_named(lines.job, DESIGN), hours=0.2, drained=False))
    assert float(between.course.depth_at(between.place)[0]) == pytest.approx(measured, abs=0.01) and between.seepage == 0


@pytest.mark.parametrize(("values", "state", "says"), [
    ({"features__t10__dry_within": 4 * 3600.0}, State.FAILS, "6 h after the design storm"),  # the best soil is too slow
    ({"features__t10__dry_within": 12 * 3600.0}, State.TIGHT, "2 h to 21 h"),  # the low end of the soil is
    ({"features__t10__dry_depth": 0.15}, State.HOLDS, "by the end of the design storm"),
    ({"features__t10__dry_depth": 0.787}, State.FAILS, "it stays wetter than 31.0 in for all of the 72 h looked at. What plants"),  # in no soil of the range
    ({"water__drainage_rate": 1e-6}, State.FAILS, "wetter than 18.0 in before any storm"),
    ({"features__t10__dry_depth": 0.74}, State.FAILS, "stays wetter than 29.1 in for all of the 72 h looked at"),
    ({"survey": Survey(), "points": ()}, State.UNKNOWN, "type the rod readings first"),
])  # fmt: skip
def test_states_and_their_words(values, state, says):
    outcome = changed(**values)
    found = the_finding(outcome)
    assert (found.state, found.code) == (state, DRY_IN_TIME) and says in said(found, outcome.job)
    assert (found.value is None) == (says.startswith(("wetter", "it stays", "stays", "type")))
    assert not found.fixes  # the demo's drain lies on the hard layer: deeper it would draw no more


def test_a_drain_over_the_hard_layer_may_be_lowered_and_that_helps():
    outcome = changed(soils__g1__hard_layer_depth=1.4, features__t10__dry_within=3600.0)
    found = the_finding(outcome)
    assert found.state == State.FAILS and [fix.name for fix in worded(found, outcome.job).offers] == ["Lower the whole run 4 in"]
    assert the_finding(assess(found.fixes[0].made(outcome.job))).value < found.value


@pytest.mark.parametrize(("texture", "state", "says"), [
    ("sand", State.HOLDS, "by the end of the design storm"), ("loam", State.TIGHT, "at once to more than 72 h"),
    ("silt-loam", State.FAILS, "days after the design storm"), ("clay", State.FAILS, "stays wetter than 18.0 in")])  # fmt: skip
def test_sand_is_dry_at_once_and_clay_is_not(texture, state, says):
    """One layer of each by its texture alone: does the drain do anything in clay?"""
    soil = dataclasses.replace(demo_job().soils[0], layers=(Layer(texture),))
    found = the_finding(assess(dataclasses.replace(demo_job(), soils=(soil,))))
    assert found.state == state and says in said(found)


def test_what_does_not_touch_the_water_is_not_simulated_again(outcome, monkeypatch):
    known = {}
    first = the_finding(outcome, known=known)
    monkeypatch.setattr(storm_verdict, "simulated", None)
    assert the_finding(changed(permissions__private_lines_checked=True), known=known) == first
    assert the_finding(changed(features__t10__dry_within=20 * 3600.0), known=known).value == first.value
    for path, value in {"sections.s1.width": 0.473, "features.t10.dry_depth": 0.15, "runs.r1.distance": 2.0, "water.storm_depth": 0.03}.items():
        with pytest.raises(TypeError):  # it must be simulated again
            the_finding(assess(with_value(demo_job(), path, value)), known=known)


def test_it_can_be_left(outcome):
    assert the_finding(changed(sections__0__width=0.417), lambda share: share < 0.2) is None


def test_a_fix_is_not_said_to_cure_what_nobody_has_simulated(outcome):
    late = changed(features__t10__dry_within=3600.0)
    late = with_findings(late, (the_finding(late),))
    assert late.findings[0].state == State.FAILS and DRY_IN_TIME in [f.code for f in late.findings]
    assert with_findings(late, (the_finding(late),)).findings == late.findings
    effect = effect_of(Fix("nothing", Instead(late.job)), late)
    low, dry = (next(f for f in late.findings if f.code == key) for key in ("outlet-level", DRY_IN_TIME))
    assert not clears(low, effect) and clears(dry, effect)  # what is simulated only the trial shows
    assert not effect.cured and [f.code for f in effect.to_be_seen] == [DRY_IN_TIME]


def test_sentences_tell_times_volumes_and_what_was_left(outcome):
    wish = Wish(storm_named(outcome.job, DESIGN), hours=48.0, fineness=ROUGH)
    drained, bare = simulated(outcome, wish), simulated(outcome, dataclasses.replace(wish, drained=False))
    said = verdict(drained, bare, System.IMPERIAL)
    assert "after the rain, in time." in said and "Without it, it is wetter than 18.0 in for all of the 48 h." in said
    assert "later than the 0.5 h wanted" in dry_words(dataclasses.replace(drained, dry_within=1800.0), System.METRIC)
    assert "it stays dry to 0 mm" in dry_words(dataclasses.replace(drained, dry_depth=1e-6), System.METRIC)
    assert "The drain never runs." in details(bare, 0.0, None, System.METRIC) and "runs already before and rises 50 min after the rain began" in details(drained, 0.0, None, System.METRIC)
    # 50.8 mm on 100 m², of which 95 % runs off, and the seepage of the wet season meanwhile
    assert "Meanwhile the roof sheds 4.83 m³." in details(drained, 95.0, None, System.METRIC)
    half = simulated(outcome, wish, lambda share: share < 0.5)
    assert "the sum was left at" in dry_words(half, System.METRIC) and "so far" in details(half, 0.0, None, System.METRIC)
