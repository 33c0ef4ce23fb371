"""Figures of order, quote and plan: what a job takes, how pipe is cut, papers and days."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
from test_site_speed import network_job
from test_speed import held

from weirant.design.assess import assess
from weirant.design.bill import bill_of
from weirant.design.offer import priced_option
from weirant.design.order import order_of
from weirant.design.schedule import plan_of
from weirant.formats.price_list import open_price_list
from weirant.formats.quote_xlsx import quote_xlsx
from weirant.methods.cutting_stock import cutting_plan
from weirant.outcome.outcome import Outcome
from weirant.paper.quote_sheet import quote_pdf


@pytest.fixture(scope="module")
def sixty() -> Outcome:
    """60 runs, with a clean-out at every third node."""
    from weirant.design.demo import demo_job

    job = network_job(demo_job(), 60)
    nodes = tuple(dataclasses.replace(node, kind="clean-out") if n % 3 == 0 and node.outlet is None else node for n, node in enumerate(job.nodes))
    return assess(dataclasses.replace(job, nodes=nodes))


def test_bill_of_60_runs(benchmark, sixty):
    bill = benchmark(bill_of, sixty)
    assert sum(row.amount for row in bill.rows if row.what == "part" and row.kind.name == "count") > 400
    held(benchmark, 0.020)


def test_order_of_60_runs(benchmark, sixty):
    bill = bill_of(sixty)
    assert benchmark(lambda: order_of(sixty, bill=bill))
    held(benchmark, 0.050)


@pytest.mark.parametrize("seed", range(4))
def test_cutting_plan_of_200_pieces(benchmark, seed):
    pieces = np.random.default_rng(seed).uniform(0.5, 30.0, 200).round(2).tolist()
    plan = benchmark.pedantic(lambda: cutting_plan(pieces, 30.48), rounds=2)
    assert sum(len(cut) for cut in plan.cuts) >= 200
    held(benchmark, 0.5)


@pytest.mark.parametrize("paper", [quote_pdf, quote_xlsx])
def test_quote_of_the_demo(benchmark, job, paper):
    option = priced_option("as drawn", assess(job), open_price_list("larkmead"))
    assert len(benchmark(lambda: paper((option,)))) > 1000
    held(benchmark, 1.0)


def test_plan_of_300_tasks_with_1000_samples_of_the_weather(benchmark, sixty):
    plan = benchmark(lambda: plan_of(sixty))
    assert len(plan.tasks) >= 300
    held(benchmark, 1.0)
