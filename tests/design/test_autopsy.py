"""Why an old drain failed, whether the new design does it again, and what of the old one goes into the job."""

from __future__ import annotations

import dataclasses
import json
import math

import numpy as np
import pytest
import shapely
from scipy.optimize import brentq

from laying import one, reason_of
from weirant.cli.main import main
from weirant.design.assess import assess
from weirant.design.autopsy import (
    LIKELY,
    REPEATED_BY,
    as_existing,
    autopsy,
    failures,
    old_drain_answered,
    opened,
    questions,
    without_old_drain,
)
from weirant.design.demo import demo_job
from weirant.design.patterns import pattern
from weirant.errors import InputError, JobFileError
from weirant.formats import job_file
from weirant.ground.network import laid_run
from weirant.ground.turning import in_two
from weirant.job.answers import Answer
from weirant.job.faults import faults
from weirant.job.old_drains import OldDrain
from weirant.job.paths import value_at, with_value
from weirant.job.removal import without_run
from weirant.job.site import Feature, Spot
from weirant.job.soil import Layer, SievePoint, Soil
from weirant.library import shipped
from weirant.methods.pipe_flow import pipe_full_flow, silted_share
from weirant.words.findings import titles

DEMO = demo_job()


def with_drain(*seen, job=DEMO, **figures):
    return dataclasses.replace(job, old_drains=(OldDrain("d1", seen=tuple(Answer(*each) for each in seen), **figures),))


@pytest.mark.parametrize(("seen", "cause"), [
    ([("between", "nothing"), ("stone", "mud all through it"), ("in-pipe", "fine mud all along")], "unheld"),
    ([("between", "cloth round the stone"), ("cloth", "caked with mud"), ("stone", "clean"), ("stone-wet", "no, but in the soil outside")], "blinded"),
    ([("stone", "dust of the crusher in it"), ("between", "cloth round the stone")], "fines-in-stone"),
    ([("stone", "hardly any stone there"), ("failed", "it never worked")], "little-stone"),
    ([("holes", "down only"), ("stone", "mud at its foot only"), ("stone-wet", "yes, higher than in the pipe")], "shut-from-below"),
    ([("stands", "in one place"), ("in-pipe", "mud in one low place")], "no-fall"), ([("stands", "along the whole line"), ("end", "buried, grown over or iced")], "outlet"),
    ([("in-pipe", "leaves and grit of shingles"), ("led", "roof water")], "debris"), ([("in-pipe", "roots"), ("trees", "within 20 ft (6 m)")], "roots"),
    ([("in-pipe", "rust-coloured slime")], "slime"), ([("in-pipe", "a white or grey crust")], "crust"), ([("pipe", "crushed or cracked"), ("failed", "all at once")], "broken"),
    ([("in-pipe", "a nest or a lump"), ("stands", "above one place only")], "nest"),
    ([("stone", "clean"), ("in-pipe", "nothing"), ("stands", "no, it is dry"), ("failed", "it never worked")], "misplaced"),
])  # fmt: skip
def test_causes_are_told_apart(seen, cause):
    """Signs as practitioners read them in an opened trench (common practice, no source); in any order."""
    job = with_drain(*seen)
    found = autopsy(assess(job), job.old_drains[0])
    first = found.causes[0]
    assert first.failure.key == cause and first.belief.share >= LIKELY and first.belief.points_for and first.failure.measure and first.failure.look
    assert sum(c.belief.share for c in found.causes) == pytest.approx(1) and found.ask_next.key not in dict(seen)
    backwards = with_drain(*reversed(seen))
    assert autopsy(assess(backwards), backwards.old_drains[0]).causes == found.causes


def test_the_tables_hang_together():
    """Every answer that weighs does so on a cause that is there, every cause is weighed for, and what would repeat it are findings."""
    from weirant.design.evidence import weights_of

    keys = {failure.key for failure in failures()}
    weighed = {key: weight for weights in weights_of("autopsy.csv").values() for key, weight in weights.items() if weight > 0}
    assert set(weighed) == keys == set(REPEATED_BY)
    assert {code for codes in REPEATED_BY.values() for code in codes} <= set(titles())


def test_shares_are_those_of_weights_that_add_up_at_half():
    """Of one answer with one weight: e to half of it, against the fourteen others."""
    job = with_drain(("in-pipe", "rust-coloured slime"))
    share = autopsy(assess(job), job.old_drains[0]).causes[0].belief.share
    assert share == pytest.approx(math.exp(2.0) / (math.exp(2.0) + len(failures()) - 1))


