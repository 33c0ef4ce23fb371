"""Fields by path, and faults told by path."""

from __future__ import annotations

import dataclasses

import pytest

from weirant.errors import InputError
from weirant.job.faults import faults
from weirant.job.paths import label_at, spec_at, value_at, with_value
from weirant.job.site import Feature, Spot
from weirant.job.situations import with_place
from weirant.job.soil import Band, Layer, SievePoint
from weirant.units.display import System


def test_a_value_is_replaced_and_no_longer_assumed(job):
    assumed = dataclasses.replace(job, assumed=("sections.s1.width", "runs.r1.slope"))
    changed = with_value(assumed, "sections.s1.width", 0.4)
    assert (changed.sections[0].width, changed.assumed) == (0.4, ("runs.r1.slope",))
    assert job.sections[0].width != 0.4


def test_paths_reach_into_layers(job):
    changed = with_value(job, "soils.g1.layers.1.texture", "clay")
    assert value_at(changed, "soils.g1.layers.1.texture") == "clay"
    assert changed.soils[0].layers[0] == job.soils[0].layers[0]
    assert (label_at(job, "soils.g1.layers.0.thickness"), spec_at(job, "runs.r1.slope").label) == ("layer thickness", "slope")


@pytest.mark.parametrize(
    ("path", "value", "says"),
    [
        ("sections.s1.width", -0.1, "trench width must be more than 0"),
        ("sections.s1.width", 9.0, "trench width must be at most 5 m"),
        ("sections.s1.bedding", -0.1, "bedding must be at least 0"),
        ("runs.r1.slope", float("nan"), "slope must be a finite number"),
        ("sections.s1.wrap", "paper", "separation must be one of none, sock, full wrap"),
    ],
)
def test_what_a_field_may_not_take(job, path, value, says):
    with pytest.raises(InputError, match=says):
        with_value(job, path, value)


def test_the_demo_has_no_faults(job):
    assert faults(job) == []


def broken(job, part, **changes):
    first = getattr(job, part)
    return dataclasses.replace(job, **{part: (dataclasses.replace(first[0], **changes),) if isinstance(first, tuple) else dataclasses.replace(first, **changes)})


@pytest.mark.parametrize(
    ("part", "changes", "path", "says"),
    [
        ("limits", {"least_cover": -2.0}, "limits.least_cover", "at least 0"),
        ("sources", {"kind": "the moon"}, "sources[0].kind", "must be one of"),
        ("soils", {"layers": ()}, "soils[0].layers", "a layer at least"),
        ("soils", {"layers": (Layer("loam"), Layer("clay"))}, "soils[0].layers[0].thickness", "needs its thickness"),
        (
            "soils",
            {"layers": (Layer("loam", None, Band(3e-6, 2e-6, 1e-6)),)},
            "soils[0].layers[0].conductivity",
            "must not fall",
        ),
        ("soils", {"layers": (Layer("loam", None, None, (SievePoint(1e-3, 50.0), SievePoint(1e-3, 60.0))),)}, "soils[0].layers[0].gradation", "must fall"),
    ],
)
def test_faults_name_their_place(job, part, changes, path, says):
    wrong = broken(job, part, **changes)
    found = dict(faults(wrong))
    assert says in found[path] and faults(wrong, job) == faults(wrong)


@pytest.mark.parametrize(("changes", "path"), [
    (lambda j: {"runs": (*j.runs[:2], dataclasses.replace(j.runs[2], slope=9.0), j.runs[3])}, "runs[2].slope"), (lambda j: {"name": "half \ud800"}, "name"),
    (lambda j: {"holes": j.holes * 200}, "holes"), (lambda j: {"points": (*j.points, dataclasses.replace(j.points[0], level=1e9)) * 40}, "points"),
    (lambda j: {"nodes": tuple(reversed(j.nodes[:-1]))}, "runs[3].nodes"),
])  # fmt: skip
def test_what_is_shared_with_a_sound_job_hides_no_fault(job, changes, path):
    """The parts that changed are looked at as in the whole, at their place in it."""
    wrong = dataclasses.replace(job, **changes(job))
    found, whole = (faults(wrong, sound) for sound in (job, None))
    assert found == whole and (path in dict(found) or any(p.startswith(path.split("[")[0]) for p, _ in found))


@pytest.mark.parametrize(("path", "value", "said", "system", "says"), [
    ("sections.s1.width", 9.0, "30 ft", System.IMPERIAL, "trench width must be at most 196 7/8 in: 30 ft"),
    ("sections.s1.width", 9.0, "9", System.METRIC, "trench width must be at most 5,000 mm: 9"),
    ("sections.s1.bedding", -0.127, "-5", System.IMPERIAL, "bedding must be at least 0 in: -5"), ("runs.r1.contributing_area", 1e7, "1e8", System.IMPERIAL, "at most 10,763,910 ft²: 1e8"),
    ("soils.g1.hard_layer_depth", 1e-4, "0.1 mm", System.METRIC, "must be at least 1 mm: 0.1 mm"), ("soils.g1.hard_layer_depth", -1.0, "-1", System.METRIC, "must be more than 0: -1"),
])  # fmt: skip
def test_what_somebody_typed_is_refused_in_that_ones_words_and_units(job, path, value, said, system, says):
    with pytest.raises(InputError) as fault:
        spec_at(job, path).check(value, system, said)
    assert says in str(fault.value)


@pytest.mark.parametrize(("kind", "corners", "edges", "area"), [("slab", 4, 4, 12.0), ("walk", 4, 3, 0.0), ("gas line", 3, 2, 0.0), ("lawn", 2, 1, 0.0), ("tree", 1, 1, 0.0)])
def test_only_what_has_an_inside_is_closed(kind, corners, edges, area):
    thing = Feature("t1", kind, "it", tuple(Spot(float(x), float(y)) for x, y in ((0, 0), (4, 0), (4, 3), (0, 3))[:corners]))
    assert (len(thing.edges), thing.area, thing.is_outline) == (edges, area, area > 0)


@pytest.mark.parametrize(("kind", "inches"), [("building", 36), ("slab", 18), ("wall", 18), ("lawn", 12), ("wet area", 12)])
def test_a_thing_is_kept_dry_to_what_is_usual_until_somebody_says(job, kind, inches):
    """Common practice, no source; marked as assumed."""
    bare = dataclasses.replace(job, features=tuple(dataclasses.replace(f, kind=kind, dry_depth=None) if f.id == "t10" else f for f in job.features))
    kept = with_place(bare, "r1", "t10")
    assert value_at(kept, "features.t10.dry_depth") == pytest.approx(inches * 0.0254) and "features.t10.dry_depth" in kept.assumed
