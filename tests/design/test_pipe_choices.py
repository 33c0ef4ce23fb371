"""One six or two fours: what they carry against the textbook power law, and that what is taken is what was said."""

from __future__ import annotations

import dataclasses
import math
from pathlib import Path

import pytest

from weirant.cli.main import main
from weirant.design.assess import assess
from weirant.design.bill import bill_of
from weirant.design.demo import demo_job
from weirant.design.order import order_of
from weirant.design.patterns import pattern
from weirant.design.pipe_choices import pipe_choices, with_choice
from weirant.design.pipe_prices import choice_costs
from weirant.design.priced import quote_of
from weirant.design.work import tasks_of
from weirant.errors import InputError
from weirant.formats.price_list import open_price_list, read_price_list
from weirant.job.paths import with_value
from weirant.outcome.prices import NO_PRICES


def choices_of(job, run):
    outcome = assess(job)
    return pipe_choices(outcome, outcome.run(run))


def test_one_six_carries_what_nearly_three_fours_do_at_one_roughness():
    """Capacity goes by the 8/3 power of the bore (Manning): 2.9 at nominal sizes; and side by side capacities add."""
    job = with_value(demo_job(), "runs.r1.pipe", "dualwall-150")
    own, *others = choices_of(job, "r1")
    fours = next(c for c in choices_of(with_choice(job, "r1", "dualwall-100", 2), "r1") if c.is_own)
    assert own.is_own and own.times == 1 and fours.count == 2 and own.capacity / (fours.capacity / 2) == pytest.approx((own.pipe.inner_diameter / fours.pipe.inner_diameter) ** (8 / 3))
    assert own.capacity / (fours.capacity / 2) == pytest.approx(2.9, rel=0.03)
    for choice in others:
        assert choice.times == pytest.approx(choice.capacity / own.capacity) and choice.count <= 3 and (0.6 <= choice.times <= 1.7 or choice.share <= 0.75)
        assert choice.width == pytest.approx(choice.count * choice.pipe.outer_diameter + (choice.count + 1) * 0.0508)
        assert choice.holds > choice.count * math.pi / 4 * choice.pipe.inner_diameter**2 * 10


def test_what_is_said_of_a_choice_is_what_the_run_then_is():
    job = demo_job()
    for choice in choices_of(job, "r1")[1:6]:
        after = next(c for c in choices_of(with_choice(job, "r1", choice.pipe.key, choice.count), "r1") if c.is_own)
        assert (after.pipe, after.count) == (choice.pipe, choice.count) and after.capacity == pytest.approx(choice.capacity) and after.stone == pytest.approx(choice.stone)


def test_a_choice_costs_what_the_run_costs_once_it_is_laid_so_and_money_is_compared_at_what_it_carries():
    outcome, prices = assess(demo_job()), open_price_list("larkmead")
    found = outcome.run("r1")
    choices = pipe_choices(outcome, found)
    costs = choice_costs(outcome, found, choices, prices)
    assert None not in costs and costs[0].for_the_money == 1
    for choice, cost in list(zip(choices, costs, strict=True))[:4]:
        laid = assess(with_value(with_choice(outcome.job, "r1", choice.pipe.key, choice.count), "sections.s1.width", choice.width))
        bill = bill_of(laid).at(["r1"])
        assert quote_of(order_of(laid, bill=bill), tasks_of(bill), prices).cost == cost.cost
        assert cost.for_the_money == pytest.approx(choice.times * float(costs[0].cost / cost.cost))
    cheap = read_price_list((Path(__file__).parents[2] / "src/weirant/library/price_lists/larkmead.csv").read_text() + "hired dig-excavator,m3,0.5\n", "x")
    assert choice_costs(outcome, found, choices[:1], cheap)[0].cost < costs[0].cost  # hired where the order hires
    by_hand = assess(with_value(outcome.job, "work.method", "hand"))
    assert choice_costs(by_hand, by_hand.run("r1"), choices[:1], prices)[0].cost > costs[0].cost  # as the order counts it
    assert choice_costs(outcome, found, choices, NO_PRICES) == (None,) * len(choices)
    fours, six = (next(cost for choice, cost in zip(choices, costs, strict=True) if choice.count == n and choice.pipe.key == "corrugated-75") for n in (2, 3))
    assert fours.cost < six.cost  # more of one pipe never costs less


def test_a_level_run_has_none_and_sizes_are_those_of_the_jobs_units(capsys):
    with pytest.raises(InputError, match="level"):
        choices_of(pattern("court").job(), next(r.id for r in pattern("court").job().runs if r.slope == 0))
    metric = choices_of(dataclasses.replace(demo_job(), units="metric"), "r1")[1:]
    assert metric and all(c.pipe.name.startswith("DN") for c in metric) and not any(c.pipe.name.startswith("DN") for c in choices_of(demo_job(), "r1"))
    assert main(["pipes", "pattern:swale"]) == 0 and "3 × 4 in" in capsys.readouterr().out
    assert main(["pipes", "demo", "--run", "nowhere"]) == 2
