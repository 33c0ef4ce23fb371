"""Two ways to build held against each other: each figure is that of the job built so, and what is alike is told as alike."""

from __future__ import annotations

import csv
import dataclasses
import json
import math

import pytest

from weirant.cli.main import main
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.two_ways import two_ways
from weirant.design.variants import AS_DRAWN, USUAL, VARIANTS
from weirant.drawing.two_ways import two_sections
from weirant.errors import InputError
from weirant.job.paths import with_value
from weirant.outcome.amounts import FABRIC, STONE
from weirant.paper.why_sheet import why_sheet_pages, why_sheet_pdf
from weirant.words.two_ways import lines

JOB = demo_job()
OUTCOME = assess(JOB)
FOUND = OUTCOME.run("r1")
BUILT = {"lining": {"wrap": "lining"}, "wrap-to-wall": {"wrap": "wrap to a wall"}, "sheet-in-three": {"wrap": "sheet on top", "layers": 3},
         "cloth-at-joints": {"wrap": "cloth at the joints"},
         "bare": {"wrap": "none", "aggregate": "stone-19"}, "sock": {"wrap": "sock", "aggregate": "stone-19", "geotextile": "knitted-sock"}, "bedded": {"bedding": 0.1016},
         "inch-and-half": {"aggregate": "round-38"}, "overlap-twice": {"overlap": 0.3048}, "covered": {}}  # fmt: skip


@pytest.mark.parametrize("key", BUILT)
def test_a_way_is_what_the_job_is_when_it_is_built_so(key):
    """Its stone and cloth by the metre against the take-off of a job of that section, along the level part of its length; its contacts against the findings."""
    job = JOB
    for field, value in BUILT[key].items():
        job = with_value(job, f"sections.s1.{field}", value)
    outcome = assess(job)
    found = outcome.run("r1")
    way = two_ways(OUTCOME, FOUND, (AS_DRAWN, key))[1]
    make, length = found.make(found.part.station), found.run.collecting_length
    assert way.make == make
    assert way.stone * length == pytest.approx(found.amounts.goods[STONE, make.aggregate.key], rel=5e-3)
    if key == "cloth-at-joints":  # which stand at whole joints: by the metre, of pieces without end
        assert way.cloth == pytest.approx(0.3 * (math.pi * make.pipe.outer_diameter + make.section.overlap) / make.pipe.supply_length)
    else:
        assert way.cloth * length == pytest.approx(found.amounts.goods.get((FABRIC, make.geotextile.key), 0.0), rel=5e-3)
    of_contacts = {(f.code, str(f.state)) for f in outcome.findings if f.subject == "r1" and f.code in {c.code for c in way.contacts}}
    assert {(f.code, str(f.state)) for f in way.contacts} == of_contacts and [f.state.rank for f in way.contacts] == sorted(f.state.rank for f in way.contacts)


def test_every_way_can_be_told_and_turned_about_and_is_like_itself():
    for key in VARIANTS:
        there, back = (lines(two_ways(OUTCOME, FOUND, keys), OUTCOME, 30) for keys in ((AS_DRAWN, key), (key, AS_DRAWN)))
        assert [(r.one, r.other, bool(r.differs)) for r in there] == [(r.other, r.one, bool(r.differs)) for r in back]
        assert all((r.one == r.other) <= (not r.differs) for r in there)
    assert not any(r.differs for r in lines(two_ways(OUTCOME, FOUND, (AS_DRAWN, AS_DRAWN)), OUTCOME, 30))
    assert {r.label for r in there if r.differs} >= {"Trench width"}  # half as much stone again


def test_what_each_question_of_the_trade_changes():
    """More stone stores more, a larger pipe is larger, two rows 60° from the bottom begin over the lowest slots, and doubled cloth costs more height than single."""
    base = {key: two_ways(OUTCOME, FOUND, (AS_DRAWN, key))[1] for key in ("more-stone", "more-pipe", "holes-down", "holes-round", "overlap-twice", "bedded", "sand")}
    drawn = two_ways(OUTCOME, FOUND, (AS_DRAWN, AS_DRAWN))[0]
    assert base["more-stone"].stores > drawn.stores and base["more-pipe"].make.pipe.inner_diameter > drawn.make.pipe.inner_diameter
    assert base["holes-down"].starts > base["holes-round"].starts and base["bedded"].starts > drawn.starts
    assert base["overlap-twice"].head[1] > drawn.head[1] > drawn.head[0] and base["sand"].head is None and base["sand"].sand > 0 == drawn.sand
    sand, inside = base["sand"], math.pi / 4 * drawn.make.pipe.inner_diameter**2
    assert sand.stores == pytest.approx(sand.stone * sand.make.aggregate.voids + sand.sand * sand.make.sand.voids + inside) and sand.make.sand.voids > 0.3


def test_both_sections_are_drawn_at_one_scale():
    one, other = two_sections(two_ways(OUTCOME, FOUND, (AS_DRAWN, "sand")), FOUND)
    assert one.bounds == other.bounds and (one.title, other.title) == ("As drawn", "Graded sand round the stone") and one.handles == ()


def test_without_what_comes_to_it_the_rest_is_told_and_wrong_keys_are_named():
    dry = dataclasses.replace(JOB, soils=(dataclasses.replace(JOB.soils[0], water_table_depth=None),))
    outcome = assess(dry)
    way = two_ways(outcome, outcome.run("r1"), (AS_DRAWN, "bare"))[1]
    told = {r.label: r.other for r in lines((way, way), outcome, 30)}
    assert told["One soil in ten shuts it by"] == "not known" and told["Voids full after 30 years"] == "none" and "stone against soil" in told["Contacts"].lower()
    with pytest.raises(InputError, match="is none of as-drawn, bare"):
        two_ways(OUTCOME, FOUND, (AS_DRAWN, "straw"))
    with pytest.raises(InputError, match="does not collect"):
        two_ways(OUTCOME, OUTCOME.run("r2"), (AS_DRAWN, "bare"))
    with pytest.raises(InputError, match="is none of"):
        why_sheet_pages(OUTCOME, "", "straw")


def test_the_sheet_is_one_page_also_where_nothing_is_known_of_the_water(qapp):
    for job in (JOB, dataclasses.replace(JOB, units="metric", soils=(dataclasses.replace(JOB.soils[0], water_table_depth=None),))):
        pdf = why_sheet_pdf(assess(job))
        assert pdf.startswith(b"%PDF") and pdf.count(b"/Type /Page\n") == 1


def test_the_commands_tell_the_same(capsys, tmp_path, qapp):
    assert main(["filter", "demo", "--school", "as-drawn", "--school", "bare", "--side-by-side", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert [dataclasses.asdict(r) for r in lines(two_ways(OUTCOME, FOUND, (AS_DRAWN, "bare")), OUTCOME, 30)] == told
    assert main(["filter", "demo", "--school", "sand", "--school", "bare", "--side-by-side", "--csv", str(tmp_path / "two.csv")]) == 0
    assert len(list(csv.reader((tmp_path / "two.csv").read_text().splitlines()))) == len(told) + 1
    assert main(["filter", "demo", "--school", "bare", "--side-by-side"]) == 2 and "--school twice" in capsys.readouterr().err
    assert main(["why", "demo", "-o", str(tmp_path / "why.pdf"), "--against", "sand"]) == 0 and (tmp_path / "why.pdf").read_bytes().startswith(b"%PDF")
    assert set(USUAL) < set(VARIANTS)
