"""Own products from a list: read, refused in words, used, carried by the job file, and never taken for shipped ones."""

from __future__ import annotations

import dataclasses

import pytest

from laying import one, reason_of
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.session import Session
from weirant.errors import InputError, JobFileError
from weirant.formats import job_file
from weirant.formats.products_csv import read_products, taken_in
from weirant.job.faults import faults
from weirant.job.paths import with_value
from weirant.library import shipped, with_own
from weirant.methods.pipe_flow import pipe_full_flow

PIPES = "name,inside_in,outside,roughness,opening,open_area_cm2/m,holes,length\nYard pipe 4,4,4.7 in,0.012,1/16 in,21,down,20 ft\n\"Yard pipe, 6\",6,170 mm,0.013,2 mm,24,,\n"
STONES = "name;grading;voids;density;washed\nQuarry mix;19 mm:90-100 4.75:0-10 9.5 mm:20-55;0,40;1500;no\n"
FABRICS = "name\to95_mm\tpermittivity\troll_width\tkind\topen_share\tstrength class\nDeep cloth\t0.2\t1.5 /s\t12.5 ft\twoven\t8 %\t2\n"


def test_a_list_becomes_products_that_the_job_is_worked_out_with(tmp_path):
    job = demo_job()
    for text in (PIPES, STONES, FABRICS):
        job = taken_in(job, read_products(text, "list"))
    assert [p.key for p in job.products.pipes] == ["own-yard-pipe-4", "own-yard-pipe-6"] and faults(job) == []
    pipe = with_own(shipped(), job.products).pipe("own-yard-pipe-4")
    assert pipe.openings == "down"
    assert (pipe.inner_diameter, pipe.outer_diameter, pipe.opening, pipe.open_area_per_length, pipe.supply_length) == pytest.approx((0.1016, 0.11938, 0.0015875, 0.0021, 6.096))
    used = with_value(with_value(with_value(job, "runs.r1.pipe", "own-yard-pipe-4"), "sections.s1.aggregate", "own-quarry-mix"), "sections.s1.geotextile", "own-deep-cloth")
    session = Session()
    outcome = assess(used, session=session)
    assert outcome.run("r1").flow_high.capacity == pytest.approx(pipe_full_flow(0.1016, 0.012, 0.012).discharge)
    assert "Quarry mix carries fines" in reason_of(outcome, "stone-drains", "r1") and any("Deep cloth" in f.note for f in outcome.takeoff.fabrics)
    asked = {text: one(assess(taken_in(used, read_products(FABRICS.replace("\t2\n", f"\t{text}\n"), "list"))), "cloth-strength", "r1").state for text in ("", "3", "1")}
    assert asked == {"": "unknown", "3": "holds", "1": "holds"} and with_own(shipped(), job.products).geotextile("own-deep-cloth").strength == 2
    assert outcome.run("r1").make(40.0).aggregate.coarse_side.percents[0] == 90 and outcome.run("r1").make(40.0).aggregate.fine_side.percents[-1] == 10
    job_file.save(used, tmp_path / "own.weirant")
    assert job_file.load(tmp_path / "own.weirant") == used
    again = taken_in(used, read_products(PIPES.replace("0.012", "0.011"), "list"))  # a newer list takes the place of what it names
    assert len(again.products.pipes) == 2 and again.products.pipes[0].roughness_n == 0.011 and again.products.stones == used.products.stones
    assert assess(again, session=session).run("r1").flow_high.capacity == pytest.approx(pipe_full_flow(0.1016, 0.011, 0.012).discharge)  # felt at once
    with pytest.raises(InputError, match="own-yard-pipe-4"):
        assess(dataclasses.replace(used, products=dataclasses.replace(used.products, pipes=())))
    text = job_file.to_text(used).replace('"key": "own-yard-pipe-4"', '"key": "corrugated-100"')
    with pytest.raises(JobFileError, match=r"job.products.pipes\[0\].key: the key of an own product begins with own-"):
        job_file.from_text(text)


@pytest.mark.parametrize(("text", "says"), [
    ("", "holds no products"), ("a,b\n1,2\n", "are not those of pipes, stones or fabrics"), (PIPES.replace("4.7 in", "3 in"), "line 2: outside must be more than inside"),
    (PIPES.replace("0.012", "thick"), "line 2: roughness"), (PIPES.replace("0.012", "3"), "line 2: roughness n must be at most 0.05"),
    (PIPES.replace("down", "up"), "where its openings are must be one of"), (PIPES.replace("Yard pipe 4", ""), "line 2: name is missing"),
    (PIPES.replace("1/16 in", ""), "line 2: opening is missing"), (PIPES.replace('"Yard pipe, 6"', "Yard pipe 4"), "stands twice"),
    (STONES.replace("0,40", "2"), "line 2: share of voids must be at most"), (STONES.replace("20-55", "95-99"), "must not rise from a coarse sieve"),
    (STONES.replace("90-100", "100-90"), "needs two sieves"), (FABRICS.replace("0.2", "nan"), "line 2: o95"),
    (FABRICS.replace("\t2\n", "\t4\n"), "is 1, 2 or 3"), ("name,o95,o95\na,1 mm,2 mm\n", "are not those of"),
    ("name,o95_mm,permittivity\n" + "a,1,1\n" * 501, "at most 500"), ("name,o95_mm,permittivity\n=cmd,-1,1\n", "line 2"),
])  # fmt: skip
def test_what_cannot_be_used_is_told_with_its_line(text, says):
    with pytest.raises(JobFileError) as caught:
        read_products(text, "list.csv")
    assert says in str(caught.value), str(caught.value)
