"""What a best grade costs and where its levels lie, in words and in the user's units."""

from __future__ import annotations

from weirant.checks.judge import say
from weirant.ground.grade.best import BestGrade, Binding
from weirant.ground.grade.demands import Family
from weirant.outcome.outcome import Outcome
from weirant.units.display import LEVEL, SECTION, STATION, VOLUME


def called(outcome: Outcome, identity: str) -> str:
    """The name of a run or a thing."""
    named = {run.id: run.name for run in outcome.job.runs} | {thing.id: thing.name for thing in outcome.job.features}
    return named.get(identity, identity)


_WHAT = {
    Family.OUTLET: "the level of the outlet", Family.SLOPE: "the least slope", Family.STEEP: "the steepest slope", Family.COVER: "the cover", Family.CAP: "the soil over the stone",
    Family.DEPTH: "the deepest trench allowed", Family.COLLECT: "the depth the ground is to be dry to", Family.JOINT: "the joint",
}  # fmt: skip


def binding_words(outcome: Outcome, binding: Binding) -> str:
    """What one demand costs, in the user's units."""

    def dig(volume: float) -> str:
        told = say(outcome, volume, VOLUME)
        return f"{told} of dig" if told != say(outcome, 0.0, VOLUME) else "next to no dig"

    where = f"{called(outcome, binding.run)}, station {say(outcome, binding.station, STATION)}"
    head, imperial = f"{where[0].upper()}{where[1:]}", outcome.job.units == "imperial"
    if binding.family in (Family.CROSSING, Family.HELD):
        clear = say(outcome, outcome.job.limits.clearance, SECTION)
        what = f"the {clear} kept clear of {called(outcome, binding.name)}" if binding.family == Family.CROSSING else "the invert you hold"
        saved = binding.saving if binding.saving is not None else 0.0
        return f"{what[0].upper()}{what[1:]} ({where}) costs {dig(saved)}."
    if binding.family in (Family.SLOPE, Family.STEEP):
        return f"{head}: {_WHAT[binding.family]} holds it; 0.1 % less would save {dig(binding.rate * 0.001)}."
    step, words = (0.0254, "1 in") if imperial else (0.01, "10 mm")
    return f"{head}: {_WHAT[binding.family]} holds it; each {words} costs {dig(binding.rate * step)}."


def levels_words(outcome: Outcome, best: BestGrade) -> list[str]:
    """Levels of every run at its nodes, a line each, for the command line."""
    rows = []
    for run, (stations, levels) in best.levels.items():
        for station, level in zip(stations.tolist(), levels.tolist(), strict=True):
            rows.append(f"{called(outcome, run):<16} {say(outcome, station, STATION):>12} {say(outcome, level, LEVEL):>12}")
    return rows
