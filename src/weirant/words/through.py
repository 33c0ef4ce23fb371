"""What a storm comes to in the pipes, in sentences: the most that flows, how it stands, what leaves when, what comes over the ground."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from weirant.design.plugged_in_turn import Plugged
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.outcome.routed import PONDS, RoutedPart, Spill, StormThrough
from weirant.outcome.standing import STANDS, Standing
from weirant.units.display import DISCHARGE, SECTION, STATION, WATER_VOLUME, System, shown, shown_span
from weirant.words.facts import doubt_words
from weirant.words.flow import SAYS, exit_name

ROUNDING = 1e-6  # of the water: what sums are off by and nobody would ask about
LEAST = 60.0  # s that are told
LEAST_LEFT = 1e-4  # m³ that leave over the rim of what soaks, of which it is worth telling
MOVES = 1e-6  # m³/s, under which water in a run stands still
FADES = 0.1  # of the most over what flowed before, to which what leaves has fallen back where its tail is over


def verdict(outcome: Outcome, through: StormThrough) -> str:
    """What a storm comes to in a sentence or two: what comes over the ground, or else how the fullest run stands; and what could not be followed."""
    system, said = System(outcome.job.units), list[str]()
    spills = [spill for part in through.parts for spill in part.spills]
    stood = [(found, stands) for part in through.parts for run in part.runs if (found := outcome.site.run(run)) is not None and (stands := part.standing(found)) is not None
             and np.abs(stands.flow).max() > MOVES]  # fmt: skip
    away = [spill for spill in spills if not spill.leads]
    if spills and not away:
        most = max(spills, key=lambda spill: spill.volume)
        said.append(tr("{volume} run over the ground from {place} to {next} and get in there.", volume=shown(most.volume, WATER_VOLUME, system), place=_place(outcome, most, system),
                       next=_node_words(outcome, most.leads, system)))  # fmt: skip
    elif spills:
        most = max(away, key=lambda spill: spill.volume)
        said.append(tr("{volume} come over the ground, most of it at {place}.", volume=shown(sum(spill.volume for spill in away), WATER_VOLUME, system),
                       place=_place(outcome, most, system)))  # fmt: skip
    elif stood:
        found, stands = max(stood, key=lambda pair: (STANDS.index(pair[1].stands[pair[1].worst]), _fullest(pair[1])))
        said.append(tr("All of it leaves by the exits. Fullest is {run}: {share:.0f} % of what the pipe carries full, {stands}.", run=found.run.name, share=100 * _fullest(stands),
                       stands=SAYS[stands.stands[stands.worst]]))  # fmt: skip
    for doubt in dict.fromkeys(through.missing.values()):  # one reason stops all that hangs together
        runs = ", ".join(run.run.name for run in outcome.site.runs if through.missing.get(run.id) == doubt)
        said.append(tr("{runs}: not followed until you have {why}.", runs=runs, why=doubt_words(doubt, outcome.job)))
    return " ".join(said)


def _fullest(stands: Standing) -> float:
    """The largest share of full flow along a run, where it does not lie level."""
    return float(np.where(np.isfinite(stands.share), stands.share, 0.0).max())


def run_words(outcome: Outcome, through: StormThrough, run: str) -> list[str]:
    """What came of a run: the most that flows in it, how full that is, and where its water stands worst."""
    found, part = outcome.site.run(run), through.part_of(run)
    if part is None or found is None:
        return [tr("not followed until you have {why}", why=doubt_words(through.missing.get(run), outcome.job))]
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
    to = _node_words(outcome, spill.leads, system) if spill.leads else ""
    said = tr("comes over the ground at {place}: {volume}, at most {flow}, {when} after the rain began", place=_place(outcome, spill, system),
              volume=shown(spill.volume, WATER_VOLUME, system), flow=shown(spill.most, DISCHARGE, system), when=shown_span(spill.at))  # fmt: skip
    return tr("{said}; it runs over land to {place}", said=said, place=to) if to else said


def _place(outcome: Outcome, spill: Spill, system: System) -> str:
    if spill.node:
        return _node_words(outcome, spill.node, system)
    return tr("{run}, {station}", run=outcome.site.network.run(spill.run).name, station=shown(spill.station, STATION, system))


def _node_words(outcome: Outcome, node: str, system: System) -> str:
    """A node by its name, or by the run and the station it lies at."""
    name, joint = next(n.name for n in outcome.job.nodes if n.id == node), outcome.site.network.at_node[node][0]
    return name or tr("{run}, {station}", run=outcome.site.network.run(joint.run).name, station=shown(joint.station, STATION, system))


def plug_name(outcome: Outcome, node: str) -> str:
    """What may be plugged: an exit as it is called, an inlet by its name or by where it is."""
    return exit_name(outcome.job, node) if node in outcome.site.exits else _node_words(outcome, node, System(outcome.job.units))


def in_turn_words(outcome: Outcome, found: Sequence[Plugged]) -> list[str]:
    """What the storm comes to with each exit and inlet plugged alone, those first with which water comes over the ground."""
    lines = [(0 if p.through is not None and any(part.spills for part in p.through.parts) else 1, tr("{node} plugged: {what}", node=plug_name(outcome, p.node),
              what=verdict(outcome, p.through) if p.through is not None else p.fault)) for p in found]  # fmt: skip
    return [words for _, words in sorted(lines, key=lambda line: line[0])]


def in_turn_verdict(found: Sequence[Plugged]) -> str:
    """How many of them the job stands."""
    over = sum(1 for p in found if p.through is None or any(part.spills for part in p.through.parts))
    if not found:
        return tr("There is no exit and no inlet to plug.")
    return tr("Plugged one by one: with {over} of {count} water comes over the ground, or it cannot be told.", over=over, count=len(found)) if over else tr(
        "Plugged one by one: with none of the {count} does water come over the ground.", count=len(found))  # fmt: skip


def part_words(outcome: Outcome, through: StormThrough, part: RoutedPart) -> list[str]:
    """What leaves a part of the network by each exit, what it stores, and whether the balance closes."""
    job = outcome.job
    system, routed, said = System(job.units), part.routed, []
    for node in part.nodes:
        leaves = part.left_by(node)
        if leaves is None or not len(leaves):
            continue
        name, at, volume = exit_name(job, node), int(leaves.argmax()), float(leaves @ routed.lengths)
        if volume < 0:
            said.append(tr("comes back in by {exit}: {volume}", exit=name, volume=shown(-volume, WATER_VOLUME, system)))
            continue
        if soaked := float(part.soaks(node) @ routed.lengths):
            said.append(tr("soaks away at {exit}: {volume}", exit=name, volume=shown(soaked, WATER_VOLUME, system)))
        if volume - soaked < LEAST_LEFT and soaked:
            continue
        said.append(tr("leaves by {exit}: {volume}, at most {flow} {when} after the rain began{tail}", exit=name, volume=shown(volume, WATER_VOLUME, system),
                       flow=shown(float(leaves[at]), DISCHARGE, system), when=shown_span(float(routed.times[at])), tail=_tail(through, part, leaves)))  # fmt: skip
    for number, (node, cycles) in enumerate(part.pumps.items()):
        lifted, name = shown(float(routed.lifts[:, number] @ routed.lengths), WATER_VOLUME, system), exit_name(job, node)
        if cycles is None:
            said.append(tr("the pump of {exit} lifts nothing: it does not reach so high", exit=name))
        else:
            said.append(tr("pumped out of {exit}: {volume}, {starts:,} starts, at most {most} in an hour, running {time} in all", exit=name, volume=lifted,
                           starts=len(cycles.starts), most=cycles.most_in_an_hour, time=shown_span(cycles.run_time)))  # fmt: skip
    said += _ponds(outcome, part, system)
    rise = max(float(routed.holds.max(initial=0.0)) - routed.before, 0.0)
    empty = part.empty_at
    emptied = (tr("is not empty again within {hours:.0f} h", hours=through.until / 3600) if empty is None else tr("is empty by the end of the rain") if empty < through.ends + LEAST
               else tr("empties {after} after the rain", after=shown_span(empty - through.ends)))
    said.append(tr("stores up to {volume} in pipes and stone, and {emptied}", volume=shown(rise, WATER_VOLUME, system), emptied=emptied))
    balance = tr("no water is lost or made in the sums") if routed.off < ROUNDING else tr("the sums lose or make {worst:.2g} of the water", worst=routed.off)
    said.append(tr("{came} came in; {balance}", came=shown(routed.came, WATER_VOLUME, system), balance=balance))
    return said


def _ponds(outcome: Outcome, part: RoutedPart, system: System) -> list[str]:
    """How deep and for how long water stands over the grates of the inlets, the deepest first."""
    stood = sorted(((*part.pond(node), node) for node in part.bowls), reverse=True)
    return [tr("stands over the grate of {inlet}: at most {depth}, for {time}", inlet=_node_words(outcome, node, system), depth=shown(deep, SECTION, system), time=shown_span(time))
            for deep, time, node in stood if deep > PONDS]


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
