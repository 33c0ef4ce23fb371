"""``schedule``: a week's plan of a job, its odds with rain, a calendar of it, and what was moved in one."""

from __future__ import annotations

import datetime
from argparse import Namespace
from pathlib import Path
from typing import Any

from weirant.cli.job_commands import open_job
from weirant.cli.streams import print_json
from weirant.design.assess import assess
from weirant.design.schedule import plan_of
from weirant.design.upkeep import upkeep_of
from weirant.errors import InputError
from weirant.formats.plan_ics import read_dates, write_plan_ics
from weirant.language import tr
from weirant.outcome.plan import WorkPlan
from weirant.units import parse
from weirant.units.dimension import NUMBER
from weirant.words.plan import moved_words, odds_words, plan_lines


def schedule(given: Namespace) -> int:
    """Print or write it; 0, or 1 where something was moved before what it waits for."""
    outcome = assess(open_job(given.job))
    rain = float(parse(given.rain, NUMBER, "rain", strict=True)) if given.rain else 0.25
    plan = plan_of(outcome, _date(given.start), _people(given.crew), rain, given.method)
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
    print("\n".join([*plan_lines(plan), "", odds_words(plan, rain), "", tr("Every year:"), *(f"  {one.words}" for one in upkeep_of(outcome))]))
    return 0


def _date(words: str | None) -> datetime.date:
    if not words:
        return datetime.date.today()
    try:
        return datetime.date.fromisoformat(words)
    except ValueError as fault:
        raise InputError("start", tr("is no date; write it as 2026-03-31"), words) from fault


def _people(words: str | None) -> int:
    if not words:
        return 2
    if not words.isdecimal():
        raise InputError("crew", tr("must be a whole number of people"), words)
    return int(words)


def _as_json(plan: WorkPlan) -> dict[str, Any]:
    return {"start": plan.start.isoformat(), "dry_days": plan.dry_days, "within": {str(odds): days for odds, days in plan.within.items()}, "critical": list(plan.critical),
            "tasks": [{"id": t.id, "name": t.name, "kind": t.kind, "run": t.run, "hours": t.hours, "days": t.days, "people": t.people, "machine": t.machine, "after": list(t.after),
                       "begins": plan.slots[t.id].begins, "ends": plan.slots[t.id].ends, "first_day": plan.dates[t.id][0].isoformat(),
                       "last_day": plan.dates[t.id][1].isoformat()} for t in plan.tasks]}  # fmt: skip
