"""``pipes``: other sizes and numbers of pipe for a run."""

from __future__ import annotations

from argparse import Namespace

from weirant.cli.giving import in_columns
from weirant.cli.job_commands import run_called
from weirant.cli.streams import print_json
from weirant.cli.work_given import job_as_given, rates_given
from weirant.design.assess import assess
from weirant.design.own_rates import with_rates
from weirant.design.pipe_choices import pipe_choices
from weirant.design.pipe_prices import choice_costs
from weirant.formats.price_list import open_price_list
from weirant.outcome.prices import NO_PRICES
from weirant.units.display import System
from weirant.words.pipe_choices import HEADS, cells, told


def pipes(given: Namespace) -> int:
    """Print them; 0."""
    job = job_as_given(given)
    outcome = assess(job)
    found = outcome.run(run_called(job, given.run).id) if given.run else outcome.chosen()
    choices, prices = pipe_choices(outcome, found), with_rates(open_price_list(given.prices), rates_given(given)) if given.prices else NO_PRICES
    costs = choice_costs(outcome, found, choices, prices)
    if given.json:
        print_json({"run": found.run.name, "pipes": [{"pipe": c.pipe.key, "count": c.count, "capacity": c.capacity, "share": c.share, "times": c.times, "equals": c.equals,
                                                      "width": c.width, "stone": c.stone, "holds": c.holds, "is_own": c.is_own,
                                                      "cost": str(cost.cost) if cost else None, "for_the_money": cost.for_the_money if cost else None}
                                                     for c, cost in zip(choices, costs, strict=True)]}, indent=1)  # fmt: skip
        return 0
    rows = [HEADS, *(cells(choice, cost, System(outcome.job.units)) for choice, cost in zip(choices, costs, strict=True))]
    print("\n".join([told(outcome, found, choices, prices), *in_columns(rows)]))
    return 0
