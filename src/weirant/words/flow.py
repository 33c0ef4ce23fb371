"""How water flows and stands, in words, and what becomes of it when an exit is plugged."""

from __future__ import annotations

from weirant.design.flows import with_plugged
from weirant.errors import InputError
from weirant.job import Job
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.standing import FULL, IN_SOIL, IN_STONE, OVER, PART_FULL, STANDS, Standing, standing
from weirant.units.display import DISCHARGE, LEVEL, SECTION, STATION, System, shown

SAYS = {PART_FULL: tr("part full"), FULL: tr("full"), IN_STONE: tr("full, in the stone"), IN_SOIL: tr("full, over the stone"), OVER: tr("over the ground")}


def exit_name(job: Job, node: str) -> str:
    """An exit by its own name, or by the run whose low end it is."""
    named = next((n.name for n in job.nodes if n.id == node), "")
    run = next((run.name for run in job.runs if run.nodes[0] == node), "")
    return named or run or node


def station_words(found: Standing, index: int, system: System) -> str:
    """Flow, depth and level at a station of a run."""
    moves, surface = float(found.flow[index]), float(found.surface[index])
    amount = shown(abs(moves), DISCHARGE, system)
    return tr("at {station}: {flow}, {deep} deep, surface at {level}: {stands}", station=shown(float(found.stations[index]), STATION, system),
              flow=tr("{amount} towards its top", amount=amount) if moves < 0 else amount, deep=shown(surface - float(found.invert[index]), SECTION, system),
              level=shown(surface, LEVEL, system), stands=SAYS[found.stands[index]])  # fmt: skip


def plugged_words(outcome: Outcome, node: str) -> list[str]:
    """What becomes of the water when an exit is plugged: what leaves elsewhere, and where it then stands worse; or why that cannot be told."""
    job, system = outcome.job, System(outcome.job.units)
    name = exit_name(job, node)
    try:
        after = with_plugged(outcome, [node])
    except InputError as fault:
        return [f"{name} {fault.rule}."]
    told = []
    for other, steady in after.site.exits.items():
        before = outcome.site.exits.get(other)
        was = before.discharge if before is not None else 0.0
        amount, amount_before = shown(steady.discharge, DISCHARGE, system), shown(was, DISCHARGE, system)
        if amount != amount_before:
            told.append(tr("{amount} leave by {exit}, {was} before.", amount=amount, exit=exit_name(job, other), was=amount_before))
    for found in after.site.runs:
        then, was_found = standing(found), outcome.site.run(found.id)
        now = standing(was_found) if was_found is not None else None
        if then is not None and now is not None and STANDS.index(then.stands[then.worst]) > STANDS.index(now.stands[now.worst]):
            told.append(tr("{run}, {words}.", run=found.run.name, words=station_words(then, then.worst, system)))
    return told or [tr("Nothing stands worse for it.")]
