"""A plan of the work in words: a line for each task, the odds, and what was moved."""

from __future__ import annotations

import datetime
from collections.abc import Mapping

from weirant.job.work_terms import WorkTerms
from weirant.language import ntr, tr
from weirant.outcome.plan import COMES, WAITS, PlannedTask, WorkPlan

WIDE = 40  # characters that the bars of all days take


def plan_lines(plan: WorkPlan) -> list[str]:
    """Every task with its days, its hours and a bar; those that nothing may delay are marked."""
    end = max((slot.ends for slot in plan.slots.values()), default=0.0) or 1.0
    rows = []
    for task in plan.tasks:
        first, last = plan.dates[task.id]
        slot = plan.slots[task.id]
        low, high = (round(WIDE * at / end) for at in (slot.begins, slot.ends))
        bar = " " * low + ("·" if task.kind == WAITS else "▪" if task.kind == COMES else "█") * max(high - low, 1)
        when = day_words(first) if first == last else f"{day_words(first)} – {day_words(last)}"
        mark = "!" if task.id in plan.critical else " "
        rows.append(f"{when:<31} {bar:<{WIDE + 1}} {mark} {task.name}" + (f" ({hours_words(task)})" if task.hours else ""))
    return [*rows, "", tr("! nothing else may wait for it to be late")]


def plan_rows(plan: WorkPlan) -> list[tuple[str, ...]]:
    """The same as a table, its headings first."""
    heads = (tr("task"), tr("first day"), tr("last day"), tr("hours"), tr("people"), tr("machine"))
    return [heads, *((task.name, *(day.isoformat() for day in plan.dates[task.id]),
                      tr("{hours:.2f}", hours=task.hours) if task.hours else "", str(task.people or ""), tr(task.machine)) for task in plan.tasks)]


def hours_words(task: PlannedTask) -> str:
    """How long a task takes, and how many people."""
    return tr("{hours:.1f} h", hours=task.hours) + (", " + ntr("{n} person", "{n} people", task.people) if task.people else "")


def day_words(day: datetime.date) -> str:
    """A day with its weekday."""
    names = (tr("Mon"), tr("Tue"), tr("Wed"), tr("Thu"), tr("Fri"), tr("Sat"), tr("Sun"))
    return f"{names[day.weekday()]} {day.isoformat()}"


def odds_words(plan: WorkPlan, terms: WorkTerms) -> str:
    """How long it takes, dry and with rain."""
    lost = tr("where {rain:.0f} % of the days are lost to it", rain=100 * terms.rain[0]) if len(terms.rain) == 1 else tr("with the days that each month loses to it")
    told = "; ".join(tr("{odds} of 10 times within {days}", odds=odds, days=days) for odds, days in plan.within.items())
    return tr("{dry} working days on the site without rain; {lost}, {told}.", dry=plan.dry_days, lost=lost, told=told)


def moved_words(plan: WorkPlan, dates: Mapping[str, datetime.date]) -> tuple[list[str], bool]:
    """What begins on another day than the plan has it, and whether anything now begins before what it waits for does."""
    told, wrong = [], False
    known = {task.id: task for task in plan.tasks}
    for task in plan.tasks:
        moved = dates.get(task.id)
        if moved is None or moved == plan.dates[task.id][0]:
            continue
        early = [known[before].name for before in task.after if dates.get(before, plan.dates[before][0]) > moved]
        wrong |= bool(early)
        said = tr("{task}: from {was} to {now}", task=task.name, was=day_words(plan.dates[task.id][0]), now=day_words(moved))
        told.append(said + (tr("; it waits for: {early}", early=", ".join(early)) if early else ""))
    return told, wrong
