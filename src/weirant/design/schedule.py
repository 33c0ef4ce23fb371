"""A week's plan out of the bill and the network: tasks in the trade's order, what waits for what, a crew and its machines, and rain."""

from __future__ import annotations

import dataclasses
import datetime
import math
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from itertools import islice

import numpy as np

from weirant.design.bill import bill_of
from weirant.design.work import DAY, Task, tasks_of
from weirant.errors import InputError
from weirant.ground.network import LaidRun, from_below
from weirant.job.network import PLANNED
from weirant.job.work_terms import MOST_RAIN, PLOUGH, WorkTerms
from weirant.language import tr
from weirant.outcome.bill import Bill
from weirant.outcome.outcome import Outcome
from weirant.outcome.plan import COMES, VISIT, WAITS, WORKS, PlannedTask, Slot, WorkPlan

LOCATING, PERMIT, RAINS = 3, 5, 5  # working days that locating and a permit take, and until it has rained (common practice, no source)
EXPOSE, TEST, VISITED, CLEAR = 1.0, 0.5, 1.0, 2.0  # h to expose a crossing by hand, to test a run with a hose, to come back after rain, to clear up (common practice, no source)
SAMPLES, SEED, STAYS = 1000, 11, 0.6  # of the weather; share of the days after a rainy one that are rainy too (common practice, no source)
MOST_DAYS = 2000
ODDS = (5, 8, 9)  # of ten times
AT_PIPE, CLOSING = ("lay", "cloth", "stone-barrow", "stone-loader", "set"), ("fill", "spread")  # keys of rates in the order of the work


def tasks_for(outcome: Outcome, bill: Bill, rates: Mapping[str, float] | None = None, hired: Collection[str] = ()) -> tuple[PlannedTask, ...]:
    """Every task of a job, each after those it waits for. Runs are dug from the low ends up, so that they drain while they are dug; a run in another's trench goes with that one.
    What is done by others, by the keys of its rates, takes none of the crew and of its machines.

    Raises InputError where there is nothing to do.
    """
    terms, people, network = outcome.job.work, outcome.job.work.people, outcome.site.network
    trenches = [run for run in map(network.run, from_below(network)) if run.run.status == PLANNED and not run.run.trench_of]
    asked = tuple(_asked(outcome))
    found = [*asked, *_brought(bill, asked)]
    gate = tuple(task.id for task in asked)
    ends: dict[str, str] = {}
    for run in trenches:
        below = tuple(ends[other.id] for other, _ in network.drains_to(run) if other.id in ends)
        own = list(_of_run(outcome, bill, run, lambda some: tasks_of(some, terms.method, rates, terms.haul), people, hired, gate, below))
        found += own
        if own:
            ends[run.id] = next((task.id for task in reversed(own) if task.id.startswith("dig")), own[-1].id)
    works = [task for task in found if task.kind == WORKS]
    if not works:
        raise InputError(outcome.job.name, tr("has nothing to be done: no run is planned, or the ground is not known along any"))
    last = {task.id for task in works} - {before for task in works for before in task.after}
    found.append(PlannedTask("clear", tr("Clear up, seed what is bare"), WORKS, hours=CLEAR, people=min(2, people), after=tuple(sorted(last))))
    found.append(PlannedTask("rain", tr("Come back after the first good rain"), VISIT, hours=VISITED, days=RAINS, people=1, after=("clear",)))
    return tuple(found)


def _asked(outcome: Outcome) -> Iterator[PlannedTask]:
    """What is asked and waited for before anybody digs."""
    permissions = outcome.job.permissions
    if not permissions.public_lines_marked:
        yield PlannedTask("locate", tr("Call the locating service, and wait for its marks"), WAITS, days=LOCATING)
    if not permissions.private_lines_checked:
        yield PlannedTask("private", tr("Look for private lines with the owner, trace and mark them"), WAITS, days=1)
    if not permissions.discharge_allowed:
        yield PlannedTask("permit", tr("Ask leave to let the water out, and wait for it"), WAITS, days=PERMIT)


def _brought(bill: Bill, asked: Sequence[PlannedTask]) -> Iterator[PlannedTask]:
    """What is delivered before it is needed."""
    there, gate = {row.what for row in bill.rows}, tuple(task.id for task in asked)
    for what, name in (("pipe", tr("Pipe, cloth and parts delivered")), ("stone", tr("Stone delivered"))):
        if what in there:
            yield PlannedTask(f"bring-{what}", name, COMES, after=gate)


