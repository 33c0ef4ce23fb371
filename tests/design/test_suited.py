"""What suits a soil is what the findings say once it is taken; the count of all ways to build is that of building every one."""

from __future__ import annotations

import dataclasses
import json
from collections import Counter

import pytest

from weirant.checks import STRETCH
from weirant.cli.main import main
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.suited import CLOTH, OF_CLOTH, OF_STONE, SAND, STONE, suited
from weirant.errors import InputError
from weirant.job.paths import with_value
from weirant.job.section import WRAPS
from weirant.library import Library, shipped

JOB = demo_job()
OUTCOME = assess(JOB)


@pytest.mark.parametrize(("kind", "field", "wrap", "codes"), [(CLOTH, "geotextile", "full wrap", OF_CLOTH), (STONE, "aggregate", "none", ("soil-stone", *OF_STONE)),
                                                              (SAND, "sand", "graded sand", ("soil-stone", "stone-drains", "sand-stone"))])  # fmt: skip
def test_a_product_is_judged_as_the_findings_judge_it_once_it_is_taken(kind, field, wrap, codes):
    told = suited(OUTCOME, OUTCOME.run("r1")).of(kind)
    assert len(told) >= 3 and [p.worst.rank for p in told] == sorted((p.worst.rank for p in told), reverse=True)
    for product in told:
        if kind == CLOTH and not OUTCOME.library.geotextile(product.key).roll_width:
            continue
        outcome = assess(with_value(with_value(JOB, f"sections.s1.{field}", product.key), "sections.s1.wrap", wrap))
        found = {f.code: f.state for f in outcome.findings if f.subject == "r1" and f.code in codes}
        assert found == dict(product.states), product.key


def test_all_ways_are_counted_as_if_each_were_built():
    """Of a small library every separation with every stone and cloth or sand, judged by the checks themselves."""
    whole = shipped()
    small = Library({**whole.pipes}, {key: whole.aggregates[key] for key in ("no-57", "c33-sand", "no-89", "stone-19", "round-38", "pea-gravel", "dirty-stone", "no-10", "no-9")},
                    {key: whole.geotextiles[key] for key in ("open-weave", "nonwoven-light", "slit-film", "knitted-sock")}, {**whole.textures})  # fmt: skip
    outcome = dataclasses.replace(OUTCOME, library=small)
    found = outcome.run("r1")
    make, soil, counted = found.make(found.part.station), outcome.beside(found, found.part.station), Counter()
    asked = ("retention", "permittivity", "clogging", "soil-stone", "stone-drains", "stone-pipe", "sand-stone")
    told = suited(outcome, found)
    sands = {product.key for product in told.of(SAND)}
    for wrap in WRAPS:
        section = dataclasses.replace(make.section, wrap=wrap)
        has_cloth = wrap not in ("none", "cloth at the joints", "graded sand")
        for stone in list(small.aggregates.values())[: 1 if "no stone" in wrap else None]:
            cloths = [c for c in small.geotextiles.values() if c.roll_width or wrap.startswith("sock")]
            for other in cloths if has_cloth else [small.aggregate(s) for s in sands] if wrap == "graded sand" else [None]:
                built = dataclasses.replace(make, section=section, aggregate=stone, **({} if other is None else {"geotextile" if has_cloth else "sand": other}))
                states = [f.state for code in asked if (f := STRETCH["filters"][code](outcome, built, soil)) is not None]
                counted[min(states, key=lambda s: s.rank)] += 1
    assert told.ways == counted


def test_nothing_is_said_where_nothing_collects_and_the_command_tells_the_same(capsys, tmp_path):
    with pytest.raises(InputError, match="does not collect"):
        suited(OUTCOME, OUTCOME.run("r2"))
    assert main(["filter", "demo", "--suited", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["ways"]["holds"] == suited(OUTCOME, OUTCOME.run("r1")).ways["holds"] and len(told["products"]) > 40
    assert main(["filter", "demo", "--suited"]) == 0 and "ways to build with all of the library" in capsys.readouterr().out


def test_the_demos_own_silt_settles_the_quarrel():
    """Of the club's laboratory report: the cheapest stone without cloth fails, and two schools hold."""
    told = {(p.kind, p.key): str(p.worst) for p in suited(OUTCOME, OUTCOME.run("r1")).products}
    assert told[STONE, "stone-19"] == "fails" and told[CLOTH, "nonwoven-light"] == "holds"
    fine = assess(with_value(JOB, "sections.s1.aggregate", "no-89"))
    assert {(p.kind, p.key): str(p.worst) for p in suited(fine, fine.run("r1")).products}[SAND, "c33-sand"] == "holds"