@pytest.mark.parametrize(("times", "heard"), [(0.49, "runs into"), (0.51, None), (0.99, None), (1.01, "stays out")])
def test_the_soils_own_gradation_is_evidence_from_twice_the_limit_on(times, heard):
    """What holds so many times the D15 of bare drain stone; in between it says nothing."""
    stone = shipped().aggregate("stone-19").coarse_side.size_at(15)
    d85 = stone * times / 4  # a clean sand of category 4: D15 of at most 4 d85 (NEH 633)
    points = tuple(SievePoint(s, p) for s, p in ((d85 * 1.2, 100.0), (d85, 85.0), (d85 / 3, 20.0), (75e-6, 3.0)))
    job = dataclasses.replace(with_drain(("between", "nothing")), soils=(Soil((Layer("sand", None, None, points),), 0.762, 0.1524, 0.07),))
    found = {c.failure.key: c.belief for c in autopsy(assess(job), job.old_drains[0]).causes}["unheld"]
    said = [w for w in (*found.points_for, *found.points_against) if "this soil" in w]
    assert (heard in said[0]) if heard else not said


def test_the_soil_asked_is_that_of_the_run_that_the_old_drain_is():
    """Over two soils, one sieved: only the drain that lies there hears of its curve."""
    line = laid_run(DEMO, "r4").alignment
    west, south, east, north = shapely.bounds(shapely.linestrings([line.point(s) for s in np.linspace(0, line.length, 9)])).tolist()
    patch = Feature("t90", "lawn", "silt patch", tuple(Spot(x, y) for x, y in ((west - 2, south - 2), (east + 2, south - 2), (east + 2, north + 2), (west - 2, north + 2))))
    silt = dataclasses.replace(DEMO.soils[0], id="g2", area="t90")
    unsieved = dataclasses.replace(DEMO.soils[0], layers=tuple(dataclasses.replace(layer, gradation=()) for layer in DEMO.soils[0].layers))
    job = dataclasses.replace(DEMO, features=(*DEMO.features, patch), soils=(unsieved, silt))
    told = []
    for run in ("", "r1", "r4"):
        drain = OldDrain("d1", seen=(Answer("between", "nothing"),), run=run)
        causes = {c.failure.key: c.belief for c in autopsy(assess(dataclasses.replace(job, old_drains=(drain,))), drain).causes}
        told.append(any("this soil" in words for words in causes["unheld"].points_for))
    assert told == [False, False, True]


SILTED = (("between", "nothing"), ("stone", "mud all through it"), ("in-pipe", "fine mud all along"))


@pytest.mark.parametrize(("changes", "state", "words"), [
    ({}, "holds", "does not do it again"), ({"sections.s1.wrap": "none"}, "fails", "does it again (see: stone against soil)"),
    ({"soils.g1.layers.0.gradation": ()}, "tight", "comes near to it"),
])  # fmt: skip
def test_the_new_design_is_held_against_it(changes, state, words):
    job = with_drain(*SILTED)
    for path, value in changes.items():
        job = with_value(job, path, value)
    outcome = assess(job)
    assert one(outcome, "old-drain", "d1").state == state and words in reason_of(outcome, "old-drain", "d1")


def test_nothing_is_said_while_no_cause_stands_out_and_nothing_is_kept_unseen():
    outcome = assess(with_drain())
    assert (one(outcome, "old-drain", "d1").state, one(outcome, "old-drain", "d1").case) == ("unknown", "open")
    assert autopsy(outcome, outcome.job.old_drains[0]).kept == ()
    sound = with_drain(("pipe", "sound"), ("stone", "clean"), ("between", "cloth round the stone"), ("end", "free, and it runs"))
    told = autopsy(assess(sound), sound.old_drains[0]).kept
    assert "its outlet, which is free" in told and any("the whole of it" in words for words in told)
    muddy = with_drain(("pipe", "sound"), ("stone", "mud all through it"))
    assert any("as solid pipe" in words for words in autopsy(assess(muddy), muddy.old_drains[0]).kept)


@pytest.mark.parametrize(("field", "low", "high", "cause"), [("sediment", 0.0249, 0.0251, "unheld"), ("blocked", 0.499, 0.501, "shut-from-below"), ("age", 9.9, 10.1, "unheld")])
def test_figures_weigh_from_their_limit_on(field, low, high, cause):
    shares = [{c.failure.key: c.belief.share for c in autopsy(assess(job), job.old_drains[0]).causes}[cause] for job in (with_drain(size=0.1, **{field: v}) for v in (low, high))]
    assert shares[0] < shares[1]