def _of_run(outcome: Outcome, bill: Bill, run: LaidRun, work: Callable[[Bill], tuple[Task, ...]], people: int, hired: Collection[str], gate: tuple[str, ...],
            below: tuple[str, ...]) -> Iterator[PlannedTask]:
    """The tasks of one trench in their order."""
    names = [run.id, *(guest.id for guest in outcome.site.in_trench_of(run.id))]
    todo = {task.rate.key: task for task in work(bill.at(names))}
    dig = [task for key, task in todo.items() if key.startswith(("dig", "hard", "rock", "plough"))]
    if not dig:
        return
    before, found = gate, outcome.run(run.id)

    def step(key: str, name: str, of: Sequence[Task], *, after: tuple[str, ...], hours: float = 0.0) -> PlannedTask:
        own = [task for task in of if task.rate.key not in hired]
        crew = 0 if of and not own else min(max((task.rate.crew for task in own), default=1), people)
        taken = hours + sum(task.hours * (1.0 if task.rate.key in hired else max(task.rate.crew / crew, 1.0)) for task in of)
        machine = next((task.rate.machine for task in own if task.rate.machine), "")
        name = tr("{task} (hired)", task=name) if of and not own else name
        return PlannedTask(f"{key} {run.id}", name, WORKS, run.id, taken, people=crew, machine=machine, after=after, origins=tuple(o for task in of for o in task.origins))

    turf = [dataclasses.replace(todo["turf"], hours=todo["turf"].hours / 2)] if "turf" in todo else []  # once to cut it, once to lay it again
    if turf:
        yield (sod := step("sod", tr("Cut the turf of {run}", run=run.run.name), turf, after=gate))
        before = (sod.id,)
    if found.crossings:
        names_of = ", ".join(crossing.feature.name for crossing in found.crossings)
        yield (bare := step("expose", tr("Expose by hand what {run} crosses: {names}", run=run.run.name, names=names_of), (), after=before, hours=EXPOSE * len(found.crossings)))
        before = (bare.id,)
    brought = tuple(f"bring-{what}" for what in ("pipe", "stone") if any(row.what == what for row in bill.rows))
    if "drill" in todo:
        yield (holes := step("drill", tr("Drill the pipe of {run}", run=run.run.name), [todo["drill"]], after=brought[:1] or gate))
        brought = (*brought, holes.id)
    if all(task.rate.key == PLOUGH for task in dig):
        yield (laid := step("dig", tr("Plough the pipe of {run} in, from its low end up", run=run.run.name), dig, after=(*before, *below, *brought)))
    else:
        with_pipe = brought if any(task.rate.key == PLOUGH for task in dig) else ()  # what of it is ploughed in is laid as it goes
        yield (dug := step("dig", tr("Dig {run}, from its low end up", run=run.run.name), sorted(dig, key=lambda task: -task.hours), after=(*before, *below, *with_pipe)))
        yield (laid := step("lay", tr("Bed, lay and cover the pipe of {run}", run=run.run.name), [todo[key] for key in AT_PIPE if key in todo], after=(dug.id, *brought)))
    yield (tested := step("test", tr("Run a hose into the top of {run}, and see it leave", run=run.run.name), (), after=(laid.id,), hours=TEST))
    closing, last = [todo[key] for key in CLOSING if key in todo], tested
    if closing:
        yield (last := step("close", tr("Close {run}, and spread or haul what is left", run=run.run.name), closing, after=(tested.id,)))
    if turf:
        yield step("turf", tr("Lay the turf of {run} again", run=run.run.name), turf, after=(last.id,))


def critical_path(tasks: Sequence[PlannedTask], day: float = DAY) -> tuple[tuple[str, ...], float]:
    """The longest chain of tasks that wait for one another, and its working hours, however many people there are. Raises InputError where tasks wait for each other in a circle."""
    import networkx  # slow to load, and needed only where a plan is made

    graph = networkx.DiGraph()
    for task in tasks:
        graph.add_node(task.id)
        for before in task.after:
            graph.add_edge(before, task.id)
    if not networkx.is_directed_acyclic_graph(graph):
        raise InputError("schedule", tr("has tasks that wait for each other in a circle"))
    length = {task.id: task.hours + task.days * day for task in tasks}
    end: dict[str, float] = {}
    came: dict[str, str] = {}
    for task in networkx.topological_sort(graph):
        best = max(graph.predecessors(task), key=lambda p: end[p], default=None)
        end[task] = length[task] + (end[best] if best is not None else 0.0)
        if best is not None:
            came[task] = best
    last = max(end, key=lambda task: end[task])
    path = [last]
    while path[-1] in came:
        path.append(came[path[-1]])
    return tuple(reversed(path)), end[last]


def slots_of(tasks: Sequence[PlannedTask], people: int, machines: int = 1, day: float = DAY) -> dict[str, Slot]:
    """When each task begins and ends: as soon as what it waits for is done and there are people and machines, in the order of the tasks. What is only waited for takes nobody."""
    slots: dict[str, Slot] = {}
    busy: list[tuple[float, float, int, str]] = []  # from, to, people, machine
    for task in tasks:
        earliest = max((slots[before].ends for before in task.after), default=0.0)
        length = task.hours + task.days * day
        begins = earliest
        if task.kind == WORKS:
            for at in sorted({earliest, *(ends for _, ends, _, _ in busy if ends > earliest)}):
                if _free(busy, at, at + length, task, people, machines):
                    begins = at
                    break
            busy.append((begins, begins + length, task.people, task.machine))
        slots[task.id] = Slot(begins, begins + length)
    return slots


