"""What a storm comes to in the pipes, in sentences: the most that flows, how it stands, what leaves when, what comes over the ground."""

from __future__ import annotations

import numpy as np

from weirant.job import Job
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.routed import RoutedPart, Spill, StormThrough
from weirant.outcome.standing import Standing
from weirant.units.display import DISCHARGE, STATION, WATER_VOLUME, System, shown, shown_span
from weirant.words.facts import doubt_words
from weirant.words.flow import SAYS, exit_name

LEAST = 60.0  # s that are told
FADES = 0.1  # of the most over what flowed before, to which what leaves has fallen back where its tail is over


def run_words(outcome: Outcome, through: StormThrough, run: str) -> list[str]:
    """What came of a run: the most that flows in it, how full that is, and where its water stands worst."""
    found, part = outcome.site.run(run), through.part_of(run)
    if part is None or found is None:
        return [tr("not followed: it needs {why}", why=doubt_words(through.missing.get(run), outcome.job))]
    system, along = System(outcome.job.units), part.runs[run]
    stands = part.standing(found)
    stations = along.stations if stands is None else stands.stations
    most = np.abs(along.most(part.routed, stations))
    at = int(most.argmax())
    when = float(part.routed.most_at[along.reaches[np.abs(part.routed.most[along.reaches]).argmax()]])
    share = float(stands.share[at]) if stands is not None else np.inf
    full = tr(", {share:.0f} % of the full pipe", share=100 * share) if np.isfinite(share) else ""
    said = [tr("at most {flow} at {station}{full}, {when} after the rain began", flow=shown(float(most[at]), DISCHARGE, system),
               station=shown(float(stations[at]), STATION, system), full=full, when=shown_span(when))]  # fmt: skip
    return said if stands is None else [*said, _worst(stands, system)]


def _worst(stands: Standing, system: System) -> str:
    at = stands.worst
    return tr("stands highest at {station}: {stands}", station=shown(float(stands.stations[at]), STATION, system), stands=SAYS[stands.stands[at]])


def spill_words(outcome: Outcome, spill: Spill) -> str:
    """Where how much comes over the ground."""
    system = System(outcome.job.units)
    return tr("comes over the ground at {place}: {volume}, at most {flow}, {when} after the rain began", place=_place(outcome, spill, system),
              volume=shown(spill.volume, WATER_VOLUME, system), flow=shown(spill.most, DISCHARGE, system), when=shown_span(spill.at))  # fmt: skip


def _place(outcome: Outcome, spill: Spill, system: System) -> str:
    node = next((n for n in outcome.job.nodes if n.id == spill.node), None)
    run = next(r.name for r in outcome.job.runs if r.id == spill.run)
    station = shown(spill.station, STATION, system)
    return node.name if node is not None and node.name else tr("{run}, {station}", run=run, station=station)


def part_words(job: Job, through: StormThrough, part: RoutedPart) -> list[str]:
    """What leaves a part of the network by each exit, what it stores, and whether the balance closes."""
    system, routed, said = System(job.units), part.routed, []
    for node in part.nodes:
        leaves = part.left_by(node)
        if leaves is None or not len(leaves):
            continue
        name, at, volume = exit_name(job, node), int(leaves.argmax()), float(leaves @ routed.lengths)
        if volume < 0:
            said.append(tr("comes back in by {exit}: {volume}", exit=name, volume=shown(-volume, WATER_VOLUME, system)))
            continue
        said.append(tr("leaves by {exit}: {volume}, at most {flow} {when} after the rain began{tail}", exit=name, volume=shown(volume, WATER_VOLUME, system),
                       flow=shown(float(leaves[at]), DISCHARGE, system), when=shown_span(float(routed.times[at])), tail=_tail(through, part, leaves)))  # fmt: skip
    rise = max(float(routed.holds.max(initial=0.0)) - routed.before, 0.0)
    empty = part.empty_at
    emptied = (tr("is not empty again within {hours:.0f} h", hours=through.until / 3600) if empty is None else tr("is empty by the end of the rain") if empty < through.ends + LEAST
               else tr("empties {after} after the rain", after=shown_span(empty - through.ends)))
    said.append(tr("stores up to {volume} in pipes and stone, and {emptied}", volume=shown(rise, WATER_VOLUME, system), emptied=emptied))
    said.append(tr("{came} came in; the balance is off by {off:.0e} of it", came=shown(routed.came, WATER_VOLUME, system), off=routed.off))
    return said


def _tail(through: StormThrough, part: RoutedPart, leaves: np.ndarray[tuple[int], np.dtype[np.float64]]) -> str:
    """For how long after the rain more than a tenth of the most still leaves."""
    times = part.routed.times
    still = np.nonzero(leaves > FADES * leaves.max())[0]
    if not len(still) or leaves[0] > FADES * leaves.max():
        return ""
    last = float(times[still[-1]])
    if last < through.ends + LEAST:
        return ""
    return tr(", more than a tenth of that until {after} after the rain", after=shown_span(last - through.ends))
