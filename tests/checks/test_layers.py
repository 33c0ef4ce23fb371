"""Each layer of soil that the stone meets is judged by what a laboratory said of it, and told by its number."""

from __future__ import annotations

import dataclasses
import json

import pytest

from laying import one, reason_of
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.drawing.grain_sizes import grain_size_drawing
from weirant.drawing.primitives import Stroke, Words
from weirant.formats import job_file
from weirant.job.paths import with_value
from weirant.job.soil import Band, Layer

DEMO = demo_job()
FILTERS = ("retention", "permittivity", "clogging")


def layered(*layers, **soil):
    return dataclasses.replace(DEMO, soils=(dataclasses.replace(DEMO.soils[0], layers=layers, **soil),))


def test_where_the_stone_comes_up_into_a_layer_nobody_sieved_that_is_told():
    """Of the side drain, whose stone reaches the topsoil; the slab drain's lies deeper, and asks only of the soil below."""
    topsoil = dataclasses.replace(DEMO.soils[0].layers[0], gradation=(), plasticity_index=None)
    outcome = assess(layered(topsoil, DEMO.soils[0].layers[1]))
    for code in FILTERS:
        assert one(outcome, code, "r3").state == "tight" and "(In layer 1 of the soil, loam.)" in reason_of(outcome, code, "r3")
        assert one(outcome, code, "r1").state == "holds" and "layer" not in reason_of(outcome, code, "r1")
    assert {str(one(assess(DEMO), code, "r3").state) for code in FILTERS} == {"holds"}


@pytest.mark.parametrize(("of_foot", "off", "layers"), [(False, 2e-3, (1,)), (False, -2e-3, (0, 1)), (True, 2e-3, (0, 1)), (True, -2e-3, (0,))])
def test_a_layer_counts_from_where_the_stone_begins_to_where_it_ends(of_foot, off, layers):
    """The boundary a little above and a little below the highest stone of the slab drain, and its deepest foot."""
    found = assess(DEMO).run("r1")
    make, inside = found.collecting.make, found.collecting.holds(found.grade.stations)
    at = float(found.grade.cut[inside].max()) if of_foot else float((found.grade.cut - make.stone(found.grade.cut))[inside].min())
    upper, lower = DEMO.soils[0].layers
    split = assess(layered(dataclasses.replace(upper, thickness=at - off), lower)).run("r1")
    assert next(met.layers for met in split.layers if not met.stretch.is_solid) == layers


def test_a_soil_in_two_layers_that_are_alike_is_one_soil():
    whole = DEMO.soils[0].layers[1]
    parts = (dataclasses.replace(whole, thickness=0.5), whole)
    told = [{(f.code, f.subject): (f.state, f.value, f.limit) for f in assess(layered(*layers)).findings if f.family == "filters"} for layers in ((whole,), parts)]
    assert told[0] == told[1] and len(told[0]) > 10


def test_a_file_of_before_keeps_its_sieve_result_at_the_lowest_layer_and_what_is_alike_above_it():
    document = json.loads(job_file.to_text(layered(Layer("loam", 0.2), Layer("silt-loam", 0.3), Layer("silt-loam", 0.1, Band(1e-6, 2e-6, 3e-6)), Layer("silt-loam"))))
    document["version"] = 15
    soil = document["job"]["soils"][0]
    for layer in soil["layers"]:
        for field in ("gradation", "liquid_limit", "plasticity_index"):
            del layer[field]
    for section in document["job"]["sections"]:
        for field in ("layers", "sand", "sand_thickness"):
            del section[field]
    soil |= {"gradation": [{"size": 1e-3, "percent": 100.0}, {"size": 1e-5, "percent": 20.0}], "plasticity_index": 6.0}
    document["job"]["assumed"] = ["soils.g1.plasticity_index"]
    job = job_file.from_text(json.dumps(document))
    assert [(len(layer.gradation), layer.plasticity_index) for layer in job.soils[0].layers] == [(0, None), (2, 6.0), (0, None), (2, 6.0)]
    assert job.assumed == ("soils.g1.layers.3.plasticity_index",)
    document["version"] = 16  # in which a soil has none of its own
    with pytest.raises(job_file.JobFileError, match=r"job.soils\[0\].gradation: is not known here"):
        job_file.from_text(json.dumps(document))


def test_every_sieved_layer_is_on_the_chart_and_can_be_dragged_there():
    drawing = grain_size_drawing(assess(DEMO), 40.0, "r1")
    assert {h.key for h in drawing.handles} == {f"sieve-{i}" for i in range(8)} | {f"sieve-1-{i}" for i in range(8)}
    assert {"layer 1, sieved", "layer 2, sieved"} <= {s.text for s in drawing.shapes if isinstance(s, Words)}
    finest = next(h for h in drawing.handles if h.key == "sieve-1-7")
    moved = finest.move(DEMO, (finest.at[0], 0.3))
    assert moved.soils[0].layers[0].gradation[7].percent == 30.0 and moved.soils[0].layers[1] == DEMO.soils[0].layers[1]
    guessed = grain_size_drawing(assess(with_value(DEMO, "soils.g1.layers.1.gradation", ())), 40.0, "r1")
    lines = [s.points for s in guessed.shapes if isinstance(s, Stroke) and s.line == "outline" and len(s.points) > 4]
    curve = next(s.points for s in guessed.shapes if isinstance(s, Stroke) and s.line == "collecting run")
    assert [round(line[2][0] - curve[2][0], 3) for line in lines if line[2][1] == curve[2][1]] == [-0.176, 0.176]  # half as fine, half as coarse again
    bare = with_value(DEMO, "soils.g1.layers.0.gradation", ())
    assert "layer 1" not in " ".join(s.text for s in grain_size_drawing(assess(bare), 40.0, "r1").shapes if isinstance(s, Words))