def _free(busy: Sequence[tuple[float, float, int, str]], begins: float, ends: float, task: PlannedTask, people: int, machines: int) -> bool:
    """Whether there are people and a machine for all of a time."""
    meets = [one for one in busy if one[0] < ends - 1e-9 and one[1] > begins + 1e-9]
    for at in {begins, *(one[0] for one in meets if one[0] > begins)}:
        now = [one for one in meets if one[0] <= at + 1e-9 and one[1] > at + 1e-9]
        if sum(one[2] for one in now) + task.people > people or (task.machine and sum(one[3] == task.machine for one in now) >= machines):
            return False
    return True


def rainy(shares: Sequence[float], samples: int = SAMPLES) -> np.ndarray[tuple[int, int], np.dtype[np.bool_]]:
    """Which of the working days are lost to rain, (samples, days): of the days like each its share, a wet day more often after a wet one. Always the same."""
    for share in set(shares):
        _is_a_share(share)
    chance = np.random.default_rng(SEED).random((samples, len(shares)))
    wet = np.zeros((samples, len(shares)), dtype=bool)
    wet[:, 0] = chance[:, 0] < shares[0]
    for n, share in enumerate(shares[1:], 1):
        stays = max(STAYS, share) if share > 0 else 0.0
        wet[:, n] = chance[:, n] < np.where(wet[:, n - 1], stays, share * (1 - stays) / (1 - share))
    return wet


def _is_a_share(share: float) -> None:
    if not 0 <= share < MOST_RAIN:
        raise InputError("rain", tr("must be a share of the days between 0 and {most} %", most=round(100 * MOST_RAIN)), share)


def days_with_rain(dry_days: int, share_of: Callable[[int], float], most: float) -> dict[int, int]:
    """By so many of ten times, within how many working days so many dry ones have come; ``share_of`` gives the share of rainy days among those like a working day by its number from
    the first on, which is ``most`` at most.
    """
    _is_a_share(most)
    if dry_days <= 0:
        return dict.fromkeys(ODDS, 0)
    looked = min(math.ceil(dry_days / (1 - most) * 2) + 30, MOST_DAYS)
    dry = np.cumsum(~rainy([share_of(n) for n in range(looked)]), axis=1)
    needed = np.sort(np.where(dry[:, -1] >= dry_days, np.argmax(dry >= dry_days, axis=1) + 1, looked))
    return {odds: int(needed[math.ceil(odds / 10 * len(needed)) - 1]) for odds in ODDS}


def plan_of(outcome: Outcome, rates: Mapping[str, float] | None = None, hired: Collection[str] = ()) -> WorkPlan:
    """The plan of a job by its own terms, at the crew's own ``rates`` where they are known, without what is ``hired``. Raises InputError as ``tasks_for``."""
    terms = outcome.job.work
    tasks = tasks_for(outcome, bill_of(outcome), rates, hired)
    slots = _just_in_time(tasks, slots_of(tasks, terms.people))
    path, _ = critical_path(tasks)
    order = tuple(sorted(tasks, key=lambda task: (slots[task.id].begins, slots[task.id].ends)))
    digs = [slots[task.id] for task in tasks if task.kind == WORKS]
    first = math.floor(min(slot.begins for slot in digs) / DAY + 1e-9)
    dry = math.ceil(max(slot.ends for slot in digs) / DAY - 1e-9) - first
    numbers = {}
    for task in tasks:
        begins, ends = math.floor(slots[task.id].begins / DAY + 1e-9), math.ceil(slots[task.id].ends / DAY - 1e-9) - 1
        begins = max(begins, ends) if task.kind == VISIT else begins  # it has rained by then
        numbers[task.id] = begins, max(begins, ends)
    days = list(islice(working_days(terms), max(last for _, last in numbers.values()) + MOST_DAYS))
    dates = {task: (days[begins], days[ends]) for task, (begins, ends) in numbers.items()}
    within = days_with_rain(dry, lambda n: terms.rain_in(days[first + n]), max(terms.rain))
    return WorkPlan(order, slots, path, DAY, dry, within, days[0], dates, tuple(days[: max(last for _, last in numbers.values()) + 1]))


def _just_in_time(tasks: Sequence[PlannedTask], slots: Mapping[str, Slot]) -> dict[str, Slot]:
    """Deliveries on the morning of the day before they are needed, or that day where there is none before."""
    found = dict(slots)
    for task in tasks:
        if task.kind == COMES:
            needed = min((slots[other.id].begins for other in tasks if task.id in other.after), default=slots[task.id].begins)
            at = max(math.floor(needed / DAY + 1e-9) - 1, 0) * DAY
            found[task.id] = Slot(max(at, slots[task.id].begins), max(at, slots[task.id].begins))
    return found


def working_days(terms: WorkTerms) -> Iterator[datetime.date]:
    """The working days from the first one on: Monday to Friday, without the days off."""
    day, off = terms.first_day(), terms.spans_off()
    while True:
        if day.weekday() < 5 and not any(first <= day <= last for first, last in off):
            yield day
        day += datetime.timedelta(days=1)