@pytest.mark.parametrize("filled", [0.0, 0.1, 0.25, 0.5, 0.9, 1.0])
def test_what_sediment_leaves_of_a_pipe_is_what_its_area_and_wet_border_say(filled):
    """Against the area by integration and the border by its angle; half full of sediment is the closed form."""
    y = np.linspace(filled, 1, 200_001)
    area = np.trapezoid(2 * np.sqrt(np.maximum(y * (1 - y), 0)), y)
    half_angle = math.pi - math.acos(1 - 2 * filled)
    around = half_angle + math.sqrt(filled * (1 - filled)) * 2
    wanted = area * (area / around) ** (2 / 3) / ((math.pi / 4) * 0.25 ** (2 / 3)) if area > 0 else 0.0
    assert silted_share(filled) == pytest.approx(wanted, abs=2e-6)
    if filled == 0.5:
        assert silted_share(filled) == pytest.approx(0.5 * (math.pi / (math.pi + 2)) ** (2 / 3))


def test_as_a_run_it_lies_there_with_its_sediment_and_carries_what_that_leaves():
    job = pattern("old-drain").job()
    old = next(run for run in job.runs if run.status == "existing")
    pipe = assess(job).run(old.id).collecting.make.pipe
    depth = brentq(lambda s: silted_share(s / pipe.inner_diameter) - 0.5, 0, pipe.inner_diameter)
    job = dataclasses.replace(job, old_drains=(OldDrain("d1", sediment=depth),))
    job = as_existing(job, "d1", old.id)
    silted, clean = (assess(j).run(old.id) for j in (job, with_value(job, f"runs.{old.id}.sediment", 0.0)))
    full = [pipe_full_flow(f.collecting.make.pipe.inner_diameter, f.collecting.make.pipe.roughness_n, 0.01).discharge for f in (silted, clean)]
    assert full[0] == pytest.approx(full[1] / 2) and silted.grade.invert == pytest.approx(clean.grade.invert) and job.old_drains[0].run == old.id
    planned = with_value(job, f"runs.{old.id}.status", "planned")
    assert assess(planned).run(old.id).collecting.make.pipe == pipe  # a new one has none in it
    halves, upper = in_two(job, old.id, 5.0)
    assert next(r for r in halves.runs if r.id == upper).sediment == depth
    assert job_file.from_text(job_file.to_text(job)) == job and not faults(job)
    gone = without_run(job, old.id)
    assert gone.job.old_drains[0].run == "" and "old drain is no run of the job then" in gone.with_it


def test_sediment_is_one_figure_wherever_it_is_typed():
    job = as_existing(with_drain(sediment=0.02), "d1", "r3")
    typed = with_value(job, "old_drains.d1.sediment", 0.05)
    assert next(r for r in typed.runs if r.id == "r3").sediment == 0.05
    back = with_value(typed, "runs.r3.sediment", 0.01)
    assert back.old_drains[0].sediment == 0.01 and value_at(back, "old_drains.d1.sediment") == 0.01
    assert next(r for r in with_value(back, "old_drains.d1.sediment", None).runs if r.id == "r3").sediment == 0.0
    apart = with_value(with_drain(sediment=0.02), "old_drains.d1.sediment", 0.03)  # which is no run yet
    assert apart.old_drains[0].sediment == 0.03 and all(r.sediment == 0 for r in apart.runs)
    said_before = as_existing(with_value(with_drain(), "runs.r3.sediment", 0.04), "d1", "r3")
    assert said_before.old_drains[0].sediment == 0.04 == next(r for r in said_before.runs if r.id == "r3").sediment
    with pytest.raises(KeyError):
        with_value(job, "old_drains.d9.sediment", 0.1)


def test_edits_and_wrong_files():
    job, identity = opened(dataclasses.replace(DEMO, old_drains=()))
    job, second = opened(job)
    assert [d.name for d in job.old_drains] == ["old drain", "old drain 2"] and identity != second
    job = old_drain_answered(job, second, "holes", "up only")
    assert old_drain_answered(job, second, "holes", "").old_drains[1].seen == () and len(without_old_drain(job, identity).old_drains) == 1
    for wrong in (lambda: old_drain_answered(job, "d9", "holes", "up only"), lambda: as_existing(job, second, "r99")):
        with pytest.raises(InputError, match="not there"):
            wrong()
    document = json.loads(job_file.to_text(job))
    document["job"]["old_drains"][0]["run"] = "r77"
    with pytest.raises(JobFileError, match=r"old_drains.0..run: old drain is the run r77, which is not there"):
        job_file.from_text(json.dumps(document))
    strange = with_drain(("holes", "sideways"), ("nobody asked", "yes"))  # answers of another version weigh nothing
    assert {round(c.belief.share, 9) for c in autopsy(assess(strange), strange.old_drains[0]).causes} == {round(1 / len(failures()), 9)}
    assert all(q.answers for q in questions())


def test_the_command_tells_the_same(capsys, tmp_path):
    assert main(["autopsy", "demo", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)[0]
    assert told["causes"][0]["cause"] == "unheld" and told["causes"][0]["repeated"] == "holds" and told["kept"]
    assert main(["autopsy", "pattern:swale"]) == 2 and "has no old drain" in capsys.readouterr().err
