"""``schedule``: a week's plan of a job, its odds with rain, a calendar of it, and what was moved in one."""

from __future__ import annotations

import dataclasses
from argparse import Namespace
from pathlib import Path
from typing import Any

from weirant.cli.giving import check_one_of
from weirant.cli.streams import print_json
from weirant.cli.work_given import job_as_given, rates_given
from weirant.design.assess import assess
from weirant.design.hired import hired_for
from weirant.design.machine_fit import machine_fits
from weirant.design.schedule import plan_of
from weirant.design.upkeep import upkeep_of
from weirant.formats.plan_ics import read_dates, write_plan_ics
from weirant.formats.price_list import open_price_list
from weirant.language import tr
from weirant.outcome.plan import WorkPlan
from weirant.outcome.prices import NO_PRICES
from weirant.words.machines import fit_words
from weirant.words.plan import moved_words, odds_words, plan_lines
from weirant.words.season import season_words


def schedule(given: Namespace) -> int:
    """Print or write it; 0, or 1 where something was moved before what it waits for."""
    check_one_of(given, "moved", "output", "json")
    outcome = assess(job_as_given(given))
    terms = outcome.job.work
    prices = open_price_list(given.prices) if given.prices else NO_PRICES
    prices = dataclasses.replace(prices, rates={**rates_given(given), **prices.rates})
    plan = plan_of(outcome, prices.rates, hired_for(outcome, prices))
    if given.moved:
        told, wrong = moved_words(plan, read_dates(Path(given.moved), outcome.job))
        print("\n".join(told or [tr("nothing was moved")]))
        return 1 if wrong else 0
    if given.output:
        write_plan_ics(outcome.job, plan, upkeep_of(outcome), Path(given.output))
        return 0
    if given.json:
        print_json(_as_json(plan), indent=1)
        return 0
    fits = fit_words(outcome, machine_fits(outcome, terms.method, terms.gate))
    cautions, yearly = season_words(plan, outcome.job.survey.latitude), [f"  {one.words}" for one in upkeep_of(outcome)]
    print("\n".join([*plan_lines(plan), "", odds_words(plan, terms), *([""] if fits else []), *fits, *([""] if cautions else []), *cautions, "", tr("Every year:"), *yearly]))
    return 0


def _as_json(plan: WorkPlan) -> dict[str, Any]:
    return {"start": plan.start.isoformat(), "dry_days": plan.dry_days, "within": {str(odds): days for odds, days in plan.within.items()}, "critical": list(plan.critical),
            "tasks": [{"id": t.id, "name": t.name, "kind": t.kind, "run": t.run, "hours": t.hours, "days": t.days, "people": t.people, "machine": t.machine, "after": list(t.after),
                       "begins": plan.slots[t.id].begins, "ends": plan.slots[t.id].ends, "first_day": plan.dates[t.id][0].isoformat(),
                       "last_day": plan.dates[t.id][1].isoformat()} for t in plan.tasks]}  # fmt: skip
